"""Stems of letters measured on a picture of them: how wide they are tells bold letters from others."""

from __future__ import annotations

import statistics
from collections.abc import Sequence

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.raster import Pixels, lightness_at

BOLDER = 1.27
"""Stem width over the usual one, both over the x-height, from which letters are bold; faces' own bolds begin at about 1.4."""

STEM_X_HEIGHT = 28.0
"""Pixels of x-height at which strokes are measured; edges are found between pixels then."""


ROWS, SHIFTS, MOST_SLANT = 12, 4, 0.5
"""Rows of the picture that the lean of stems is measured on, columns of it for each row, and the tangent up to which they may lean."""


def runs_of_ink(band: Pixels, x_height: float) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Runs of ink in the rows of a picture of the middle of letters: their middles from its left edge, and their widths, in pixels.

    The picture is made wider, so that edges are found between pixels; what is as wide as a letter is no stem.
    """
    if band.size == 0 or min(band.shape) < 2:
        return np.zeros(0), np.zeros(0)
    factor = min(max(STEM_X_HEIGHT / x_height, 1.0), 4.0)
    wide = cv2.resize(band, None, fx=factor, fy=1, interpolation=cv2.INTER_CUBIC)
    dark, light = lightness_at(wide, 0.04, 0.92)
    inked = np.pad((wide < (dark + light) / 2).astype(np.int8), ((0, 0), (1, 1)))
    steps = np.diff(inked, axis=1)
    _, starts = np.nonzero(steps == 1)
    _, ends = np.nonzero(steps == -1)
    widths = (ends - starts) / factor
    keep = widths < 0.75 * x_height
    return ((starts + ends) / 2 / factor)[keep], widths[keep]


def slant_of_ink(bands: Sequence[Pixels]) -> float:
    """How far stems lean to the right in pictures of the middle of letters, as a tangent: the shift of the upper rows against the lower
    ones with which both agree best, 0 where there is too little to see."""
    apart = np.full((ROWS, ROWS), 255, np.uint8)
    parts = [apart]
    for band in bands:
        if min(band.shape) > 2:
            width = max(round(band.shape[1] * SHIFTS * ROWS / band.shape[0]), 1)
            parts += [cv2.resize(band, (width, ROWS), interpolation=cv2.INTER_CUBIC).astype(np.uint8), apart]
    whole = 255.0 - np.hstack(parts).astype(np.float64)
    half = ROWS // 2
    upper, lower = whole[:half].mean(axis=0), whole[half:].mean(axis=0)
    furthest = int(MOST_SLANT * half * SHIFTS)
    if len(upper) < 4 * furthest:
        return 0.0
    upper, lower = upper - upper.mean(), lower - lower.mean()
    middle = lower[furthest:-furthest]
    shifts = range(-furthest, furthest + 1)
    agreement = [float(np.dot(middle, upper[furthest + by : len(upper) - furthest + by])) for by in shifts]
    return shifts[int(np.argmax(agreement))] / (half * SHIFTS)


def middle_mean(values: Sequence[float]) -> float:
    """The mean of the middle half: as steady as the median, and finer where values come in steps."""
    ordered = sorted(values)
    cut = len(ordered) // 4
    return statistics.fmean(ordered[cut : len(ordered) - cut])
