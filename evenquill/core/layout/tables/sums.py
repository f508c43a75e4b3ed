"""Sums below a table that are a table of their own: labels and numbers that keep to no column of its."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from evenquill.core.evidence import Line
from evenquill.core.layout.tables.pieces import is_number
from evenquill.core.layout.tables.row_features import Row

FEWEST, FEWEST_ABOVE = 2, 2
"""Sums, and rows above them, at least."""

APART = 1.5
"""Distance from the rows above over the greatest between two of them, from which sums stand apart."""

SAME_EDGE = 2.0
"""Points within which pieces begin, or end, at one place."""


def first_sum(rows: Sequence[Row]) -> int:
    """The place of the first of the sums at the end of a table, their number where it has none. Each is a label and a number that keep to
    no column of the rows above: these all begin further left, and no label begins or ends where their pieces do; or they stand apart
    from them, and all numbers are beside theirs."""
    start = len(rows)
    while start and _is_sum(rows[start - 1]):
        start -= 1
    if len(rows) - start < FEWEST or start < FEWEST_ABOVE:
        return len(rows)
    sums, above = rows[start:], rows[:start]
    return start if _are_further_right(sums, above) or _are_apart(sums, above) else len(rows)


def _are_further_right(sums: Sequence[Row], above: Sequence[Row]) -> bool:
    """Whether sums begin further right than the rows above, and their labels in no column of these. A row of one piece may be a line of any
    cell, wherever it begins."""
    left = min(row.pieces[0].box.x0 for row in sums)
    return all(row.pieces[0].box.x1 < left for row in above if len(row.pieces) > 1) and not any(
        _is_in_line(row.pieces[0], above) for row in sums
    )


def _are_apart(sums: Sequence[Row], above: Sequence[Row]) -> bool:
    """Whether sums stand further from the rows above than rows do, and no number below or above another."""
    usual = max(below.top - row.bottom for row, below in itertools.pairwise(above))
    values = [piece.box for row in above for piece in row.pieces[1:]]
    return sums[0].top - above[-1].bottom > max(APART * usual, sums[0].size) and not any(
        row.pieces[1].box.overlap_x(value) > 0 for row in sums for value in values
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
