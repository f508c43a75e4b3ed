"""Named styles changed by hand: their look, their names, what has them."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.edits import ApplyStyle, ChangeStyle, MergeStyles, NewStyle, StyleLook, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import (
    Align,
    Document,
    Family,
    Marks,
    NumberFormat,
    Numbering,
    ParagraphStyle,
    Role,
    Text,
    TextBlock,
)
from evenquill.core.model.sections import Running, RunningPair, RunningPart
from evenquill.core.style_uses import uses_of
from tests.core.blocks import block, table


def styled(name: str, text: str, style: str, **more) -> TextBlock:
    return replace(block(name, text), style=style, **more)


@pytest.fixture
def document() -> Document:
    return Document(
        styles=(
            ParagraphStyle("Body text", size=11, font="Libertinus Serif"),
            ParagraphStyle("Heading 1", based_on="Body text", size=16, bold=True, outline=1),
            ParagraphStyle("Remark", based_on="Body text", italic=True),
            ParagraphStyle("Small remark", based_on="Remark", size=8),
            ParagraphStyle("Item", based_on="Body text"),
        ),
        blocks=(
            styled("h", "North pier", "Heading 1", role=Role.HEADING, level=1),
            styled("a", "The float was found.", "Body text"),
            styled("r", "A remark", "Remark"),
            styled("l", "A lamp", "Item", role=Role.LIST_ITEM, numbering=Numbering(NumberFormat.DECIMAL, "%.", 1)),
            table("t", [["2.31", "0.87"]]),
            styled("x", "away", "Remark", excluded=True),
        ),
        running=(RunningPart("p", RunningPair(header=Running((Text("Gauges"),), "Remark"))),),
    )


def after(document: Document, operation) -> Document:
    edit = apply(document, operation)
    assert undo(edit.document, edit.inverse) == document
    return edit.document


def test_a_changed_style_is_followed_by_its_rows_and_by_styles_based_on_it(document):
    look = StyleLook(size=12, font="Carlito Mono", color="123456", leading=15, keep_next=True, align=Align.CENTER)
    changed = after(document, ChangeStyle("Body text", look))
    assert changed.blocks is document.blocks
    body, remark = changed.style("Body text"), changed.style("Remark")
    assert (body.size, body.font, body.family, body.leading, body.keep_next) == (
        12,
        "Carlito Mono",
        Family.MONO,
        15,
        True,
    )
    assert (remark.size, remark.italic, remark.align, remark.color) == (12, True, Align.CENTER, "123456")
    assert changed.style("Heading 1").size == 16
    plain = after(changed, ChangeStyle("Body text", StyleLook(color="")))
    assert plain.style("Body text").color is None
    assert after(document, ChangeStyle("Remark", StyleLook(name="Aside"))).style("Remark").name == "Aside"


@pytest.mark.parametrize(
    ("look", "says"),
    [
        (StyleLook(), "Nothing"),
        (StyleLook(size=0.5), "Letters are 3 to 300"),
        (StyleLook(size=float("nan")), "Letters are"),
        (StyleLook(before=9999), "Indents and spaces"),
        (StyleLook(leading=1), "Lines are"),
        (StyleLook(color="red"), "hexadecimal"),
        (StyleLook(font=" "), "typeface"),
        (StyleLook(name="\n"), "has a name"),
        (StyleLook(name="Heading 1"), "already"),
        (StyleLook(italic=True), "like that already"),
    ],
)
def test_what_no_style_can_be_is_refused(document, look, says):
    with pytest.raises(EditError, match=says):
        apply(document, ChangeStyle("Remark", look))
    with pytest.raises(EditError, match="no longer there"):
        apply(document, ChangeStyle("gone", StyleLook(size=9)))


def test_rows_that_are_given_a_style_become_what_its_rows_are(document):
    headed = after(document, ApplyStyle(("a", "r"), "Heading 1"))
    assert [(one.role, one.level, one.style) for one in headed.blocks[1:3]] == [(Role.HEADING, 1, "Heading 1")] * 2
    listed = after(headed, ApplyStyle(("a",), "Item")).blocks[1]
    assert (listed.role, listed.numbering) == (Role.LIST_ITEM, Numbering(NumberFormat.DECIMAL, "%."))
    back = after(document, ApplyStyle(("l",), "Remark")).blocks[3]
    assert (back.role, back.numbering) == (Role.PARAGRAPH, None)
    cells = after(document, ApplyStyle(("t.0.0", "t.0.1"), "Heading 1")).blocks[4]
    assert [(one.role, one.style) for one in cells.texts] == [(Role.CELL, "Heading 1")] * 2
    for wrong in (ApplyStyle(("a",), "gone"), ApplyStyle((), "Remark"), ApplyStyle(("r",), "Remark")):
        with pytest.raises(EditError):
            apply(document, wrong)


def test_a_style_is_merged_with_another_and_gone(document):
    merged = after(document, MergeStyles("Remark", "Body text"))
    assert [style.id for style in merged.styles] == ["Body text", "Heading 1", "Small remark", "Item"]
    assert [one.style for one in merged.blocks if isinstance(one, TextBlock)] == [
        "Heading 1",
        "Body text",
        "Body text",
        "Item",
        "Body text",
    ]
    assert merged.running[0].usual.header.style == "Body text"
    # What was based on it is as it was.
    assert replace(merged.style("Small remark")) == document.style("Small remark")
    for wrong in (("Remark", "Remark"), ("Body text", "Remark"), ("gone", "Remark"), ("Remark", "gone")):
        with pytest.raises(EditError):
            apply(document, MergeStyles(*wrong))


def test_a_style_is_made_of_a_row_with_what_all_of_its_text_has(document):
    content = (Text("Wet "), Text("paint", Marks.UNDERLINE))
    bold = tuple(replace(item, marks=item.marks | Marks.BOLD, color="aa0000") for item in content)
    document = replace(
        document, blocks=(replace(document.blocks[1], content=bold, align=Align.RIGHT), *document.blocks[2:])
    )
    made = after(document, NewStyle("a", "Warning"))
    look = made.style("Warning")
    assert (look.bold, look.italic, look.align, look.color, look.size) == (True, False, Align.RIGHT, "aa0000", 11)
    assert (made.blocks[0].style, made.blocks[0].align, made.blocks[0].content) == ("Warning", None, content)
    with pytest.raises(EditError, match="already"):
        apply(document, NewStyle("a", "Remark"))


def test_where_styles_are_used(document):
    uses = {use.style.id: use for use in uses_of(document)}
    assert (uses["Remark"].count, uses["Remark"].places, uses["Remark"].sample) == (2, (2,), "A remark")
    assert (uses["Small remark"].count, uses["Small remark"].sample) == (0, "")
    assert uses["Body text"].places == (1, 4)
    assert uses["Body text"].count == 3


def test_a_style_of_ten_thousand_rows_is_changed_as_one_small_step(document):
    many = replace(document, blocks=tuple(styled(f"b{n}", "A row", "Remark") for n in range(10_000)))
    edit = apply(many, ChangeStyle("Remark", StyleLook(size=9)))
    assert edit.document.blocks is many.blocks
    assert len(edit.inverse) == 1
    merged = apply(many, MergeStyles("Remark", "Body text"))
    assert all(one.style == "Body text" for one in merged.document.blocks)
    assert undo(merged.document, merged.inverse) == many
