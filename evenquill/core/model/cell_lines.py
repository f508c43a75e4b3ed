"""Lines at the sides of a table's cells, over all of its cells."""

from __future__ import annotations

from collections.abc import Iterator

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


def turned(sides: Sides | None) -> Sides | None:
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


def facing(cell: Cell, table: TableBlock) -> Iterator[tuple[Sides, Cell, Sides]]:
    """Each cell that shares a side with a cell: that side of the cell, the other cell, and the side of the other."""
    for other in table.cells:
        in_rows = other.row < cell.row + cell.rows and cell.row < other.row + other.rows
        in_columns = other.column < cell.column + cell.columns and cell.column < other.column + other.columns
        if in_columns and other.row + other.rows == cell.row:
            yield Sides.TOP, other, Sides.BOTTOM
        elif in_columns and other.row == cell.row + cell.rows:
            yield Sides.BOTTOM, other, Sides.TOP
        elif in_rows and other.column + other.columns == cell.column:
            yield Sides.LEFT, other, Sides.RIGHT
        elif in_rows and other.column == cell.column + cell.columns:
            yield Sides.RIGHT, other, Sides.LEFT


def sides_in_row(table: TableBlock, cell: Cell, row: int) -> Sides:
    """The sides that have a line of the part of a cell that is in one of its rows."""
    sides = table.sides_of(cell)
    if row > cell.row:
        sides &= ~Sides.TOP
    if row < cell.row + cell.rows - 1:
        sides &= ~Sides.BOTTOM
    return sides
