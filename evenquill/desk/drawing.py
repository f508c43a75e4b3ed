"""Strips and pages of a source as pictures, drawn in a process of its own: a page that breaks the drawing breaks nothing else."""

from __future__ import annotations

import threading
import time
from collections import OrderedDict

from evenquill.core.strip_types import Strip
from evenquill.desk.interactive import HelperBusy, HelperFailed, InteractivePool

DRAW_SECONDS = 20.0
CANNOT = "This part of the page cannot be drawn."
CACHED_BYTES = 96_000_000


FAILING_SECONDS = 600.0
"""For how long a page that broke the drawing, or took too long, is not drawn again: each time it would keep others waiting."""


class DrawingError(Exception):
    """The page could not be drawn."""


class StripDrawer:
    """Draws strips and remembers the last ones."""

    def __init__(self, pool: InteractivePool) -> None:
        self._pool = pool
        self._lock = threading.Lock()
        self._cache: OrderedDict[Strip, bytes] = OrderedDict()
        self._failing: dict[tuple[str, int], float] = {}
        """By file and page until when it is not drawn."""
        self._size = 0

    def draw(self, strip: Strip) -> bytes:
        """PNG bytes of the strip. Raises DrawingError."""
        with self._lock:
            known = self._cache.get(strip)
            if known is not None:
                self._cache.move_to_end(strip)
                return known
            if self._failing.get((strip.source, strip.page), 0.0) > time.monotonic():
                raise DrawingError(CANNOT)
        try:
            data = self._pool.run(draw_in_helper, strip, DRAW_SECONDS)
        except HelperFailed as error:
            if not isinstance(error, HelperBusy):
                with self._lock:
                    self._failing[strip.source, strip.page] = time.monotonic() + FAILING_SECONDS
            raise DrawingError(CANNOT) from error
        if data is None:
            raise DrawingError(CANNOT)
        with self._lock:
            if strip not in self._cache:
                self._cache[strip] = data
                self._size += len(data)
            while self._size > CACHED_BYTES and self._cache:
                _, dropped = self._cache.popitem(last=False)
                self._size -= len(dropped)
        return data

    def forget(self) -> None:
        """Drops all strips: some may be of documents that are no more."""
        with self._lock:
            self._cache.clear()
            self._failing.clear()
            self._size = 0


def draw_in_helper(strip: Strip) -> bytes | None:
    """In the helper process, which alone loads what draws; None where the page cannot be drawn."""
    import pypdfium2 as pdfium

    from evenquill.core.errors import SourceError
    from evenquill.core.strip_drawing import draw_strip

    try:
        return draw_strip(strip)
    except (pdfium.PdfiumError, SourceError, OSError, ValueError):
        return None
