"""Pages of a source as they are looked at."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from pypdfium2 import PdfiumError

from evenquill.core.errors import SourceError
from evenquill.core.looking_back.look_back import PagePicture
from evenquill.core.strip_drawing import drawn_page
from evenquill.core.strip_types import Strip


def page_pictures(pages: Mapping[int, Strip]) -> dict[int, PagePicture]:
    """Pictures of pages, by their numbers; those that can no longer be drawn are left out."""
    out = {}
    for number, strip in pages.items():
        try:
            image, scale = drawn_page(strip)
        except (SourceError, OSError, ValueError, PdfiumError):
            continue
        out[number] = PagePicture(np.ascontiguousarray(image.convert("L")), scale, scanned=strip.width > 0)
    return out
