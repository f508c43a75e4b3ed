"""What a page draws besides letters, piece by piece, each with where it stands on the page.

A form XObject (ISO 32000-1, 8.10) is a piece by itself, as typesetters include figures by such; one that is a page put on this page, as
programs do that print several pages on a sheet, or has nothing but text and rules, is looked into.
"""

from __future__ import annotations

import ctypes
from collections.abc import Iterator, Sequence
from typing import Any, NamedTuple

import pypdfium2.raw as pdfium_c

from evenquill.core.model import Box
from evenquill.core.reading.native.drawings import THIN
from evenquill.core.reading.native.frame import Frame
from evenquill.core.reading.native.matrix import Matrix, matrix_of
from evenquill.core.reading.native.paths import is_slanted, segment_end

DEEPEST = 8
"""Forms within forms that are looked into."""

PAGE_HEIGHT = 0.6
"""Share of the page's height from which a form may be a page."""

DRAWN_REACH = 6.0
"""Points from a picture within which text belongs to it."""

IN_PICTURES = 0.5
"""Share of a page's text that belongs to its pictures, at most."""

_DRAWN = frozenset(
    (
        pdfium_c.FPDF_PAGEOBJ_PATH,
        pdfium_c.FPDF_PAGEOBJ_IMAGE,
        pdfium_c.FPDF_PAGEOBJ_SHADING,
        pdfium_c.FPDF_PAGEOBJ_FORM,
    )
)


class PageObject(NamedTuple):
    """An object of a page: a handle of PDFium, its kind there, its bounds on the page, and the map from its space to that of the page;
    ``direct`` if the page itself draws it, and no form."""

    handle: Any
    kind: int
    box: Box
    matrix: Matrix
    direct: bool


def page_objects(page: pdfium_c.FPDF_PAGE, frame: Frame) -> Iterator[PageObject]:
    """The objects that a page draws, in order; forms that draw nothing but letters are left out."""
    return _objects(direct_objects(page), frame, Matrix(), 0)


def direct_objects(page: pdfium_c.FPDF_PAGE) -> list[Any]:
    """The objects of a page itself, forms whole."""
    return [pdfium_c.FPDFPage_GetObject(page, i) for i in range(pdfium_c.FPDFPage_CountObjects(page))]


def _objects(handles: Sequence[Any], frame: Frame, outer: Matrix, depth: int) -> Iterator[PageObject]:
    for handle in handles:
        kind = pdfium_c.FPDFPageObj_GetType(handle)
        if kind not in _DRAWN:
            continue
        box = bounds_of(handle, frame, outer)
        if box is not None and (depth or _may_be_cut_off(kind, box)):
            box = _within_clips(box, handle, frame, outer)
        if box is None:
            continue
        matrix = outer.after(matrix_of(handle))
        parts = parts_of(handle) if kind == pdfium_c.FPDF_PAGEOBJ_FORM else []
        if parts and depth < DEEPEST and _is_text(parts, box, frame):
            yield from _objects(parts, frame, matrix, depth + 1)
        elif kind != pdfium_c.FPDF_PAGEOBJ_FORM or any(pdfium_c.FPDFPageObj_GetType(one) in _DRAWN for one in parts):
            yield PageObject(handle, kind, box, matrix, depth == 0)


def parts_of(form: Any) -> list[Any]:
    """The objects that a form draws."""
    return [pdfium_c.FPDFFormObj_GetObject(form, i) for i in range(pdfium_c.FPDFFormObj_CountObjects(form))]


def bounds_of(handle: Any, frame: Frame, outer: Matrix) -> Box | None:
    """Where an object stands on the page, None where that is not known; ``outer`` maps what it is drawn into to the space of the page."""
    found = _own_bounds(handle)
    if found is None:
        return None
    corners = [outer.point(x, y) for x in (found.x0, found.x1) for y in (found.y0, found.y1)]
    xs, ys = zip(*corners, strict=True)
    return frame.box(min(xs), min(ys), max(xs), max(ys))


def _may_be_cut_off(kind: int, box: Box) -> bool:
    """Whether only a part of what a page itself draws may be to be seen: browsers and others draw one side of a border as the whole
    border, cut off. Pictures are kept whole."""
    return kind == pdfium_c.FPDF_PAGEOBJ_PATH and min(box.width, box.height) > THIN


def _within_clips(box: Box, handle: Any, frame: Frame, outer: Matrix) -> Box | None:
    """What is to be seen of an object, of which often only a part is shown; None for nothing. The corners of what cuts it off count
    (ISO 32000-1, 8.5.4)."""
    clip = pdfium_c.FPDFPageObj_GetClipPath(handle)
    for n in range(pdfium_c.FPDFClipPath_CountPaths(clip) if clip else 0):
        count = pdfium_c.FPDFClipPath_CountPathSegments(clip, n)
        points = [segment_end(pdfium_c.FPDFClipPath_GetPathSegment(clip, n, k)) for k in range(count)]
        if not points:
            return None
        xs, ys = zip(*(outer.point(x, y) for x, y in points), strict=True)
        shown = frame.box(min(xs), min(ys), max(xs), max(ys))
        if min(box.overlap_x(shown), box.overlap_y(shown)) < 0:
            return None
        box = Box(max(box.x0, shown.x0), max(box.y0, shown.y0), min(box.x1, shown.x1), min(box.y1, shown.y1))
    return box


def _own_bounds(handle: Any) -> Box | None:
    """The bounds of an object in the space that it is drawn into, y upwards."""
    left, bottom, right, top = (ctypes.c_float() for _ in range(4))
    if not pdfium_c.FPDFPageObj_GetBounds(
        handle, ctypes.byref(left), ctypes.byref(bottom), ctypes.byref(right), ctypes.byref(top)
    ):
        return None
    return Box(left.value, bottom.value, right.value, top.value)


def _is_text(parts: Sequence[Any], box: Box, frame: Frame) -> bool:
    """Whether a form of such parts, with these bounds on the page, is no picture: it covers the page; or has nothing but text and rules;
    or is as high as a page, and most of its text stands away from pictures and whatever has slanted or curved lines."""
    if _covers(box, frame):
        return True
    if len(parts) == 1 and pdfium_c.FPDFPageObj_GetType(parts[0]) == pdfium_c.FPDF_PAGEOBJ_FORM:
        return True  # its part is asked again
    texts, pictures, blocks = _sorted(parts)
    if not texts or box.height < PAGE_HEIGHT * frame.height:
        return bool(texts) and not pictures and not blocks
    inside = sum(text.width for text in texts if any(_reaches(picture, text) for picture in pictures))
    return inside <= IN_PICTURES * sum(text.width for text in texts)


def _covers(box: Box, frame: Frame) -> bool:
    return box.width > 0.9 * frame.width and box.height > 0.9 * frame.height


def _sorted(parts: Sequence[Any]) -> tuple[list[Box], list[Box], list[Box]]:
    """The bounds of the text objects of a form, of what may be a picture in it, and of rectangles that are more than rules."""
    texts, pictures, blocks = [], [], []
    for part in parts:
        bounds = _own_bounds(part)
        if bounds is None:
            continue
        kind = pdfium_c.FPDFPageObj_GetType(part)
        if kind == pdfium_c.FPDF_PAGEOBJ_TEXT:
            texts.append(bounds)
        elif kind != pdfium_c.FPDF_PAGEOBJ_PATH or is_slanted(part):
            pictures.append(bounds)
        elif min(bounds.width, bounds.height) > THIN:
            blocks.append(bounds)
    return texts, pictures, blocks


def _reaches(picture: Box, text: Box) -> bool:
    return picture.overlap_x(text) > -DRAWN_REACH and picture.overlap_y(text) > -DRAWN_REACH
