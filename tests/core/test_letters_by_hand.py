"""Stretches of text with a typeface, a size or a ground of their own, given by hand."""

from __future__ import annotations

import io
import zipfile

import docx
import pytest
from msgspec.structs import replace

from evenquill.core.edits import EditText, MakePlain, NewStyle, apply, undo
from evenquill.core.model import Document, Lettering, Marks, ParagraphStyle, Tab, Text
from evenquill.core.model.inline import AS_STYLED, cut, joined
from evenquill.core.writers.docx import write_docx
from tests.core.blocks import block

MARKED = Lettering(font="Carlito", size=14.0, ground="ffe9a8")


@pytest.fixture
def document() -> Document:
    content = (Text("The gauge "), Text("was replaced", Marks.BOLD, lettering=MARKED), Text(" in spring."))
    return Document(
        styles=(ParagraphStyle("Body text", size=11, font="Libertinus Serif"),),
        blocks=(replace(block("a", ""), content=content, style="Body text"),),
    )


def test_text_of_another_lettering_stays_apart_and_is_cut_with_it():
    content = joined((Text("one ", lettering=MARKED), Text("two\tthree", lettering=MARKED), Text(" four")))
    assert content == (Text("one two", lettering=MARKED), Tab(), Text("three", lettering=MARKED), Text(" four"))
    assert cut(content, 4, 10) == (Text("two", lettering=MARKED), Tab(), Text("th", lettering=MARKED))


def test_lettering_is_written_to_the_file(document):
    written = docx.Document(io.BytesIO(write_docx(document, lambda _: b"")))
    run = next(run for run in written.paragraphs[0].runs if run.text == "was replaced")
    assert (run.font.name, run.font.size.pt, run.bold) == ("Carlito", 14.0, True)
    with zipfile.ZipFile(io.BytesIO(write_docx(document, lambda _: b""))) as package:
        assert 'w:fill="FFE9A8"' in package.read("word/document.xml").decode()


@pytest.mark.parametrize(
    "wrong", [Lettering(size=1000), Lettering(ground="red"), Lettering(font="F" * 200), Lettering(font="Ser\nif")]
)
def test_what_no_lettering_can_be_is_left_out(document, wrong):
    edit = apply(document, EditText("a", (Text("The gauge", lettering=wrong),)))
    assert edit.document.blocks[0].content == (Text("The gauge", lettering=AS_STYLED),)
    assert undo(edit.document, edit.inverse) == document


def test_a_style_is_made_of_the_lettering_that_all_of_a_row_has(document):
    whole = apply(document, EditText("a", (Text("Large", lettering=MARKED),))).document
    made = apply(whole, NewStyle("a", "Notice")).document
    style = made.style("Notice")
    assert (style.font, style.size) == ("Carlito", 14.0)
    assert made.blocks[0].content == (Text("Large", lettering=Lettering(ground="ffe9a8")),)


def test_a_plain_document_has_no_lettering(document):
    plain = apply(document, MakePlain()).document
    assert all(item.lettering == AS_STYLED for item in plain.blocks[0].content)
