"""Rules made of dashes, level or upright: many small strokes of one size in a row, at even distances."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.ink import Pieces

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


def dashed_rules(pieces: Pieces, unit: float) -> tuple[list[Box], list[Box], NDArray[np.bool_]]:
    """Level and upright dashed rules as boxes in pixels, and which pieces they are made of; ``unit`` is pixels for each point."""
    boxes = pieces.boxes.astype(np.float64) / unit
    level, of_level = _along(boxes, LONGEST_LEVEL)
    upright, of_upright = _along(boxes[:, [1, 0, 3, 2]], LONGEST_UPRIGHT)
    upright = [rule[[1, 0, 3, 2]] for rule in upright]
    return (
        [Box(*(float(value) * unit for value in box)) for box in level],
        [Box(*(float(value) * unit for value in box)) for box in upright],
        of_level | of_upright | _crossings(boxes, level, upright),
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


def _along(boxes: NDArray[np.float64], longest: float) -> tuple[list[NDArray[np.float64]], NDArray[np.bool_]]:
    """Level rules, of dashes up to ``longest``, among boxes (n, 4) in points, and which of the boxes belong to one."""
    own = np.zeros(len(boxes), np.bool_)
    length, thickness = boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1]
    dashes = np.flatnonzero((length < longest) & (thickness < THICKEST) & (length > FLAT * thickness))
    rules = []
    for chain in _chains(boxes, dashes):
        steps = np.diff((boxes[chain, 0] + boxes[chain, 2]) / 2)
        if len(chain) >= FEWEST and _are_even(steps) and _are_even(length[chain]):
            rules.append(np.concatenate([boxes[chain, :2].min(axis=0), boxes[chain, 2:].max(axis=0)]))
            own[chain] = True
    return rules, own


def _chains(boxes: NDArray[np.float64], dashes: NDArray[np.int64]) -> list[NDArray[np.int64]]:
    """The dashes that follow each other, from left to right."""
    chains: list[list[int]] = []
    # By the height of their last dash, in bands: on a dirty page there are many, and few of them at one height.
    by_band: defaultdict[int, list[int]] = defaultdict(list)
    middle = (boxes[:, 1] + boxes[:, 3]) / 2
    for dash in dashes[np.argsort(boxes[dashes, 0], kind="stable")].tolist():
        start, band = boxes[dash, 0], int(middle[dash] // ASIDE)
        found = -1
        for near in (band - 1, band, band + 1):
            by_band[near] = [n for n in by_band[near] if start - boxes[chains[n][-1], 2] < STEP]
            for n in by_band[near]:
                last = chains[n][-1]
                longer = max(boxes[last, 2] - boxes[last, 0], boxes[dash, 2] - start)
                if abs(middle[last] - middle[dash]) < ASIDE and 0 < start - boxes[last, 2] < GAP * longer:
                    found = max(found, n)
        if found < 0:
            found = len(chains)
            chains.append([])
        else:
            by_band[int(middle[chains[found][-1]] // ASIDE)].remove(found)
        chains[found].append(dash)
        by_band[band].append(found)
    return [np.array(chain, np.int64) for chain in chains]


def _are_even(values: NDArray[np.float64]) -> bool:
    """Whether nearly all values are close to the usual one, or to two or three of it."""
    usual = float(np.median(values))
    off = np.abs(values[:, None] - usual * np.arange(1, 4)).min(axis=1)
    return bool((off > EVEN * usual).mean() <= UNEVEN)
