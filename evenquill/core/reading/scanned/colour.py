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


WORD = 4.0
"""Points between letters that are of one word, or of words beside one another."""

DOT, OVER, OVER_SHARE = 3.0, 3.5, 0.7
"""Points: the size of a dot or an accent at most, and between its foot and the letter under it; and its share that is over the letter."""

TWO_INKS = 0.15
"""Difference of saturation between the coloured and the other parts of a piece of ink from which these are two inks, one over the other;
within one ink it varies less, and letters of a dark colour are neither quite coloured nor quite black."""


def coloured_ink(pixels: Pixels, ink: Pixels, dpi: float) -> Pixels | None:
    """1 where there is coloured ink, else 0; None where the page has none worth speaking of. ``ink`` is 1 where there is any."""
    if pixels.ndim == 2:
        return None
    small = cv2.resize(pixels, None, fx=75 / dpi, fy=75 / dpi, interpolation=cv2.INTER_AREA)
    paper = np.maximum(np.median(small.reshape(-1, 3), axis=0), 40)
    if _mask(*_channels(small, paper)).mean() < NOTICEABLE:
        return None
    difference, low = _channels(cv2.GaussianBlur(pixels, (0, 0), max(dpi / 260, 0.5)), paper)
    mask = np.asarray(cv2.morphologyEx(_mask(difference, low), cv2.MORPH_OPEN, np.ones((2, 2), np.uint8)), np.uint8)
    saturation = np.asarray(difference / np.maximum(255 - low, 1), np.float32)
    # Thin letters are paler than thick ones: what a letter leaves open, its word tells.
    words = cv2.dilate(ink, np.ones((1, max(round(WORD / 72 * dpi), 1)), np.uint8))
    return _with_dots(_of_one_ink(_of_one_ink(mask, saturation, ink, ink), saturation, ink, words), ink, dpi / 72)


def _with_dots(coloured: Pixels, ink: Pixels, unit: float) -> Pixels:
    """The coloured ink with the dots over its letters, which are often too small to show their colour; ``unit`` is pixels a point."""
    black = np.where(coloured > 0, np.uint8(0), ink)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(black, connectivity=8)
    small = np.maximum(stats[:, cv2.CC_STAT_WIDTH], stats[:, cv2.CC_STAT_HEIGHT]) <= DOT * unit
    small[0] = False
    over = cv2.dilate(coloured, np.ones((round(OVER * unit), 1), np.uint8), anchor=(0, 0))
    share = np.bincount(labels.ravel(), over.ravel(), minlength=count) / np.maximum(stats[:, cv2.CC_STAT_AREA], 1)
    letters = (~small[labels] & (black > 0)).astype(np.uint8)
    beside = cv2.dilate(letters, np.ones((1, 2 * round(DOT * unit) + 1), np.uint8))
    alone = np.bincount(labels.ravel(), beside.ravel(), minlength=count) == 0
    return np.where((small & alone & (share >= OVER_SHARE))[labels], np.uint8(1), coloured)


def _channels(pixels: Pixels, paper: NDArray[np.float64]) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """The difference of the strongest and weakest channel, and the weakest, as they would be on white paper."""
    balanced = np.minimum(pixels * (255.0 / paper).astype(np.float32), 255)
    low = balanced.min(axis=2)
    return balanced.max(axis=2) - low, low


def _mask(difference: NDArray[np.float32], low: NDArray[np.float32]) -> Pixels:
    coloured = (difference > COLOURED) & (difference > SATURATED * (255 - low)) & (low < DARK * 255)
    return np.asarray(coloured, np.uint8)


def _of_one_ink(mask: Pixels, saturation: NDArray[np.float32], ink: Pixels, parts: Pixels) -> Pixels:
    """The mask with the ink of each of the connected ``parts`` all coloured or not at all, by the greater share of it, unless it is of two
    inks."""
    count, labels = cv2.connectedComponents(parts, connectivity=8)
    labels[ink == 0] = 0
    own = labels.ravel()
    coloured = mask.ravel() > 0
    total = np.bincount(own, minlength=count)
    marked = np.bincount(own[coloured], minlength=count)
    sums = np.bincount(own, saturation.ravel(), minlength=count)
    marked_sums = np.bincount(own[coloured], saturation.ravel()[coloured], minlength=count)
    inside = marked_sums / np.maximum(marked, 1)
    outside = (sums - marked_sums) / np.maximum(total - marked, 1)
    one_ink = inside - outside < TWO_INKS
    every, none = one_ink & (2 * marked >= total), one_ink & (2 * marked < total)
    every[0] = none[0] = False
    out = mask.copy()
    out[every[labels]] = 1
    black = none[labels].astype(np.uint8)
    # The blurred edge of black ink goes with it.
    out[(black > 0) | ((labels == 0) & (cv2.dilate(black, np.ones((5, 5), np.uint8)) > 0))] = 0
    return out


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
