"""Strips and pages of a source drawn as pictures."""

from __future__ import annotations

import io
from functools import lru_cache
from pathlib import Path

import pypdfium2 as pdfium
from PIL import Image

from evenquill.core.reading.native.turned import turned
from evenquill.core.source.frames import frame_of_image
from evenquill.core.source.opened import open_pdf
from evenquill.core.source.page_load import check_page
from evenquill.core.strip_types import Strip

MOST_PIXELS = 24_000_000
"""Pixels of a page; larger pages are drawn at a lower scale."""

CACHED_PAGES = 6


def draw_strip(strip: Strip) -> bytes:
    """The strip as PNG. Raises SourceError, OSError, ValueError or pdfium.PdfiumError where it cannot be drawn."""
    image, page_scale = drawn_page(strip)
    if strip.box is not None:
        x0, y0, x1, y1 = (value * page_scale for value in strip.box)
        image = image.crop((
            max(int(x0), 0), max(int(y0), 0), min(int(x1) + 1, image.width), min(int(y1) + 1, image.height)
        ))  # fmt: skip
    if image.width < 1 or image.height < 1:
        raise ValueError("empty strip")
    out = io.BytesIO()
    image.save(out, "PNG", compress_level=3)
    return out.getvalue()


def draw_pdf_page(data: bytes, scale: float) -> bytes:
    """The first page of a PDF file as PNG; ``scale`` is pixels for each point."""
    with pdfium.PdfDocument(data) as document:
        image = document[0].render(scale=scale).to_pil().convert("RGB")
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def drawn_page(strip: Strip) -> tuple[Image.Image, float]:
    """The whole page that a strip is of, and its pixels for each point. Raises what ``draw_strip`` does."""
    if strip.width:
        image = _picture_image(strip.source, strip.page, strip.width, strip.scale)
    else:
        image = _page_image(strip.source, strip.password, strip.page, strip.scale, strip.turn)
    return image, image.info["scale"]


@lru_cache(maxsize=CACHED_PAGES)
def _page_image(source: str, password: str | None, number: int, scale: float, turn: int):  # type: ignore[no-untyped-def]
    """A page drawn whole; its real scale is in the picture's info. Raises TooLarge for a page that is more than can be drawn."""
    check_page(source, password, number)
    page = open_pdf(source, password)[number - 1]
    try:
        width, height = page.get_size()
        scale = min(scale, (MOST_PIXELS / max(width * height, 1.0)) ** 0.5)
        with turned(page, turn):
            image = page.render(scale=scale, may_draw_forms=True).to_pil().convert("RGB")
    finally:
        page.close()
    image.info["scale"] = scale
    return image


@lru_cache(maxsize=CACHED_PAGES)
def _picture_image(source: str, number: int, width: float, scale: float):  # type: ignore[no-untyped-def]
    """A page of a picture file at a scale; its real scale is in the picture's info."""
    pixels, _, _ = frame_of_image(Path(source), number)
    image = Image.fromarray(pixels)
    factor = min(width * scale / image.width, 1.0)
    if factor < 0.95:
        image = image.resize(
            (max(round(image.width * factor), 1), max(round(image.height * factor), 1)), Image.Resampling.BOX
        )
    image.info["scale"] = image.width / width
    return image
