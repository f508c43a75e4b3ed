"""Strokes too thin to count as ink: they still tell which pieces are one symbol."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.ink import LIGHTEST_INK, Pieces
from evenquill.core.reading.scanned.raster import WHITE, Pixels

CLEAR_OF_NOISE = 4.0
"""Standard deviations of the noise of paper by which faint strokes are darker than paper."""

LIGHTEST = 0.93
"""Share of paper's lightness above which nothing is a stroke, however clean the paper is."""

EACH = 7
"""One pixel in so many, across and down, is looked at to measure the paper."""

ROOM = 2
"""Pixels around two pieces within which the stroke between them lies."""

MAD = 1.4826
"""Standard deviation over the median absolute deviation of a normal distribution."""

AROUND = np.ones((3, 3), np.uint8)


def faintest(even: Pixels) -> float:
    """The lightness up to which something is a faint stroke on an evenly lit page: clear of the noise of its paper."""
    some = even[::EACH, ::EACH]
    paper = some[some > LIGHTEST_INK * WHITE]
    if not paper.size:
        return LIGHTEST_INK * WHITE
    middle = float(np.median(paper))
    noise = MAD * float(np.median(np.abs(paper.astype(np.float32) - middle)))
    return min(middle - CLEAR_OF_NOISE * noise, LIGHTEST * middle)


def joined_by_faint_stroke(
    pieces: Pieces, one: tuple[int, ...], other: tuple[int, ...], box: Box, even: Pixels, level: float
) -> Pixels | None:
    """The ink of two symbols and of the faint stroke between them (1 where it is, in the ``box`` around both), None where nothing joins
    them; ``level`` is the lightness of the faintest stroke."""
    height, width = even.shape[:2]
    x0, y0 = max(int(box.x0) - ROOM, 0), max(int(box.y0) - ROOM, 0)
    x1, y1 = min(int(box.x1) + ROOM, width), min(int(box.y1) + ROOM, height)
    own = pieces.mask_of(np.array((*one, *other), np.int64), x0, y0, x1, y1)
    foreign = cv2.dilate(((pieces.labels[y0:y1, x0:x1] > 0) & (own == 0)).astype(np.uint8), AROUND)
    soft = np.asarray((own > 0) | ((even[y0:y1, x0:x1] < level) & (foreign == 0)), np.uint8)
    labels = np.asarray(cv2.connectedComponents(soft, connectivity=8)[1], np.int32)
    shared = _labels_of(labels, pieces, one, x0, y0) & _labels_of(labels, pieces, other, x0, y0)
    if not shared:
        return None
    joined = np.isin(labels, list(shared)) | (own > 0)
    top, left = int(box.y0) - y0, int(box.x0) - x0
    return np.asarray(joined[top : top + int(box.height), left : left + int(box.width)], np.uint8)


def _labels_of(labels: NDArray[np.int32], pieces: Pieces, members: tuple[int, ...], x0: int, y0: int) -> set[int]:
    """The components that pieces are part of."""
    own = pieces.mask_of(np.array(members, np.int64), x0, y0, x0 + labels.shape[1], y0 + labels.shape[0]) > 0
    return {int(label) for label in np.unique(labels[own]) if label}
