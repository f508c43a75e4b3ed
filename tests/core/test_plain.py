"""A document made plain and back again."""

from __future__ import annotations

import io

import docx
import pytest
from msgspec.structs import replace

from evenquill.core.edits import MakePlain, apply, undo
from evenquill.core.edits.plain_edits import plainness
from evenquill.core.errors import EditError
from evenquill.core.model import Align, Break, Document, Marks, Numbering, ParagraphStyle, Role, Text, TextBlock
from evenquill.core.model.inline import PageLink
from evenquill.core.model.sections import Running, RunningPair, RunningPart, Section
from evenquill.core.writers.docx import write_docx
from tests.core.blocks import block, table


@pytest.fixture
def document() -> Document:
    loud = (
        Text("Wet ", Marks.BOLD, "aa0000"),
        Text("paint", Marks.ITALIC),
        Break(),
        Text("10"),
        Text("2", Marks.SUPER),
    )
    return Document(
        language="en",
        styles=(
            ParagraphStyle("Body text", font="Libertinus Serif", size=9),
            ParagraphStyle("Loud", based_on="Body text", size=30, align=Align.CENTER),
            ParagraphStyle("Running head", based_on="Body text", italic=True),
        ),
        blocks=(
            replace(block("h", "North pier", role=Role.HEADING, level=2), style="Loud", page_break=True),
            TextBlock("a", content=loud, style="Loud", align=Align.RIGHT, section="s"),
            TextBlock("l", Role.LIST_ITEM, (Text("lamp", link=PageLink(2)),), numbering=Numbering()),
            TextBlock("v", Role.VERSE, (Text("one"), Break(), Text("two"))),
            block("q", "said he", role=Role.QUOTE),
            block("n", "a note", role=Role.NOTE),
            replace(table("t", [["2.31", "0.87"]]), ruled=False, align=Align.CENTER),
        ),
        sections=(Section("s", columns=2),),
        running=(RunningPart("p", RunningPair(header=Running((Text("Gauges"),), "Running head"))),),
    )


def test_looks_go_and_what_has_meaning_stays(document):
    edit = apply(document, MakePlain())
    after = edit.document
    assert [(one.role, one.level) for one in after.blocks[:7]] == [
        (Role.HEADING, 2),
        (Role.PARAGRAPH, 0),
        (Role.LIST_ITEM, 0),
        (Role.PARAGRAPH, 0),
        (Role.PARAGRAPH, 0),
        (Role.PARAGRAPH, 0),
        (Role.NOTE, 0),
    ]
    assert after.blocks[1].content == (Text("Wet paint 10"), Text("2", Marks.SUPER))
    assert after.blocks[1].align is None
    assert not after.blocks[0].page_break
    assert after.blocks[2].content == document.blocks[2].content
    assert after.blocks[2].numbering == document.blocks[2].numbering
    assert [one.text for one in after.blocks[3:5]] == ["one", "two"]
    assert (after.blocks[7].ruled, after.blocks[7].align) == (True, Align.LEFT)
    assert after.sections[0].columns == 1
    assert {style.font for style in after.resolved_styles.values()} == {"Libertinus Serif"}
    assert {one.style for one in after.texts} <= set(after.resolved_styles)
    assert after.style("Running head").italic
    assert undo(after, edit.inverse) == document
    with pytest.raises(EditError, match="plain already"):
        apply(after, MakePlain())


def test_another_typeface_and_what_is_written(document):
    after = apply(document, MakePlain("Carlito")).document
    assert {style.font for name, style in after.resolved_styles.items() if name != "Running head"} == {"Carlito"}
    written = docx.Document(io.BytesIO(write_docx(after, lambda _: None)))
    assert [one.style.name for one in written.paragraphs][:2] == ["Heading 2", "Body Text"]
    assert not any(run.bold for one in written.paragraphs for run in one.runs)


def test_what_it_would_do_is_counted_before(document):
    would = plainness(document)
    assert (would.rows, would.looks, would.breaks, would.columns) == (2, 2, 1, True)
    assert would.styles_before == 3
    after = apply(document, MakePlain()).document
    again = plainness(after)
    assert (again.rows, again.looks, again.breaks, again.columns) == (0, 0, 0, False)
