"""Pages that are one picture with a few words on it, such as covers: the art is kept whole, without the words, which stay text."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from contextlib import contextmanager

import numpy as np
import pypdfium2 as pdfium
import pypdfium2.raw as pdfium_c

from evenquill.core.colors import LEAST_FOR_LARGE, contrast
from evenquill.core.evidence import KeepPicture, Line, PictureKind, PlacedPicture, Type
from evenquill.core.model import Box
from evenquill.core.reading.native.frame import Frame
from evenquill.core.reading.native.graphics import DRAWING_DPI, draw_region

MOST_WORDS = 40
"""Words on a page that is art; more are a text, whatever ground it stands on."""

LEAST_DRAWN = 0.2
"""Share of the page that its pictures take at least, for it to be looked at more closely."""

COVERED, WHITE = 0.8, 245
"""Share of the page that is not white, of a page that is art, and how light (of 255) white is at least."""

LOOK_DPI = 18.0
"""Resolution at which a page is looked at."""


def full_page_art(
    page: pdfium.PdfPage, frame: Frame, lines: Sequence[Line], pictures: Sequence[PlacedPicture], keep: KeepPicture
) -> PlacedPicture | None:
    """The art that a page is, as one picture without its words; None for all other pages."""
    area = frame.width * frame.height
    drawn = sum(picture.box.width * picture.box.height for picture in pictures)
    if sum(len(line.words) for line in lines) > MOST_WORDS or drawn < LEAST_DRAWN * area:
        return None
    if not any(picture.kind is PictureKind.DRAWING for picture in pictures):
        return None
    with _without_text(page):
        look = np.asarray(page.render(scale=LOOK_DPI / 72).to_pil().convert("RGB"))
        if (look.min(axis=2) < WHITE).mean() < COVERED:
            return None
        return draw_region(page, frame, Box(0, 0, frame.width, frame.height), DRAWING_DPI, PictureKind.DRAWING, keep)


def readable_without_art(types: Sequence[Type]) -> tuple[Type, ...]:
    """The looks of the words of such a page, those too light for white paper without their colour."""
    return tuple(
        one._replace(color=None) if one.color and contrast(one.color) < LEAST_FOR_LARGE else one for one in types
    )


def _texts(handle: pdfium_c.FPDF_PAGEOBJECT) -> Iterator[pdfium_c.FPDF_PAGEOBJECT]:
    """The text objects that an object of a page is, or holds as a form (ISO 32000-1, 8.10)."""
    kind = pdfium_c.FPDFPageObj_GetType(handle)
    if kind == pdfium_c.FPDF_PAGEOBJ_TEXT:
        yield handle
    elif kind == pdfium_c.FPDF_PAGEOBJ_FORM:
        for n in range(pdfium_c.FPDFFormObj_CountObjects(handle)):
            yield from _texts(pdfium_c.FPDFFormObj_GetObject(handle, n))


@contextmanager
def _without_text(page: pdfium.PdfPage) -> Iterator[None]:
    """The page with its text not drawn."""
    every = (pdfium_c.FPDFPage_GetObject(page.raw, n) for n in range(pdfium_c.FPDFPage_CountObjects(page.raw)))
    texts = [text for handle in every for text in _texts(handle)]
    for handle in texts:
        pdfium_c.FPDFPageObj_SetIsActive(handle, False)
    try:
        yield
    finally:
        for handle in texts:
            pdfium_c.FPDFPageObj_SetIsActive(handle, True)
