"""Characters of a page with their boxes, grouped into the runs in which the page sets them.

What all characters of a text object share (font, size, colour, angle, baseline) is asked of PDFium once for the
run; only the code and the box are asked for each character.
"""

from __future__ import annotations

import ctypes
import math
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import pypdfium2.raw as pdfium_c

from evenquill.core.reading.evidence import Type
from evenquill.core.reading.native.frame import Floats, Frame
from evenquill.core.reading.native.typefaces import Typeface, typeface_of, typeface_of_object

HYPHEN_CODES = frozenset({0x02, 0xFFFE})
"""What PDFium gives for a hyphen at a line's end."""

INVISIBLE = 3
"""Text rendering mode, ISO 32000-1, table 106."""
FILL_AND_STROKE = 2

LIGATURES = {
    0xFB00: "ff",
    0xFB01: "fi",
    0xFB02: "fl",
    0xFB03: "ffi",
    0xFB04: "ffl",
    0xFB05: "st",
    0xFB06: "st",
}


class TextRun(NamedTuple):
    """Characters ``start`` to ``end`` of one text object. ``angle`` in degrees anticlockwise, a quarter turn at least.

    ``baseline`` is the distance of the baseline from the top of the page, seen with the text upright.
    """

    start: int
    end: int
    type: Type
    angle: int
    baseline: float
    visible: bool


@dataclass(frozen=True, slots=True)
class Characters:
    """The characters of a page in the order in which it draws them.

    ``texts`` has a string for each (two letters for a ligature), ``boxes`` is (n, 4): left, top, right, bottom, from
    the pen's way and the font's height, not from the ink.
    """

    texts: list[str]
    boxes: Floats
    runs: list[TextRun]


def characters_of(page: pdfium_c.FPDF_PAGE, text_page: pdfium_c.FPDF_TEXTPAGE, frame: Frame) -> Characters:
    """All real characters of the page; spaces and breaks that PDFium adds by itself are left out."""
    count = int(pdfium_c.FPDFText_CountChars(text_page))
    get_code, get_box = pdfium_c.FPDFText_GetUnicode, pdfium_c.FPDFText_GetLooseCharBox
    get_object, is_generated = pdfium_c.FPDFText_GetTextObject, pdfium_c.FPDFText_IsGenerated
    rect = pdfium_c.FS_RECTF()
    rect_ref = ctypes.byref(rect)

    texts: list[str] = []
    corners: list[tuple[float, float, float, float]] = []
    runs: list[TextRun] = []
    typefaces: dict[int, Typeface] = {}
    current = 0
    high_surrogate = 0
    for i in range(count):
        code = get_code(text_page, i)
        if code in (13, 10, 0) or (code == 32 and is_generated(text_page, i)):
            continue
        if 0xD800 <= code < 0xDC00:
            high_surrogate = code
            continue
        if 0xDC00 <= code < 0xE000 and high_surrogate:
            code = 0x10000 + ((high_surrogate - 0xD800) << 10) + (code - 0xDC00)
        if code in HYPHEN_CODES:
            code = 0x2D
        text = LIGATURES.get(code) or (chr(code) if code >= 32 else "\ufffd")
        get_box(text_page, i, rect_ref)
        handle = ctypes.cast(get_object(text_page, i), ctypes.c_void_p).value or 0
        if not runs or handle != current:
            if runs:
                runs[-1] = runs[-1]._replace(end=len(texts))
            runs.append(_run(text_page, i, len(texts), frame, typefaces))
            current = handle
        texts.append(text)
        corners.append((rect.left, rect.bottom, rect.right, rect.top))
    if runs:
        runs[-1] = runs[-1]._replace(end=len(texts))
    boxes = frame.boxes(np.array(corners, dtype=np.float64).reshape(-1, 4))
    return Characters(texts, boxes, runs)


def _run(
    text_page: pdfium_c.FPDF_TEXTPAGE, index: int, start: int, frame: Frame, typefaces: dict[int, Typeface]
) -> TextRun:
    text_object = pdfium_c.FPDFText_GetTextObject(text_page, index)
    mode = 0
    typeface = None
    if text_object:
        mode = int(pdfium_c.FPDFTextObj_GetTextRenderMode(text_object))
        font = pdfium_c.FPDFTextObj_GetFont(text_object)
        key = ctypes.cast(font, ctypes.c_void_p).value or 0
        typeface = typefaces.get(key)
        if typeface is None and font:
            typeface = typefaces[key] = typeface_of_object(font)
    if typeface is None:
        typeface = typeface_of("", 0, 0, 0)

    matrix = pdfium_c.FS_MATRIX()
    pdfium_c.FPDFText_GetMatrix(text_page, index, ctypes.byref(matrix))
    size = float(pdfium_c.FPDFText_GetFontSize(text_page, index)) * (math.hypot(matrix.c, matrix.d) or 1.0)
    turned = math.degrees(math.atan2(matrix.b, matrix.a)) - 90 * frame.turns
    angle = round(turned / 90) * 90 % 360

    x, y = ctypes.c_double(), ctypes.c_double()
    pdfium_c.FPDFText_GetCharOrigin(text_page, index, ctypes.byref(x), ctypes.byref(y))
    px, py = frame.points(np.array([x.value]), np.array([y.value]))
    baseline = upright_y(float(px[0]), float(py[0]), angle)

    return TextRun(
        start,
        start,
        Type(
            font=typeface.font,
            family=typeface.family,
            size=round(size * 4) / 4,
            bold=typeface.bold or mode == FILL_AND_STROKE,
            italic=typeface.italic,
            color=_color(text_page, index),
            symbol=typeface.symbol,
        ),
        angle,
        baseline,
        mode != INVISIBLE,
    )


def upright_y(x: float, y: float, angle: int) -> float:
    """How far down a page point lies when the page is turned so that text at ``angle`` stands upright."""
    return {0: y, 90: x, 180: -y, 270: -x}[angle]


def _color(text_page: pdfium_c.FPDF_TEXTPAGE, index: int) -> str | None:
    red, green, blue, alpha = (ctypes.c_uint() for _ in range(4))
    if not pdfium_c.FPDFText_GetFillColor(
        text_page, index, ctypes.byref(red), ctypes.byref(green), ctypes.byref(blue), ctypes.byref(alpha)
    ):
        return None
    if max(red.value, green.value, blue.value) < 48:  # so dark that it is meant to be black
        return None
    return f"{red.value:02x}{green.value:02x}{blue.value:02x}"
