"""Lines around cells drawn and taken off by hand, and cells filled with a colour."""

from __future__ import annotations

import re

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, splice
from evenquill.core.edits.lookup import table_row
from evenquill.core.edits.table_lines import cells_touching
from evenquill.core.edits.table_operations import CellLines, RuleCells, ShadeCells
from evenquill.core.errors import EditError
from evenquill.core.model import Cell, Document, Sides, TableBlock
from evenquill.core.model.cell_lines import facing, with_usual_sides
from evenquill.core.model.ids import Ids

COLOR = re.compile("[0-9a-f]{6}")


def rule_cells(document: Document, operation: RuleCells, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    marked = _marked(block, operation)
    given = {cell.id: block.sides_of(cell) for cell in block.cells}
    for cell in marked:
        given[cell.id] = _sides(given[cell.id], cell, marked, operation.lines)
    if operation.lines is CellLines.NONE:
        for cell in marked:
            for _, other, side in facing(cell, block):
                given[other.id] &= ~side
    cells = tuple(replace(cell, sides=given[cell.id]) for cell in block.cells)
    changed = with_usual_sides(replace(block, cells=cells))
    if _all_sides(changed) == _all_sides(block):
        raise EditError("These cells have just these lines.")
    return splice(document, at, 1, (changed,))


def shade_cells(document: Document, operation: ShadeCells, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    if operation.color and not COLOR.fullmatch(operation.color):
        raise EditError("A colour has six figures from 0 to f.")
    marked = {cell.id for cell in _marked(block, operation)}
    cells = tuple(replace(cell, fill=operation.color) if cell.id in marked else cell for cell in block.cells)
    if cells == block.cells:
        raise EditError("These cells are just so.")
    return splice(document, at, 1, (replace(block, cells=cells),))


def _marked(table: TableBlock, operation: RuleCells | ShadeCells) -> list[Cell]:
    """The cells that a rectangle of places touches. Raises EditError where it reaches out of the table."""
    top, left = operation.row, operation.column
    bottom, right = top + operation.rows, left + operation.columns
    if not (0 <= top < bottom <= table.row_count and 0 <= left < right <= len(table.widths)):
        raise EditError("The table has no such cells.")
    return cells_touching(table, top, left, bottom, right)


def _sides(now: Sides, cell: Cell, marked: list[Cell], lines: CellLines) -> Sides:
    """The sides of one of the marked cells that have a line afterwards."""
    outer = {
        Sides.TOP: cell.row == min(one.row for one in marked),
        Sides.BOTTOM: cell.row + cell.rows == max(one.row + one.rows for one in marked),
        Sides.LEFT: cell.column == min(one.column for one in marked),
        Sides.RIGHT: cell.column + cell.columns == max(one.column + one.columns for one in marked),
    }
    match lines:
        case CellLines.ALL:
            return Sides.ALL
        case CellLines.NONE:
            return Sides.NONE
        case CellLines.ABOVE:
            wanted = [Sides.TOP]
        case CellLines.BELOW:
            wanted = [Sides.BOTTOM]
        case CellLines.AROUND:
            wanted = list(outer)
    for side in wanted:
        now |= side if outer[side] else Sides.NONE
    return now


def _all_sides(table: TableBlock) -> list[Sides]:
    return [table.sides_of(cell) for cell in table.cells]
