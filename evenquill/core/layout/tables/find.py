"""Tables that a grid is drawn around."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

from evenquill.core.evidence import Line, PageEvidence, Rule
from evenquill.core.layout.tables.edges import TOUCH, Edge, Edges, connected, edges_of
from evenquill.core.layout.tables.headers import with_header
from evenquill.core.layout.tables.placed import PlacedTable
from evenquill.core.layout.tables.regions import table_of, tables_in_column
from evenquill.core.layout.tables.ruled import grid_table
from evenquill.core.model import Box

FEW_SHADED = 4
"""Rows of shaded cells that are a table's header, or one row of those that are shaded by turns, rather than a table of their own."""


SAME_ENDS = 4.0
"""Points by which the ends of rules above and below a table may differ."""

MORE_ROWS = 1.4
"""Rows that the text in a grid shows over those that are drawn, from which the text is believed."""

FILLED = 0.75
"""Share of the rows that have a text in a column which is not drawn, at least."""


def ruled_tables(page: PageEvidence, lines: Sequence[Line]) -> tuple[list[PlacedTable], list[Line]]:
    """Tables that are drawn with rules from top to bottom and from side to side, and the lines that are in none."""
    if not page.rules and not page.boxes:
        return [], list(lines)
    tables: list[PlacedTable] = []
    rest = list(lines)
    left_over: list[Edge] = []
    for group in sorted(connected(edges_of(page)), key=lambda group: -len(group.level) * len(group.upright)):
        table = grid_table(group, rest)
        if table is not None and (table.rows > FEW_SHADED or _has_rules(page, table, group)):
            inside = [line for line in rest if table.box.holds_middle(line.box)]
            tables.append(_judged(table, inside, page))
            gone = set(map(id, inside))
            rest = [line for line in rest if id(line) not in gone]
        else:
            left_over += group.level
    for rules in between_rules(left_over):
        narrow, rest = _beside_others(rules, rest, page)
        tables += narrow
    return tables, rest


def _beside_others(
    rules: Sequence[Edge], lines: Sequence[Line], page: PageEvidence
) -> tuple[list[PlacedTable], list[Line]]:
    """Tables between level rules that have text beside them: they are looked for before there are columns, which they could hide."""
    start, end = rules[0].start - TOUCH, rules[0].end + TOUCH
    level = [line for line in lines if not line.angle]
    below = [line for line in level if start < line.box.center_x < end and line.box.center_y > rules[0].at]
    others = [line for line in level if not start < line.box.center_x < end]
    if not others:
        return [], list(lines)
    found = [
        table
        for table in tables_in_column(page, below)[0]
        if table.box.y0 < rules[-1].at and any(line.box.overlap_y(table.box) > 0 for line in others)
    ]
    inside = {id(line) for line in below if any(table.box.holds_middle(line.box) for table in found)}
    return found, [line for line in lines if id(line) not in inside]


def between_rules(edges: Sequence[Edge]) -> Iterator[list[Edge]]:
    """Level rules over each other that begin and end alike; at least two."""
    left = sorted(edges)
    while left:
        first = left.pop(0)
        group = [first, *(edge for edge in left if _same_ends(edge, first))]
        left = [edge for edge in left if edge not in group]
        if len(group) > 1:
            yield group


def _same_ends(edge: Edge, other: Edge) -> bool:
    return abs(edge.start - other.start) <= SAME_ENDS and abs(edge.end - other.end) <= SAME_ENDS


def _judged(table: PlacedTable, inside: Sequence[Line], page: PageEvidence) -> PlacedTable:
    """A grid with its header, or what its text shows to be in it: where far more rows stand in it than are drawn, only its outline, its
    header or its columns are; where more columns do, and fill its rows, only some of these are."""
    shown = table_of(page, inside)
    if shown is None:
        return with_header(table, page)
    more_rows = shown.rows > MORE_ROWS * table.rows + 1 and shown.columns >= table.columns
    more_columns = shown.columns > table.columns and shown.rows == table.rows and _fills_columns(shown)
    if more_rows or more_columns:
        return shown._replace(box=table.box, ruled=True)
    return with_header(table, page)


def _fills_columns(table: PlacedTable) -> bool:
    """Whether most rows of a table have something in each of its columns."""
    filled = Counter(cell.column for cell in table.cells if cell.lines and cell.columns == 1)
    return all(filled[column] >= FILLED * table.rows for column in range(table.columns))


def _has_rules(page: PageEvidence, table: PlacedTable, edges: Edges) -> bool:
    """Whether some of a table's edges within it are drawn: as rules, or as lines around cells. Its own sides are not, nor are those of
    shaded cells, nor rules in a cell."""
    inner = Box(*(side + inset for side, inset in zip(table.box, (TOUCH, TOUCH, -TOUCH, -TOUCH), strict=True)))
    rules = (rule.box for rule in page.rules if _is_edge(rule, edges))
    cells = (box for box in page.outlines if not box.holds(inner))
    return any(inner.holds_middle(drawn) for drawn in (*rules, *cells))


def _is_edge(rule: Rule, edges: Edges) -> bool:
    """Whether a rule is a part of some edge."""
    if rule.horizontal:
        at, start, end = rule.box.center_y, rule.box.x0, rule.box.x1
    else:
        at, start, end = rule.box.center_x, rule.box.y0, rule.box.y1
    own = edges.level if rule.horizontal else edges.upright
    return any(abs(edge.at - at) <= TOUCH and edge.start <= (start + end) / 2 <= edge.end for edge in own)
