"""Rows copied from one document and put into another with their formatting."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.edits import PutRows, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import (
    Align,
    BlockLink,
    Document,
    Marks,
    NoteRef,
    NumberFormat,
    Numbering,
    ParagraphStyle,
    Role,
    TabStop,
    Text,
    UrlLink,
)
from evenquill.core.model.grid import grid_faults
from tests.core.blocks import block, table

WHERE_FROM = Document(
    styles=(
        ParagraphStyle("Body text", size=11, font="Caladea"),
        ParagraphStyle("Notice", based_on="Body text", size=14, bold=True, color="b3261e"),
        ParagraphStyle("Heading 1", based_on="Body text", size=18, outline=1),
    ),
    blocks=(
        replace(block("h", "Tides"), role=Role.HEADING, level=1, style="Heading 1"),
        replace(
            block("n", ""),
            content=(
                Text("The gauge", Marks.BOLD),
                NoteRef("f", "1"),
                Text(" is read", link=BlockLink("h")),
                Text(" here", link=UrlLink("https://tides.example/")),
            ),
            style="Notice",
            align=Align.RIGHT,
            tabs=(TabStop(90),),
        ),
        replace(block("i", "A lamp"), role=Role.LIST_ITEM, numbering=Numbering(NumberFormat.DECIMAL, "%.", 1)),
        table("t", [["Gauge", "High"], ["North Pier", "2.31"]]),
    ),
)

INTO = Document(
    styles=(
        ParagraphStyle("Body text", size=10),
        ParagraphStyle("Heading 1", based_on="Body text", size=16, outline=1),
    ),
    blocks=(block("a", "One"), block("b", "Two")),
)


def put(after: str | None = "a") -> Document:
    operation = PutRows(after, WHERE_FROM.blocks, tuple(WHERE_FROM.resolved_styles.values()))
    edit = apply(INTO, operation)
    assert undo(edit.document, edit.inverse) == INTO
    assert edit.focus is not None
    assert edit.focus.block == edit.document.blocks[4 if after else 3].id
    return edit.document


def test_rows_come_with_their_kinds_looks_and_tables():
    made = put()
    assert [one.id for one in (made.blocks[0], made.blocks[5])] == ["a", "b"]
    heading, notice, item, whole = made.blocks[1:5]
    assert (heading.role, heading.style, heading.text) == (Role.HEADING, "Heading 1", "Tides")
    assert (notice.align, notice.tabs) == (Align.RIGHT, (TabStop(90),))
    assert item.numbering == Numbering(NumberFormat.DECIMAL, "%.", 1)
    assert [cell.text for cell in whole.cells] == ["Gauge", "High", "North Pier", "2.31"]
    assert list(grid_faults(whole)) == []
    ids = [one.id for one in made.blocks] + [cell.id for cell in whole.cells] + list(whole.row_ids)
    assert len(set(ids)) == len(ids)


def test_a_style_of_a_name_that_is_known_is_the_documents_own_and_others_come_along():
    made = put(None)
    assert made.style("Heading 1").size == 16
    notice = made.style("Notice")
    assert (notice.size, notice.bold, notice.color, notice.font) == (14, True, "b3261e", "Caladea")
    assert [style.id for style in made.styles] == ["Body text", "Heading 1", "Notice"]


def test_what_refers_to_its_document_is_left_behind():
    notice = put().blocks[2]
    assert notice.content == (
        Text("The gauge", Marks.BOLD),
        Text("1", Marks.SUPER),
        Text(" is read"),
        Text(" here", link=UrlLink("https://tides.example/")),
    )
    assert (notice.words, notice.doubts, notice.section) == ((), (), put().blocks[0].section)


def test_a_note_becomes_a_paragraph_and_links_that_may_run_something_are_gone():
    note = replace(block("f", ""), role=Role.NOTE, content=(Text("See", link=UrlLink("javascript:alert(1)")),))
    made = apply(INTO, PutRows("b", (note,))).document
    assert (made.blocks[2].role, made.blocks[2].content) == (Role.PARAGRAPH, (Text("See"),))


def test_a_style_that_was_renamed_here_is_still_the_one_of_its_first_name():
    renamed = replace(INTO, styles=(*INTO.styles, ParagraphStyle("Notice", name="Alert", based_on="Body text")))
    made = apply(renamed, PutRows("a", WHERE_FROM.blocks, tuple(WHERE_FROM.resolved_styles.values()))).document
    assert made.styles == renamed.styles
    assert made.blocks[2].style == "Notice"


def test_looks_and_stops_that_no_style_or_row_can_have_are_refused():
    notice = WHERE_FROM.style("Notice")
    for wrong in (replace(notice, size=5000), replace(notice, color="red"), replace(notice, name="N" * 500)):
        with pytest.raises(EditError):
            apply(INTO, PutRows("a", WHERE_FROM.blocks[1:2], (wrong,)))
    with pytest.raises(EditError, match="between the left edge"):
        apply(INTO, PutRows("a", (replace(WHERE_FROM.blocks[1], tabs=(TabStop(-1),)),)))


def test_what_cannot_be_put_in_is_said():
    broken = replace(WHERE_FROM.blocks[3], row_ids=("r",))
    with pytest.raises(EditError, match="no whole table"):
        apply(INTO, PutRows("a", (broken,)))
    with pytest.raises(EditError, match="Nothing was copied"):
        apply(INTO, PutRows("a", ()))
    with pytest.raises(EditError, match="At most"):
        apply(INTO, PutRows("a", (block("x", "Row"),) * 3000))
