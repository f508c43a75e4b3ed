"""Tables made of rows of text, and rows of text made of tables. Words keep their places on the source."""

from __future__ import annotations

import itertools

from msgspec.structs import replace

from evenquill.core.model import Cell, Role, TableBlock, TabStop, TextBlock
from evenquill.core.model.cutting import cut_block, join_blocks
from evenquill.core.model.geometry import spots_by_page
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import from_text
from evenquill.core.model.sides import Sides

USUAL_WIDTH = 72.0
"""Points: the width of a column of which nothing else is known."""

SMALLEST_WIDTH = 18.0
"""Points."""


def rows_of_table(table: TableBlock, style: str) -> list[TextBlock]:
    """The rows of a table as paragraphs, cells apart by tabs at the places of the columns; all have the table's id."""
    stops = tuple(TabStop(round(sum(table.widths[:n]), 1)) for n in range(1, len(table.widths)))
    rows = []
    for number in range(table.row_count):
        made: TextBlock | None = None
        column = 0
        for cell in sorted((cell for cell in table.cells if cell.row == number), key=lambda cell: cell.column):
            text = _one_text(cell)
            # Columns that the cells before reach into, or that a cell above takes, are empty here.
            parting = "\t" * (cell.column - column)
            column = cell.column
            if made is None:
                first = TextBlock(table.id, style=style, content=from_text(parting))
                made = join_blocks(first, text, "")
            elif parting:
                made = join_blocks(replace(made, content=(*made.content, *from_text(parting))), text, "")
        if made is not None:
            rows.append(
                replace(
                    made, id=table.id, role=Role.PARAGRAPH, style=style, align=None, tabs=stops, section=table.section
                )
            )
    return rows


def _one_text(cell: Cell) -> TextBlock:
    """The paragraphs of a cell as one."""
    first, *rest = cell.texts
    for text in rest:
        first = join_blocks(first, text, " ")
    return first


def table_of_rows(table_id: str, rows: list[TextBlock], style: str, ids: Ids) -> TableBlock:
    """A table with a row for each paragraph, cut into cells at its tabs; its columns are as wide as its tab stops say."""
    parts = [_between_tabs(row) for row in rows]
    columns = max(len(row) for row in parts)
    cells = []
    for r, row in enumerate(parts):
        for c in range(columns):
            text = row[c] if c < len(row) else TextBlock("", spots=rows[r].spots)
            text = replace(
                text,
                id=ids.new(),
                role=Role.CELL,
                style=style,
                level=0,
                numbering=None,
                tabs=(),
                align=None,
                page_break=False,
                section="",
                sides=Sides.NONE,
            )
            cells.append(Cell(ids.new(), r, c, (text,)))
    return TableBlock(
        table_id,
        _widths(rows, columns),
        tuple(ids.new() for _ in rows),
        tuple(cells),
        page_break=rows[0].page_break,
        spots=spots_by_page(spot for row in rows for spot in row.spots),
        section=rows[0].section,
    )


def lines_of(block: TextBlock) -> list[TextBlock]:
    """The lines of a text that line breaks part."""
    return _parted(block, "\n", spaced=True)


def _between_tabs(row: TextBlock) -> list[TextBlock]:
    """The pieces of a row that tabs part."""
    return _parted(row, "\t")


def _parted(block: TextBlock, sign: str, *, spaced: bool = False) -> list[TextBlock]:
    text = block.text
    starts = [0, *(n + 1 for n, c in enumerate(text) if c == sign)]
    ends = [*(start - 1 for start in starts[1:]), len(text)]
    return [cut_block(block, start, end, spaced=spaced) for start, end in zip(starts, ends, strict=True)]


def _widths(rows: list[TextBlock], columns: int) -> tuple[float, ...]:
    stops = max((row.tabs for row in rows), key=len)
    places = [0.0, *(stop.at for stop in stops[: columns - 1])]
    widths = [max(after - before, SMALLEST_WIDTH) for before, after in itertools.pairwise(places)]
    missing = columns - len(widths)
    return (*widths, *(USUAL_WIDTH for _ in range(missing)))
