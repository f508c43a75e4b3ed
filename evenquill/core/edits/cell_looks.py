"""Lines around cells drawn and taken off by hand, and cells filled with a colour."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.colors import COLOR
from evenquill.core.edits.inverse import Edit, splice
from evenquill.core.edits.lookup import table_row
from evenquill.core.edits.table_lines import bounds_of, cells_touching
from evenquill.core.edits.table_operations import CellLines, RuleCells, ShadeCells
from evenquill.core.errors import EditError
from evenquill.core.model import Document, Sides
from evenquill.core.model.cell_lines import facing, outer_sides, with_usual_sides
from evenquill.core.model.ids import Ids

ADDED = {CellLines.AROUND: Sides.ALL, CellLines.ABOVE: Sides.TOP, CellLines.BELOW: Sides.BOTTOM}
"""Sides at the edges of the marked cells that get a line."""


def rule_cells(document: Document, operation: RuleCells, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    marked = cells_touching(block, *bounds_of(block, operation))
    before = {cell.id: block.sides_of(cell) for cell in block.cells}
    given = dict(before)
    match operation.lines:
        case CellLines.ALL:
            given |= {cell.id: Sides.ALL for cell in marked}
        case CellLines.NONE:
            # A line goes from both of the cells that it is between.
            beside = facing(block)
            given |= {cell.id: Sides.NONE for cell in marked}
            for cell in marked:
                for _, other, side in beside[cell.id]:
                    given[other.id] &= ~side
        case CellLines.AROUND | CellLines.ABOVE | CellLines.BELOW:
            for name, outer in outer_sides(marked).items():
                given[name] |= outer & ADDED[operation.lines]
    if given == before:
        raise EditError("These cells have just these lines.")
    cells = tuple(replace(cell, sides=given[cell.id]) for cell in block.cells)
    return splice(document, at, 1, (with_usual_sides(replace(block, cells=cells)),))


def shade_cells(document: Document, operation: ShadeCells, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    if operation.color and not COLOR.fullmatch(operation.color):
        raise EditError("A colour has six figures from 0 to f.")
    marked = {cell.id for cell in cells_touching(block, *bounds_of(block, operation))}
    cells = tuple(replace(cell, fill=operation.color) if cell.id in marked else cell for cell in block.cells)
    if cells == block.cells:
        raise EditError("These cells are just so.")
    return splice(document, at, 1, (replace(block, cells=cells),))
