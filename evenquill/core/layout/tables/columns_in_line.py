"""What columns of pieces are like: prose, numbers, in line."""

from __future__ import annotations

import statistics
from collections.abc import Sequence

from evenquill.core.layout.tables.pieces import is_number
from evenquill.core.reading.evidence import Line

LONG = 45
"""Characters; pieces as long are prose."""

ACROSS = 0.3
"""Share of rows that may have a piece over several columns."""

NUMBERS = 0.75
"""Share of a column's cells that are numbers, to call it a column of them."""

IN_LINE, SAME_EDGE = 0.6, 1.5
"""Share of a column's pieces that share their left or right edge or their middle, and points within which they do."""


def in_columns(rows: Sequence[Sequence[Line]], stretches: Sequence[tuple[float, float]]) -> list[list[Line]]:
    """The pieces of each column; those that span several are in none."""
    return [
        [line for row in rows for line in row if x0 - 1 < line.box.x0 and line.box.x1 < x1 + 1] for x0, x1 in stretches
    ]


def runs_across(rows: Sequence[Sequence[Line]], stretches: Sequence[tuple[float, float]]) -> bool:
    """Whether many rows have a piece that lies over several columns, as those of text around a table do."""
    across = [
        row
        for row in rows
        if any(sum(x0 < line.box.x1 and line.box.x0 < x1 for x0, x1 in stretches) > 1 for line in row)
    ]
    return len(across) > max(ACROSS * len(rows), 1)


def is_prose(rows: Sequence[Sequence[Line]], stretches: Sequence[tuple[float, float]]) -> bool:
    """Whether most columns are of pieces as long as lines of text."""
    lengths = [statistics.median(len(line.text) for line in own) for own in in_columns(rows, stretches) if own]
    return sum(length >= LONG for length in lengths) > 0.5 * len(lengths)


def is_numeric(pieces: Sequence[Line]) -> bool:
    """Whether most of a column, without what names it, is numbers."""
    body = pieces[1:] if len(pieces) > 3 else pieces
    return bool(body) and sum(is_number(line.text) for line in body) >= NUMBERS * len(body)


def in_line(pieces: Sequence[Line]) -> bool:
    """Whether most pieces of a column keep one edge, or one middle."""
    if len(pieces) < 2:
        return True
    return any(
        _most_alike(values) >= IN_LINE * len(values)
        for values in (
            [line.box.x0 for line in pieces],
            [line.box.x1 for line in pieces],
            [line.box.center_x for line in pieces],
        )
    )


def _most_alike(values: Sequence[float]) -> int:
    return max(sum(abs(value - other) < SAME_EDGE for other in values) for value in values)
