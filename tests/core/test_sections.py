"""Sections of a document and its styles: worked out from the source once, then the document's own."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from evenquill.core.edits import (
    InsertParagraph,
    MoveBlock,
    MoveHeading,
    OneFlow,
    RowsToTable,
    SetKind,
    SplitBlock,
    TableToRows,
    apply,
    undo,
)
from evenquill.core.model import (
    Align,
    Box,
    Document,
    PageGeometry,
    ParagraphStyle,
    Role,
    Section,
    Spot,
    Tab,
    Text,
    TextBlock,
)
from evenquill.core.model.ids import Ids
from evenquill.core.model.sections import PartStart, in_sections, page_setups
from evenquill.core.model.styles import ResolvedStyle, resolved_styles, style_of
from evenquill.core.rebase import keep_ids, rebase_corrections
from evenquill.core.resolve import resolve

A4 = PageGeometry(595, 842, Box(72, 72, 523, 770))
LANDSCAPE = PageGeometry(842, 595, Box(72, 72, 770, 523))


def row(name: str, page: int, text: str = "", y: int = 72, **more) -> TextBlock:
    place = Box(72, y, 500, y + 12)
    return TextBlock(
        name, content=(Text(text or f"Row {name}."),), style="Body text", spots=(Spot(page, place),), **more
    )


@pytest.fixture
def document() -> Document:
    """Two pages upright, one across, one upright with columns."""
    blocks = [
        row("a", 1),
        row("b", 1, y=90),
        row("c", 2),
        row("d", 3),
        row("e", 3, y=90),
        row("f", 4),
        row("g", 4, y=90),
    ]
    pages = (A4, A4, LANDSCAPE, A4)
    placed, sections = in_sections(blocks, pages, (), {"g": 2})
    return Document(styles=(ParagraphStyle("Body text"),), blocks=tuple(placed), pages=pages, sections=sections)


def laid_out(document: Document) -> list[str]:
    """The rows of each section as it is written."""
    return ["".join(block.id for block in section.blocks) for section in resolve(document).sections]


def test_pages_of_one_size_are_a_section_and_columns_one_of_their_own(document):
    assert laid_out(document) == ["abc", "de", "f", "g"]
    widths = [section.setup.width for section in document.sections]
    assert widths == [595, 842, 595, 595]
    assert [section.columns for section in document.sections] == [1, 1, 1, 2]
    assert document.sections[0].setup == page_setups(document.pages)[0]


def test_rows_without_a_place_go_with_what_is_before_them_and_parts_begin_on_their_pages():
    blocks = [TextBlock("x"), row("a", 1), TextBlock("y"), row("b", 2)]
    placed, sections = in_sections(blocks, (A4, A4), (PartStart(1, "one"), PartStart(2, "two")), {})
    assert [block.section for block in placed] == [sections[0].id] * 3 + [sections[1].id]
    assert [section.running for section in sections] == ["one", "two"]
    assert in_sections([], (), (), {}) == ([], (Section("section0"),))


@pytest.mark.parametrize(
    ("operation", "expected"),
    [
        (MoveBlock("a", before="e"), ["bc", "dae", "f", "g"]),
        (MoveBlock("e", after="a"), ["aebc", "d", "f", "g"]),
        (MoveBlock("e", before="d"), ["abc", "ed", "f", "g"]),
        (MoveBlock("f", before="b"), ["a", "f", "bc", "de", "g"]),
        (InsertParagraph(after="d", text="new"), ["abc", "db1e", "f", "g"]),
        (InsertParagraph(after=None, text="new"), ["b1abc", "de", "f", "g"]),
        (SplitBlock("d", 4), ["abc", "db1e", "f", "g"]),
    ],
)
def test_rows_are_laid_out_as_the_place_they_come_to(document, operation, expected):
    """Not as the page of the source that they came from. What is a section alone stays one when it is moved."""
    edit = apply(document, operation, Ids(1))
    if operation == MoveBlock("f", before="b"):
        # The paper is the same: what stands alone is written as one with its neighbours.
        expected = ["afbc", "de", "g"]
    assert laid_out(edit.document) == expected
    assert undo(edit.document, edit.inverse) == document


def test_a_table_of_rows_is_in_their_section_and_so_are_rows_of_a_table(document):
    tabbed = [replace(block, content=(*block.content, Tab(), Text("3.18"))) for block in document.blocks[3:5]]
    with_tabs = replace(document, blocks=(*document.blocks[:3], *tabbed, *document.blocks[5:]))
    ids = Ids(1)
    tabled = apply(with_tabs, RowsToTable(("d", "e")), ids)
    table = tabled.focus.block
    assert laid_out(tabled.document) == ["abc", table, "f", "g"]
    rows = apply(tabled.document, TableToRows(table), ids).document
    assert [len(section.blocks) for section in resolve(rows).sections] == [3, 2, 1, 1]


def test_a_page_across_stays_across_when_it_is_moved_whole(document):
    headed = apply(document, SetKind("d", Role.HEADING, 1)).document
    later = apply(headed, SetKind("f", Role.HEADING, 1)).document
    moved = apply(later, MoveHeading("d", None)).document
    assert laid_out(moved) == ["abcf", "g", "de"]
    assert resolve(moved).sections[-1].layout.setup.width == 842


def test_what_is_read_again_keeps_its_sections_and_what_the_clerk_made_of_them(document):
    mine = apply(document, MoveBlock("a", before="e")).document
    mine = apply(mine, OneFlow()).document
    fresh = [replace(block, id=f"new {block.id}") for block in document.blocks]
    placed, sections = in_sections(fresh, document.pages, (), {"new g": 2, "new f": 2})
    theirs = keep_ids(replace(document, blocks=tuple(placed), sections=sections), document)
    merged = rebase_corrections(document, mine, theirs, frozenset({1, 4})).document
    assert laid_out(merged) == ["bc", "dae", "fg"]
    assert [section.columns for section in merged.sections] == [1] * len(merged.sections)
    assert {section.id for section in merged.sections} <= {section.id for section in document.sections}


def test_a_style_takes_over_what_it_does_not_say_itself():
    body = ParagraphStyle("Body text", font="Skerrin Serif", size=10.5, align=Align.JUSTIFY)
    note = ParagraphStyle("Note", name="Small note", based_on="Body text", size=8.0)
    quoted = ParagraphStyle("Quoted", based_on="Note", left=24.0, align=Align.LEFT)
    found = {style.id: style for style in resolved_styles((body, note, quoted))}
    assert found["Quoted"] == ResolvedStyle("Quoted", "Quoted", "Skerrin Serif", size=8.0, left=24.0)
    assert found["Note"].name == "Small note"
    changed = resolved_styles((replace(body, font="Other"), note, quoted))
    assert {style.font for style in changed} == {"Other"}


def test_styles_based_on_one_another_or_on_none_come_to_an_end():
    one, other = ParagraphStyle("a", based_on="b", bold=True), ParagraphStyle("b", based_on="a", size=9.0)
    assert [(style.bold, style.size) for style in resolved_styles((one, other))] == [(True, 9.0)] * 2
    assert resolved_styles((ParagraphStyle("a", based_on="gone"),)) == (ResolvedStyle("a", "a"),)


LOOKS = st.builds(
    ResolvedStyle,
    id=st.just("x"),
    name=st.sampled_from(["x", "Shown"]),
    font=st.sampled_from(["", "Skerrin Sans"]),
    size=st.sampled_from([8.0, 11.0]),
    bold=st.booleans(),
    color=st.sampled_from([None, "7a1f1f"]),
    align=st.sampled_from(Align),
    left=st.sampled_from([0.0, 12.0]),
)


@given(LOOKS, LOOKS)
def test_a_look_is_the_same_however_it_is_kept(look, body):
    body = replace(body, id="body")
    assert resolved_styles((style_of(body), style_of(look, body)))[1] == look
