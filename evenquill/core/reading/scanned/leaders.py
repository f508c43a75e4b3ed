"""Rows of dots that lead from a text to its figure, known before there are lines: on coarse scans their dots run into each other, and
would be read as letters."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.level_chains import level_chains
from evenquill.core.reading.scanned.text_line import TextLine

LARGEST_DOT = 3.4
"""Points: dots of leaders are lower, small letters of the text hardly ever."""

DOT_PIXELS, SAME_LEVEL, DOTS_APART = 1.5, 1.6, 6.0
"""Pixels by which what is next to each other in a row differs in height, at most; by less than which it is at one level; and heights of
paper between."""

NARROWEST_DOT = 0.5
"""Width over height, at least: what is narrower is a stroke of a letter."""

FEWEST, SHORTEST = 5, 14.0
"""Dots, or runs of dots, in a row; and their heights that it is long, at least."""

EVEN, MOST_UNEVEN = 0.5, 0.2
"""Share of the usual gap (and pixels, as above) by which gaps of a row differ, and share of them that may differ by more; widths, too."""

LETTER, REACH = 2.0, 16.0
"""Heights of dots that the letter beside a row is high, at least, and from which it is away, at most."""

OVER, COVERED = 2.5, 0.3
"""Heights of dots above a row in which no letters stand over more than a share of its length: those over a dotted rule do."""

ROUGH_EDGE = np.array([0.0, -0.5, 0.0, 0.5])
"""Pixels by which the ink of a rule goes beyond its even part."""

FLAT_DOT, WIDEST_RUN = 1.6, 3.0
"""Width over height of dots that stand apart, at most, and of the shortest run of those that do not: wider is a dash."""


class Leaders(NamedTuple):
    """Rows of dots: the pieces of each from left to right (indices), and which of the level rules are dots that ran into each other."""

    rows: list[NDArray[np.int64]]
    rules: set[int]

    def among(self, count: int) -> NDArray[np.bool_]:
        """Which of so many pieces of ink are dots of a row."""
        dots = np.zeros(count, np.bool_)
        dots[np.concatenate([np.zeros(0, np.int64), *self.rows])] = True
        return dots


def leaders_of(pieces: NDArray[np.int32], rules: Sequence[Box], unit: float) -> Leaders:
    """Rows of dots among pieces of ink with these boxes (n, 4) and level rules in pixels; ``unit`` is pixels for each point.

    The dots are alike and evenly apart, stand on the baseline of a letter beside them, and nothing is written over them.
    """
    count = len(pieces)
    boxes = pieces.astype(np.float64)
    height = boxes[:, 3] - boxes[:, 1]
    if rules:
        boxes = np.concatenate([boxes, np.array(rules, np.float64) + ROUGH_EDGE])
    low, wide = boxes[:, 3] - boxes[:, 1], boxes[:, 2] - boxes[:, 0]
    dots = np.flatnonzero((low <= LARGEST_DOT * unit) & (wide >= NARROWEST_DOT * low))
    rows = [row for row in _rows(boxes, dots) if _is_even(boxes[row])]
    if not rows:
        return Leaders([], set())
    letters = boxes[:count][height >= LETTER * min(float(low[row].min()) for row in rows)]
    leading = [row for row in rows if row[row < count].size and _leads(boxes[row], letters)]
    return Leaders(
        [row[row < count] for row in leading], {int(one) - count for row in leading for one in row[row >= count]}
    )


def leader_line(boxes: NDArray[np.int32], row: NDArray[np.int64], lines: list[TextLine]) -> TextLine:
    """A row of dots as a line of its own, on the baseline of the text beside it."""
    own = boxes[row]
    x0, y0 = (int(value) for value in own[:, :2].min(axis=0))
    x1, y1 = (int(value) for value in own[:, 2:].max(axis=0))
    height = float(y1 - y0)
    beside = [
        line
        for line in lines
        if abs(line.baseline(x0 if line.x1 <= x0 else x1) - y1) < max(height, DOT_PIXELS)
        and min(abs(x0 - line.x1), abs(line.x0 - x1)) < 2 * REACH * height
    ]
    if not beside:
        return TextLine(row, x0, y0, x1, y1, float(y1), 0.0, 3 * height, sign=".")
    line = max(beside, key=lambda line: len(line.pieces))
    return TextLine(row, x0, y0, x1, y1, line.a, line.b, line.x_height, sign=".")


def _rows(boxes: NDArray[np.float64], dots: NDArray[np.int64]) -> list[NDArray[np.int64]]:
    """Dots of which each is followed by the next at the same height."""
    height = boxes[:, 3] - boxes[:, 1]

    def follows(dot: int, last: int) -> bool:
        gap = boxes[dot, 0] - boxes[last, 2]
        return bool(abs(height[last] - height[dot]) <= DOT_PIXELS and -DOT_PIXELS <= gap < DOTS_APART * height[dot])

    reach = DOTS_APART * float(height[dots].max(initial=0.0))
    chains = level_chains(boxes, dots, SAME_LEVEL, reach, follows)
    return [chain for chain in chains if len(chain) >= FEWEST]


def _is_even(row: NDArray[np.float64]) -> bool:
    """Whether a row is long enough and its dots stand evenly, on their own or in runs."""
    height = float(np.median(row[:, 3] - row[:, 1]))
    widths, gaps = row[:, 2] - row[:, 0], row[1:, 0] - row[:-1, 2]
    # Dashes are as even as dots; dots in runs are not.
    dots = float(np.median(widths)) <= FLAT_DOT * height or _uneven(widths) > MOST_UNEVEN
    return bool(
        dots
        and row[-1, 2] - row[0, 0] >= SHORTEST * height
        and _uneven(gaps) <= MOST_UNEVEN
        and widths.min() <= WIDEST_RUN * height
    )


def _uneven(values: NDArray[np.float64]) -> float:
    """The share of values that differ from the usual one."""
    usual = float(np.median(values))
    return float((np.abs(values - usual) > max(EVEN * usual, DOT_PIXELS)).mean())


def _leads(row: NDArray[np.float64], letters: NDArray[np.float64]) -> bool:
    """Whether a letter stands beside a row on its baseline, and none over it."""
    x0, x1 = float(row[0, 0]), float(row[-1, 2])
    height = float(np.median(row[:, 3] - row[:, 1]))
    high = letters[letters[:, 3] - letters[:, 1] >= LETTER * height]
    left = (high[:, 2] <= x0 + DOT_PIXELS) & (high[:, 2] > x0 - REACH * height) & _on_line(high, float(row[0, 3]))
    right = (high[:, 0] >= x1 - DOT_PIXELS) & (high[:, 0] < x1 + REACH * height) & _on_line(high, float(row[-1, 3]))
    if not (left.any() or right.any()):
        return False
    top = float(row[:, 1].min())
    over = high[(high[:, 3] <= top + DOT_PIXELS) & (high[:, 3] > top - OVER * height)]
    shared = np.minimum(over[:, 2], x1) - np.maximum(over[:, 0], x0)
    return float(shared[shared > 0].sum()) <= COVERED * (x1 - x0)


def _on_line(letters: NDArray[np.float64], foot: float) -> NDArray[np.bool_]:
    return np.asarray(np.abs(letters[:, 3] - foot) <= DOT_PIXELS, np.bool_)
