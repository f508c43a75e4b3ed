"""Tables between level rules, or in shaded rows, without lines between their columns."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence

from evenquill.core.layout.tables.aligned import aligned_table, column_stretches
from evenquill.core.layout.tables.columns_in_line import is_prose, runs_across
from evenquill.core.layout.tables.edges import TOUCH, Edge
from evenquill.core.layout.tables.pieces import in_pieces, rows_of
from evenquill.core.layout.tables.placed import PlacedTable
from evenquill.core.layout.tables.unruled import rows_close_below
from evenquill.core.model import Box
from evenquill.core.reading.evidence import Line

SAME_ENDS = 4.0
"""Points by which the ends of rules above and below a table may differ."""

FEWEST_RULED, MOSTLY = 3, 0.8
"""Stretches between rules, and their share that must be one row, to take each for a row."""


def bounded_table(rules: Sequence[Edge], lines: Sequence[Line]) -> PlacedTable | None:
    """The table that level rules bound, with the rows below the last of them where they go on; None where there is none."""
    box = Box(rules[0].start - TOUCH, rules[0].at, rules[0].end + TOUCH, rules[-1].at)
    level = [piece for line in lines if not line.angle for piece in in_pieces(line)]
    inside = [piece for piece in level if box.holds_middle(piece.box)]
    if not inside:
        return None
    rows = rows_of(inside)
    below = rows_close_below(rows, [piece for piece in level if piece.box.center_y > box.y1])
    bands = [rule.at for rule in rules]
    for more in (below, []) if below else ([],):
        table = _table(inside, more, bands)
        if table is not None:
            end = max(piece.box.y1 for row in more for piece in row) if more else box.y1
            return table._replace(box=Box(min(box.x0, table.box.x0), box.y0, max(box.x1, table.box.x1), end))
    return None


def _table(inside: Sequence[Line], below: Sequence[Sequence[Line]], bands: Sequence[float]) -> PlacedTable | None:
    pieces = [*inside, *(piece for row in below for piece in row)]
    rows = rows_of(pieces)
    stretches = column_stretches(rows)
    if len(stretches) < 2:
        return None
    each = not below and _has_rules_between_rows(inside, bands)
    if not each and (runs_across(rows, stretches) or is_prose(rows, stretches)):
        return None
    table = aligned_table(pieces, bands[1:] if below else bands[1:-1], ruled=each)
    return table if table is not None and table.rows > 1 else None


def between_rules(edges: Sequence[Edge]) -> Iterator[list[Edge]]:
    """Level rules over each other that begin and end alike, with shorter ones that lie between them; at least two."""
    left = sorted(edges)
    while left:
        first = left.pop(0)
        group = [first, *(edge for edge in left if _same_ends(edge, first))]
        if len(group) < 2:
            continue
        within = [edge for edge in left if group[0].at < edge.at < group[-1].at and _lies_under(edge, first)]
        left = [edge for edge in left if edge not in group and edge not in within]
        yield group


def _same_ends(edge: Edge, other: Edge) -> bool:
    return abs(edge.start - other.start) <= SAME_ENDS and abs(edge.end - other.end) <= SAME_ENDS


def _lies_under(edge: Edge, other: Edge) -> bool:
    return other.start - TOUCH <= edge.start and edge.end <= other.end + TOUCH


def _has_rules_between_rows(pieces: Sequence[Line], bands: Sequence[float]) -> bool:
    """Whether rules part row from row: between most of them there is a column with a single piece, and another one."""
    filled = [
        inside
        for above, below in itertools.pairwise(bands)
        if (inside := [piece for piece in pieces if above < piece.box.center_y < below])
    ]
    single = 0
    for inside in filled:
        stretches = column_stretches(rows_of(inside))
        counts = [sum(x0 - 1 < piece.box.center_x < x1 + 1 for piece in inside) for x0, x1 in stretches]
        single += len(counts) > 1 and min(counts) == 1
    return len(filled) >= FEWEST_RULED and single >= MOSTLY * len(filled)
