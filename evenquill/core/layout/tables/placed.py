"""A table as it stands on a page."""

from __future__ import annotations

from typing import NamedTuple

from evenquill.core.evidence import Line
from evenquill.core.model import Box


class PlacedCell(NamedTuple):
    """A cell: the grid place of its upper left corner from 0, how many rows and columns it takes, its box and its lines."""

    row: int
    column: int
    rows: int
    columns: int
    box: Box
    lines: tuple[Line, ...] = ()

    @property
    def right(self) -> int:
        """The column behind it."""
        return self.column + self.columns

    @property
    def bottom(self) -> int:
        """The row below it."""
        return self.row + self.rows


class PlacedTable(NamedTuple):
    """A table on one page: ``edges`` are the left edges of its columns and the right one of the last, in points; the cells are in
    order, row by row; the first ``header_rows`` name what stands in the columns. ``ruled`` if lines are drawn between its cells."""

    box: Box
    edges: tuple[float, ...]
    cells: tuple[PlacedCell, ...]
    header_rows: int = 0
    ruled: bool = True

    @property
    def columns(self) -> int:
        return len(self.edges) - 1

    @property
    def rows(self) -> int:
        return max(cell.bottom for cell in self.cells)
