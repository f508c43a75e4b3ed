"""Words of scans whose weight and slant are known, since the document that was scanned is."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path

import numpy as np
import pypdfium2 as pdfium

from evenquill.core.evidence import Line, PageEvidence, Type
from evenquill.core.reading.drawn import drawn
from evenquill.core.reading.scanned.look_features import look_features
from evenquill.core.reading.scanned.looks import families_of, measured
from evenquill.core.reading.scanned.prepared import prepared
from evenquill.core.reading.scanned.recognition import recognised
from evenquill.core.reading.scanned.sizes import spread_of_ink
from evenquill.core.reading.sizing import size_up

from .evidence import evidence_of
from .labels import letters

NEAR = 25.0
"""Points by which a word may stand elsewhere on the scan than on the page that was scanned."""

FEWEST_LETTERS = 2
"""Letters of a word that is looked for."""


def known_looks(case: Path) -> Iterator[tuple[str, Sequence[float], int]]:
    """For words of a scan that are found on the made page: the kind of decision, the measures, and the class that is right."""
    made = case.parents[1] / "made" / case.name
    if not (made / "evidence").exists():
        return
    with pdfium.PdfDocument(case / "source.pdf") as document:
        for scanned, page in zip(document, evidence_of(made).pages, strict=False):
            for measures, own in _known_words(scanned, page):
                yield "bold", measures, int(own.bold)
                yield "italic", measures, int(own.italic)


def _known_words(scanned: pdfium.PdfPage, page: PageEvidence) -> Iterator[tuple[np.ndarray, Type]]:
    """Measures of words of a scanned page with the types that they have on the page as it was made."""
    ready = prepared(drawn(scanned, size_up(scanned).dpi))
    segments = ready.segments
    lines = [line for line in recognised(segments, segments.black, ready.languages, ready.sample.lines) if line.words]
    if not lines:
        return
    unit = segments.raster.dpi / 72
    spread = spread_of_ink(lines, segments.black.pieces, segments.even)
    looks = measured(lines, segments.black.pieces, segments.even, segments.raster.dpi, spread)
    families = families_of(lines, looks)
    wider, higher = (
        own / (pixels / unit)
        for own, pixels in ((page.width, segments.raster.width), (page.height, segments.raster.height))
    )
    for line, rows in zip(lines, look_features(looks, families), strict=True):
        y = line.line.middle / unit * higher
        near = [one for one in page.lines if abs(one.baseline - y) < NEAR]
        for word, measures in zip(line.words, rows, strict=True):
            own = _type_there(page, near, letters(word.text), (word.x0 + word.x1) / 2 / unit * wider, y)
            if own is not None:
                yield measures, own


def _type_there(page: PageEvidence, lines: Sequence[Line], text: str, x: float, y: float) -> Type | None:
    """The type of the word of these letters that is nearest to a place; None where none is near."""
    if len(text) < FEWEST_LETTERS:
        return None
    found = [
        (abs(line.baseline - y) + abs((word.x0 + word.x1) / 2 - x), word.type)
        for line in lines
        for word in line.words
        if abs((word.x0 + word.x1) / 2 - x) < NEAR and letters(word.text) == text
    ]
    return page.types[min(found)[1]] if found else None
