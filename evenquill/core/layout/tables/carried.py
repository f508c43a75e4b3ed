"""What carries on a table at the top of the next page or column: rows too few to be a table by themselves, and tables that have their
columns from the one before."""

from __future__ import annotations

import itertools
import statistics
from collections import defaultdict
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import Line, PageEvidence, Type
from evenquill.core.layout.tables.aligned import columns_over, parted_between
from evenquill.core.layout.tables.flow_table import FlowTable
from evenquill.core.layout.tables.placed import PlacedCell, PlacedTable
from evenquill.core.layout.tables.regions import table_of
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

IN_LINE = 0.8
"""Share of the pieces of a table that are in line with the columns of the one before, from which it carries that on."""


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


def in_columns_before(before: OpenTable, page: PageEvidence, lines: Sequence[Line], left: float) -> PlacedTable | None:
    """The ``lines`` of a table at the top of a column that begins at ``left``, in the columns of the table before, which they carry on;
    None where they do not stand in these: a few rows tell less of where columns are than many."""
    columns = _columns(before.table)
    if not all(columns):
        return None
    for shift in dict.fromkeys((0.0, left - before.left)):
        stretches = _stretches(columns, shift)
        pieces = [part for line in lines for part in parted_between(line, stretches)]
        over = [columns_over(piece, stretches) for piece in pieces]
        if any(len(own) != 1 for own in over) or len({own[0] for own in over}) < len(columns):
            continue
        in_line = sum(_is_in_line(piece.box, columns[own[0]], shift) for piece, own in zip(pieces, over, strict=True))
        if in_line >= IN_LINE * len(pieces):
            return table_of(page, lines, stretches)
    return None


def _stretches(columns: Sequence[Sequence[Box]], shift: float) -> list[tuple[float, float]]:
    """The left and right ends of columns, by where their lines stand; one whose right neighbour begins at one place reaches up to that."""
    out: list[tuple[float, float]] = []
    for own, after in itertools.zip_longest(columns, columns[1:], fillvalue=()):
        starts = [box.x0 for box in after]
        end = max(box.x1 for box in own)
        if starts and max(starts) - min(starts) <= SAME_EDGE:
            end = max(end, min(starts) - 1.0)
        out.append((min(box.x0 for box in own) + shift, end + shift))
    return out


def _is_in_line(box: Box, column: Sequence[Box], shift: float) -> bool:
    return any(box.out_of_line(other, shift) <= SAME_EDGE for other in column)


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
        fits = [n for n, boxes in enumerate(columns) if _is_in_line(piece.box, boxes, shift)]
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
