"""Specks: pieces of ink too small to be a dot, by the page's own strokes."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.raster import Pixels
from evenquill.core.reading.scanned.text_line import TextLine

DOT = 0.55
"""Diameter of the smallest full stop over the width of strokes; serif stops are wider than stems, hairline ones narrower."""

BELOW_DOTS = 0.5
"""Area over that of the usual dot (on an i, at a sentence's end) below which a small piece in a line is a speck."""

MANY_LETTERS, MIDDLE_LETTERS = 1000, (30, 70)
"""Letters on a page of which only some are measured: those between these percentiles of their heights on it."""

FEWEST_DOTS = 8
"""Dots from which their usual area can be told."""


def stroke_width(ink: Pixels, pieces: Pieces, x_height: float) -> float:
    """The usual width of strokes of letters, in pixels: twice the greatest distance from paper along their middle."""
    letters = (pieces.heights >= 0.8 * x_height) & (pieces.heights <= 3 * x_height)
    tops = pieces.boxes[letters, 1]
    # Two letters of five are enough to tell, where the page has many.
    low, high = np.percentile(tops, MIDDLE_LETTERS) if len(tops) > MANY_LETTERS else (0, ink.shape[0])
    ink, labels = ink[int(low) : int(high)], pieces.labels[int(low) : int(high)]
    distance = cv2.distanceTransform(ink, cv2.DIST_L2, cv2.DIST_MASK_5)
    ridge = (cv2.compare(distance, cv2.dilate(distance, np.ones((3, 3), np.uint8)), cv2.CMP_GE) & ink) > 0
    values = distance[ridge][np.concatenate([[False], letters])[labels[ridge]]]
    return float(2 * np.median(values)) if len(values) > 50 else 0.2 * x_height


def specks(pieces: Pieces, stroke: float) -> NDArray[np.bool_]:
    """Which pieces are specks."""
    smallest = max(DOT * stroke, 1.5)
    return np.asarray((pieces.areas < 0.785 * smallest**2) | (np.maximum(pieces.widths, pieces.heights) < smallest))


def without_specks(lines: list[TextLine], pieces: Pieces) -> list[TextLine]:
    """The lines without small pieces that are clearly smaller than the page's own dots, for the size of their line."""
    relative = pieces.areas.astype(np.float64)
    small: list[tuple[int, NDArray[np.int64], NDArray[np.float64]]] = []
    for n, line in enumerate(lines):
        sizes = np.maximum(pieces.heights, pieces.widths)[line.pieces]
        low = line.pieces[(sizes < 0.5 * line.x_height) & (not line.sign and not line.raised)]
        small.append((n, low, relative[low] / line.x_height**2))
    every = np.concatenate([shares for _, _, shares in small]) if small else np.zeros(0)
    if len(every) < FEWEST_DOTS:
        return lines
    # Specks make the lower half of a dirty page's small pieces, so the usual dot is looked for in the upper one.
    limit = BELOW_DOTS * float(np.percentile(every, 65))
    out = []
    for (_, low, shares), line in zip(small, lines, strict=True):
        dropped = low[shares < limit]
        out.append(line._replace(pieces=line.pieces[~np.isin(line.pieces, dropped)]) if len(dropped) else line)
    return [line for line in out if len(line.pieces)]
