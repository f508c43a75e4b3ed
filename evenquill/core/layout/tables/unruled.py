"""Tables that nothing but the places of their pieces show."""

from __future__ import annotations

import itertools
import statistics
from collections.abc import Iterator, Sequence

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.layout.rows import rows_of
from evenquill.core.layout.tables.aligned import TIGHT, aligned_table, column_stretches
from evenquill.core.layout.tables.likeness import (
    are_columns,
    ends_with_pages,
    has_leader,
    in_columns,
    in_line,
    is_numeric,
)
from evenquill.core.layout.tables.pieces import in_pieces
from evenquill.core.layout.tables.placed import PlacedTable
from evenquill.core.model import Box, union

FEWEST_ROWS, FEWEST_COLUMNS = 3, 3
"""In a table that no rules show; one of two columns must have numbers."""

USED = 0.4
"""Share of the rows that have something in a column, to count it."""

ROW_GAP = 2.7
"""Ems between the baselines of two rows, at most."""

SAME_SIZE = 0.08
"""Share by which the sizes of letters in one table may differ."""

INDENT, WIDE = 2.0, 0.55
"""Ems from the left side within which a line of text begins, and the share of the width that it takes, at least."""

HALF_ROW = 0.9
"""Ems between baselines from which they are different rows: where cells are centred, lines of one row stand at half distances."""

STEADY = 1.15
"""Distance of a row from its neighbours over the usual one, at most."""

LABELS = 0.5
"""Share of first pieces that end with a colon: pairs of label and value are no table."""

SPACE = 0.3
"""Ems between what stands in a column and the next one, at least."""

Row = Sequence[Line]


def unruled_tables(
    page: PageEvidence, lines: Sequence[Line], *, typewritten: bool
) -> tuple[list[PlacedTable], list[Line]]:
    """Tables in a column of a page, and the lines that are in none."""
    tables: list[PlacedTable] = []
    rest = list(lines)
    rows = rows_of([line for line in lines if not line.angle])
    if sum(map(_has_pieces, rows)) < FEWEST_ROWS:
        return [], rest
    among_contents = sum(map(has_leader, rows)) >= FEWEST_ROWS
    for region in _regions(rows, union(line.box for row in rows for line in row)):
        if among_contents and ends_with_pages([row for row in region if len(row) > 1]):
            continue
        table = _table_of(region, page, typewritten=typewritten)
        if table is not None:
            tables.append(table)
            inside = {id(line) for row in region for line in row}
            rest = [line for line in rest if id(line) not in inside]
    return tables, rest


def rows_close_below(rows: Sequence[Row], lower: Sequence[Line], area: Box) -> list[Row]:
    """Of the pieces below some rows of a table those in rows that go on with it: close under each other, as large, and within the sides
    of its ``area``."""
    group: list[Row] = []
    before = rows[-1]
    for row in rows_of(lower):
        if not _are_close(before, row) or abs(row[0].size - rows[-1][0].size) > SAME_SIZE * row[0].size:
            break
        group.append(row)
        before = row
    region = next(_regions(group, area), [])
    return region if region and region[0] is group[0] else []


def _regions(rows: Sequence[Row], area: Box) -> Iterator[list[Row]]:
    """Runs of rows close under each other, those of several pieces with the single ones that belong to their cells."""
    group: list[Row] = []
    for row in [*rows, None]:
        ends = row is None or is_text(row, area) or has_leader(row)
        if group and (ends or row is None or not _are_close(group[-1], row)):
            yield from _of_cells(group)
            group = []
        if row is not None and not ends:
            group.append(row)


def is_text(row: Row, area: Box) -> bool:
    """Whether a row is a line of text between the sides of an area: one piece that begins at the left and takes most of the way."""
    line = row[0]
    return (
        len(row) == 1
        and len(in_pieces(line)) == 1
        and line.box.x0 < area.x0 + INDENT * line.size
        and line.box.width > WIDE * area.width
    )


def _are_close(above: Row, below: Row) -> bool:
    return below[0].baseline - above[0].baseline <= ROW_GAP * below[0].size


def _has_pieces(row: Row) -> bool:
    return len(row) > 1 and not has_leader(row)


def _of_cells(group: Sequence[Row]) -> Iterator[list[Row]]:
    """The parts of a run that single pieces of no cell divide it into; only those that have several pieces in some row."""
    several = [[piece for line in row for piece in in_pieces(line)] for row in group if len(row) > 1]
    if not several:
        return
    stretches = column_stretches(several)
    baselines = [row[0].baseline for row in several]
    usual = statistics.median(itertools.starmap(_distance, itertools.pairwise(baselines))) if len(several) > 1 else 0.0
    part: list[Row] = []
    for n, row in enumerate(group):
        if len(row) > 1 or _is_of_cell(group, n, stretches, usual) or _is_of_cells(row[0], stretches):
            part.append(row)
        else:
            yield from (part,) if any(len(one) > 1 for one in part) else ()
            part = []
    if any(len(one) > 1 for one in part):
        yield part


def _is_of_cells(line: Line, stretches: Sequence[tuple[float, float]]) -> bool:
    """Whether a line is cells close to each other: each of its pieces begins in a column of its own and ends before the next."""
    pieces = in_pieces(line)
    columns = [_column_of(piece, stretches) for piece in pieces]
    return len(pieces) > 1 and -1 not in columns and len(set(columns)) == len(columns)


def _column_of(piece: Line, stretches: Sequence[tuple[float, float]]) -> int:
    """The column that a piece stands in: the only one that it lies over, or the nearest; -1 where it lies over several or before all."""
    space = SPACE * piece.size
    over = [n for n, (x0, x1) in enumerate(stretches) if x0 - space < piece.box.x1 and piece.box.x0 < x1 + space]
    if over:
        return over[0] if len(over) == 1 else -1
    return max((n for n, (x0, _) in enumerate(stretches) if x0 <= piece.box.x0), default=-1)


def _distance(above: float, below: float) -> float:
    return below - above


def _is_of_cell(group: Sequence[Row], place: int, stretches: Sequence[tuple[float, float]], usual: float) -> bool:
    """Whether a single piece stands in a column and, if that is the first one, where a row or a line of a cell may stand."""
    line = group[place][0]
    column = _column_of(line, stretches)
    if column < 0:
        return False
    above = line.baseline - group[place - 1][0].baseline if place else None
    below = group[place + 1][0].baseline - line.baseline if place + 1 < len(group) else None
    near = [distance for distance in (above, below) if distance is not None]
    if min(near, default=0.0) < HALF_ROW * line.size:
        return True
    if column:
        return min(near) <= TIGHT * line.size or max(near) <= STEADY * usual
    steady = above is not None and below is not None and max(near) <= STEADY * usual
    return steady and len(group[place + 1]) > 1


def _table_of(region: Sequence[Row], page: PageEvidence, *, typewritten: bool) -> PlacedTable | None:
    """Rows as a table, if they are one by the looks of it: several columns that keep their edges, short pieces, no pairs of label and
    value, no contents list, no code."""
    several = [row for row in region if len(row) > 1]
    rows = [[piece for line in row for piece in in_pieces(line)] for row in region]
    stretches = column_stretches(rows)
    if len(several) < FEWEST_ROWS or len(stretches) < 2:
        return None
    if not are_columns(rows, stretches, page, typewritten=typewritten):
        return None
    columns = in_columns(rows, stretches)
    numeric = [is_numeric(own) for own in columns]
    used = sum(len(own) >= USED * len(several) for own in columns)
    if used < FEWEST_COLUMNS and not (numeric[1] and not numeric[0] and in_line(columns[1])):
        return None
    if sum(row[0].text.endswith(":") for row in several) > LABELS * len(several):
        return None
    if not any(numeric) and len(several) < FEWEST_ROWS + 1:
        return None
    return aligned_table([line for row in rows for line in row])
