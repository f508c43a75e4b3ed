"""Cells of a table merged, split and filled."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, splice
from evenquill.core.edits.lookup import table_row
from evenquill.core.edits.table_lines import (
    bounds_of,
    cells_touching,
    empty_like,
    in_order,
    line_count,
    places,
    with_header,
    with_lines,
)
from evenquill.core.edits.table_operations import FillCells, Line, MergeCells, SplitCell
from evenquill.core.edits.words import moved_words
from evenquill.core.errors import EditError
from evenquill.core.model import Cell, Document, Sides, TableBlock
from evenquill.core.model.cell_lines import outer_sides
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import from_text, plain

MOST_CELLS = 10_000
"""Cells that are filled at once."""


def merge_cells(document: Document, operation: MergeCells, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    top, left, bottom, right = bounds_of(block, operation)
    while True:
        members = cells_touching(block, top, left, bottom, right)
        grown = (
            min(cell.row for cell in members),
            min(cell.column for cell in members),
            max(cell.row + cell.rows for cell in members),
            max(cell.column + cell.columns for cell in members),
        )
        if grown == (top, left, bottom, right):
            break
        top, left, bottom, right = grown
    if len(members) < 2:
        raise EditError("That is one cell already.")
    first = min(members, key=lambda cell: (cell.row, cell.column))
    texts = tuple(text for cell in members for text in cell.texts if text.text.strip()) or first.texts[:1]
    whole = Cell(first.id, top, left, texts, bottom - top, right - left, _merged_sides(block, members), first.fill)
    changed = replace(block, cells=in_order((whole, *(cell for cell in block.cells if cell not in members))))
    return splice(document, at, 1, (with_header(changed, block.header_rows),))


def _merged_sides(table: TableBlock, members: Sequence[Cell]) -> Sides | None:
    """The sides of the cell that others become: those that some of them have at the edges of all of them."""
    if all(cell.sides is None for cell in members):
        return None
    outer = outer_sides(members)
    sides = Sides.NONE
    for cell in members:
        sides |= table.sides_of(cell) & outer[cell.id]
    return sides


def split_cell(document: Document, operation: SplitCell, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    cell = cell_at(block, operation.row, operation.column)
    if cell.rows * cell.columns == 1:
        return splice(document, at, 1, (_with_cell_halved(block, cell, ids),))
    taken = _places(cell)
    # A cell that was merged of so many has a paragraph for each.
    each = [(text,) for text in cell.texts] if len(cell.texts) == len(taken) else [cell.texts]
    parts = [
        Cell(
            cell.id if n == 0 else ids.new(),
            row,
            column,
            each[n] if n < len(each) else (empty_like(cell.texts[0], ids),),
            sides=cell.sides,
            fill=cell.fill,
        )
        for n, (row, column) in enumerate(taken)
    ]
    return splice(
        document, at, 1, (replace(block, cells=in_order((*parts, *(one for one in block.cells if one is not cell)))),)
    )


def _with_cell_halved(table: TableBlock, cell: Cell, ids: Ids) -> TableBlock:
    """The table with a cell as two beside each other: its column becomes two, and the other cells of it take both."""
    column = cell.column
    if line_count(table, Line.COLUMN) >= MOST_CELLS:
        raise EditError("The table has too many columns.")
    cells = [replace(cell, id=ids.new(), column=column + 1, texts=(empty_like(cell.texts[0], ids),))]
    for one in table.cells:
        if one.column > column:
            one = replace(one, column=one.column + 1)
        elif one is not cell and one.column + one.columns > column:
            one = replace(one, columns=one.columns + 1)
        cells.append(one)
    half = table.widths[column] / 2
    return replace(
        table, cells=in_order(cells), widths=(*table.widths[:column], half, half, *table.widths[column + 1 :])
    )


def fill_cells(document: Document, operation: FillCells, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    rows, columns = len(operation.texts), max(map(len, operation.texts), default=0)
    if not columns:
        raise EditError("There is nothing to fill the cells with.")
    if rows * columns > MOST_CELLS:
        raise EditError(f"At most {MOST_CELLS} cells can be filled at once.")
    cell_at(block, operation.row, operation.column)
    changed = block
    for line, needed in ((Line.ROW, operation.row + rows), (Line.COLUMN, operation.column + columns)):
        length = line_count(changed, line)
        if needed > length:
            changed = with_lines(changed, line, length, needed - length, ids)
    given = {
        (operation.row + r, operation.column + c): text
        for r, row in enumerate(operation.texts)
        for c, text in enumerate(row)
    }
    cells = []
    for cell in changed.cells:
        first, *others = _places(cell)
        if not given.keys().isdisjoint(others):
            raise EditError("A merged cell is in the way. Split it first.")
        cells.append(_filled(cell, given[first]) if first in given else cell)
    return splice(document, at, 1, (replace(changed, cells=tuple(cells)),))


def _filled(cell: Cell, text: str) -> Cell:
    first = cell.texts[0]
    content = from_text(text)
    return replace(
        cell, texts=(replace(first, content=content, words=moved_words(first.words, first.text, plain(content))),)
    )


def _places(cell: Cell) -> list[tuple[int, int]]:
    """The rows and columns that a cell takes, the one of its upper left corner first."""
    rows, columns = places(cell, Line.ROW), places(cell, Line.COLUMN)
    return [(row, column) for row in rows for column in columns]


def cell_at(table: TableBlock, row: int, column: int) -> Cell:
    """The cell that takes a place. Raises EditError where there is none."""
    for cell in table.cells:
        if row in places(cell, Line.ROW) and column in places(cell, Line.COLUMN):
            return cell
    raise EditError("The table has no such cell.")
