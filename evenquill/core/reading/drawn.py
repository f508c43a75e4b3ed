"""A PDF page drawn as pixels, for reading it as a picture."""

from __future__ import annotations

import ctypes

import numpy as np
import pypdfium2 as pdfium
import pypdfium2.raw as pdfium_c

from evenquill.core.reading.scanned.prepared import HIGHEST_DPI, LOWEST_DPI, Scan
from evenquill.core.reading.scanned.raster import Raster

MOST_PIXELS = 120_000_000
"""Pixels of a page drawn for reading; that is A0 at 300 dots an inch."""

SAME_PLACE, SQUARE = 0.5, 0.01
"""Points by which a picture may miss the edges of its page and be all of it, and share by which its pixels may be longer than wide."""


def drawn(page: pdfium.PdfPage, dpi: float = 0.0) -> Scan:
    """The page as pixels, at the resolution of its pictures (0 where it has none) as far as that helps reading.

    A page that is one grey picture is not drawn: its own pixels are sharper, and there at once.
    """
    picture = _only_picture(page)
    if picture is not None:
        return Scan(picture)
    width, height = page.get_size()
    wanted = min(max(dpi or HIGHEST_DPI, LOWEST_DPI), HIGHEST_DPI)
    wanted = min(wanted, 72 * (MOST_PIXELS / max(width * height, 1.0)) ** 0.5)
    bitmap = page.render(scale=wanted / 72, rev_byteorder=True, prefer_bgrx=False)
    pixels = bitmap.to_numpy()
    pixels = pixels[..., :3] if bitmap.n_channels >= 3 else pixels.reshape(pixels.shape[:2])
    return Scan(Raster(pixels.copy(), wanted))


def _only_picture(page: pdfium.PdfPage) -> Raster | None:
    """The picture that a page is: grey, upright, all of the page, alone on it; None where it is anything else."""
    if pdfium_c.FPDFPage_CountObjects(page.raw) != 1 or page.get_rotation():
        return None
    only = next(iter(page.get_objects()))
    if not isinstance(only, pdfium.PdfImage) or not _is_grey(only, page):
        return None
    width, height = page.get_size()
    left, bottom, right, top = page.get_cropbox()
    a, b, c, d, e, f = only.get_matrix().get()
    fills = np.allclose((a, d, e - left, f - bottom), (right - left, top - bottom, 0, 0), atol=SAME_PLACE)
    if not fills or abs(b) > SAME_PLACE or abs(c) > SAME_PLACE:
        return None
    across, down = only.get_px_size()
    dpi = 72 * across / width
    if across * down > MOST_PIXELS or abs(72 * down / height / dpi - 1) > SQUARE:
        return None
    pixels = only.get_bitmap().to_numpy()
    return Raster(pixels.reshape(pixels.shape[:2]).copy(), dpi) if pixels.size == across * down else None


def _is_grey(image: pdfium.PdfImage, page: pdfium.PdfPage) -> bool:
    facts = pdfium_c.FPDF_IMAGEOBJ_METADATA()
    known = pdfium_c.FPDFImageObj_GetImageMetadata(image.raw, page.raw, ctypes.byref(facts))
    grey = (pdfium_c.FPDF_COLORSPACE_DEVICEGRAY, pdfium_c.FPDF_COLORSPACE_CALGRAY)
    return bool(known) and facts.colorspace in grey and facts.bits_per_pixel == 8
