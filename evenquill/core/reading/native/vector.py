"""Drawings of a page as SVG: what PDFium knows of paths, clips and the outlines of letters, as paths of SVG 1.1 (W3C, 2011).

What cannot be said so (shadings, patterns, blending, pictures within) shows when the SVG is drawn and laid over the page: a drawing that
does not look like its source has none, and stays the picture that it was drawn to.
"""

from __future__ import annotations

import ctypes
import io
import math
from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np
import pypdfium2 as pdfium
import pypdfium2.raw as pdfium_c
import typst
from numpy.typing import NDArray
from PIL import Image

from evenquill.core.model import Box
from evenquill.core.reading.native.frame import Frame
from evenquill.core.reading.native.matrix import Matrix, matrix_of
from evenquill.core.reading.native.page_objects import DEEPEST, bounds_of, direct_objects, parts_of

Darkness = NDArray[np.float64]

MOST_SEGMENTS = 30_000
"""Segments of a drawing; one with more is a picture: it would be larger than that, and slow to draw."""

MOST_BYTES = 1_500_000

MOST_OBJECTS = 6_000
"""Objects of a page that are looked through for those of a drawing."""

THINNEST = 0.2
"""Points: a pen without width draws the thinnest line that can be seen."""

CHECKED_PIXELS, MOST_CHECKED = 700, 3000
"""Pixels of the longer side of an SVG that is laid over its source, where that comes to no less than one a point, and at most."""

CHECKED_DPI = 400
"""The highest resolution at which it is."""

INKED = 0.06
"""Darkness (0 to 1) from which a pixel has ink."""

REACH = 2
"""Pixels by which ink may miss its place: both are drawn with edges of their own."""

MOST_UNLIKE = 0.02
"""Share of the ink of a drawing, or of its SVG, that the other may not have at its place."""

MOST_DARKER = 0.1
"""Share by which an SVG may be darker or lighter as a whole: colours that are not known are mostly black."""

_CAPS = {pdfium_c.FPDF_LINECAP_ROUND: "round", pdfium_c.FPDF_LINECAP_PROJECTING_SQUARE: "square"}
_JOINS = {pdfium_c.FPDF_LINEJOIN_ROUND: "round", pdfium_c.FPDF_LINEJOIN_BEVEL: "bevel"}


class _NotAsSvg(Exception):
    """A drawing has something that is not written as SVG, or more than is."""


def svg_of(page: pdfium.PdfPage, frame: Frame, box: Box) -> bytes | None:
    """The part of a page within a box as SVG, as large as the box in points; None for what cannot be said so."""
    if pdfium_c.FPDFPage_CountObjects(page.raw) > MOST_OBJECTS:
        return None
    try:
        data = _Drawing(page, frame, box).svg()
        return data if len(data) <= MOST_BYTES and _is_true(data, page, frame, box) else None
    except (_NotAsSvg, typst.TypstError, ValueError):  # the last where nothing of the page lies there
        return None


class _Drawing:
    def __init__(self, page: pdfium.PdfPage, frame: Frame, box: Box) -> None:
        self._page, self._frame, self._box = page, frame, box
        self._clips: dict[str, int] = {}
        """The number of each path that others are cut off by."""
        self._left = MOST_SEGMENTS
        """Segments that may still come."""

    def svg(self) -> bytes:
        parts = [*self._paths(direct_objects(self._page.raw), Matrix(), 0), *self._letters()]
        width, height = self._box.width, self._box.height
        clips = "".join(f'<clipPath id="c{n}"><path d="{path}"/></clipPath>' for path, n in self._clips.items())
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.2f}pt" height="{height:.2f}pt" '
            f'viewBox="0 0 {width:.2f} {height:.2f}">{f"<defs>{clips}</defs>" if clips else ""}{"".join(parts)}</svg>'
        ).encode()

    def _paths(self, handles: Sequence[Any], outer: Matrix, depth: int) -> Iterator[str]:
        """The paths among some objects, in the order in which they are drawn; ``outer`` maps to the page's user space."""
        for handle in handles:
            kind = pdfium_c.FPDFPageObj_GetType(handle)
            if kind == pdfium_c.FPDF_PAGEOBJ_TEXT or not self._is_inside(handle, outer):
                continue
            if kind == pdfium_c.FPDF_PAGEOBJ_FORM and depth < DEEPEST:
                yield from self._paths(parts_of(handle), outer.after(matrix_of(handle)), depth + 1)
            elif kind == pdfium_c.FPDF_PAGEOBJ_PATH:
                yield self._path(handle, outer)
            else:
                raise _NotAsSvg

    def _is_inside(self, handle: Any, outer: Matrix) -> bool:
        own = bounds_of(handle, self._frame, outer)
        return own is not None and own.overlap_x(self._box) >= 0 and own.overlap_y(self._box) >= 0

    def _path(self, handle: Any, outer: Matrix) -> str:
        mode, stroked = ctypes.c_int(), ctypes.c_int()
        pdfium_c.FPDFPath_GetDrawMode(handle, ctypes.byref(mode), ctypes.byref(stroked))
        if not mode.value and not stroked.value:
            return ""
        matrix = outer.after(matrix_of(handle))
        count = pdfium_c.FPDFPath_CountSegments(handle)
        said = [
            f'd="{self._outline((pdfium_c.FPDFPath_GetPathSegment(handle, n) for n in range(count)), count, matrix)}"'
        ]
        if mode.value:
            said.append(_paint("fill", *_color(pdfium_c.FPDFPageObj_GetFillColor, handle)))
            if mode.value == pdfium_c.FPDF_FILLMODE_ALTERNATE:
                said.append('fill-rule="evenodd"')
        else:
            said.append('fill="none"')
        if stroked.value:
            said += _pen(handle, matrix)
        clip = self._clip(handle, outer)
        return f"<path {' '.join(said)}{clip}/>"

    def _clip(self, handle: Any, outer: Matrix) -> str:
        """The reference to what a path is cut off by: the last of its clips, which are mostly one."""
        clip = pdfium_c.FPDFPageObj_GetClipPath(handle)
        count = pdfium_c.FPDFClipPath_CountPaths(clip) if clip else 0
        if count <= 0 or count > MOST_SEGMENTS:
            return ""
        segments = pdfium_c.FPDFClipPath_CountPathSegments(clip, count - 1)
        path = self._outline(
            (pdfium_c.FPDFClipPath_GetPathSegment(clip, count - 1, n) for n in range(segments)), segments, outer
        )
        number = self._clips.setdefault(path, len(self._clips))
        return f' clip-path="url(#c{number})"'

    def _outline(self, segments: Iterator[Any], count: int, matrix: Matrix) -> str:
        """Segments as the data of a path, mapped to the picture."""
        self._left -= count
        if self._left < 0:
            raise _NotAsSvg
        out: list[str] = []
        x, y = ctypes.c_float(), ctypes.c_float()
        curve: list[str] = []
        for segment in segments:
            pdfium_c.FPDFPathSegment_GetPoint(segment, ctypes.byref(x), ctypes.byref(y))
            px, py = self._frame.point(*matrix.point(x.value, y.value))
            point = f"{px - self._box.x0:.2f} {py - self._box.y0:.2f}"
            kind = pdfium_c.FPDFPathSegment_GetType(segment)
            if kind == pdfium_c.FPDF_SEGMENT_BEZIERTO:
                curve.append(point)
                if len(curve) == 3:
                    out.append(f"C{' '.join(curve)}")
                    curve = []
            else:
                out.append(f"{'M' if kind == pdfium_c.FPDF_SEGMENT_MOVETO else 'L'}{point}")
            if not curve and pdfium_c.FPDFPathSegment_GetClose(segment):
                out.append("Z")
        return "".join(out)

    def _letters(self) -> Iterator[str]:
        """The outlines of the letters that stand in the drawing."""
        text = self._page.get_textpage()
        try:
            for n in range(text.count_chars()):
                handle, code = pdfium_c.FPDFText_GetTextObject(text.raw, n), pdfium_c.FPDFText_GetUnicode(text.raw, n)
                if handle and code and not chr(code).isspace() and self._touches(text.get_charbox(n)):
                    yield self._letter(text.raw, n, handle, code)
        finally:
            text.close()

    def _touches(self, corners: tuple[float, float, float, float]) -> bool:
        own = self._frame.box(*corners)
        return own.overlap_x(self._box) > 0 and own.overlap_y(self._box) > 0

    def _letter(self, text: Any, n: int, handle: Any, code: int) -> str:
        x, y, matrix = ctypes.c_double(), ctypes.c_double(), pdfium_c.FS_MATRIX()
        pdfium_c.FPDFText_GetCharOrigin(text, n, ctypes.byref(x), ctypes.byref(y))
        pdfium_c.FPDFText_GetMatrix(text, n, ctypes.byref(matrix))
        size = ctypes.c_float()
        pdfium_c.FPDFTextObj_GetFontSize(handle, ctypes.byref(size))
        glyph = pdfium_c.FPDFFont_GetGlyphPath(pdfium_c.FPDFTextObj_GetFont(handle), code, size.value)
        count = pdfium_c.FPDFGlyphPath_CountGlyphSegments(glyph) if glyph else 0
        if count <= 0:
            raise _NotAsSvg  # a letter whose outline cannot be had
        ems = size.value  # outlines are given in ems
        to_page = Matrix(ems * matrix.a, ems * matrix.b, ems * matrix.c, ems * matrix.d, x.value, y.value)
        segments = (pdfium_c.FPDFGlyphPath_GetGlyphPathSegment(glyph, k) for k in range(count))
        outline = self._outline(segments, count, to_page)
        return f'<path d="{outline}" {_paint("fill", *_color(pdfium_c.FPDFText_GetFillColor, text, n))}/>'


def _color(get: Any, *of: Any) -> tuple[str, float]:
    """A colour as SVG says it, and how opaque it is."""
    red, green, blue, alpha = (ctypes.c_uint(255 * (n == 3)) for n in range(4))
    get(*of, ctypes.byref(red), ctypes.byref(green), ctypes.byref(blue), ctypes.byref(alpha))
    return f"#{red.value:02x}{green.value:02x}{blue.value:02x}", alpha.value / 255


def _paint(what: str, color: str, opacity: float) -> str:
    return f'{what}="{color}"' + (f' {what}-opacity="{opacity:.3g}"' if opacity < 1 else "")


def _pen(handle: Any, matrix: Matrix) -> Iterator[str]:
    """How a path is stroked."""
    yield _paint("stroke", *_color(pdfium_c.FPDFPageObj_GetStrokeColor, handle))
    width = ctypes.c_float()
    pdfium_c.FPDFPageObj_GetStrokeWidth(handle, ctypes.byref(width))
    yield f'stroke-width="{max(width.value * matrix.scale, THINNEST):.3g}"'
    if cap := _CAPS.get(pdfium_c.FPDFPageObj_GetLineCap(handle)):
        yield f'stroke-linecap="{cap}"'
    if join := _JOINS.get(pdfium_c.FPDFPageObj_GetLineJoin(handle)):
        yield f'stroke-linejoin="{join}"'
    count = pdfium_c.FPDFPageObj_GetDashCount(handle)
    if count > 0:
        dashes, phase = (ctypes.c_float * count)(), ctypes.c_float()
        pdfium_c.FPDFPageObj_GetDashArray(handle, dashes, count)
        pdfium_c.FPDFPageObj_GetDashPhase(handle, ctypes.byref(phase))
        yield f'stroke-dasharray="{" ".join(f"{one * matrix.scale:.3g}" for one in dashes)}"'
        yield f'stroke-dashoffset="{phase.value * matrix.scale:.3g}"'


def _is_true(svg: bytes, page: pdfium.PdfPage, frame: Frame, box: Box) -> bool:
    """Whether an SVG looks like the part of the page that it was made of."""
    wanted, own = _both_drawn(svg, page, frame, box)
    unlike, darker = unlikeness(wanted, own)
    return unlike <= MOST_UNLIKE and darker <= MOST_DARKER


def unlikeness(wanted: Darkness, own: Darkness) -> tuple[float, float]:
    """Share of the ink that only one of two pictures has at its place, and by which share one is darker as a whole."""
    ink, other = wanted > INKED, own > INKED
    lost = (ink & ~_grown(other)).sum() + (other & ~_grown(ink)).sum()
    darker = abs(own.sum() - wanted.sum()) / max(wanted.sum(), 1.0)
    return float(lost / max(ink.sum() + other.sum(), 1)), float(darker)


def _both_drawn(svg: bytes, page: pdfium.PdfPage, frame: Frame, box: Box) -> tuple[Darkness, Darkness]:
    """How dark a part of a page is, and its SVG, pixel by pixel."""
    longest = max(box.width, box.height, 1.0)
    scale = min(max(CHECKED_PIXELS / longest, 1.0), CHECKED_DPI / 72, MOST_CHECKED / longest)
    crop = (box.x0, frame.height - box.y1, frame.width - box.x1, box.y0)
    source = page.render(scale=scale, crop=tuple(max(side, 0.0) for side in crop), grayscale=True).to_pil()
    # PDFium cuts at whole pixels: the SVG is put where those begin.
    left, top = (start - math.ceil(max(start, 0.0) * scale) / scale for start in (box.x0, box.y0))
    width, height = (side / scale for side in source.size)
    setting = (
        f"#set page(width: {width:.4f}pt, height: {height:.4f}pt, margin: 0pt, fill: white)\n"
        f"#place(dx: {left:.4f}pt, dy: {top:.4f}pt, image(bytes(sys.inputs.svg), "
        f'format: "svg", width: {box.width:.4f}pt, height: {box.height:.4f}pt))'
    )
    drawn = typst.compile(
        setting.encode(), format="png", ppi=72 * scale, ignore_system_fonts=True, sys_inputs={"svg": svg.decode()}
    )
    with Image.open(io.BytesIO(drawn)) as image:
        return _darkness(source), _darkness(image.resize(source.size))


def _darkness(image: Image.Image) -> Darkness:
    return np.asarray(1.0 - np.asarray(image.convert("L"), np.float64) / 255)


def _grown(ink: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """What has ink within reach."""
    padded = np.pad(ink, REACH)
    size = 2 * REACH + 1
    rows = np.logical_or.reduce([padded[k : k + ink.shape[0]] for k in range(size)])
    return np.asarray(np.logical_or.reduce([rows[:, k : k + ink.shape[1]] for k in range(size)]))
