"""Whether all text of a document stands on its pages."""

from __future__ import annotations

import pypdfium2 as pdfium


def check_within_pages(pdf: bytes) -> None:
    """Raises ValueError for a document with text off its pages, which nobody can read: its truth is not what it shows."""
    with pdfium.PdfDocument(pdf) as opened:
        for page in opened:
            text, (width, height) = page.get_textpage(), page.get_size()
            for left, bottom, right, top in (text.get_rect(n) for n in range(text.count_rects())):
                if left > width or right < 0 or bottom > height or top < 0:
                    raise ValueError("text off the page")
