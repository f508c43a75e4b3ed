"""Characters of a page with their boxes, grouped into the runs in which the page sets them.

What all characters of a text object share (font, size, colour, angle, baseline) is asked of PDFium once for the
run; only the code and the box are asked for each character.
"""

from __future__ import annotations

import ctypes
import math
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
import pypdfium2.raw as pdfium_c
from numpy.typing import NDArray

from evenquill.core.evidence import SMALLEST_SIZE, Type
from evenquill.core.reading.native.accents import with_accents
from evenquill.core.reading.native.calls import TextPage
from evenquill.core.reading.native.frame import Floats, Frame
from evenquill.core.reading.native.math_faces import face_of
from evenquill.core.reading.native.tex_codes import texts_of_tex_codes
from evenquill.core.reading.native.typefaces import NAMELESS, Typeface, typeface_of, typeface_of_object

HYPHEN_CODES = frozenset({0x02, 0xFFFE})
"""What PDFium gives for a hyphen at a line's end."""

STRIDES = (32, 8, 2, 1)
"""Characters between looks at which text object they belong to."""

SPACE = 32
_NOTHING = (0x200B, 0x2060, 0xFEFF)
"""Codes of spaces without any width: they say where lines may end, and are in the way of whoever searches."""

_BREAKS = (0, 10, 13)

UNREAD = "\ufffd"
"""What stands for a character without a meaning."""

RAISED = 0.2
"""Ems above the baseline from which a digit's ink is raised; old-style figures go below it, none so far above."""

SUPERIOR_SIZE = 0.6
"""Size of a font's superior figures over that of its text, as most are drawn."""

SUPERIORS = frozenset("⁰¹²³⁴⁵⁶⁷⁸⁹")

INVISIBLE = 3
"""Text rendering mode, ISO 32000-1, table 106."""
FILL_AND_STROKE = 2

OBLIQUE = 10.0
"""Degrees from a quarter turn from which text runs oblique; scanned pages with text lie askew by less."""

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
    """Characters ``start`` to ``end`` of one text object, whose marked content has the number ``content`` (-1 for none).

    ``angle`` is in degrees anticlockwise, a quarter turn at least.

    ``baseline`` is the distance of the baseline from the top of the page, seen with the text upright. ``oblique`` text runs at another
    angle, far from a quarter turn; ``mirrored`` text is seen as in a mirror.
    """

    start: int
    end: int
    type: Type
    angle: int
    baseline: float
    content: int = -1
    oblique: bool = False
    mirrored: bool = False


@dataclass(frozen=True, slots=True)
class Characters:
    """The characters of a page in the order in which it draws them.

    ``texts`` has a string for each (two letters for a ligature), ``boxes`` is (n, 4): left, top, right, bottom, from
    the pen's way and the font's height, not from the ink. ``apart`` says of each whether PDFium sees a space before it that the
    page does not set; ``places`` has the index of each in PDFium's text page.
    """

    texts: list[str]
    apart: list[bool]
    boxes: Floats
    runs: list[TextRun]
    places: list[int]


def characters_of(page: pdfium_c.FPDF_PAGE, text_page: pdfium_c.FPDF_TEXTPAGE, frame: Frame) -> Characters:
    """All real characters of the page; spaces and breaks that PDFium adds by itself are not among them."""
    asked = TextPage(text_page)
    codes = asked.codes()
    gaps = [i for i in np.flatnonzero(codes == SPACE).tolist() if pdfium_c.FPDFText_IsGenerated(text_page, i)]
    breaks = [
        i for i in np.flatnonzero(np.isin(codes, _BREAKS)).tolist() if pdfium_c.FPDFText_IsGenerated(text_page, i)
    ]
    real = ~((codes >= 0xD800) & (codes < 0xDC00))
    real[breaks] = False
    real[gaps] = False
    kept = np.flatnonzero(real)
    apart = np.zeros(len(kept) + 1, bool)
    apart[np.searchsorted(kept, gaps)] = True
    indices: list[int] = kept.tolist()
    texts = list(map(chr, codes[kept].tolist()))
    controls = (codes[kept] < SPACE) | ((codes[kept] > 0x7E) & (codes[kept] < 0xA0))
    for n in np.flatnonzero(controls | (codes[kept] >= 0xD800)).tolist():
        before = int(codes[indices[n] - 1]) if indices[n] else 0
        texts[n] = _unusual(int(codes[indices[n]]), before if 0xD800 <= before < 0xDC00 else 0)
    objects = _runs(asked, indices, text_page, frame)
    _translate_tex_codes(texts, codes[kept].tolist(), objects)
    runs = [part for run in objects for part in _with_raised_digits(run, texts, indices, text_page, frame)]
    boxes = frame.boxes(asked.boxes()[kept])
    mathematical = _mathematical(runs)
    texts, gone = with_accents(texts, boxes, mathematical)
    # What a page sets by the code of a line's end, and is none of TeX's letters, is nothing to be read.
    ends = np.flatnonzero(np.isin(codes[kept], _BREAKS)).tolist()
    unread = {n for n in ends if texts[n] == UNREAD and n not in mathematical}
    found = Characters(texts, apart[:-1].tolist(), boxes, runs, indices)
    left = ~np.isin(codes[kept], _NOTHING)
    left[sorted(unread.union(gone))] = False
    return found if left.all() else only(found, left)


def _mathematical(runs: Sequence[TextRun]) -> frozenset[int]:
    """The places of characters in typefaces for mathematics, whose accents and codes mean something else."""
    kinds = {run.type.face: face_of(run.type.face).kind for run in runs}
    return frozenset(n for run in runs if kinds[run.type.face] != "text" for n in range(run.start, run.end))


def _translate_tex_codes(texts: list[str], codes: list[int], runs: Sequence[TextRun]) -> None:
    """Puts what the codes of TeX's own fonts mean among the texts of the characters."""
    by_face: dict[str, list[int]] = {}
    for run in runs:
        if run.type.face.startswith(NAMELESS):
            by_face.setdefault(run.type.face, []).extend(codes[run.start : run.end])
    meant = texts_of_tex_codes(by_face)
    if not meant:
        return
    for run in runs:
        for n in range(run.start, run.end):
            texts[n] = meant.get((run.type.face, codes[n]), texts[n])


def only(characters: Characters, kept: NDArray[np.bool_]) -> Characters:
    """Those of the characters that are ``kept``, shape (n,)."""
    before = np.concatenate([[0], np.cumsum(kept)]).tolist()
    runs = [run._replace(start=before[run.start], end=before[run.end]) for run in characters.runs]
    places: list[int] = np.flatnonzero(kept).tolist()
    return Characters(
        [characters.texts[n] for n in places],
        [characters.apart[n] for n in places],
        characters.boxes[kept],
        [run for run in runs if run.start < run.end],
        [characters.places[n] for n in places],
    )


def _runs(asked: TextPage, indices: list[int], text_page: pdfium_c.FPDF_TEXTPAGE, frame: Frame) -> list[TextRun]:
    """The runs of one text object each; the characters of an object stand in a row, so that most need not be asked for theirs."""
    runs: list[TextRun] = []
    typefaces: dict[int, Typeface] = {}
    current = 0
    n = 0
    handle = asked.object_at(indices[0]) if indices else 0
    while n < len(indices):
        if not runs or handle != current:
            if runs:
                runs[-1] = runs[-1]._replace(end=n)
            runs.append(_run(text_page, indices[n], n, frame, typefaces))
            current = handle
        for stride in STRIDES:
            if n + stride < len(indices):
                handle = asked.object_at(indices[n + stride])
                if handle == current or stride == 1:
                    n += stride
                    break
        else:
            n += 1
            handle = asked.object_at(indices[n]) if n < len(indices) else 0
    if runs:
        runs[-1] = runs[-1]._replace(end=len(indices))
    return [_with_letter_upright(run) for run in runs]


def _with_raised_digits(
    run: TextRun, texts: list[str], indices: list[int], text_page: pdfium_c.FPDF_TEXTPAGE, frame: Frame
) -> list[TextRun]:
    """The run with digits parted from it that the font draws small and raised (its superior figures).

    Such figures have the size and baseline of their neighbours in the page's code; only their ink stands higher.
    """
    if run.angle or frame.turns or not any(map(str.isdigit, texts[run.start : run.end])):
        return [run]
    parts: list[TextRun] = []
    start = run.start
    i = run.start
    while i < run.end:
        superior = texts[i] in SUPERIORS
        if not superior and (not texts[i].isdigit() or (i > run.start and not _may_precede_mark(texts[i - 1]))):
            i += 1
            continue
        lift, end = _lift(i, run, indices, text_page, frame), i + 1
        if lift < RAISED * run.type.size and not superior:
            i += 1
            continue
        while end < run.end and texts[end].isdigit():
            end += 1
        texts[i:end] = [str(unicodedata.digit(text)) for text in texts[i:end]]
        if i > start:
            parts.append(run._replace(start=start, end=i))
        small = run.type._replace(size=_size_of_type(run.type.size * SUPERIOR_SIZE))
        parts.append(run._replace(start=i, end=end, type=small, baseline=run.baseline - lift))
        start = i = end
    if start < run.end:
        parts.append(run._replace(start=start))
    return parts


def _may_precede_mark(text: str) -> bool:
    return not text.isspace() and not text.isdigit()


def _lift(i: int, run: TextRun, indices: list[int], text_page: pdfium_c.FPDF_TEXTPAGE, frame: Frame) -> float:
    """How far the ink of a character stands above its baseline, in points."""
    left, right, bottom, top = (ctypes.c_double() for _ in range(4))
    pdfium_c.FPDFText_GetCharBox(
        text_page, indices[i], ctypes.byref(left), ctypes.byref(right), ctypes.byref(bottom), ctypes.byref(top)
    )
    return run.baseline - (frame.top - bottom.value)


def _unusual(code: int, high_surrogate: int) -> str:
    """Control codes, the second half of a pair, and what PDFium gives for a hyphen at a line's end.

    Codes from 0x80 to 0x9F are control codes too, but a font that has them means signs of Windows' Latin code page.
    """
    if code in HYPHEN_CODES:
        return "-"
    if 0xDC00 <= code < 0xE000 and high_surrogate:
        return chr(0x10000 + ((high_surrogate - 0xD800) << 10) + (code - 0xDC00))
    if 0x80 <= code < 0xA0:
        return bytes((code,)).decode("cp1252", "replace")
    if code < SPACE or code == 0x7F or 0xDC00 <= code < 0xE000:
        return UNREAD
    return LIGATURES.get(code) or chr(code)


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
            typeface = typeface_of_object(font)
            if not typeface.face:
                typeface = typeface._replace(face=f"{NAMELESS}{len(typefaces)}")
            typefaces[key] = typeface
    if typeface is None:
        typeface = typeface_of("", 0, 0, 0)

    matrix = pdfium_c.FS_MATRIX()
    pdfium_c.FPDFText_GetMatrix(text_page, index, ctypes.byref(matrix))
    size = float(pdfium_c.FPDFText_GetFontSize(text_page, index)) * (math.hypot(matrix.c, matrix.d) or 1.0)
    turned = math.degrees(math.atan2(matrix.b, matrix.a)) - 90 * frame.turns
    quarters = round(turned / 90)
    angle = quarters * 90 % 360

    x, y = ctypes.c_double(), ctypes.c_double()
    pdfium_c.FPDFText_GetCharOrigin(text_page, index, ctypes.byref(x), ctypes.byref(y))
    baseline = upright_y(*frame.point(x.value, y.value), angle)

    return TextRun(
        start,
        start,
        Type(
            font=typeface.font,
            family=typeface.family,
            size=_size_of_type(size),
            bold=typeface.bold or mode == FILL_AND_STROKE,
            italic=typeface.italic,
            color=_color(text_page, index),
            symbol=typeface.symbol,
            face=typeface.face,
            unseen=mode == INVISIBLE,
        ),
        angle,
        baseline,
        int(pdfium_c.FPDFPageObj_GetMarkedContentID(text_object)) if text_object else -1,
        abs(turned - quarters * 90) > OBLIQUE,
        matrix.a * matrix.d < matrix.b * matrix.c,
    )


def _with_letter_upright(run: TextRun) -> TextRun:
    """A single letter that is mirrored, as those of some logos are, stands upright; its pen only goes backwards."""
    if run.mirrored and run.angle == 180 and run.end - run.start == 1:
        return run._replace(angle=0, baseline=-run.baseline)
    return run


def _size_of_type(size: float) -> float:
    """A size of type to a quarter of a point; letters of no size at all are as tall as what is divided by it needs."""
    return max(round(size * 4) / 4, SMALLEST_SIZE)


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
