"""Where a text refers to equations by their numbers."""

from __future__ import annotations

import io
from zipfile import ZipFile

import pytest
from lxml import etree

from evenquill.core.equations.numbers import references_in
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.model import BlockLink, Box, Document, Equation, PageGeometry, ParagraphStyle, Role, Text, TextBlock
from evenquill.core.rebuild.references import with_reference_links
from evenquill.core.writers.docx.writer import write_docx

W = "{http://schemas.openxmlformats.org/wordprocessingml/2006/main}"


def displayed(id: str, number: str) -> TextBlock:
    return TextBlock(id, Role.EQUATION, (Equation(read_tex("a=b"), display=True, number=number),), "Body text")


def text(words: str) -> TextBlock:
    return TextBlock("t", content=(Text(words),), style="Body text")


def linked(words: str, *equations: TextBlock) -> list[tuple[str, str]]:
    """The stretches of a text that are links, each with the block that it leads to."""
    *_, made = with_reference_links([*equations, text(words)])
    assert isinstance(made, TextBlock)
    assert made.text == words
    return [(item.text, item.link.block) for item in made.content if isinstance(item.link, BlockLink)]


@pytest.mark.parametrize(
    ("words", "found"),
    [
        ("as equation (3) says", [("(3)", "equation (3)")]),
        ("By Eqs. (2.1), (2.2) and (2.4) it falls", [("(2.1)", "Eqs. (2.1)"), ("(2.2)", "(2.2)"), ("(2.4)", "(2.4)")]),
        ("nach Gleichung 4 gilt", [("(4)", "Gleichung 4")]),
        ("les équations (1) et (2) donnent", [("(1)", "équations (1)"), ("(2)", "(2)")]),
        ("put into (7), this gives", [("(7)", "(7)")]),
        ("from (1) and (2) follows", [("(1)", "(1)"), ("(2)", "(2)")]),
        ("measure (1) the depth, (2) the width", []),
        ("(5) is what a list counts", []),
        ("see [A.3] for it", [("[A.3]", "[A.3]")]),
        ("nothing here, not even in 1974", []),
    ],
)
def test_references_are_found(words: str, found: list[tuple[str, str]]):
    assert [(one.number, words[one.start : one.end]) for one in references_in(words)] == found


def test_a_reference_is_a_link_to_the_only_equation_of_that_number():
    equations = (displayed("a", "(1)"), displayed("b", "(2)"), displayed("c", "(2)"))
    assert linked("By equation (1), not (2), nor (3).", *equations) == [("equation (1)", "a")]


def test_numbers_that_count_parts_of_a_sentence_are_no_links():
    equations = (displayed("a", "(1)"), displayed("b", "(2)"))
    assert linked("Note (1) the hour of the reading, (2) the wind.", *equations) == []


def test_the_link_leads_to_the_equation_in_the_docx_and_looks_like_text():
    blocks = with_reference_links([displayed("a", "(1)"), text("Put into (1), it gives the depth.")])
    page = PageGeometry(595, 842, Box(50, 50, 545, 792))
    written = write_docx(Document("Sheet", "en", (ParagraphStyle("Body text"),), tuple(blocks), (page,)), lambda _: b"")
    body = etree.fromstring(ZipFile(io.BytesIO(written)).read("word/document.xml"))
    (link,) = body.iter(W + "hyperlink")
    (mark,) = (one for one in body.iter(W + "bookmarkStart") if one.get(W + "name") == link.get(W + "anchor"))
    paragraph = mark.getparent()
    assert paragraph is not None
    assert "(1)" in "".join(paragraph.itertext())
    assert "".join(link.itertext()) == "(1)"
    assert not list(link.iter(W + "rStyle"))
