"""Doubts about the shape of tables, each with its fix."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits import apply
from evenquill.core.model import Box, Document, Role, Spot, TableBlock
from evenquill.core.queries import find_queries
from tests.core.blocks import block, table

KINDS = {"cut table", "empty lines", "merged column"}


def on(page: int, made: TableBlock) -> TableBlock:
    return replace(made, spots=(Spot(page, Box(10, 10, 200, 90)),))


def asked(document: Document) -> list[tuple[str, str]]:
    return [(query.kind, query.block) for query in find_queries(document, of_kinds=KINDS)]


def fixed(document: Document) -> TableBlock:
    (query,) = find_queries(document, of_kinds=KINDS)
    after = apply(document, query.fixes[0].operation).document
    assert asked(after) == []
    made = after.blocks[0]
    assert isinstance(made, TableBlock)
    return made


def test_a_table_that_goes_on_over_the_page_is_asked_about_and_joined():
    first, second = on(1, table("t", [["North pier", "2.31"]])), on(2, table("u", [["Sill", "3.05"]]))
    assert len(fixed(Document(blocks=(first, block("n", "A note", role=Role.NOTE), second))).row_ids) == 2
    # Text between them, other columns, or the same page: two tables.
    assert asked(Document(blocks=(first, block("a", "Between"), second))) == []
    assert asked(Document(blocks=(first, replace(second, widths=(100.0, 20.0))))) == []
    assert asked(Document(blocks=(first, on(1, second)))) == []
    assert asked(Document(blocks=(first, on(2, table("u", [["a", "b", "c"]]))))) == []


def test_empty_rows_are_asked_about_and_taken_out():
    assert len(fixed(Document(blocks=(table("t", [["a", "b"], ["", " "], ["c", "d"]]),))).row_ids) == 2
    assert asked(Document(blocks=(table("t", [["a", ""], ["", "d"]]),))) == []


def test_a_column_of_two_numbers_is_asked_about_and_parted():
    rows = [["Gauge", "May June"], *([f"Gauge {n}", f"2.{n}1 3.{n}4"] for n in range(5))]
    assert len(fixed(Document(blocks=(replace(table("t", rows), header_rows=1),))).widths) == 3
    few = [["a", "1 2"], ["b", "3 4"], ["c", "5 6"]]
    assert asked(Document(blocks=(table("t", few),))) == []
