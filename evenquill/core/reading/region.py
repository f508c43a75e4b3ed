"""One region of a page read again: the words of a row, in other languages or with other cleaning, as a paragraph or as rows."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

import numpy as np
import pypdfium2 as pdfium
from PIL import Image

from evenquill.core.layout.flow import FlowLine, flow_lines, tab_stops
from evenquill.core.model import Box, TabStop, WordSpot
from evenquill.core.reading.drawn import drawn
from evenquill.core.reading.evidence import PageEvidence
from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.scanned.page import lines_of_scan
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster

MARGIN = 5.0
"""Points around a region that are looked at with it."""


class RegionText(NamedTuple):
    """The text of a region, and its words: character range, box in points, confidence, other readings; its tab stops if it is rows."""

    text: str
    words: tuple[WordSpot, ...]
    tabs: tuple[TabStop, ...] = ()


def read_region(
    page: Scan, regions: Sequence[Box], preparation: Preparation, number: int = 0, *, as_rows: bool = False
) -> RegionText:
    """The text of regions (in points) of a straight page. Raises LanguageMissing.

    Lines are joined to one paragraph, or kept ``as_rows`` of a table, cells apart by tabs.
    """
    unit = page.raster.dpi / 72
    height, width = page.raster.pixels.shape[:2]
    found: list[FlowLine] = []
    for box in regions:
        x0, y0 = int(max((box.x0 - MARGIN) * unit, 0)), int(max((box.y0 - MARGIN) * unit, 0))
        x1, y1 = int(min((box.x1 + MARGIN) * unit, width)), int(min((box.y1 + MARGIN) * unit, height))
        if x1 - x0 < 4 or y1 - y0 < 4:
            continue
        part = Raster(np.ascontiguousarray(page.raster.pixels[y0:y1, x0:x1]), page.raster.dpi)
        lines, types = lines_of_scan(part, preparation)
        # A line that only reaches in from above or below is a neighbour's.
        inside = [line for line in lines if MARGIN * 0.4 < line.box.center_y < (y1 - y0) / unit - MARGIN * 0.4]
        evidence = PageEvidence(number, (x1 - x0) / unit, (y1 - y0) / unit, types=tuple(types), lines=tuple(inside))
        found += [_moved(line, x0 / unit, y0 / unit) for line in flow_lines(evidence, inside)]
    if as_rows:
        return _rows(found, number)
    return _joined(found, number)


def _moved(line: FlowLine, x: float, y: float) -> FlowLine:
    """The line where it stands on the whole page."""
    words = tuple(
        word._replace(box=Box(word.box.x0 + x, word.box.y0 + y, word.box.x1 + x, word.box.y1 + y).rounded())
        for word in line.words
    )
    return line._replace(words=words, x0=line.x0 + x, x1=line.x1 + x)


def _joined(lines: Sequence[FlowLine], number: int) -> RegionText:
    text = ""
    words: list[WordSpot] = []
    for line in lines:
        broken = len(text) > 1 and text[-1] == "-" and text[-2].isalpha() and line.text[:1].islower()
        if broken:
            text = text[:-1]
            words[-1] = words[-1]._replace(end=len(text))
        for n, word in enumerate(line.words):
            before = word.before if n else ("" if broken or not text else " ")
            text += before
            start = words[-1].start if broken and not n else len(text)
            text += word.text
            if broken and not n:
                words[-1] = words[-1]._replace(end=len(text))
            words.append(WordSpot(start, len(text), number, word.box, word.confidence, word.others))
    return RegionText(text, tuple(words))


def _rows(lines: Sequence[FlowLine], number: int) -> RegionText:
    """Each line a line of its own, its cells apart by tabs that stand where they begin."""
    text = ""
    words: list[WordSpot] = []
    for line in lines:
        text += "\n" if text else ""
        for n, word in enumerate(line.words):
            text += word.before if n else ""
            words.append(
                WordSpot(len(text), len(text) + len(word.text), number, word.box, word.confidence, word.others)
            )
            text += word.text
    left = min((line.x0 for line in lines), default=0.0)
    right = max((line.x1 for line in lines), default=0.0)
    return RegionText(text, tuple(words), tab_stops(lines, left, right))


def cleaned_scan(picture: Path, width: float) -> Scan:
    """A cleaned page as it was kept; ``width`` is the page's in points."""
    with Image.open(io.BytesIO(picture.read_bytes())) as image:
        pixels = np.asarray(image.convert("RGB"))
    return Scan(Raster(pixels, pixels.shape[1] / width * 72))


def native_scan(document: pdfium.PdfDocument, page: int) -> Scan:
    """A page without a cleaned picture, drawn for reading."""
    opened = document[page - 1]
    try:
        return drawn(opened)
    finally:
        opened.close()
