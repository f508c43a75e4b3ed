"""Sizing a PDF page up before reading it: letters, a picture of letters, or both, and whether the letters can be believed."""

from __future__ import annotations

import ctypes
import difflib
from enum import StrEnum
from typing import NamedTuple

import pypdfium2 as pdfium
import pypdfium2.raw as pdfium_c
from msgspec.structs import replace

from evenquill.core.evidence import KeepPicture, Line, PageEvidence, PageKind, TextLayer
from evenquill.core.model import RemarkKind
from evenquill.core.reading.drawn import drawn
from evenquill.core.reading.jobs import BLANK, NOTHING_READ
from evenquill.core.reading.lettering import suspect_faces, votes_of, wrong_faces
from evenquill.core.reading.native.page import page_as_picture, read_page
from evenquill.core.reading.native.turned import turned
from evenquill.core.reading.plausibility import known_words
from evenquill.core.reading.preparation import Preparation, Trust
from evenquill.core.reading.repair import REPAIRED, repaired, repairs_of
from evenquill.core.reading.scanned.page import read_scan
from evenquill.core.reading.scanned.prepared import HIGHEST_DPI, LOWEST_DPI, Scan

PAGE_SHARE = 0.7
"""Share of the page's area from which raster pictures together are taken for a scan of it."""

FEWEST_LETTERS = 12
"""Characters below which there is no text layer to speak of: a stamped number, a watermark."""

MANY_PATHS = 150
"""Paths on a page without letters from which its letters may be drawn as outlines."""

MOST_LINES = 20_000
"""Pieces of lines on a page. The largest sheets (A0) have room for 8,000 in the smallest print that can be read."""

VISIBLE = 12
"""Steps of lightness, of 255, from which something can be seen on a page."""

LIKE = 0.86
"""Likeness of a text layer to what is read from the picture from which it is believed; recognition itself errs by a few in a hundred."""


class Ground(StrEnum):
    """What the letters of a page stand on."""

    NATIVE = "native"
    PICTURE = "picture"
    PICTURE_WITH_TEXT = "picture with text"


class Size(NamedTuple):
    """``dpi`` is the resolution of the page's pictures, 0 where there are none."""

    ground: Ground
    dpi: float


def read_pdf_page(
    document: pdfium.PdfDocument, number: int, keep: KeepPicture, preparation: Preparation
) -> PageEvidence:
    """Evidence of a page by the reader that it needs.

    Raises pdfium.PdfiumError for a page that PDFium cannot load, LanguageMissing for a language without data.
    """
    page = document[number - 1]
    try:
        size = size_up(page)
        if preparation.trust is Trust.TEXT:
            return read_page(document, number, keep, over_picture=size.ground is Ground.PICTURE_WITH_TEXT)
        if size.ground is Ground.NATIVE and preparation.trust is Trust.AUTO:
            native = read_page(document, number, keep)
            if len(native.lines) > MOST_LINES or not (native.lines or native.pictures):
                return _without_lines(document, page, native, keep)
            suspects = suspect_faces(native)
            if not suspects:
                return native
            with turned(page, native.turn):
                return _with_lettering_checked(native, suspects, drawn(page), keep, preparation)
        scan = drawn(page, size.dpi)
    finally:
        page.close()
    read = read_scan(scan, number, keep, preparation)
    if size.ground is not Ground.PICTURE_WITH_TEXT or preparation.trust is Trust.PICTURE:
        return read
    layer = read_page(document, number, keep, over_picture=True)
    if likeness(layer, read) >= LIKE:
        seconds = round(layer.seconds + read.seconds, 4)
        return replace(layer, seconds=seconds, kind=PageKind.SCANNED, layer=TextLayer.BELIEVED)
    return replace(read, layer=TextLayer.DROPPED).remarked(
        RemarkKind.TEXT_LAYER,
        "The text that came with page {page} does not fit what the page shows; the page was read afresh.",
    )


SENSIBLE = 0.6
"""Share of a page's words that its language knows, from which its text is kept unless a reading makes more sense."""


def _without_lines(
    document: pdfium.PdfDocument, page: pdfium.PdfPage, native: PageEvidence, keep: KeepPicture
) -> PageEvidence:
    """A page on which there is nothing to read, or more than can be text: blank, or kept as a picture."""
    grey = drawn(page, LOWEST_DPI).raster.grey
    if not native.lines and int(grey.max()) - int(grey.min()) < VISIBLE:
        return native.remarked(RemarkKind.BLANK, BLANK)
    whole = page_as_picture(document, native.number, NOTHING_READ, keep)
    return replace(whole, seconds=native.seconds)


def _with_lettering_checked(
    native: PageEvidence, suspects: frozenset[str], scan: Scan, keep: KeepPicture, preparation: Preparation
) -> PageEvidence:
    """The page with what is to be said of its suspect fonts; as it was read from the picture where their characters cannot be told
    apart by their codes."""
    if not wrong_faces(native, suspects, scan):
        return native
    read = read_scan(scan, native.number, keep, preparation)
    known, of_reading = known_words(native), known_words(read)
    # A reading that makes sense in fewer words than the text has loses some: of a few short ones any may happen to be a word.
    if known.share >= SENSIBLE and (known.share >= of_reading.share or known.letters >= of_reading.letters):
        return native
    votes = votes_of(native, read)
    if likeness(repaired(native, repairs_of(votes)), read) >= LIKE:
        return replace(native, votes=votes, seconds=native.seconds + read.seconds).remarked(
            RemarkKind.LETTERING, REPAIRED
        )
    return replace(read, kind=PageKind.NATIVE).remarked(
        RemarkKind.LETTERING,
        "The letters of page {page} are coded wrongly in its file; they were read from what is drawn.",
    )


def size_up(page: pdfium.PdfPage) -> Size:
    """What is on a page, from its objects alone."""
    width, height = page.get_size()
    covered = paths = 0.0
    dpi = 0.0
    bounds = [ctypes.c_float() for _ in range(4)]
    pixels = (ctypes.c_uint(), ctypes.c_uint())
    for i in range(pdfium_c.FPDFPage_CountObjects(page.raw)):
        handle = pdfium_c.FPDFPage_GetObject(page.raw, i)
        kind = pdfium_c.FPDFPageObj_GetType(handle)
        if kind == pdfium_c.FPDF_PAGEOBJ_PATH:
            paths += 1
        if kind == pdfium_c.FPDF_PAGEOBJ_FORM:
            handle, kind = _picture_inside(handle)
        if kind != pdfium_c.FPDF_PAGEOBJ_IMAGE:
            continue
        pdfium_c.FPDFPageObj_GetBounds(handle, *(ctypes.byref(value) for value in bounds))
        left, bottom, right, top = (value.value for value in bounds)
        area = max(right - left, 0) * max(top - bottom, 0)
        covered += min(area, width * height)
        if area > 0.02 * width * height and pdfium_c.FPDFImageObj_GetImagePixelSize(
            handle, ctypes.byref(pixels[0]), ctypes.byref(pixels[1])
        ):
            longest = max(pixels[0].value, pixels[1].value)
            dpi = max(dpi, 72 * longest / max(right - left, top - bottom, 1.0))
    if covered < PAGE_SHARE * width * height:
        outlined = paths > MANY_PATHS and not _has_text(page)
        return Size(Ground.PICTURE if outlined else Ground.NATIVE, HIGHEST_DPI if outlined else dpi)
    return Size(Ground.PICTURE_WITH_TEXT if _has_text(page) else Ground.PICTURE, dpi)


def _has_text(page: pdfium.PdfPage) -> bool:
    text_page = page.get_textpage()
    try:
        return bool(text_page.count_chars() >= FEWEST_LETTERS)
    finally:
        text_page.close()


def _picture_inside(form: pdfium_c.FPDF_PAGEOBJECT) -> tuple[pdfium_c.FPDF_PAGEOBJECT, int]:
    """The picture that a form is, if it holds nothing else; else the form."""
    if pdfium_c.FPDFFormObj_CountObjects(form) == 1:
        inner = pdfium_c.FPDFFormObj_GetObject(form, 0)
        if pdfium_c.FPDFPageObj_GetType(inner) == pdfium_c.FPDF_PAGEOBJ_IMAGE:
            return form, int(pdfium_c.FPDF_PAGEOBJ_IMAGE)
    return form, int(pdfium_c.FPDF_PAGEOBJ_FORM)


def likeness(layer: PageEvidence, read: PageEvidence) -> float:
    """How alike the words of a text layer and of a reading of the page are, 0 to 1, whatever their order."""
    layered, seen = _words(layer.lines), _words(read.lines)
    if not layered or not seen:
        return 0.0
    left = list(seen)
    same = 0.0
    remaining = []
    for word in layered:
        if word in left:
            left.remove(word)
            same += len(word)
        else:
            remaining.append(word)
    for word in remaining[:200]:
        near = difflib.get_close_matches(word, left, n=1, cutoff=0.6)
        if near:
            left.remove(near[0])
            same += len(word) * difflib.SequenceMatcher(None, word, near[0]).ratio() ** 2
    return 2 * same / (sum(map(len, layered)) + sum(map(len, seen)))


def _words(lines: tuple[Line, ...]) -> list[str]:
    return [word for line in lines for word in line.text.split() if any(c.isalnum() for c in word)]
