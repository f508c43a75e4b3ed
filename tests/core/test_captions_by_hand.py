"""Captions that the clerk puts beside pictures and tables: their words, numbers and places."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.edits import AddCaption, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import Block, Box, Document, PictureBlock, Role, Spot, TextBlock
from evenquill.core.model.inline import from_text
from evenquill.core.model.labels import FIGURE_AND_TABLE, label_of
from tests.core.blocks import table


def text(name: str, said: str, role: Role = Role.PARAGRAPH) -> TextBlock:
    return TextBlock(name, role, content=from_text(said))


def caption(name: str, said: str) -> TextBlock:
    return text(name, said, Role.CAPTION)


def picture(name: str) -> PictureBlock:
    return PictureBlock(name, "a" * 64, "image/png", 100, 80)


def document(*blocks: Block, language: str = "en") -> Document:
    return Document(blocks=blocks, language=language)


def caption_of(before: Document, name: str) -> tuple[str, int]:
    """The text of the caption that is put beside a row, and its place; undoing takes it away again."""
    edit = apply(before, AddCaption(name))
    (at,) = [
        n for n, block in enumerate(edit.document.blocks) if block not in before.blocks and isinstance(block, TextBlock)
    ]
    own = edit.document.blocks[at]
    assert isinstance(own, TextBlock)
    assert own.role is Role.CAPTION
    assert edit.focus is not None
    assert (edit.focus.block, edit.focus.offset) == (own.id, len(own.text))
    assert undo(edit.document, edit.inverse) == before
    return own.text, at


@pytest.mark.parametrize(
    ("language", "figure", "of_table"),
    [("en", "Figure 1: ", "Table 1: "), ("de", "Abbildung 1: ", "Tabelle 1: "), ("xx", "Figure 1: ", "Table 1: ")],
)
def test_the_first_ones_are_called_as_the_language_does_below_pictures_and_above_tables(language, figure, of_table):
    before = document(text("b1", "The pier."), picture("b2"), table("b3", [["a", "b"]]), language=language)
    assert caption_of(before, "b2") == (figure, 2)
    assert caption_of(before, "b3") == (of_table, 2)


def test_it_is_called_numbered_and_placed_as_the_others_are():
    before = document(
        caption("b1", "Fig. 2.1 – The float"),
        picture("b2"),
        text("b3", "The pier."),
        picture("b4"),
        table("b5", [["a"]]),
    )
    assert caption_of(before, "b4") == ("Fig. 2.2 – ", 3)


def test_a_number_that_a_later_one_has_is_not_given_twice():
    before = document(
        picture("b1"), caption("b2", "Figure 1: The float"), picture("b3"), text("b4", "The pier."), picture("b5"),
        caption("b6", "Figure 2: The gauge"),
    )  # fmt: skip
    assert caption_of(before, "b3") == ("Figure 1a: ", 3)
    assert caption_of(replace(before, blocks=before.blocks[2:]), "b3") == ("Figure 1: ", 1)


def test_a_page_that_began_with_a_table_begins_with_its_caption():
    before = document(text("b1", "The pier."), replace(table("b2", [["a"]]), page_break=True))
    after = apply(before, AddCaption("b2")).document
    assert [block.page_break for block in after.blocks] == [False, True, False]


def test_what_the_page_shows_beside_it_is_shown():
    before = document(replace(picture("b1"), spots=(Spot(2, Box(50, 100, 150, 180)),)), table("b2", [["a"]]))
    below, above = (apply(before, AddCaption(name)).document.blocks[1] for name in ("b1", "b2"))
    assert below.spots == (Spot(2, Box(50, 180, 150, 198)),)
    assert above.spots == (Spot(1, Box(0, 62, 200, 80)),)


@pytest.mark.parametrize("name", ["b1", "b2"])
def test_text_has_none_and_what_has_one_gets_no_other(name):
    before = document(text("b1", "The pier."), picture("b2"), caption("b3", "Figure 1: The float"))
    with pytest.raises(EditError):
        apply(before, AddCaption(name))


@pytest.mark.parametrize(
    "said", ["Figuur 3: De vlotter", "Tabela 2. Poziom", "Obrázek 4 – Plovák", "Рисунок 5: Причал"]
)
def test_captions_in_other_languages_have_their_labels(said):
    label = label_of(said)
    assert label is not None
    assert said[label.start : label.end].split() == [said.split()[0], said.split()[1].strip(".:")]


@pytest.mark.parametrize("word", sorted({word for words in FIGURE_AND_TABLE.values() for word in words}))
def test_what_new_captions_are_called_is_known_where_captions_are_read(word):
    label = label_of(f"{word} 2: The float")
    assert label is not None
    assert (label.word, label.number) == (word, "2")
