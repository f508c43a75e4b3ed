"""The segments of a path (ISO 32000-1, 8.5)."""

from __future__ import annotations

import ctypes
from collections.abc import Iterator
from typing import Any

import pypdfium2.raw as pdfium_c

MOST_SEGMENTS = 400
"""A path with more segments than this is a drawing without looking at each."""


def is_slanted(handle: Any) -> bool:
    """Whether a path has slanted or curved parts."""
    if pdfium_c.FPDFPath_CountSegments(handle) > MOST_SEGMENTS:
        return True
    last: tuple[float, float] | None = None
    for kind, point in segments(handle):
        if kind == pdfium_c.FPDF_SEGMENT_BEZIERTO:
            return True
        if (
            kind == pdfium_c.FPDF_SEGMENT_LINETO
            and last is not None
            and abs(point[0] - last[0]) > 0.5
            and abs(point[1] - last[1]) > 0.5
        ):
            return True
        last = point
    return False


def segments(handle: Any) -> Iterator[tuple[int, tuple[float, float]]]:
    """The segments of a path: their kinds and points, in the path's own space; a curve has three (its ends come last)."""
    for i in range(pdfium_c.FPDFPath_CountSegments(handle)):
        segment = pdfium_c.FPDFPath_GetPathSegment(handle, i)
        yield pdfium_c.FPDFPathSegment_GetType(segment), segment_end(segment)


def segment_end(segment: Any) -> tuple[float, float]:
    """The point of a segment (a handle of PDFium)."""
    x, y = ctypes.c_float(), ctypes.c_float()
    pdfium_c.FPDFPathSegment_GetPoint(segment, ctypes.byref(x), ctypes.byref(y))
    return x.value, y.value
