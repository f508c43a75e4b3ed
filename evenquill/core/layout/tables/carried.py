"""The last rows of a table at the top of the next page or column, where they are too few to be a table by themselves."""

from __future__ import annotations

import itertools
import statistics
from collections import defaultdict
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import Line, Type
from evenquill.core.layout.tables.flow_table import FlowTable
from evenquill.core.layout.tables.placed import PlacedCell, PlacedTable
from evenquill.core.layout.tables.row_features import Row, rows_in_pieces
from evenquill.core.model import Box, union

SAME_EDGE = 2.5
"""Points within which text begins, ends or has its middle where that of its column does."""

NEXT = 2.0
"""Ems from one line of a row to the next, at most, where the second has nothing in the first column."""

SAME_LEADING = 0.12
"""Share by which the distance of two lines may differ from that of lines in one cell."""

MOST_ROWS = 8
"""Lines of what is left of a table, at most: more are told by themselves."""


class OpenTable(NamedTuple):
    """A table that a column ends with, and the left edge of that column."""

    table: FlowTable
    left: float


def rest_of_table(
    before: OpenTable, lines: Sequence[Line], types: Sequence[Type], left: float, end: float
) -> PlacedTable | None:
    """The first lines of a column that begins at ``left`` as the rows that carry on the table before, None where they are none.

    Only lines above ``end`` are looked at; ``types`` are those of the page.
    Each piece stands in one column of the table, in line with what stands there.
    """
    rows = rows_in_pieces([line for line in lines if line.box.y1 <= end], types)
    columns = _columns(before.table)
    for shift in dict.fromkeys((0.0, left - before.left)):
        groups = _first_rows(rows, columns, shift, _leading(before.table))
        taken = [row for group in groups for row in group]
        if 0 < len(taken) <= MOST_ROWS and _ends(taken, rows):
            return _placed(groups, columns, before.table, shift)
    return None


def _first_rows(
    rows: Sequence[Row], columns: Sequence[Sequence[Box]], shift: float, leading: float | None
) -> list[list[Row]]:
    """The rows from the first one on that have several pieces in columns of a table, each with the lines that carry it on; ``leading``
    is that of the lines within the table's first column."""
    groups: list[list[Row]] = []
    for row in rows:
        places = _places(row, columns, shift)
        if places is not None and groups and _is_more(groups[-1][-1], row, places, leading):
            groups[-1].append(row)
        elif places is not None and len(places) >= 2:
            groups.append([row])
        else:
            break
    return groups


def _is_more(above: Row, row: Row, places: Sequence[int], leading: float | None) -> bool:
    """Whether a row carries on the one above: close under it, with nothing in the first column, or only there and as close as lines of
    one cell are."""
    distance = row.baseline - above.baseline
    if 0 not in places:
        return distance <= NEXT * row.size
    return list(places) == [0] and leading is not None and abs(distance - leading) <= SAME_LEADING * leading


def _leading(table: FlowTable) -> float | None:
    """The distance of baselines of lines in the first column of a table, below its header; None where each cell has one line there."""
    distances = [
        below.baseline - above.baseline
        for cell in table.cells
        if cell.column == 0 and cell.row >= table.header_rows
        for above, below in itertools.pairwise(cell.lines)
    ]
    return statistics.median(distances) if distances else None


def _ends(taken: Sequence[Row], rows: Sequence[Row]) -> bool:
    """Whether what is taken stands apart from what follows."""
    return len(taken) == len(rows) or rows[len(taken)].top - taken[-1].bottom > taken[-1].size


def _columns(table: FlowTable) -> list[list[Box]]:
    """Where the lines of each column stand, those below the header."""
    boxes: dict[int, list[Box]] = defaultdict(list)
    for cell in table.cells:
        if cell.columns == 1 and cell.row >= table.header_rows:
            boxes[cell.column] += [line.box for line in cell.lines]
    return [boxes[column] for column in range(len(table.edges) - 1)]


def _places(row: Row, columns: Sequence[Sequence[Box]], shift: float) -> list[int] | None:
    """The columns that the pieces of a row stand in, from left to right; None where one stands in none or two in one."""
    found = []
    for piece in row.pieces:
        fits = [
            n for n, boxes in enumerate(columns) if any(piece.box.out_of_line(box, shift) <= SAME_EDGE for box in boxes)
        ]
        over = [n for n, boxes in enumerate(columns) if boxes and _overlap(piece.box, union(boxes), shift)]
        if len(over) != 1 or over[0] not in fits:
            return None
        found.append(over[0])
    return found if found == sorted(set(found)) else None


def _overlap(box: Box, other: Box, shift: float) -> bool:
    return min(box.x1, other.x1 + shift) > max(box.x0, other.x0 + shift)


def _placed(
    groups: Sequence[Sequence[Row]], columns: Sequence[Sequence[Box]], table: FlowTable, shift: float
) -> PlacedTable:
    edges = tuple(edge + shift for edge in table.edges)
    cells: list[PlacedCell] = []
    for n, group in enumerate(groups):
        own: dict[int, list[Line]] = defaultdict(list)
        for row in group:
            for place, piece in zip(_places(row, columns, shift) or (), row.pieces, strict=True):
                own[place].append(piece)
        top, bottom = group[0].top, group[-1].bottom
        cells += [
            PlacedCell(n, place, 1, 1, Box(edges[place], top, edges[place + 1], bottom), tuple(own[place]))
            for place in range(len(columns))
        ]
    box = union(piece.box for group in groups for row in group for piece in row.pieces)
    return PlacedTable(box, edges, tuple(cells), ruled=table.ruled)
