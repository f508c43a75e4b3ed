"""Pages whose text stands on its side, or on its head, in the file: they are looked at turned, so that it stands upright."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager

import pypdfium2 as pdfium

from evenquill.core.reading.native.characters import Characters

FEWEST, SHARE = 40, 0.8
"""Letters of a page, and the share of them that run the same way, from which the page is turned by them."""


def turn_of(characters: Characters) -> int:
    """By how many quarter turns clockwise a page must be turned for its text to stand upright: as most of its letters say."""
    letters: Counter[int] = Counter()
    for run in characters.runs:
        if not run.oblique:
            letters[run.angle] += sum(not text.isspace() for text in characters.texts[run.start : run.end])
    if not letters or letters.total() < FEWEST:
        return 0
    angle, count = letters.most_common(1)[0]
    return angle // 90 if count >= SHARE * letters.total() else 0


@contextmanager
def turned(page: pdfium.PdfPage, turn: int) -> Iterator[None]:
    """The page as if its file turned it by some more quarter turns clockwise; afterwards it is as before."""
    if not turn:
        yield
        return
    before = page.get_rotation()
    page.set_rotation((before + 90 * turn) % 360)
    try:
        yield
    finally:
        page.set_rotation(before)
