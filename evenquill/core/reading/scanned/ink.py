"""Ink told from paper, and its connected pieces."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.raster import WHITE, Pixels

WINDOW = 0.12
"""Inches: the side of the neighbourhood against which a pixel is judged; about one line of text."""

SMALL_WINDOW = 9.0
"""Pixels of that neighbourhood that are enough to measure it."""

SENSITIVITY = 0.18
"""Sauvola's k; lower than his 0.5, since the light is evened already."""

DYNAMIC = 128.0
"""Sauvola's R: the standard deviation of a neighbourhood half ink, half paper."""

LIGHTEST_INK = 0.86
"""Share of paper's lightness above which nothing is ink: noise and bleed-through."""


class Pieces(NamedTuple):
    """Connected pieces of ink (8 neighbours). ``labels`` has the shape of the picture, 0 for paper.

    ``boxes`` (n, 4) are left, top, right, bottom in pixels, ``areas`` (n,) their pixels of ink; row i is label i + 1.
    """

    labels: NDArray[np.int32]
    boxes: NDArray[np.int32]
    areas: NDArray[np.int32]

    def mask_of(self, members: NDArray[np.int64], x0: int, y0: int, x1: int, y1: int) -> Pixels:
        """1 where there is ink of the pieces ``members`` within a box of the picture, else 0."""
        chosen = np.zeros(len(self.areas) + 1, np.uint8)
        chosen[members + 1] = 1
        return np.asarray(chosen[self.labels[y0:y1, x0:x1]], np.uint8)

    def box(self, piece: int) -> Box:
        """The box of a piece in pixels."""
        return Box(*(float(value) for value in self.boxes[piece]))

    @property
    def widths(self) -> NDArray[np.int32]:
        return np.asarray(self.boxes[:, 2] - self.boxes[:, 0], np.int32)

    def width(self, piece: int) -> int:
        return int(self.boxes[piece, 2] - self.boxes[piece, 0])

    @property
    def heights(self) -> NDArray[np.int32]:
        return np.asarray(self.boxes[:, 3] - self.boxes[:, 1], np.int32)


def ink_of(even: Pixels, dpi: float) -> Pixels:
    """1 where there is ink, else 0, from a picture with even light (Sauvola and Pietikainen 2000)."""
    # The neighbourhood's mean and deviation change slowly: they are taken from a smaller picture, without loss of pixels.
    height, width = even.shape
    window = WINDOW * dpi
    factor = max(int(window / SMALL_WINDOW), 1)
    size = (max(width // factor, 1), max(height // factor, 1))
    side = round(window / factor) | 1
    squares: Pixels = cv2.multiply(even, even, dtype=cv2.CV_16U)
    mean, square = (_blurred(cv2.resize(each, size, interpolation=cv2.INTER_AREA), side) for each in (even, squares))
    deviation = np.sqrt(np.maximum(square - mean * mean, 0))
    threshold = mean * (1 + SENSITIVITY * (deviation / DYNAMIC - 1))
    levels: Pixels = np.clip(np.round(threshold), 0, LIGHTEST_INK * WHITE).astype(np.uint8)
    levels = cv2.resize(levels, (width, height), interpolation=cv2.INTER_LINEAR)
    ink: Pixels = cv2.compare(even, levels, cv2.CMP_LT)
    return ink & 1


def _blurred(values: Pixels, side: int) -> NDArray[np.float32]:
    """The mean of each square neighbourhood."""
    return np.asarray(cv2.blur(values.astype(np.float32), (side, side), borderType=cv2.BORDER_REPLICATE), np.float32)


def pieces_of(ink: Pixels) -> Pieces:
    """The connected pieces of ink."""
    _, labels, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    boxes = stats[1:, :4].astype(np.int32)
    boxes[:, 2:] += boxes[:, :2]
    return Pieces(np.asarray(labels, np.int32), boxes, stats[1:, cv2.CC_STAT_AREA].astype(np.int32))
