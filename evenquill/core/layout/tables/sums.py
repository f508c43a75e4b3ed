"""Sums below a table that are a table of their own: labels and numbers that keep to no column of its."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.evidence import Line
from evenquill.core.layout.tables.pieces import is_number
from evenquill.core.layout.tables.row_features import Row

FEWEST, FEWEST_ABOVE = 2, 2
"""Sums, and rows above them, at least."""

SAME_EDGE = 2.0
"""Points within which pieces begin, or end, at one place."""


def first_sum(rows: Sequence[Row]) -> int:
    """The place of the first of the sums at the end of a table, their number where it has none. Each is a label and a number; all rows
    above begin further left, and no label begins or ends where the pieces above it do."""
    start = len(rows)
    while start and _is_sum(rows[start - 1]):
        start -= 1
    sums, above = rows[start:], rows[:start]
    if len(sums) < FEWEST or len(above) < FEWEST_ABOVE:
        return len(rows)
    left = min(row.pieces[0].box.x0 for row in sums)
    begins_before = sum(row.pieces[0].box.x1 < left for row in above)
    return (
        start
        if begins_before == len(above) and not any(_is_in_line(row.pieces[0], above) for row in sums)
        else len(rows)
    )


def _is_sum(row: Row) -> bool:
    return len(row.pieces) == 2 and not is_number(row.pieces[0].text) and is_number(row.pieces[1].text)


def _is_in_line(label: Line, rows: Sequence[Row]) -> bool:
    """Whether a label begins or ends where most pieces above it do."""
    over = [piece for row in rows for piece in row.pieces if piece.box.overlap_x(label.box) > 0]
    same = sum(
        abs(piece.box.x0 - label.box.x0) <= SAME_EDGE or abs(piece.box.x1 - label.box.x1) <= SAME_EDGE for piece in over
    )
    return 2 * same > len(over)
