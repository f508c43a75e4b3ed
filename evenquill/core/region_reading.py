"""One region of a page read again: the words of a row, in other languages or with other cleaning, as a paragraph or as a table."""

from __future__ import annotations

import io
from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

import numpy as np
import pypdfium2 as pdfium
from PIL import Image

from evenquill.core.equations.tex import tex
from evenquill.core.layout.flow import FlowLine, flow_lines
from evenquill.core.layout.tables.flow_table import FlowCell, flow_table
from evenquill.core.layout.tables.regions import table_of
from evenquill.core.model import Box, TabStop, WordSpot
from evenquill.core.model.equation import Node
from evenquill.core.reading.drawn import drawn
from evenquill.core.reading.native.turned import turned
from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster
from evenquill.core.reading.scanned.regions import formula_in_region, lines_in_region


class RegionText(NamedTuple):
    """The text of a region, and its words: character range, box in points, confidence, other readings.

    That of a table has a line for each of its rows, cells apart by tabs, and tab stops where its columns begin.
    """

    text: str
    words: tuple[WordSpot, ...]
    tabs: tuple[TabStop, ...] = ()


def read_region(
    page: Scan, regions: Sequence[Box], preparation: Preparation, number: int = 0, *, as_table: bool = False
) -> RegionText:
    """The text of regions (in points) of a straight page. Raises LanguageMissing.

    Lines are joined to one paragraph, or taken ``as_table``.
    """
    found: list[FlowLine] = []
    rows: list[list[FlowCell]] = []
    for box in regions:
        region = lines_in_region(page, box, preparation, number)
        if region is None:
            continue
        lines = region.evidence.lines
        table = table_of(region.evidence, lines) if as_table else None
        if table is None:
            found += [_moved(line, region.x, region.y) for line in flow_lines(region.evidence, list(lines))]
        else:
            cells = [_moved_cell(cell, region.x, region.y) for cell in flow_table(region.evidence, table).cells]
            rows += [[cell for cell in cells if cell.row == row] for row in range(table.rows)]
    return _rows(rows, number) if rows else _joined(found, number)


class RegionEquation(NamedTuple):
    """The equation of a region, how likely all of its symbols are right, and what else it may be, in TeX."""

    tree: Node
    sure: float
    others: tuple[str, ...]


def read_equation_in(page: Scan, box: Box, preparation: Preparation, size: float = 0.0) -> RegionEquation | None:
    """The equation in a region (in points) of a straight page, whose text has a ``size`` (in points, 0 for unknown); None where none can be
    read. Raises LanguageMissing."""
    found = formula_in_region(page, box, preparation, size)
    if found is None:
        return None
    return RegionEquation(found.tree, round(found.sure, 3), tuple(tex(other.tree) for other in found.others))


def _moved_cell(cell: FlowCell, x: float, y: float) -> FlowCell:
    """The cell where it stands on the whole page."""
    box = Box(cell.box.x0 + x, cell.box.y0 + y, cell.box.x1 + x, cell.box.y1 + y)
    return cell._replace(box=box, lines=tuple(_moved(line, x, y) for line in cell.lines))


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


def _rows(rows: Sequence[Sequence[FlowCell]], number: int) -> RegionText:
    """A line for each row of a table, its cells apart by tabs."""
    text = ""
    words: list[WordSpot] = []
    starts: dict[int, float] = {}
    for row in rows:
        text += "\n" if words else ""
        for n, cell in enumerate(row):
            starts[cell.column] = min(cell.box.x0, starts.get(cell.column, cell.box.x0))
            text += "\t" * (cell.column - row[n - 1].column) if n else ""
            own = [word for line in cell.lines for word in line.words]
            for k, word in enumerate(own):
                text += (word.before or " ") if k else ""
                end = len(text) + len(word.text)
                words.append(WordSpot(len(text), end, number, word.box, word.confidence, word.others))
                text += word.text
    left = starts.pop(0)
    return RegionText(text, tuple(words), tuple(TabStop(round(at - left, 1)) for _, at in sorted(starts.items())))


def cleaned_scan(picture: Path, width: float) -> Scan:
    """A cleaned page as it was kept; ``width`` is the page's in points."""
    with Image.open(io.BytesIO(picture.read_bytes())) as image:
        pixels = np.asarray(image.convert("RGB"))
    return Scan(Raster(pixels, pixels.shape[1] / width * 72))


def native_scan(document: pdfium.PdfDocument, page: int, turn: int = 0) -> Scan:
    """A page without a cleaned picture, drawn for reading as its evidence has it: turned by some quarter turns clockwise."""
    opened = document[page - 1]
    try:
        with turned(opened, turn):
            return drawn(opened)
    finally:
        opened.close()
