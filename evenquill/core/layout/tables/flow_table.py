"""A table on its way into a document: its cells with flow lines."""

from __future__ import annotations

from typing import NamedTuple

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.layout.flow import FlowLine, flow_lines
from evenquill.core.layout.tables.cell_looks import drawn_sides, fills
from evenquill.core.layout.tables.placed import PlacedCell, PlacedTable
from evenquill.core.model import Box
from evenquill.core.model.sides import Sides


class FlowCell(NamedTuple):
    """A cell as in a ``PlacedCell``, with flow lines from top to bottom, its sides that have a line, and the colour
    that it is filled with."""

    row: int
    column: int
    rows: int
    columns: int
    box: Box
    lines: tuple[FlowLine, ...]
    sides: Sides
    fill: str


class FlowTable(NamedTuple):
    """A table as a ``PlacedTable``, of a page."""

    page: int
    box: Box
    edges: tuple[float, ...]
    cells: tuple[FlowCell, ...]
    header_rows: int
    ruled: bool


def flow_table(page: PageEvidence, table: PlacedTable) -> FlowTable:
    """The table with its lines composed; gaps in a cell are spaces, not tabs."""
    sides = drawn_sides(page, table) if table.ruled else [Sides.NONE] * len(table.cells)
    cells = tuple(
        FlowCell(*cell[:5], _composed(page, cell), own, fill)
        for cell, own, fill in zip(table.cells, sides, fills(page, table), strict=True)
    )
    return FlowTable(page.number, table.box, table.edges, cells, table.header_rows, table.ruled)


def _composed(page: PageEvidence, cell: PlacedCell) -> tuple[FlowLine, ...]:
    by_angle: dict[int, list[Line]] = {}
    for line in cell.lines:
        by_angle.setdefault(line.angle, []).append(line)
    return tuple(_without_tabs(row) for _, lines in sorted(by_angle.items()) for row in flow_lines(page, lines))


def _without_tabs(line: FlowLine) -> FlowLine:
    if not line.tabbed:
        return line
    return line._replace(words=tuple(word._replace(before=" ") if word.before == "\t" else word for word in line.words))
