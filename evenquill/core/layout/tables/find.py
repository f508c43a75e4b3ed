"""Which tables a page has: by their rules first, then, in each column of the page, by what stands in line."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.layout.tables.bounded import between_rules, bounded_tables
from evenquill.core.layout.tables.edges import Edge, connected, edges_of
from evenquill.core.layout.tables.headers import with_header
from evenquill.core.layout.tables.placed import PlacedTable
from evenquill.core.layout.tables.ruled import grid_table
from evenquill.core.layout.tables.unruled import unruled_tables

FEW_SHADED = 4
"""Rows of shaded cells that are a table's header, or one row of those that are shaded by turns, rather than a table of their own."""


def ruled_tables(
    page: PageEvidence, lines: Sequence[Line], *, typewritten: bool = False
) -> tuple[list[PlacedTable], list[Line]]:
    """Tables that are drawn with rules, and the lines that are in none. In a ``typewritten`` document a fixed width tells nothing."""
    if not page.rules and not page.boxes:
        return [], list(lines)
    tables: list[PlacedTable] = []
    rest = list(lines)
    left_over: list[Edge] = []
    for group in sorted(connected(edges_of(page)), key=lambda group: -len(group.level) * len(group.upright)):
        table = grid_table(group, rest)
        if table is None or (table.rows <= FEW_SHADED and not _has_rules(page, table)):
            left_over += group.level
        else:
            tables.append(with_header(table, page))
            rest = _without(rest, table)
    for rules in between_rules(left_over):
        for table, taken in bounded_tables(rules, rest, page, typewritten=typewritten):
            tables.append(with_header(table, page))
            inside = set(map(id, taken))
            rest = [line for line in rest if id(line) not in inside]
    return tables, rest


def _has_rules(page: PageEvidence, table: PlacedTable) -> bool:
    """Whether anything but the sides of boxes is drawn in a table."""
    return any(table.box.holds_middle(rule.box) for rule in page.rules)


def _without(lines: Sequence[Line], table: PlacedTable) -> list[Line]:
    """The lines that do not stand in a table."""
    return [line for line in lines if not table.box.holds_middle(line.box)]


def aligned_tables(
    page: PageEvidence, lines: Sequence[Line], *, typewritten: bool = False
) -> tuple[list[PlacedTable], list[Line]]:
    """Tables in a column of a page that nothing but the places of their pieces show, and the lines that are in none."""
    tables, rest = unruled_tables(page, lines, typewritten=typewritten)
    return [with_header(table, page) for table in tables], rest
