"""Lines around cells drawn and taken off by hand."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, splice
from evenquill.core.edits.lookup import table_row
from evenquill.core.edits.table_operations import CellLines, RuleCells
from evenquill.core.errors import EditError
from evenquill.core.model import Cell, Document, Sides, TableBlock
from evenquill.core.model.cell_lines import facing, with_usual_sides
from evenquill.core.model.ids import Ids


def rule_cells(document: Document, operation: RuleCells, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    top, left = operation.row, operation.column
    bottom, right = top + operation.rows, left + operation.columns
    if not (0 <= top < bottom <= block.row_count and 0 <= left < right <= len(block.widths)):
        raise EditError("The table has no such cells.")
    marked = [
        cell
        for cell in block.cells
        if cell.row < bottom
        and top < cell.row + cell.rows
        and cell.column < right
        and left < cell.column + cell.columns
    ]
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
