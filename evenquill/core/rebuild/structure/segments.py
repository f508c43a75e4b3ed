"""The most probable division of a column into paragraphs, headings, items and so on: roles and joints weighed together.

One pass over the lines keeps, for each role that a line may have, the best way to get there (Viterbi 1967; for a conditional random
field over a sequence see Lafferty, McCallum and Pereira 2001).
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.rebuild.structure.roles import JOINTS, ROLES

NEW, SAME, BREAK = (JOINTS.index(name) for name in ("new", "same", "break"))

LATER_LINES = 0.6
"""Weight of what a line after the first says of its paragraph's role: lines of one paragraph are alike, and no independent witnesses."""

Array = NDArray[np.float32]


class Decided(NamedTuple):
    """A line's role, how it is joined to the line above, and how probable the role is (0 to 1)."""

    role: str
    joint: str
    role_likelihood: float


def best_division(roles: Array, joints: Array, follows: Array) -> list[Decided]:
    """The best roles and joints of the lines of a column.

    ``roles`` (lines, roles) and ``joints`` (lines, joints) are logarithms of probabilities; the joint of the first line is not looked at.
    ``follows`` (roles, roles) is that of one role after another, over how common the second is.
    """
    count = len(roles)
    if not count:
        return []
    goes_on = np.maximum(joints[:, SAME], joints[:, BREAK])
    best = roles[0].copy()
    came_from = np.zeros((count, len(ROLES)), np.int16)  # -1: the line goes on
    every = np.arange(len(ROLES))
    for n in range(1, count):
        starts = best[:, None] + follows
        before = starts.argmax(axis=0)
        new = starts[before, every] + joints[n, NEW] + roles[n]
        on = best + goes_on[n] + LATER_LINES * roles[n]
        came_from[n] = np.where(on > new, -1, before)
        best = np.maximum(on, new)
    role = int(best.argmax())
    out: list[Decided] = []
    for n in range(count - 1, -1, -1):
        source = int(came_from[n, role]) if n else 0
        on = bool(n) and source < 0
        joint = (SAME if joints[n, SAME] >= joints[n, BREAK] else BREAK) if on else NEW
        out.append(Decided(ROLES[role], JOINTS[joint], float(np.exp(roles[n, role]))))
        if n and not on:
            role = source
    return out[::-1]
