"""A line of text as pieces of ink on a baseline, and how its baseline and x-height are found."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

FEW = 5
"""Pieces up to which a line may be the mark of an item, or a figure between dashes: one of them may be all its letters."""

TALL_LETTER, LOW_LETTER, MOST_SMALL, SMALL_LETTER = 0.5, 0.3, 0.5, 0.75
"""Share of the tallest letters' height that letters have, at least; that small ones have where others reach far up and down, as in Greek;
share of all of these up to which the first are too few to be the letters; and share of the commonest height that these have then."""


class TextLine(NamedTuple):
    """A line: its pieces (indices), box in pixels, baseline ``a + b * x``, x-height in pixels.

    ``sign`` is the sign that its pieces are known to be by their shape: a dot for a row of them that leads the eye, or a bullet.
    ``raised`` pieces stand above the baseline that is given: the mark of a note, a power.
    """

    pieces: NDArray[np.int64]
    x0: int
    y0: int
    x1: int
    y1: int
    a: float
    b: float
    x_height: float
    sign: str = ""
    raised: bool = False

    def baseline(self, x: float) -> float:
        return self.a + self.b * x

    @property
    def middle(self) -> float:
        """Height of the baseline in the middle of the line."""
        return self.baseline((self.x0 + self.x1) / 2)


def line_of(boxes: NDArray[np.int32] | NDArray[np.float64], group: NDArray[np.int64]) -> TextLine:
    """The line that a group of pieces makes."""
    own = boxes[group].astype(np.float64)
    heights = own[:, 3] - own[:, 1]
    # Against the tallest, since rows of dots may be in the majority; of a figure between two dashes there is only one that is tall.
    tallest = float(np.sort(heights)[-(3 if len(heights) > FEW else 1)])
    tall = heights >= TALL_LETTER * tallest
    lower = heights >= LOW_LETTER * tallest
    if len(heights) > FEW and tall.sum() < MOST_SMALL * lower.sum():
        tall = heights >= SMALL_LETTER * densest(heights[lower], 1.0)
    a, b, x_height = fitted(own[tall])
    x0, y0 = (int(v) for v in own[:, :2].min(axis=0))
    x1, y1 = (int(v) for v in own[:, 2:].max(axis=0))
    return TextLine(group, x0, y0, x1, y1, a, b, x_height)


def fitted(letters: NDArray[np.float64]) -> tuple[float, float, float]:
    """Baseline ``a + b * x`` and x-height of letters' boxes (n, 4).

    Most letters stand on the baseline and most tops are that of small letters: the densest height of bottoms and, above it, of tops.
    """
    middle = (letters[:, 0] + letters[:, 2]) / 2
    bottoms, tops = letters[:, 3], letters[:, 1]
    scale = max(_median(bottoms - tops), 2.0)
    b = 0.0
    if len(letters) >= 6 and np.ptp(middle) > 6 * scale:
        near = np.abs(bottoms - _median(bottoms)) < 0.35 * scale
        for _ in range(3):
            if near.sum() < 4:
                break
            a, b = _least_squares(middle[near], bottoms[near])
            near = np.abs(bottoms - a - b * middle) < 0.15 * scale + 1
        b = min(max(b, -0.06), 0.06)
    level = bottoms - b * middle
    a = densest(level, 0.08 * scale + 1)
    rises = a + b * middle - tops
    rises = rises[rises > 0.3 * scale]
    x_height = densest(rises, 0.08 * scale + 1) if len(rises) else scale
    return float(a), float(b), max(float(x_height), 2.0)


def _least_squares(x: NDArray[np.float64], y: NDArray[np.float64]) -> tuple[float, float]:
    """The straight line ``a + b * x`` through points."""
    from_mean = x - x.mean()
    b = float(from_mean @ y / (from_mean @ from_mean))
    return float(y.mean() - b * x.mean()), b


def _median(values: NDArray[np.float64]) -> float:
    """The median; numpy's own takes ten times as long for as few values as a line has."""
    ordered, half = np.sort(values), len(values) // 2
    return float(ordered[half] if len(values) % 2 else (ordered[half - 1] + ordered[half]) / 2)


def densest(values: NDArray[np.float64], width: float) -> float:
    """The mean of the values around the place where most of them lie within ``width`` to either side."""
    counts = (np.abs(values[:, None] - values[None, :]) <= width).sum(axis=1)
    center = values[counts == counts.max()].mean()
    near = values[np.abs(values - center) <= width]
    return float(near.mean()) if len(near) else float(center)
