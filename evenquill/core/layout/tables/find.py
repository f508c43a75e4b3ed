"""Tables that a grid is drawn around."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.layout.tables.edges import connected, edges_of
from evenquill.core.layout.tables.headers import with_header
from evenquill.core.layout.tables.placed import PlacedTable
from evenquill.core.layout.tables.regions import table_of
from evenquill.core.layout.tables.ruled import grid_table

FEW_SHADED = 4
"""Rows of shaded cells that are a table's header, or one row of those that are shaded by turns, rather than a table of their own."""


MORE_ROWS = 1.4
"""Rows that the text in a grid shows over those that are drawn, from which the text is believed."""


def ruled_tables(page: PageEvidence, lines: Sequence[Line]) -> tuple[list[PlacedTable], list[Line]]:
    """Tables that are drawn with rules from top to bottom and from side to side, and the lines that are in none."""
    if not page.rules and not page.boxes:
        return [], list(lines)
    tables: list[PlacedTable] = []
    rest = list(lines)
    for group in sorted(connected(edges_of(page)), key=lambda group: -len(group.level) * len(group.upright)):
        table = grid_table(group, rest)
        if table is not None and (table.rows > FEW_SHADED or _has_rules(page, table)):
            inside = [line for line in rest if table.box.holds_middle(line.box)]
            tables.append(_judged(table, inside, page))
            gone = set(map(id, inside))
            rest = [line for line in rest if id(line) not in gone]
    return tables, rest


def _judged(table: PlacedTable, inside: Sequence[Line], page: PageEvidence) -> PlacedTable:
    """A grid with its header, or what its text shows to be in it: where far more rows stand in it than are drawn, only its outline, its
    header or its columns are."""
    shown = table_of(page, inside)
    if shown is not None and shown.rows > MORE_ROWS * table.rows + 1 and shown.columns >= table.columns:
        return shown._replace(box=table.box, ruled=True)
    return with_header(table, page)


def _has_rules(page: PageEvidence, table: PlacedTable) -> bool:
    """Whether anything but the sides of boxes is drawn in a table."""
    return any(table.box.holds_middle(rule.box) for rule in page.rules)
