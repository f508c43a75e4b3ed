"""Tables as ``w:tbl`` (ECMA-376 part 1, 17.4)."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable

from evenquill.core.model import Align, Cell, Sides, TableBlock, TextBlock
from evenquill.core.model.cell_lines import sides_in_row
from evenquill.core.model.sides import SIDE_NAMES
from evenquill.core.writers.decimal_stops import CELL_PADDING, with_decimal_stops
from evenquill.core.writers.docx.styles import JUSTIFICATION
from evenquill.core.writers.docx.xml import Element, child, element, twips

RULE: dict[str, str | int] = {"val": "single", "sz": 4, "space": 0, "color": "auto"}
"""A line of half a point."""

INSIDE = ("insideH", "insideV")

WriteText = Callable[[TextBlock], Element]
"""Makes the ``w:p`` of a text block."""


def table(block: TableBlock, text_width: float, write: WriteText, size_of: Callable[[TextBlock], float]) -> Element:
    """The block as a table, no wider than the text; the rows of its header are repeated on each page.

    ``size_of`` gives the size of type of a text.
    """
    made = element("tbl")
    own_widths = block.widths_within(text_width)
    block = with_decimal_stops(block, own_widths, size_of)
    widths = list(map(twips, own_widths))
    _properties(made, block, sum(widths))
    grid = child(made, "tblGrid")
    for width in widths:
        child(grid, "gridCol", w=width)
    by_row = _rows(block)
    for number in range(block.row_count):
        row = child(made, "tr")
        properties = child(row, "trPr")
        child(properties, "cantSplit")
        if number < block.header_rows:
            child(properties, "tblHeader")
        for cell in by_row[number]:
            _cell(row, block, cell, number, widths, write)
    return made


def _properties(made: Element, block: TableBlock, width: int) -> None:
    properties = child(made, "tblPr")
    child(properties, "tblW", w=width, type="dxa")
    if block.align in (Align.CENTER, Align.RIGHT):
        child(properties, "jc", val=JUSTIFICATION[block.align])
    if block.ruled:
        borders = child(properties, "tblBorders")
        for side in (*SIDE_NAMES.values(), *INSIDE):
            child(borders, side, **RULE)
    child(properties, "tblLayout", type="fixed")
    margins = child(properties, "tblCellMar")
    for side in ("left", "right"):
        child(margins, side, w=twips(CELL_PADDING), type="dxa")
    child(properties, "tblLook", val="0020" if block.header_rows else "0000")


def _rows(block: TableBlock) -> dict[int, list[Cell]]:
    """The cells of each row from left to right; one that takes several rows is in each of them."""
    rows: dict[int, list[Cell]] = defaultdict(list)
    for cell in block.cells:
        for number in range(cell.row, cell.row + cell.rows):
            rows[number].append(cell)
    return {number: sorted(cells, key=lambda cell: cell.column) for number, cells in rows.items()}


def _cell(row: Element, block: TableBlock, cell: Cell, number: int, widths: list[int], write: WriteText) -> None:
    """A ``w:tc``; those under the first one of a cell of several rows carry it on, empty (17.4.84)."""
    made = child(row, "tc")
    properties = child(made, "tcPr")
    child(properties, "tcW", w=sum(widths[cell.column : cell.column + cell.columns]), type="dxa")
    if cell.columns > 1:
        child(properties, "gridSpan", val=cell.columns)
    if cell.rows > 1:
        if number == cell.row:
            child(properties, "vMerge", val="restart")
        else:
            child(properties, "vMerge")
    if cell.sides is not None:
        _borders(properties, block, sides_in_row(block, cell, number))
    if cell.fill:
        child(properties, "shd", val="clear", color="auto", fill=cell.fill)
    if number != cell.row:
        child(made, "p")
        return
    for text in cell.texts:
        made.append(write(text))


def _borders(properties: Element, block: TableBlock, sides: Sides) -> None:
    """Lines of a cell that are other than those of its table (17.4.66)."""
    borders = child(properties, "tcBorders")
    for side, name in SIDE_NAMES.items():
        if side & sides:
            child(borders, name, **RULE)
        elif block.ruled:
            child(borders, name, val="nil")
