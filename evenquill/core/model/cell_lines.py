"""Lines at the sides of a table's cells, over all of its cells."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from evenquill.core.model.blocks import Cell, TableBlock
from evenquill.core.model.sides import Sides


def with_usual_sides(table: TableBlock) -> TableBlock:
    """The table with what most of its cells have said once, by the table, and only what differs said by cells."""
    given = [table.sides_of(cell) for cell in table.cells]
    ruled = 2 * given.count(Sides.ALL) > len(given)
    usual = Sides.ALL if ruled else Sides.NONE
    cells = tuple(
        replace(cell, sides=None if own == usual else own) for cell, own in zip(table.cells, given, strict=True)
    )
    return replace(table, ruled=ruled, cells=cells)


def transposed(sides: Sides | None) -> Sides | None:
    """The sides of a cell whose row becomes its column."""
    if sides is None:
        return None
    swapped = (
        (Sides.TOP, Sides.LEFT),
        (Sides.LEFT, Sides.TOP),
        (Sides.RIGHT, Sides.BOTTOM),
        (Sides.BOTTOM, Sides.RIGHT),
    )
    return Sides(sum(after for before, after in swapped if sides & before))


def outer_sides(cells: Sequence[Cell]) -> dict[str, Sides]:
    """By the id of each of several cells its sides that are at the edges of all of them together."""
    top, left = min(cell.row for cell in cells), min(cell.column for cell in cells)
    bottom = max(cell.row + cell.rows for cell in cells)
    right = max(cell.column + cell.columns for cell in cells)
    out = {}
    for cell in cells:
        at_edge = (
            (Sides.TOP, cell.row == top),
            (Sides.LEFT, cell.column == left),
            (Sides.BOTTOM, cell.row + cell.rows == bottom),
            (Sides.RIGHT, cell.column + cell.columns == right),
        )
        out[cell.id] = Sides(sum(side for side, there in at_edge if there))
    return out


def facing(table: TableBlock) -> dict[str, list[tuple[Sides, Cell, Sides]]]:
    """By the id of each cell all that share a side with it: that side of the cell, the other cell, and the side of the other."""
    at = {
        (row, column): cell
        for cell in table.cells
        for row in range(cell.row, cell.row + cell.rows)
        for column in range(cell.column, cell.column + cell.columns)
    }
    out: dict[str, list[tuple[Sides, Cell, Sides]]] = {cell.id: [] for cell in table.cells}
    for (row, column), cell in at.items():
        for side, opposite, beside in (
            (Sides.BOTTOM, Sides.TOP, at.get((row + 1, column), cell)),
            (Sides.RIGHT, Sides.LEFT, at.get((row, column + 1), cell)),
        ):
            if beside is not cell:
                out[cell.id].append((side, beside, opposite))
                out[beside.id].append((opposite, cell, side))
    return out


def sides_in_row(table: TableBlock, cell: Cell, row: int) -> Sides:
    """The sides that have a line of the part of a cell that is in one of its rows."""
    sides = table.sides_of(cell)
    if row > cell.row:
        sides &= ~Sides.TOP
    if row < cell.row + cell.rows - 1:
        sides &= ~Sides.BOTTOM
    return sides
