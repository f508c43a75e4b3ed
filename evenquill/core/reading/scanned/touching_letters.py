"""Letters that touch, since a coarse scan has blurred what is between them: their ink is told from a sharpened picture.

Pieces of ink are letters to all that follows: their heights, their number, the dots beside them. Where they are whole words, it fails.
"""

from __future__ import annotations

import cv2
import numpy as np

from evenquill.core.reading.scanned.ink import ink_of, pieces_of
from evenquill.core.reading.scanned.raster import Pixels
from evenquill.core.reading.scanned.textlines import x_height_of

TOUCHING = 0.06
"""Share of a page's letters that are too wide to be one, from which its picture is sharpened. Of some 170 scans
16 have more, ten of which are of 150 dpi."""

FEWER = 0.7
"""Share of them that may be left: where sharpening parts few, no blur has joined them, but their typeface or a pen."""

WIDE = 1.8
"""Width over height of what is more than a letter: "m" has 1.6."""

LOWEST, HIGHEST = 0.75, 2.2
"""X-heights between which pieces may be letters."""

BLUR, STRENGTH = 1.0, 4.0
"""Pixels that a coarse scan blurs, and how much of what that takes is given back (unsharp masking). Less leaves letters together, more
breaks hairlines."""


def letters_apart(ink: Pixels, even: Pixels, dpi: float) -> Pixels:
    """The ink (1, else 0) of a picture with even light, with fewer letters that touch where many do."""
    touching = _touching(ink, dpi)
    if touching < TOUCHING:
        return ink
    blurred = cv2.GaussianBlur(even, (0, 0), BLUR)
    sharp = np.asarray(cv2.addWeighted(even, 1 + STRENGTH, blurred, -STRENGTH, 0), np.uint8)
    apart = ink & ink_of(sharp, dpi)  # of what is ink already: sharpened, paper's grain would be ink too
    return apart if _touching(apart, dpi) < FEWER * touching else ink


def _touching(ink: Pixels, dpi: float) -> float:
    """The share of letters that are too wide to be one."""
    pieces = pieces_of(ink)
    x_height = x_height_of(pieces, dpi)
    letters = (pieces.heights > LOWEST * x_height) & (pieces.heights < HIGHEST * x_height)
    wide = letters & (pieces.widths > WIDE * pieces.heights)
    return float(wide.sum() / max(letters.sum(), 1))
