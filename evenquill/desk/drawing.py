"""Strips and pages of a source drawn as pictures, in a process of its own: a page that breaks the drawing breaks nothing else."""

from __future__ import annotations

import io
import multiprocessing
from collections import OrderedDict
from concurrent.futures import CancelledError
from functools import lru_cache
from pathlib import Path
from typing import NamedTuple, Self

import pebble
import pypdfium2 as pdfium
from PIL import Image

from evenquill.core.errors import SourceError
from evenquill.core.model import Box
from evenquill.core.reading.leaves import open_source
from evenquill.core.source.frames import frame_of_image

DRAW_SECONDS = 20.0
MOST_PIXELS = 24_000_000
"""Pixels of a page; larger pages are drawn at a lower scale."""

CACHED_BYTES = 96_000_000
CACHED_PAGES = 6


class Strip(NamedTuple):
    """A part of a page: its file, page from 1, box in points (None for all), pixels for each point.

    ``width`` is the width in points of a page that is a picture file, 0 for pages of a PDF, which tell theirs.
    """

    source: str
    password: str | None
    page: int
    box: Box | None
    scale: float
    width: float = 0.0


class DrawingError(Exception):
    """The page could not be drawn."""


class DrawingPool:
    """Draws strips and remembers the last ones. Use as a context manager, or call ``close``."""

    def __init__(self) -> None:
        self._pool = pebble.ProcessPool(1, context=multiprocessing.get_context("spawn"))
        self._cache: OrderedDict[Strip, bytes] = OrderedDict()
        self._size = 0

    def draw(self, strip: Strip) -> bytes:
        """PNG bytes of the strip. Raises DrawingError."""
        known = self._cache.get(strip)
        if known is not None:
            return known
        try:
            data: bytes = self._pool.schedule(draw_strip, (strip,), timeout=DRAW_SECONDS).result()
        except (
            pebble.ProcessExpired,
            TimeoutError,
            CancelledError,
            pdfium.PdfiumError,
            SourceError,
            OSError,
            ValueError,
        ) as error:
            raise DrawingError("This part of the page cannot be drawn.") from error
        self._cache[strip] = data
        self._size += len(data)
        while self._size > CACHED_BYTES and self._cache:
            _, dropped = self._cache.popitem(last=False)
            self._size -= len(dropped)
        return data

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *error: object) -> None:
        self.close()

    def close(self) -> None:
        self._pool.stop()
        self._pool.join()


def draw_strip(strip: Strip) -> bytes:
    """In the worker: the strip as PNG."""
    if strip.width:
        image = _picture_image(strip.source, strip.page, strip.width, strip.scale)
    else:
        image = _page_image(strip.source, strip.password, strip.page, strip.scale)
    page_scale = image.info["scale"]
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


@lru_cache(maxsize=CACHED_PAGES)
def _page_image(source: str, password: str | None, number: int, scale: float):  # type: ignore[no-untyped-def]
    """A page drawn whole; its real scale is in the picture's info."""
    page = open_source(source, password)[number - 1]
    try:
        width, height = page.get_size()
        scale = min(scale, (MOST_PIXELS / max(width * height, 1.0)) ** 0.5)
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
