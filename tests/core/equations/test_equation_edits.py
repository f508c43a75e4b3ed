"""Rows that become displayed equations and cease to be, and equations that are typed."""

from __future__ import annotations

import pytest

from evenquill.core.edits import EditText, SetKind, SplitBlock, apply, undo
from evenquill.core.equations.tex import tex
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.errors import EditError
from evenquill.core.model import Box, Document, Equation, Role, Text, TextBlock, WordSpot
from evenquill.core.model.equation import Number, Operator, Scripts
from evenquill.core.model.ids import Ids


def document_of(*blocks: TextBlock) -> Document:
    return Document(blocks=blocks)


def rows(document: Document) -> list[TextBlock]:
    return [block for block in document.blocks if isinstance(block, TextBlock)]


def test_a_row_of_tex_becomes_a_displayed_equation_with_its_number_and_back():
    document = document_of(TextBlock("b1", content=(Text(r"\frac{a}{b} = c (3)"),)))
    made = apply(document, SetKind("b1", Role.EQUATION), Ids(100)).document
    (row,) = rows(made)
    (equation,) = row.content
    assert isinstance(equation, Equation)
    assert (row.role, tex(equation.tree), equation.display, equation.number) == (
        Role.EQUATION,
        r"\frac{a}{b}=c",
        True,
        "(3)",
    )
    back = apply(made, SetKind("b1", Role.PARAGRAPH), Ids(100)).document
    (row,) = rows(back)
    assert row.text == "\ufffc (3)"
    assert [item.display for item in row.content if isinstance(item, Equation)] == [False]


def test_words_that_become_an_equation_are_one_place_of_it():
    words = (
        WordSpot(0, 1, 1, Box(0, 0, 9, 9)),
        WordSpot(2, 3, 1, Box(12, 0, 20, 9)),
        WordSpot(4, 9, 1, Box(24, 0, 70, 9)),
    )
    document = document_of(TextBlock("b1", content=(Text("a = three"),), words=words))
    edit = apply(document, SetKind("b1", Role.EQUATION), Ids(100))
    (row,) = rows(edit.document)
    assert [(word.start, word.end) for word in row.words] == [(0, len(row.text))] == [(0, 1)]
    assert undo(edit.document, edit.inverse) == document


def test_a_row_that_is_no_equation_stays_as_it_is_and_it_is_said_why():
    document = document_of(TextBlock("b1", content=(Text(r"the \height of {it"),)))
    with pytest.raises(EditError, match="cannot be read as an equation"):
        apply(document, SetKind("b1", Role.EQUATION), Ids(100))


def test_an_equation_within_text_has_to_be_parted_from_it_before_it_is_displayed():
    document = document_of(TextBlock("b1", content=(Text("see "), Equation(read_tex("x^2")), Text(" there"))))
    with pytest.raises(EditError, match="split the row"):
        apply(document, SetKind("b1", Role.EQUATION), Ids(100))


def test_an_equation_is_one_character_for_words_splits_and_undo():
    equation = Equation(read_tex("x^2"))
    document = document_of(TextBlock("b1", content=(Text("see "), equation, Text(" there"))))
    edit = apply(document, SplitBlock("b1", 5), Ids(100))
    first, second = rows(edit.document)
    assert first.content == (Text("see "), equation)
    assert second.text == "there"
    assert undo(edit.document, edit.inverse) == document


def test_equations_that_are_not_sound_are_not_taken_in():
    deep: Scripts | Number = Number("1")
    for _ in range(50):
        deep = Scripts(deep, sup=Number("2"))
    document = document_of(TextBlock("b1", content=(Text("x"),)))
    for tree, sentence in ((deep, "deep"), (Operator(""), "no text")):
        with pytest.raises(EditError, match=sentence):
            apply(document, EditText("b1", (Equation(tree),)), Ids(100))
