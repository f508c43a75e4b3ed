"""Doubts about how the text is put together, each with its fix."""

from __future__ import annotations

import pytest

from evenquill.core.edits import apply
from evenquill.core.model import (
    Box,
    Document,
    NoteRef,
    NumberFormat,
    Numbering,
    PageGeometry,
    ParagraphStyle,
    Role,
    Spot,
    Text,
    TextBlock,
)
from evenquill.core.queries import find_queries
from evenquill.core.queries.kinds import structure

PAGE = PageGeometry(595, 842, Box(50, 50, 545, 792))
LONG = "The float was found hard against the guide wire and the whole of the"


def row(id: str, text: str, role: Role = Role.PARAGRAPH, page: int = 1, y: float = 100, **more) -> TextBlock:
    return TextBlock(id, role, (Text(text),), "Body text", spots=(Spot(page, Box(50, y, 300, y + 12)),), **more)


def doubted(*blocks: TextBlock):
    document = Document("Report", "en", (ParagraphStyle("Body text"),), blocks, (PAGE, PAGE))
    names = {kind.name for kind in structure.KINDS}
    return document, [query for query in find_queries(document) if query.kind in names]


ITEM = Numbering(NumberFormat.DECIMAL, "%.", 1)


@pytest.mark.parametrize(
    ("blocks", "kind"),
    [
        ((row("a", LONG), row("b", "trace is lost.", page=2)), structure.CONTINUES),
        ((row("a", "One", Role.HEADING, level=1), row("b", "Two", Role.HEADING, y=200, level=3)), structure.LEVEL),
        (
            (row("a", "Text."), row("b", "Alone.", Role.LIST_ITEM, y=200, numbering=ITEM), row("c", "More.", y=300)),
            structure.LONE_ITEM,
        ),
        ((row("a", "Text."), row("n", "A note.", Role.NOTE, y=700)), structure.NOTE),
        ((row("a", "Text."), row("b", "Gauges of Skerrin 2", page=2, y=20)), structure.STAYED),
        ((row("a", "Below.", y=300), row("b", "Above.", y=100)), structure.ORDER),
    ],
)
def test_each_kind_is_found_and_gone_when_its_fix_is_taken(blocks, kind):
    document, (query,) = doubted(*blocks)
    assert query.kind == kind.name
    after = apply(document, query.fixes[0].operation).document
    assert [one for one in find_queries(after) if one.kind == kind.name] == []


@pytest.mark.parametrize(
    "blocks",
    [
        (row("a", LONG + " trace is lost."), row("b", "The well was dry.", page=2)),
        (row("a", LONG), row("b", "Trace of two days", page=2)),
        (row("a", LONG), row("b", "trace is lost.", y=200)),
        (row("a", "One", Role.HEADING, level=1), row("b", "Two", Role.HEADING, y=200, level=2)),
        (
            row("a", "One.", Role.LIST_ITEM, numbering=ITEM),
            row("b", "Two.", Role.LIST_ITEM, y=200, numbering=Numbering(NumberFormat.DECIMAL, "%.")),
        ),
        (
            TextBlock(
                "a",
                content=(Text("Text."), NoteRef("n", "1")),
                style="Body text",
                spots=(Spot(1, Box(50, 100, 300, 112)),),
            ),
            row("n", "A note.", Role.NOTE, y=700),
        ),
        (row("a", "Above.", y=100), row("b", "Below.", y=300)),
    ],
)
def test_sound_structure_is_not_asked_about(blocks):
    assert doubted(*blocks)[1] == []
