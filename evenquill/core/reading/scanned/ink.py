"""Ink told from paper, and its connected pieces."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.raster import WHITE, Pixels

WINDOW = 0.12
"""Inches: the side of the neighbourhood against which a pixel is judged; about one line of text."""

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

    @property
    def widths(self) -> NDArray[np.int32]:
        return np.asarray(self.boxes[:, 2] - self.boxes[:, 0], np.int32)

    @property
    def heights(self) -> NDArray[np.int32]:
        return np.asarray(self.boxes[:, 3] - self.boxes[:, 1], np.int32)


def ink_of(even: Pixels, dpi: float) -> Pixels:
    """1 where there is ink, else 0, from a picture with even light (Sauvola and Pietikainen 2000)."""
    side = round(WINDOW * dpi) | 1
    grey = even.astype(np.float32)
    mean = cv2.boxFilter(grey, -1, (side, side), borderType=cv2.BORDER_REPLICATE)
    square = cv2.sqrBoxFilter(grey, -1, (side, side), borderType=cv2.BORDER_REPLICATE)
    deviation = np.sqrt(np.maximum(square - mean * mean, 0))
    threshold = mean * (1 + SENSITIVITY * (deviation / DYNAMIC - 1))
    threshold = np.minimum(threshold, LIGHTEST_INK * WHITE)
    return (grey < threshold).astype(np.uint8)


def pieces_of(ink: Pixels) -> Pieces:
    """The connected pieces of ink."""
    _, labels, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    boxes = stats[1:, :4].astype(np.int32)
    boxes[:, 2:] += boxes[:, :2]
    return Pieces(np.asarray(labels, np.int32), boxes, stats[1:, cv2.CC_STAT_AREA].astype(np.int32))
