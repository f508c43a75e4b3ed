"""From PDF user space (origin bottom left, before rotation) to the page as it is looked at."""

from __future__ import annotations

import ctypes
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
import pypdfium2.raw as pdfium_c
from numpy.typing import NDArray

from evenquill.core.model import Box

Floats = NDArray[np.float64]
N = TypeVar("N", float, Floats)


@dataclass(frozen=True, slots=True)
class Frame:
    """A page's crop box in user space and its rotation in quarter turns clockwise."""

    left: float
    bottom: float
    right: float
    top: float
    turns: int

    @property
    def width(self) -> float:
        return self.right - self.left if self.turns % 2 == 0 else self.top - self.bottom

    @property
    def height(self) -> float:
        return self.top - self.bottom if self.turns % 2 == 0 else self.right - self.left

    def boxes(self, corners: Floats) -> Floats:
        """Boxes of shape (n, 4) as left, bottom, right, top in user space, to x0, y0, x1, y1 on the page."""
        ax, ay = self.point(corners[:, 0], corners[:, 1])
        bx, by = self.point(corners[:, 2], corners[:, 3])
        return np.stack([np.minimum(ax, bx), np.minimum(ay, by), np.maximum(ax, bx), np.maximum(ay, by)], axis=1)

    def box(self, left: float, bottom: float, right: float, top: float) -> Box:
        """One user-space box on the page."""
        ax, ay = self.point(left, bottom)
        bx, by = self.point(right, top)
        return Box(min(ax, bx), min(ay, by), max(ax, bx), max(ay, by))

    def point(self, x: N, y: N) -> tuple[N, N]:
        """A user-space point on the page; arrays of coordinates are taken as many points."""
        if self.turns == 1:
            return y - self.bottom, x - self.left
        if self.turns == 2:
            return self.right - x, y - self.bottom
        if self.turns == 3:
            return self.top - y, self.right - x
        return x - self.left, self.top - y


def frame_of(page: pdfium_c.FPDF_PAGE) -> Frame:
    """The frame of an open PDFium page."""
    rect = pdfium_c.FS_RECTF()
    pdfium_c.FPDF_GetPageBoundingBox(page, ctypes.byref(rect))
    turns = int(pdfium_c.FPDFPage_GetRotation(page)) % 4
    return Frame(rect.left, rect.bottom, rect.right, rect.top, turns)
