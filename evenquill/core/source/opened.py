"""Open PDFs, the last two of a process kept."""

from __future__ import annotations

from functools import lru_cache

import pypdfium2 as pdfium


@lru_cache(maxsize=2)
def open_pdf(source: str, password: str | None) -> pdfium.PdfDocument:
    """The open PDF. Raises pdfium.PdfiumError where it cannot be opened."""
    return pdfium.PdfDocument(source, password=password)
