"""What is asked of PDFium for each character, with addresses as plain numbers.

ctypes checks and wraps pointers at every call, which takes longer than the call itself; a page has thousands.
"""

from __future__ import annotations

import ctypes
from collections import deque
from itertools import repeat

import numpy as np
import pypdfium2.raw as pdfium_c
from numpy.typing import NDArray

from evenquill.core.reading.native.frame import Floats

_ADDRESS, _INT = ctypes.c_void_p, ctypes.c_int


def _address(function: object) -> int:
    return ctypes.cast(function, _ADDRESS).value or 0  # type: ignore[arg-type]


_get_code = ctypes.PYFUNCTYPE(ctypes.c_uint, _ADDRESS, _INT)(_address(pdfium_c.FPDFText_GetUnicode))
_get_box = ctypes.PYFUNCTYPE(_INT, _ADDRESS, _INT, _ADDRESS)(_address(pdfium_c.FPDFText_GetLooseCharBox))
_get_object = ctypes.PYFUNCTYPE(_ADDRESS, _ADDRESS, _INT)(_address(pdfium_c.FPDFText_GetTextObject))

FLOAT = 4
"""Bytes of a coordinate; FS_RECTF is left, top, right, bottom."""


class TextPage:
    """The characters of an open page by their index."""

    def __init__(self, text_page: pdfium_c.FPDF_TEXTPAGE) -> None:
        self._address = _address(text_page)
        self.count = max(int(pdfium_c.FPDFText_CountChars(text_page)), 0)

    def codes(self) -> NDArray[np.uint32]:
        """(n,): the code of each, in UTF-16, so that those outside the basic plane are two."""
        return np.fromiter(map(_get_code, repeat(self._address), range(self.count)), np.uint32, self.count)

    def boxes(self) -> Floats:
        """(n, 4): left, top, right, bottom of each in the page's own frame, from the pen's way and the font's height."""
        corners = np.zeros((self.count, 4), np.float32)
        start, size = corners.ctypes.data, 4 * FLOAT
        places = range(start, start + self.count * size, size)
        deque(map(_get_box, repeat(self._address), range(self.count), places), maxlen=0)
        return corners.astype(np.float64)

    def object_at(self, index: int) -> int:
        """Address of the text object that a character belongs to, 0 for one that PDFium added."""
        return _get_object(self._address, index) or 0
