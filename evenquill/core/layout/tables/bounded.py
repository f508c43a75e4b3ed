"""Tables between level rules, or in shaded rows, without lines between their columns."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.layout.rows import rows_of
from evenquill.core.layout.tables.aligned import aligned_table, column_stretches
from evenquill.core.layout.tables.edges import TOUCH, Edge
from evenquill.core.layout.tables.likeness import are_columns, is_code
from evenquill.core.layout.tables.pieces import in_pieces
from evenquill.core.layout.tables.placed import PlacedTable
from evenquill.core.layout.tables.unruled import is_text, rows_close_below
from evenquill.core.model import Box

SAME_ENDS = 4.0
"""Points by which the ends of rules above and below a table may differ."""

UNBROKEN = 0.95
"""Ems: spaces of justified text are narrower, gaps between cells seldom."""

FEWEST_ALONE = 2
"""Lines of one piece each between two rules that are no cells, at least; one may be a heading within a table."""

FILLED = 0.5
"""Share of the grid that has text, at least."""

FEWEST_RULED, MOSTLY = 3, 0.8
"""Stretches between rules, and their share that must be one row, to take each for a row."""


def bounded_tables(
    rules: Sequence[Edge], lines: Sequence[Line], page: PageEvidence, *, typewritten: bool
) -> Iterator[tuple[PlacedTable, list[Line]]]:
    """The tables that level rules over each other bound, each with the rows below its last rule where it goes on there, and with the
    lines that are in it."""
    level = [line for line in lines if not line.angle]
    for run in _runs(rules, level):
        table, taken = _bounded_table(run, level, page, typewritten=typewritten)
        if table is not None:
            gone = set(map(id, taken))
            level = [line for line in level if id(line) not in gone]
            yield table, taken


def _runs(rules: Sequence[Edge], lines: Sequence[Line]) -> list[list[Edge]]:
    """The rules, parted where there is text between two of them."""
    runs = [[rules[0]]]
    for above, below in itertools.pairwise(rules):
        if _is_text(above, below, lines):
            runs.append([])
        runs[-1].append(below)
    return runs


def _is_text(above: Edge, below: Edge, lines: Sequence[Line]) -> bool:
    """Whether there is text between two rules and nothing of a table: a line without gaps that begins at their left end and takes most
    of the way, or several such lines and nothing else."""
    area = Box(above.start, above.at, above.end, below.at)
    between = [line for line in lines if area.holds_middle(line.box)]
    alone = sum(_widest_gap(line) < UNBROKEN for line in between) == len(between) == len(rows_of(between))
    return (alone and len(between) >= FEWEST_ALONE) or any(is_text([line], area) for line in between)


def _widest_gap(line: Line) -> float:
    """The widest space within a line, in ems."""
    return max((after.x0 - before.x1 for before, after in itertools.pairwise(line.words)), default=0.0) / line.size


def _bounded_table(
    rules: Sequence[Edge], lines: Sequence[Line], page: PageEvidence, *, typewritten: bool
) -> tuple[PlacedTable | None, list[Line]]:
    box = Box(rules[0].start - TOUCH, rules[0].at, rules[0].end + TOUCH, rules[-1].at)
    whole = [line for line in lines if box.holds_middle(line.box)]
    if len(rules) < 2 or not whole:
        return None, []
    inside = [piece for line in whole for piece in in_pieces(line)]
    lower = [line for line in lines if line.box.center_y > box.y1 and box.x0 <= line.box.center_x <= box.x1]
    pieces = [(piece, line) for line in lower for piece in in_pieces(line)]
    line_of = {id(piece): line for piece, line in pieces}
    below = rows_close_below(rows_of(inside), [piece for piece, _ in pieces], box)
    bands = [rule.at for rule in rules]
    for more in (below, []) if below else ([],):
        table = _table(inside, more, bands, page, typewritten=typewritten)
        if table is not None:
            end = max(piece.box.y1 for row in more for piece in row) if more else box.y1
            area = Box(min(box.x0, table.box.x0), box.y0, max(box.x1, table.box.x1), end)
            return table._replace(box=area), [*whole, *(line_of[id(piece)] for row in more for piece in row)]
    return None, []


def _table(
    inside: Sequence[Line],
    below: Sequence[Sequence[Line]],
    bands: Sequence[float],
    page: PageEvidence,
    *,
    typewritten: bool,
) -> PlacedTable | None:
    pieces = [*inside, *(piece for row in below for piece in row)]
    rows = rows_of(pieces)
    stretches = column_stretches(rows)
    each = (
        not below
        and len(stretches) > 1
        and _has_rules_between_rows(inside, bands)
        and not is_code(rows, page, typewritten=typewritten)
    )
    if not (each or are_columns(rows, stretches, page, typewritten=typewritten)):
        return None
    table = aligned_table(pieces, bands[1:] if below else bands[1:-1], ruled=each)
    if table is None or table.rows < 2:
        return None
    filled = sum(cell.columns for cell in table.cells if cell.lines)
    return table if filled >= FILLED * table.rows * table.columns else None


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
