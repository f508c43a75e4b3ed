"""A PDF page drawn as pixels, for reading it as a picture."""

from __future__ import annotations

import pypdfium2 as pdfium

from evenquill.core.reading.scanned.prepared import HIGHEST_DPI, LOWEST_DPI, Scan
from evenquill.core.reading.scanned.raster import Raster

MOST_PIXELS = 120_000_000
"""Pixels of a page drawn for reading; that is A0 at 300 dots an inch."""


def drawn(page: pdfium.PdfPage, dpi: float = 0.0) -> Scan:
    """The page as pixels, at the resolution of its pictures (0 where it has none) as far as that helps reading."""
    width, height = page.get_size()
    wanted = min(max(dpi or HIGHEST_DPI, LOWEST_DPI), HIGHEST_DPI)
    wanted = min(wanted, 72 * (MOST_PIXELS / max(width * height, 1.0)) ** 0.5)
    bitmap = page.render(scale=wanted / 72, rev_byteorder=True, prefer_bgrx=False)
    pixels = bitmap.to_numpy()
    pixels = pixels[..., :3] if bitmap.n_channels >= 3 else pixels.reshape(pixels.shape[:2])
    return Scan(Raster(pixels.copy(), wanted))
