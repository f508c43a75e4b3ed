"""Affine maps of PDF files: from the space in which something is drawn to that which it is drawn into."""

from __future__ import annotations

import ctypes
import math
from typing import Any, NamedTuple

import pypdfium2.raw as pdfium_c


class Matrix(NamedTuple):
    """An affine map (ISO 32000-1, 8.3.3)."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def point(self, x: float, y: float) -> tuple[float, float]:
        return self.a * x + self.c * y + self.e, self.b * x + self.d * y + self.f

    def after(self, first: Matrix) -> Matrix:
        """``first``, and then this one."""
        x, y = self.point(first.e, first.f)
        return Matrix(
            self.a * first.a + self.c * first.b, self.b * first.a + self.d * first.b,
            self.a * first.c + self.c * first.d, self.b * first.c + self.d * first.d, x, y,
        )  # fmt: skip

    @property
    def scale(self) -> float:
        return math.sqrt(abs(self.a * self.d - self.b * self.c))


def matrix_of(handle: Any) -> Matrix:
    """That of a page object (a handle of PDFium)."""
    matrix = pdfium_c.FS_MATRIX()
    pdfium_c.FPDFPageObj_GetMatrix(handle, ctypes.byref(matrix))
    return Matrix(matrix.a, matrix.b, matrix.c, matrix.d, matrix.e, matrix.f)
