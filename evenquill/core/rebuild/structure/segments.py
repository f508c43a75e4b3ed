"""The most probable division of a column into paragraphs, headings, items and so on: roles and joints weighed together.

One pass over the lines keeps, for each role that a line may have, the best way to get there (Viterbi 1967; for a conditional random
field over a sequence see Lafferty, McCallum and Pereira 2001). Two more, forwards and backwards, say how probable each decision is with
all that stands around it (Rabiner 1989).
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.rebuild.structure.roles import JOINTS, ROLES

NEW, SAME, BREAK = (JOINTS.index(name) for name in ("new", "same", "break"))

LATER_LINES = 0.3
"""Weight of what a line after the first says of its paragraph's role: lines of one paragraph are alike, and no independent witnesses."""

TINY = 1e-30
"""So that nothing is impossible."""

Array = NDArray[np.float32]


class Decided(NamedTuple):
    """A line's role, how it is joined to the line above, how probable each role is (ROLES, 0 to 1), and how probable it is that something
    new begins with the line."""

    role: str
    joint: str
    of_roles: tuple[float, ...]
    new_likelihood: float


def best_division(roles: Array, joints: Array, follows: Array, starts: Array | None = None) -> list[Decided]:
    """The best roles and joints of the lines of a column.

    ``roles`` (lines, roles) and ``joints`` (lines, joints) are logarithms of probabilities; the joint of the first line is not looked at.
    ``follows`` (roles, roles) is that of one role after another, over how common the second is; ``starts`` is that of the roles where
    something new begins with the line, like ``roles`` if it is not given.
    """
    starts = roles if starts is None else starts
    count = len(roles)
    if not count:
        return []
    goes_on = np.maximum(joints[:, SAME], joints[:, BREAK])
    best = starts[0].copy()
    came_from = np.zeros((count, len(ROLES)), np.int16)  # -1: the line goes on
    every = np.arange(len(ROLES))
    for n in range(1, count):
        reached = best[:, None] + follows
        before = reached.argmax(axis=0)
        new = reached[before, every] + joints[n, NEW] + starts[n]
        on = best + goes_on[n] + LATER_LINES * roles[n]
        came_from[n] = np.where(on > new, -1, before)
        best = np.maximum(on, new)
    role = int(best.argmax())
    of_roles, of_new = _likelihoods(roles, joints, follows, starts)
    out: list[Decided] = []
    for n in range(count - 1, -1, -1):
        source = int(came_from[n, role]) if n else 0
        on = bool(n) and source < 0
        joint = (SAME if joints[n, SAME] >= joints[n, BREAK] else BREAK) if on else NEW
        out.append(Decided(ROLES[role], JOINTS[joint], tuple(of_roles[n].tolist()), float(of_new[n])))
        if n and not on:
            role = source
    return out[::-1]


def _likelihoods(roles: Array, joints: Array, follows: Array, starts: Array) -> tuple[Array, Array]:
    """For each line the probabilities of its roles (lines, roles), and that something new begins with it (lines)."""
    count = len(roles)
    goes_on = np.logaddexp(joints[:, SAME], joints[:, BREAK])
    leads = np.exp(follows)
    ahead = np.zeros_like(roles)
    new = np.zeros_like(roles)
    ahead[0] = new[0] = starts[0]
    for n in range(1, count):
        highest = ahead[n - 1].max()
        reached = np.log(np.exp(ahead[n - 1] - highest) @ leads + TINY) + highest
        new[n] = reached + joints[n, NEW] + starts[n]
        ahead[n] = np.logaddexp(new[n], ahead[n - 1] + goes_on[n] + LATER_LINES * roles[n])
    behind = np.zeros_like(roles)
    for n in range(count - 2, -1, -1):
        begun = behind[n + 1] + joints[n + 1, NEW] + starts[n + 1]
        highest = begun.max()
        left = np.log(leads @ np.exp(begun - highest) + TINY) + highest
        behind[n] = np.logaddexp(left, behind[n + 1] + goes_on[n + 1] + LATER_LINES * roles[n + 1])
    total = ahead + behind
    highest = total.max(axis=1, keepdims=True)
    of_roles = np.exp(total - highest)
    sums = of_roles.sum(axis=1, keepdims=True)
    of_new = np.exp(new + behind - highest - np.log(sums)).sum(axis=1)
    return of_roles / sums, of_new
