"""Doubts about numbers of equations."""

from __future__ import annotations

import pytest

from evenquill.core.edits import apply, undo
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.model import (
    Box,
    Document,
    Equation,
    OtherReading,
    PageGeometry,
    ParagraphStyle,
    Role,
    Spot,
    Text,
    TextBlock,
    WordSpot,
)
from evenquill.core.model.geometry import WHOLE_WORD
from evenquill.core.queries import find_queries
from evenquill.core.queries.kinds import equations


def displayed(id: str, number: str) -> TextBlock:
    content = (Equation(read_tex("a=b"), display=True, number=number),)
    return TextBlock(id, Role.EQUATION, content, "Body text", spots=(Spot(1, Box(50, 100, 300, 112)),))


def doubted(*blocks: TextBlock):
    page = PageGeometry(595, 842, Box(50, 50, 545, 792))
    document = Document("Report", "en", (ParagraphStyle("Body text"),), blocks, (page,))
    names = {kind.name for kind in equations.KINDS}
    return document, [query for query in find_queries(document) if query.kind in names]


def test_a_number_that_jumps_is_asked_about_and_put_right():
    document, (query,) = doubted(displayed("a", "(1)"), displayed("b", "(3)"), displayed("c", "(4)"))
    assert (query.block, query.reason) == ("b", "(3) follows (1)")
    (fix,) = query.fixes
    assert fix.label == "make it (2)"
    changed = apply(document, fix.operation).document.blocks[1]
    assert isinstance(changed, TextBlock)
    assert [item.number for item in changed.content if isinstance(item, Equation)] == ["(2)"]


@pytest.mark.parametrize("numbers", [("(1)", "(2)", "(3)"), ("(2.1)", "(2.2)", "(3.1)"), ("(4)",), ("(A)", "(7)")])
def test_numbers_that_follow_one_another_are_not_asked_about(numbers):
    _, queries = doubted(*(displayed(str(n), number) for n, number in enumerate(numbers)))
    assert queries == []


def test_a_reference_to_an_equation_that_is_not_there_is_asked_about():
    place = WordSpot(28, 31, 1, Box(80, 90, 95, 102))
    words = "By equation (1), and by Eq. (7) of the sheet (3)."
    text = TextBlock("t", content=(Text(words),), style="Body text", words=(place,))
    _, (query,) = doubted(displayed("a", "(1)"), text)
    assert (query.block, query.text, text.text[query.start : query.end]) == ("t", "(7)", "(7)")
    assert query.spots == (Spot(1, place.box),)
    assert query.reason == "no equation has the number (7)"


def test_a_document_without_numbered_equations_is_asked_nothing():
    text = TextBlock("t", content=(Text("By equation (7) of another book."),), style="Body text")
    assert doubted(displayed("a", ""), text)[1] == []


def test_an_equation_that_was_not_read_surely_is_asked_about_with_what_else_it_may_be():
    place = WordSpot(6, 7, 1, Box(80, 90, 95, 102), 0.6, (OtherReading(WHOLE_WORD, r"a=\mathbf{b}", 0.4),))
    content = (Text("Where "), Equation(read_tex("a=b")), Text(" holds and "), Equation(read_tex("c")), Text(", not."))
    sure = WordSpot(18, 19, 1, Box(120, 90, 125, 102), 0.999)
    document, (query,) = doubted(TextBlock("t", content=content, style="Body text", words=(place, sure)))
    assert (query.kind, query.block, query.start, query.end, query.likelihood) == ("equation", "t", 6, 7, 0.4)
    assert query.reason == "a symbol may be another one"
    (fix,) = query.fixes
    edit = apply(document, fix.operation)
    changed = edit.document.blocks[0]
    assert isinstance(changed, TextBlock)
    assert changed.content[1] == Equation(read_tex(r"a=\mathbf{b}"))
    assert [word.confidence for word in changed.words] == [1.0, 0.999]
    assert [one for one in find_queries(edit.document) if one.kind == "equation"] == []
    assert undo(edit.document, edit.inverse) == document
