"""Letters made equations wherever they stand alone, as one step."""

from __future__ import annotations

import io

import pytest
from msgspec.structs import replace
from PIL import Image

from evenquill.core.edits import MakeEquations, apply, undo
from evenquill.core.equations.picture import png
from evenquill.core.equations.problem import EquationProblem
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.errors import EditError
from evenquill.core.model import (
    Box,
    Cell,
    Document,
    Equation,
    Marks,
    ParagraphStyle,
    Role,
    TableBlock,
    Text,
    TextBlock,
    UrlLink,
    WordSpot,
)
from evenquill.core.model.equation import Gap, Identifier, Number, Operator, Row, problem_of
from evenquill.core.model.inline import readable

N = read_tex("n")
SLANTED = Text("n", Marks.ITALIC)


def row(id: str, *content, style: str = "Body", **more) -> TextBlock:
    return TextBlock(id, content=content, style=style, **more)


def made(document: Document, **wanted) -> list[str]:
    """The texts of the document afterwards, with the sign of a sum for each equation; what undoes it is tried."""
    edit = apply(document, MakeEquations("n", N, **{"italic": True, **wanted}))
    assert undo(edit.document, edit.inverse) == document
    return [
        "".join("∑" if isinstance(item, Equation) else item.text for item in text.content)
        for text in edit.document.texts
    ]


def document(*blocks) -> Document:
    return Document("", "en", (ParagraphStyle("Body"), ParagraphStyle("Slanted", italic=True)), blocks)


def test_every_italic_letter_that_stands_alone_is_taken():
    text = row(
        "a",
        Text("For "),
        SLANTED,
        Text(" gauges, "),
        Text("not n", Marks.ITALIC),
        Text(", n is upright, and "),
        SLANTED,
        Text("."),
    )
    assert made(document(text)) == ["For ∑ gauges, not ∑, n is upright, and ∑."]


def test_upright_letters_are_taken_where_the_marked_one_was_upright():
    assert made(document(row("a", Text("n and "), SLANTED)), italic=False) == ["∑ and n"]


def test_in_a_slanted_style_what_is_not_marked_is_slanted():
    assert made(document(row("a", Text("the n "), SLANTED, style="Slanted"))) == ["the ∑ n"]


def test_only_the_rows_that_are_named_are_touched_and_cells_belong_to_theirs():
    cell = Cell("t.c", 0, 0, (row("t.x", SLANTED, role=Role.CELL),))
    blocks = (row("a", SLANTED), TableBlock("t", (60.0,), ("t.r",), (cell,)), row("c", SLANTED))
    assert made(document(*blocks)) == ["∑", "∑", "∑"]
    assert made(document(*blocks), blocks=("t",)) == ["n", "∑", "n"]


def test_words_between_stay_as_surely_read_as_they_were():
    text = row("a", SLANTED, Text(" flaots "), SLANTED)
    words = tuple(
        WordSpot(*place, 1, Box(place[0] * 10, 0, place[1] * 10, 9), 0.4) for place in ((0, 1), (2, 8), (9, 10))
    )
    edit = apply(document(replace(text, words=words)), MakeEquations("n", N, italic=True))
    (made,) = edit.document.texts
    assert made.text == "\ufffc flaots \ufffc"
    assert [(word.start, word.end, word.confidence) for word in made.words] == [(0, 1, 1.0), (2, 8, 0.4), (9, 10, 1.0)]


def test_links_code_and_rows_set_aside_stay():
    linked = Text("n", Marks.ITALIC, link=UrlLink("https://a.example"))
    blocks = (row("a", SLANTED, Text(" "), linked), row("b", SLANTED, role=Role.CODE), row("c", SLANTED, excluded=True))
    assert made(document(*blocks)) == ["∑ n", "n", "n"]


@pytest.mark.parametrize("text", ["an", "n1", "n’s", "ñ"])
def test_parts_of_words_are_not_taken(text: str):
    with pytest.raises(EditError, match="stands nowhere alone"):
        apply(document(row("a", Text(text, Marks.ITALIC))), MakeEquations("n", N, italic=True))


def test_an_equation_that_is_not_sound_is_refused():
    with pytest.raises(EditError, match="has no text"):
        apply(document(row("a", SLANTED)), MakeEquations("n", Identifier(""), italic=True))


def test_what_is_left_reads_on():
    edit = apply(document(row("a", Text("with "), SLANTED, Text(" gauges"))), MakeEquations("n", N, italic=True))
    (text,) = edit.document.texts
    assert readable(text.content) == "with  gauges"
    assert text.content[1] == Equation(N)


def test_an_equation_is_drawn_as_a_picture_as_large_as_it_is():
    small, large = (
        Image.open(io.BytesIO(png(read_tex(tex), display=True))) for tex in ("n", r"\sum_{k=1}^{n}\frac{a_k}{b_k}")
    )
    assert small.width < large.width
    assert 2 * small.height < large.height
    dark = [sum(picture.convert("L").histogram()[:128]) for picture in (small, large)]
    assert 100 < dark[0] < dark[1]


@pytest.mark.parametrize(
    "tree", [Number('#read("a")'), Operator("#{1}"), Identifier("#"), Operator("#"), Number("@a"), Operator('"')]
)
def test_signs_of_the_markup_are_only_signs_in_a_picture(tree):
    assert Image.open(io.BytesIO(png(tree, display=False))).width > 10


def test_a_long_equation_is_a_picture_of_few_pixels():
    picture = Image.open(io.BytesIO(png(Row((Identifier("n"),) * 15_000), display=True)))
    assert picture.width > 5000
    assert picture.width * picture.height < 21_000_000


@pytest.mark.parametrize("width", [1e9, -1e9, float("nan")])
def test_a_space_without_measure_is_not_sound_and_not_drawn(width: float):
    assert problem_of(Gap(width)) == "A space of the equation is wider than 200 letters."


def test_what_cannot_be_drawn_is_said():
    with pytest.raises(EquationProblem, match="cannot be drawn"):
        png(Gap(float("nan")), display=True)
