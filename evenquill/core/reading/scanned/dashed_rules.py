"""Rules made of dashes, level or upright: many small strokes of one size in a row, at even distances."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.level_chains import level_chains

LONGEST_LEVEL, LONGEST_UPRIGHT, THICKEST = 8.0, 5.0, 2.4
"""Points: a dash, at most; letters that are one stroke, below each other in close lines, are as even as upright dashes, and longer."""

FLAT = 1.5
"""Length over thickness of a dash, at least; dots that lead from a text to its figure are no rules."""

FEWEST = 7
"""Dashes that make a rule."""

STEP, GAP = 10.0, 3.2
"""Points of paper from one dash to the next, at most: lines of text, and the stems of letters below each other, are further apart. And
the widest paper between two over the length of the longer one: where rules cross, a dash or two run into those of the other."""

ASIDE = 0.6
"""Points by which a dash may lie beside the one before."""

EVEN, UNEVEN = 0.3, 0.2
"""Share of the usual step (or of two or three of them) and of the usual length by which those of a dash may differ, and share of the
dashes that may differ by more: where two rules cross, their dashes run into each other."""

CROSS_SIDES, CROSS_INK = (2.0, 1.6), 0.6
"""Points of each side of two dashes that cross, at least, and the longer over the shorter side, at most; and the share of their box that
they ink, at most."""

FEWEST_ALIKE, LEAST_INKED = 3, 0.25
"""Level rules that begin or end alike, from which an upright one may stand there; and the share of its length that its dashes ink, at
least."""


def dashed_rules(
    pieces: Pieces, unit: float, leaders: NDArray[np.bool_]
) -> tuple[list[Box], list[Box], NDArray[np.bool_]]:
    """Level and upright dashed rules as boxes in pixels, and which pieces they are made of; ``unit`` is pixels for each point, and
    ``leaders`` are the pieces that make no level rule, as they lead from a text to its figure."""
    boxes = pieces.boxes.astype(np.float64) / unit
    crosses = _are_crosses(boxes, pieces.areas / unit**2)
    free = boxes.copy()
    free[leaders] = 0
    level, of_level = _along(free, crosses & ~leaders, LONGEST_LEVEL)
    upright, of_upright = _along(boxes[:, [1, 0, 3, 2]], crosses, LONGEST_UPRIGHT)
    upright = [rule[[1, 0, 3, 2]] for rule in upright]
    sides, of_sides = _sides(boxes, level, of_upright)
    upright += sides
    return (
        [Box(*(float(value) * unit for value in box)) for box in level],
        [Box(*(float(value) * unit for value in box)) for box in upright],
        of_level | of_upright | of_sides | _crossings(boxes, level, upright),
    )


def _sides(
    boxes: NDArray[np.float64], level: Sequence[NDArray[np.float64]], taken: NDArray[np.bool_]
) -> tuple[list[NDArray[np.float64]], NDArray[np.bool_]]:
    """The upright rules at both ends of level ones that begin and end alike, whose dashes these cut into short runs, and their pieces: none
    of those ``taken`` by others."""
    rules: list[NDArray[np.float64]] = []
    own = np.zeros(len(boxes), np.bool_)
    heights = boxes[:, 3] - boxes[:, 1]
    free = _are_dashes(heights, boxes[:, 2] - boxes[:, 0], LONGEST_UPRIGHT) & ~taken
    middle = (boxes[:, 0] + boxes[:, 2]) / 2
    for end, outwards in ((0, -1.0), (2, 1.0)):
        for x in {round(float(rule[end])) for rule in level}:
            alike = np.array([rule for rule in level if abs(rule[end] - x) < STEP])
            if len(alike) < FEWEST_ALIKE:
                continue
            top, bottom = float(alike[:, 1].min()) - STEP, float(alike[:, 3].max()) + STEP
            beyond = (middle - x) * outwards
            near = free & ~own & (beyond > -ASIDE) & (beyond < STEP) & (boxes[:, 1] > top) & (boxes[:, 3] < bottom)
            near &= np.abs(middle - np.median(middle[near])) < ASIDE if near.any() else False
            if near.sum() >= FEWEST and heights[near].sum() > LEAST_INKED * (bottom - top - 2 * STEP):
                rules.append(np.concatenate([boxes[near, :2].min(axis=0), boxes[near, 2:].max(axis=0)]))
                own |= near
    return rules, own


def _are_dashes(length: NDArray[np.float64], thickness: NDArray[np.float64], longest: float) -> NDArray[np.bool_]:
    """Which pieces, so long and so thick in points, may be dashes."""
    return np.asarray((length < longest) & (thickness < THICKEST) & (length > FLAT * thickness), np.bool_)


def _are_crosses(boxes: NDArray[np.float64], areas: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which pieces may be a dash of a level rule and one of an upright rule across each other; some letters may be, too."""
    sides = boxes[:, 2:] - boxes[:, :2]
    short, long = sides.min(axis=1), sides.max(axis=1)
    least, most = CROSS_SIDES
    return np.asarray(
        (short >= least) & (long <= most * short) & (long < LONGEST_LEVEL) & (areas < CROSS_INK * sides.prod(axis=1)),
        np.bool_,
    )


def _crossings(
    boxes: NDArray[np.float64], level: Sequence[NDArray[np.float64]], upright: Sequence[NDArray[np.float64]]
) -> NDArray[np.bool_]:
    """Which pieces are dashes of two rules that run into each other: as small as dashes, on a level rule and on an upright one."""
    small = (boxes[:, 2:] - boxes[:, :2]).max(axis=1) < LONGEST_LEVEL
    return np.asarray(small & _on(boxes, level, STEP, ASIDE) & _on(boxes, upright, ASIDE, STEP), np.bool_)


def _on(
    boxes: NDArray[np.float64], rules: Sequence[NDArray[np.float64]], across: float, down: float
) -> NDArray[np.bool_]:
    """Which boxes meet one of the rules, made longer by ``across`` and ``down`` at their ends."""
    out = np.zeros(len(boxes), np.bool_)
    for x0, y0, x1, y1 in rules:
        level = (boxes[:, 0] < x1 + across) & (boxes[:, 2] > x0 - across)
        out |= level & (boxes[:, 1] < y1 + down) & (boxes[:, 3] > y0 - down)
    return out


def _along(
    boxes: NDArray[np.float64], crosses: NDArray[np.bool_], longest: float
) -> tuple[list[NDArray[np.float64]], NDArray[np.bool_]]:
    """Level rules, of dashes up to ``longest``, among boxes (n, 4) in points, and which of the boxes belong to one; ``crosses`` may stand
    among the dashes, fewer than these."""
    own = np.zeros(len(boxes), np.bool_)
    length, thickness = boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1]
    dash = _are_dashes(length, thickness, longest)
    rules = []
    for chain in _chains(boxes, np.flatnonzero(dash | crosses)):
        dashes = chain[dash[chain]]
        steps = np.diff((boxes[chain, 0] + boxes[chain, 2]) / 2)
        enough = len(dashes) >= FEWEST and 2 * len(dashes) > len(chain)
        if enough and _are_even(steps) and _are_even(length[dashes]):
            ends, thick = boxes[chain], boxes[dashes]
            rules.append(np.array([ends[:, 0].min(), thick[:, 1].min(), ends[:, 2].max(), thick[:, 3].max()]))
            own[chain] = True
    return rules, own


def _chains(boxes: NDArray[np.float64], dashes: NDArray[np.int64]) -> list[NDArray[np.int64]]:
    """The dashes that follow each other, from left to right."""

    def follows(dash: int, last: int) -> bool:
        longer = max(boxes[last, 2] - boxes[last, 0], boxes[dash, 2] - boxes[dash, 0])
        return bool(0 < boxes[dash, 0] - boxes[last, 2] < GAP * longer)

    return level_chains(boxes, dashes, ASIDE, STEP, follows)


def _are_even(values: NDArray[np.float64]) -> bool:
    """Whether nearly all values are close to the usual one, or to two or three of it."""
    usual = float(np.median(values))
    off = np.abs(values[:, None] - usual * np.arange(1, 4)).min(axis=1)
    return bool((off > EVEN * usual).mean() <= UNEVEN)
