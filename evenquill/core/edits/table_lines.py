"""Rows and columns of a table put in, taken out and moved. What holds for rows holds for columns, so both go one way."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, splice
from evenquill.core.edits.lookup import table_row
from evenquill.core.edits.table_operations import (
    InsertLines,
    Line,
    ListCells,
    MergeCells,
    MoveLines,
    RemoveEmptyLines,
    RemoveLines,
    RuleCells,
    ShadeCells,
)
from evenquill.core.errors import EditError
from evenquill.core.model import Cell, Document, TableBlock, TextBlock
from evenquill.core.model.ids import Ids

MOST_LINES = 10_000
"""Rows, or columns, of a table that a clerk makes."""


def insert_lines(document: Document, operation: InsertLines, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    return splice(document, at, 1, (with_lines(block, operation.line, operation.at, operation.count, ids),))


def remove_lines(document: Document, operation: RemoveLines, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    gone = range(operation.at, operation.at + operation.count)
    return splice(document, at, 1, (without_lines(block, operation.line, gone),))


def remove_empty_lines(document: Document, operation: RemoveEmptyLines, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    if not any(cell.text.strip() for cell in block.cells):
        raise EditError("The whole table is empty. Set it aside instead.")
    changed = block
    for line, empty in zip(Line, empty_lines(block), strict=True):
        for n in reversed(empty):
            changed = without_lines(changed, line, range(n, n + 1))
    if changed == block:
        raise EditError("No row and no column is empty.")
    return splice(document, at, 1, (changed,))


def empty_lines(table: TableBlock) -> tuple[list[int], list[int]]:
    """The rows and the columns without any text."""
    found = []
    for line in Line:
        full = {n for cell in table.cells if cell.text.strip() for n in places(cell, line)}
        found.append([n for n in range(line_count(table, line)) if n not in full])
    rows, columns = found
    return rows, columns


def move_lines(document: Document, operation: MoveLines, ids: Ids) -> Edit:
    place, block = table_row(document, operation.block)
    line, at, count, to = operation.line, operation.at, operation.count, operation.to
    length = line_count(block, line)
    if count < 1 or at < 0 or at + count > length or not 0 <= to <= length:
        raise EditError("The table has no such place.")
    if at <= to <= at + count:
        raise EditError("They are there already.")
    for edge in (at, at + count, to):
        check_uncut(block, line, edge)
    stay = [n for n in range(length) if not at <= n < at + count]
    before = to if to < at else to - count
    order = [*stay[:before], *range(at, at + count), *stay[before:]]
    now = {n: k for k, n in enumerate(order)}
    cells = in_order(
        spanning(cell, line, now[places(cell, line).start], len(places(cell, line))) for cell in block.cells
    )
    changed = replace(block, cells=cells)
    if line is Line.ROW:
        changed = replace(changed, row_ids=tuple(block.row_ids[n] for n in order))
    else:
        changed = replace(changed, widths=tuple(block.widths[n] for n in order))
    return splice(document, place, 1, (with_header(changed, block.header_rows),))


def line_count(table: TableBlock, line: Line) -> int:
    return table.row_count if line is Line.ROW else len(table.widths)


def places(cell: Cell, line: Line) -> range:
    """The rows, or columns, that a cell takes."""
    return range(cell.row, cell.row + cell.rows) if line is Line.ROW else range(cell.column, cell.column + cell.columns)


def bounds_of(
    table: TableBlock, operation: MergeCells | RuleCells | ShadeCells | ListCells
) -> tuple[int, int, int, int]:
    """The first row and column of the rectangle that an operation is about, and those behind it. Raises EditError where it reaches out of
    the table."""
    top, left = operation.row, operation.column
    bottom, right = top + operation.rows, left + operation.columns
    if not (0 <= top < bottom <= table.row_count and 0 <= left < right <= len(table.widths)):
        raise EditError("The table has no such cells.")
    return top, left, bottom, right


def cells_touching(table: TableBlock, top: int, left: int, bottom: int, right: int) -> list[Cell]:
    """The cells that take any place in the rows from ``top`` and columns from ``left`` to before ``bottom`` and ``right``."""
    return [
        cell
        for cell in table.cells
        if cell.row < bottom
        and top < cell.row + cell.rows
        and cell.column < right
        and left < cell.column + cell.columns
    ]


def spanning(cell: Cell, line: Line, start: int, count: int) -> Cell:
    """A cell that takes other rows, or columns."""
    if line is Line.ROW:
        return replace(cell, row=start, rows=count)
    return replace(cell, column=start, columns=count)


def in_order(cells: Iterable[Cell]) -> tuple[Cell, ...]:
    return tuple(sorted(cells, key=lambda cell: (cell.row, cell.column)))


def check_uncut(table: TableBlock, line: Line, edge: int) -> None:
    """Raises EditError where a cell goes over the edge before a row, or a column."""
    if any(places(cell, line).start < edge < places(cell, line).stop for cell in table.cells):
        raise EditError("A merged cell goes over that edge. Split it first.")


def with_header(table: TableBlock, rows: int) -> TableBlock:
    """The table with as many header rows as can be, up to ``rows``: not all of its rows, and none that a cell reaches out of."""
    rows = min(rows, table.row_count - 1)
    while rows > 0 and any(cell.row < rows < cell.row + cell.rows for cell in table.cells):
        rows -= 1
    return replace(table, header_rows=max(rows, 0))


def empty_like(text: TextBlock, ids: Ids) -> TextBlock:
    """An empty text of a cell, in the look of another."""
    return TextBlock(ids.new(), role=text.role, style=text.style, align=text.align)


def with_lines(table: TableBlock, line: Line, at: int, count: int, ids: Ids) -> TableBlock:
    """The table with empty rows, or columns, before the one at a place; cells that go over that edge grow.

    They look like those before them, the first below a header like those after. Raises EditError where there is no such place.
    """
    other = Line.COLUMN if line is Line.ROW else Line.ROW
    length = line_count(table, line)
    if not 0 <= at <= length:
        raise EditError("The table has no such place.")
    if count < 1 or length + count > MOST_LINES:
        raise EditError(f"A table has at most {MOST_LINES} rows or columns.")
    below_header = line is Line.ROW and at == table.header_rows
    model = at if at == 0 or (below_header and at < length) else at - 1
    looks: dict[int, Cell] = {}
    grown: set[int] = set()
    cells = []
    for cell in table.cells:
        taken = places(cell, line)
        if model in taken:
            looks |= dict.fromkeys(places(cell, other), cell)
        if taken.start >= at:
            cell = spanning(cell, line, taken.start + count, len(taken))
        elif taken.stop > at:
            cell = spanning(cell, line, taken.start, len(taken) + count)
            grown.update(places(cell, other))
        cells.append(cell)
    for new in range(at, at + count):
        for across in range(line_count(table, other)):
            if across not in grown:
                row, column = (new, across) if line is Line.ROW else (across, new)
                text = empty_like(looks[across].texts[0], ids)
                cells.append(Cell(ids.new(), row, column, (text,), sides=looks[across].sides, fill=looks[across].fill))
    changed = replace(table, cells=in_order(cells))
    if line is Line.ROW:
        named = tuple(ids.new() for _ in range(count))
        header = table.header_rows + (count if at < table.header_rows else 0)
        return with_header(replace(changed, row_ids=(*table.row_ids[:at], *named, *table.row_ids[at:])), header)
    whole = sum(table.widths)
    widths = (*table.widths[:at], *(table.widths[model],) * count, *table.widths[at:])
    return replace(changed, widths=tuple(width * whole / sum(widths) for width in widths))


def without_lines(table: TableBlock, line: Line, gone: range) -> TableBlock:
    """The table without some rows, or columns, that follow one another.

    Raises EditError where there are none such, or no others.
    """
    if not len(gone) or gone.start < 0 or gone.stop > line_count(table, line):
        raise EditError("The table has no such place.")
    if len(gone) == line_count(table, line):
        raise EditError("Nothing would be left of the table. Set it aside instead.")
    cells = []
    for cell in table.cells:
        left = [n for n in places(cell, line) if n not in gone]
        if left:
            start = left[0] if left[0] < gone.start else left[0] - len(gone)
            cells.append(spanning(cell, line, start, len(left)))
    changed = replace(table, cells=in_order(cells))
    if line is Line.COLUMN:
        return replace(changed, widths=table.widths[: gone.start] + table.widths[gone.stop :])
    header = table.header_rows - sum(n < table.header_rows for n in gone)
    return with_header(replace(changed, row_ids=table.row_ids[: gone.start] + table.row_ids[gone.stop :]), header)
