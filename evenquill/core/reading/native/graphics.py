"""What a page draws besides letters: rules, boxes, raster pictures, and vector drawings as pictures.

Paths are sorted by shape: straight and thin is a rule, axis-aligned and closed a box, anything with slanted or curved
parts belongs to a drawing (``drawings.py``).
"""

from __future__ import annotations

import ctypes
import io
import math
from typing import NamedTuple

import pypdfium2 as pdfium
import pypdfium2.raw as pdfium_c
from PIL import Image

from evenquill.core.evidence import Fill, KeepPicture, Line, PictureKind, PlacedPicture, Rule
from evenquill.core.model import Box
from evenquill.core.model.blocks import SVG_MEDIA
from evenquill.core.reading.native.drawings import NEAR, SMALLEST_PICTURE, THIN, drawings_of
from evenquill.core.reading.native.drawn_bullets import with_drawn_bullets
from evenquill.core.reading.native.frame import Frame
from evenquill.core.reading.native.frames import is_framing, is_hollow, outlines_of
from evenquill.core.reading.native.matrix import Matrix
from evenquill.core.reading.native.page_objects import PageObject, page_objects
from evenquill.core.reading.native.paths import is_slanted
from evenquill.core.reading.native.shape import Shape
from evenquill.core.reading.native.vector import svg_of

WHITE = 250
"""Of 255: what has all three colours as light as this is white."""

MOST_PATHS = 20_000
"""A page with more paths than this is one large drawing (a map, a plan)."""

DRAWING_DPI = 200

MOST_AS_SVG = 12
"""Drawings of a page that are kept as SVG too: pages with more are sheets of small signs, and each takes a twentieth of a second."""

RASTER_DPI_LIMIT = 600
LEAST_DPI = 36
"""A dot stretched over a place, such as a ground, is drawn no coarser than this."""

LONGEST_SIDE = 6000
"""Pixels; larger pictures are drawn smaller."""

TURNED = 0.01
"""Sine of the angle from which a path is turned."""


class Graphics(NamedTuple):
    """What is drawn on a page, and its lines with the bullets that are drawn before them."""

    lines: tuple[Line, ...]
    rules: list[Rule]
    boxes: list[Box]
    outlines: list[Box]
    fills: list[Fill]
    pictures: list[PlacedPicture]


def graphics_of(
    page: pdfium.PdfPage, frame: Frame, lines: tuple[Line, ...], oblique: tuple[Line, ...], keep: KeepPicture
) -> Graphics:
    """Rules, boxes and pictures of a page, and its lines with drawn bullets; ``oblique`` lines may be parts of pictures. Pictures' bytes go
    to ``keep``."""
    shapes: list[Shape] = []
    rasters: list[tuple[Box, PageObject]] = []
    whole = Box(0, 0, frame.width, frame.height)
    for one in page_objects(page.raw, frame):
        kind = one.kind
        box = _clipped(one.box, whole)
        if box is None:
            continue
        if kind == pdfium_c.FPDF_PAGEOBJ_IMAGE:
            if min(box.width, box.height) <= THIN < max(box.width, box.height):  # a rule made of a stretched dot
                shapes.append(Shape(box, slanted=False, filled=True))
            elif box.width >= SMALLEST_PICTURE or box.height >= SMALLEST_PICTURE:
                rasters.append((box, one))
        elif kind == pdfium_c.FPDF_PAGEOBJ_PATH and not _covers(box, whole) and len(shapes) < MOST_PATHS:
            shape = _shape(one, box)
            if shape is not None:
                shapes.append(shape)
        elif kind == pdfium_c.FPDF_PAGEOBJ_SHADING:
            shapes.append(Shape(box, slanted=True, filled=True, framing=True, shade=True))
        elif kind == pdfium_c.FPDF_PAGEOBJ_FORM:
            shapes.append(Shape(box, slanted=True, filled=True))

    lines, bullets = with_drawn_bullets(lines, shapes)
    shapes = [shape for shape in shapes if shape.box not in bullets]
    drawings, rest = drawings_of(shapes, lines, oblique)
    rules = [Rule(shape.box.rounded()) for shape in rest if min(shape.box.width, shape.box.height) <= THIN]
    wide = [shape for shape in rest if min(shape.box.width, shape.box.height) > THIN]
    boxes = [shape.box.rounded() for shape in wide]
    outlines = [shape.box.rounded() for shape in wide if shape.stroked]
    fills = [Fill(shape.box.rounded(), shape.color) for shape in wide if shape.color]
    pictures = [_raster(page, frame, box, one, keep) for box, one in rasters]
    for box in drawings:
        if not any(picture.box.holds(box, NEAR) for picture in pictures):
            drawn = draw_region(page, frame, box, DRAWING_DPI, PictureKind.DRAWING, keep)
            svg = svg_of(page, frame, box) if len(drawings) <= MOST_AS_SVG else None
            pictures.append(drawn if svg is None else drawn._replace(drawing=keep(svg, SVG_MEDIA)))
    return Graphics(
        lines, rules, boxes, outlines, fills, [_with_words(picture, (*lines, *oblique)) for picture in pictures]
    )


def bars_of(page: pdfium.PdfPage, frame: Frame) -> list[Box]:
    """The thin horizontal lines of a page, before anything else is known about what it draws."""
    found = []
    for one in page_objects(page.raw, frame):
        if one.kind == pdfium_c.FPDF_PAGEOBJ_PATH and one.box.height <= THIN < one.box.width:
            shape = _shape(one, one.box)
            if shape is not None and not shape.slanted:
                found.append(shape.box)
    return found


def _clipped(box: Box, whole: Box) -> Box | None:
    inner = Box(max(box.x0, whole.x0), max(box.y0, whole.y0), min(box.x1, whole.x1), min(box.y1, whole.y1))
    return inner if inner.x1 >= inner.x0 and inner.y1 >= inner.y0 else None


def _covers(box: Box, whole: Box) -> bool:
    """Whether the box is the page's background."""
    return box.width > 0.9 * whole.width and box.height > 0.9 * whole.height


def _shape(one: PageObject, box: Box) -> Shape | None:
    """A path, the part of it within the page being ``box``; None where it cannot be seen."""
    handle = one.handle
    mode, stroke = ctypes.c_int(), ctypes.c_int()
    pdfium_c.FPDFPath_GetDrawMode(handle, ctypes.byref(mode), ctypes.byref(stroke))
    if not mode.value and not stroke.value:
        return None  # a clipping path
    filled = bool(mode.value)
    color = _fill_color(handle) if filled else ""
    if filled and not stroke.value and not color:
        return None
    turned = _is_turned(one.matrix)
    slanted = turned or is_slanted(handle)
    outlines = outlines_of(handle) if min(box.width, box.height) > THIN else []
    framing = slanted and not turned and is_framing(outlines)
    if filled and is_hollow(outlines, mode.value):
        return Shape(box, slanted, filled=False, stroked=True, framing=framing)
    return Shape(box if filled else _without_margin(one, box), slanted, filled, bool(stroke.value), color, framing)


def _without_margin(one: PageObject, box: Box) -> Box:
    """The bounds of a path that is only stroked: PDFium gives them with the pen's whole width around the path, of which half is inked."""
    width = ctypes.c_float()
    pdfium_c.FPDFPageObj_GetStrokeWidth(one.handle, ctypes.byref(width))
    margin = width.value / 2 * math.hypot(one.matrix.a, one.matrix.b)
    margin = min(margin, box.width / 4, box.height / 4)
    return Box(box.x0 + margin, box.y0 + margin, box.x1 - margin, box.y1 - margin)


def _fill_color(handle: pdfium_c.FPDF_PAGEOBJECT) -> str:
    """The colour that a path is filled with, nothing for white and for what cannot be seen."""
    red, green, blue, alpha = (ctypes.c_uint() for _ in range(4))
    pdfium_c.FPDFPageObj_GetFillColor(
        handle, ctypes.byref(red), ctypes.byref(green), ctypes.byref(blue), ctypes.byref(alpha)
    )
    if min(red.value, green.value, blue.value) >= WHITE or alpha.value == 0:
        return ""
    share = alpha.value / 255
    return "".join(f"{round(255 - (255 - one.value) * share):02x}" for one in (red, green, blue))


def _is_turned(matrix: Matrix) -> bool:
    """Whether a path is turned by less than a quarter: its level lines are none on the page."""
    across = min(max(abs(matrix.a), abs(matrix.d)), max(abs(matrix.b), abs(matrix.c)))
    return bool(across > TURNED * math.hypot(matrix.a, matrix.b))


def _with_words(picture: PlacedPicture, lines: tuple[Line, ...]) -> PlacedPicture:
    if picture.kind is not PictureKind.DRAWING:
        return picture
    inside = [line for line in lines if picture.box.holds(line.box, 1.0)]
    inside.sort(key=lambda line: (line.box.y0, line.box.x0))
    return picture._replace(words=" ".join(line.text for line in inside))


def _raster(
    page: pdfium.PdfPage,
    frame: Frame,
    box: Box,
    one: PageObject,
    keep: KeepPicture,
) -> PlacedPicture:
    """A raster picture with its own bytes where they can be used as they are, else drawn at its own resolution."""
    handle = one.handle
    if one.direct and frame.turns == 0 and _stands_upright(one.matrix):
        jpeg = _plain_jpeg(handle)
        if jpeg is not None:
            return PlacedPicture(box.rounded(), keep(jpeg, "image/jpeg"), "image/jpeg", PictureKind.RASTER)
    width, height = ctypes.c_uint(), ctypes.c_uint()
    dpi = float(DRAWING_DPI)
    if pdfium_c.FPDFPageObj_GetType(handle) == pdfium_c.FPDF_PAGEOBJ_IMAGE and pdfium_c.FPDFImageObj_GetImagePixelSize(
        handle, ctypes.byref(width), ctypes.byref(height)
    ):
        longest = max(width.value, height.value)
        dpi = 72 * longest / max(box.width, box.height, 1.0)
    return draw_region(page, frame, box, min(dpi, RASTER_DPI_LIMIT), PictureKind.RASTER, keep)


def _stands_upright(matrix: Matrix) -> bool:
    return matrix.a > 0 and matrix.d > 0 and abs(matrix.b) < 1e-3 and abs(matrix.c) < 1e-3


def _plain_jpeg(handle: pdfium_c.FPDF_PAGEOBJECT) -> bytes | None:
    """The JPEG file inside the picture, if it is one that every program can show and it has no mask."""
    if pdfium_c.FPDFPageObj_HasTransparency(handle) or pdfium_c.FPDFImageObj_GetImageFilterCount(handle) != 1:
        return None
    name = ctypes.create_string_buffer(32)
    pdfium_c.FPDFImageObj_GetImageFilter(handle, 0, name, 32)
    if name.value != b"DCTDecode":
        return None
    size = pdfium_c.FPDFImageObj_GetImageDataRaw(handle, None, 0)
    buffer = ctypes.create_string_buffer(size)
    pdfium_c.FPDFImageObj_GetImageDataRaw(handle, buffer, size)
    try:
        with Image.open(io.BytesIO(buffer.raw)) as image:
            return buffer.raw if image.format == "JPEG" and image.mode in ("L", "RGB") else None
    except OSError:
        return None


def draw_region(
    page: pdfium.PdfPage, frame: Frame, box: Box, dpi: float, kind: PictureKind, keep: KeepPicture
) -> PlacedPicture:
    """A part of the page drawn to a picture at ``dpi``, or less where that would be too large."""
    scale = min(max(dpi, LEAST_DPI) / 72, LONGEST_SIDE / max(box.width, box.height, 1.0))
    image = page.render(
        scale=scale,
        crop=(
            max(box.x0, 0.0),
            max(frame.height - box.y1, 0.0),
            max(frame.width - box.x1, 0.0),
            max(box.y0, 0.0),
        ),
    ).to_pil()
    out = io.BytesIO()
    image.convert("RGB").save(out, "PNG", optimize=False)
    return PlacedPicture(box.rounded(), keep(out.getvalue(), "image/png"), "image/png", kind)
