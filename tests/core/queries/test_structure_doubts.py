"""Queries from what the models of structure are not sure of, and what becomes of them when rows change."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits import JoinBlocks, SetKind, SplitBlock, apply
from evenquill.core.model import Box, Document, Role, Settled, Spot, StructureDoubt, TextBlock, WordSpot
from evenquill.core.model.inline import from_text
from evenquill.core.queries import find_queries
from tests.core.blocks import three_rows_and_a_picture

KINDS = {"other kind", "two rows", "carries on"}


def row(name: str, text: str, *doubts: StructureDoubt, role: Role = Role.PARAGRAPH) -> TextBlock:
    words, start = [], 0
    for n, word in enumerate(text.split(" ")):
        words.append(WordSpot(start, start + len(word), 1, Box(20.0 * n, 10.0, 20.0 * n + 18, 20.0)))
        start += len(word) + 1
    return TextBlock(
        name, role, from_text(text), "body", words=tuple(words), spots=(Spot(1, Box(0, 10, 400, 20)),), doubts=doubts
    )


def asked(document: Document):
    return [query for query in find_queries(document) if query.kind in KINDS]


def document_of(*blocks: TextBlock) -> Document:
    base = three_rows_and_a_picture()
    return replace(base, blocks=tuple(replace(block, style=base.styles[0].id) for block in blocks))


def test_a_row_that_may_be_a_heading_can_be_made_one():
    document = document_of(row("b1", "Of the gauges", StructureDoubt(0.4, Role.HEADING, 1)))
    (query,) = asked(document)
    assert (query.kind, query.likelihood) == ("other kind", 0.4)
    assert query.fixes[0].operation == SetKind("b1", Role.HEADING, 1)
    after = apply(document, query.fixes[0].operation).document
    assert after.blocks[0].role is Role.HEADING
    assert asked(after) == []


def test_a_row_that_may_be_two_can_be_parted_there():
    place = Box(40.0, 10.0, 58.0, 20.0)
    document = document_of(row("b1", "Gauge read. Tide noted.", StructureDoubt(0.3, box=place, page=1)))
    (query,) = asked(document)
    assert query.fixes[0].operation == SplitBlock("b1", len("Gauge read. "))
    after = apply(document, query.fixes[0].operation).document
    assert [block.text for block in after.blocks] == ["Gauge read.", "Tide noted."]
    assert asked(after) == []


def test_a_row_that_may_carry_on_the_one_before_can_be_joined():
    document = document_of(row("b1", "The gauge was"), row("b2", "read at noon.", StructureDoubt(0.35)))
    (query,) = asked(document)
    assert query.fixes[0].operation == JoinBlocks("b1", "b2")
    after = apply(document, query.fixes[0].operation).document
    assert [block.text for block in after.blocks] == ["The gauge was read at noon."]
    assert asked(after) == []


def test_a_row_set_aside_or_changed_is_not_asked_about():
    doubt = StructureDoubt(0.4, Role.HEADING, 1)
    heading = row("b1", "Of the gauges", doubt, role=Role.HEADING)
    first = row("b2", "read at noon.", StructureDoubt(0.35))
    assert asked(document_of(heading)) == []
    assert asked(document_of(first)) == []


def test_sure_pages_ask_little(typeset, rebuilt):
    text = "The float was found hard against the guide wire, and the trace for the two days is lost. It was hung again before noon."
    document = rebuilt(typeset("\n\n".join(f"= Of gauge {n}\n{text}\n\n{text}" for n in (1, 2, 3))))
    assert len(asked(document)) <= 2


def test_a_page_of_nothing_but_doubts_is_one_query_until_it_is_asked_row_by_row():
    rows = [row(f"b{n}", f"Row {n}", StructureDoubt(0.4, Role.HEADING, 1)) for n in range(12)]
    plain = [row(f"p{n}", f"Plain row {n}") for n in range(20)]
    document = document_of(*rows, *plain)
    (query,) = find_queries(document)
    assert (query.kind, query.page) == ("page rows", 1)
    assert query.reason.startswith("12 of its 32 rows")
    kept = replace(document, settled=Settled(kept=(query.key,)))
    assert len(find_queries(kept)) == 12
    many = [row(f"q{n}", f"Plain row {n}") for n in range(60)]
    assert len(find_queries(document_of(*rows, *many))) == 12
