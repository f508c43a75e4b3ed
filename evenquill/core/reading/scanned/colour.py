"""Coloured ink told from black: stamps, pens, coloured print."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.raster import Pixels

COLOURED = 18
"""Difference of the strongest and weakest channel, on white paper, from which ink may be coloured."""

SATURATED = 0.25
"""That difference over what the ink takes from the weakest channel: grey ink has none, however pale."""

NOTICEABLE = 0.0004
"""Share of the page that must be coloured ink before it is looked at more closely."""

DARK = 0.9
"""Share of paper's lightness below which something is ink."""


def coloured_ink(pixels: Pixels, dpi: float) -> Pixels | None:
    """1 where there is coloured ink, else 0; None where the page has none worth speaking of."""
    if pixels.ndim == 2:
        return None
    small = cv2.resize(pixels, None, fx=75 / dpi, fy=75 / dpi, interpolation=cv2.INTER_AREA)
    paper = np.maximum(np.median(small.reshape(-1, 3), axis=0), 40)
    if _mask(small, paper).mean() < NOTICEABLE:
        return None
    smooth = cv2.GaussianBlur(pixels, (0, 0), max(dpi / 260, 0.5))
    mask = _mask(smooth, paper)
    return np.asarray(cv2.morphologyEx(mask, cv2.MORPH_OPEN, np.ones((2, 2), np.uint8)), np.uint8)


def _mask(pixels: Pixels, paper: NDArray[np.float64]) -> Pixels:
    balanced = np.minimum(pixels * (255.0 / paper).astype(np.float32), 255)
    high, low = balanced.max(axis=2), balanced.min(axis=2)
    coloured = (high - low > COLOURED) & (high - low > SATURATED * (255 - low)) & (low < DARK * 255)
    return np.asarray(coloured, np.uint8)


def ink_colour(pixels: Pixels, mask: Pixels) -> str | None:
    """``rrggbb`` of the ink under a mask; None for black."""
    chosen = pixels[mask > 0]
    if len(chosen) < 5:
        return None
    dark = chosen[chosen.sum(axis=1) <= np.percentile(chosen.sum(axis=1), 40)]
    r, g, b = (int(v) for v in np.median(dark, axis=0))
    if max(r, g, b) - min(r, g, b) < 40:
        return None
    # To the nearest of 8 steps: ink varies, a style has one colour.
    r, g, b = (min(round(v / 32) * 32, 255) for v in (r, g, b))
    return f"{r:02x}{g:02x}{b:02x}"
