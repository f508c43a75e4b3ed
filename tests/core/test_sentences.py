"""Sentences: where they begin, and paragraphs cut into a row for each."""

from __future__ import annotations

from itertools import pairwise

import pytest
from msgspec.structs import replace

from evenquill.core.edits import JoinSentences, SplitSentences, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import Document, NoteRef, NumberFormat, Numbering, ParagraphStyle, Role, Text
from evenquill.core.sentences import sentence_starts
from tests.core.blocks import block, texts, words


@pytest.mark.parametrize(
    ("language", "text"),
    [
        (
            "en",
            "The float was found at 3.05 m. | Dr. Sollen, i.e. the keeper, wrote it down. | “It is wet.” | See Fig. 3 and No. 7 there.",
        ),
        ("en", "Was it J. B. Wendle? | It was! | Nobody knew ... until noon came. | (It was cold.) | The end"),
        (
            "de",
            "Der Pegel stand z. B. bei 3,05 m. | Am 3. Mai wurde er gelesen. | Dr. Sollen schrieb ca. 14 Seiten. | Was nun?",
        ),
        (
            "fr",
            "M. Sollen a lu la jauge. | Elle était à 3,05 m. | Voir p. 7 et fig. 2. | Qu’est-ce que c’est ? | Rien.",
        ),
        ("fi", "Mittari oli esim. 3. toukokuuta kunnossa. | Se luettiin."),
        ("es", "Dijo que no. | La boya es el núm. 7. | Nada."),
        ("en", "He said no. | Then no. 7 was read."),
        ("xx", "One here. | Two there."),
    ],
)
def test_sentences_begin_where_they_do(language, text):
    sentences = text.split(" | ")
    whole = " ".join(sentences)
    starts = [0, *sentence_starts(whole, language), len(whole)]
    assert [whole[a:b].strip() for a, b in pairwise(starts)] == sentences


def document() -> Document:
    item = block("i", "One here. Two there.", role=Role.LIST_ITEM, numbering=Numbering(NumberFormat.DECIMAL, "%."))
    return Document(
        language="en",
        styles=(ParagraphStyle("Body text", size=11),),
        blocks=(block("h", "Gauges. And floats", role=Role.HEADING, level=1), block("a", "The float was found. It was wet."),
                block("n", "A note. Of two.", role=Role.NOTE), item, block("x", "Aside. Twice.", excluded=True)),
    )  # fmt: skip


def test_each_sentence_is_a_row_with_its_own_words_and_paragraphs_come_back():
    start = document()
    edit = apply(start, SplitSentences())
    assert undo(edit.document, edit.inverse) == start
    cut = edit.document
    assert texts(cut) == ["Gauges. And floats", "The float was found.", "It was wet.", "A note. Of two.", "One here.", "Two there.",
                          "Aside. Twice."]  # fmt: skip
    assert [one.goes_on for one in cut.blocks] == [False, False, True, False, False, True, False]
    assert [one.role for one in cut.blocks[4:6]] == [Role.LIST_ITEM, Role.PARAGRAPH]
    assert list(words(cut.blocks[2])) == ["It", "was", "wet."]
    whole = apply(cut, JoinSentences()).document
    assert whole == start


def test_only_some_rows_are_cut_and_what_has_nothing_to_cut_is_said():
    start = document()
    assert texts(apply(start, SplitSentences(("i",))).document)[1:5] == [
        "The float was found. It was wet.", "A note. Of two.", "One here.", "Two there.",
    ]  # fmt: skip
    with pytest.raises(EditError, match="one sentence already"):
        apply(start, SplitSentences(("h",)))
    with pytest.raises(EditError, match="No row is a sentence"):
        apply(start, JoinSentences())


def test_a_sentence_that_was_set_aside_stays_so_and_headings_take_none():
    cut = apply(document(), SplitSentences()).document
    aside = replace(cut, blocks=tuple(replace(one, excluded=one.text == "It was wet.") for one in cut.blocks[1:3]))
    with pytest.raises(EditError, match="No row is a sentence"):
        apply(aside, JoinSentences())
    below_a_heading = replace(cut, blocks=(cut.blocks[0], cut.blocks[2]))
    with pytest.raises(EditError, match="No row is a sentence"):
        apply(below_a_heading, JoinSentences())


def test_the_mark_of_a_note_behind_a_stop_belongs_to_its_sentence():
    row = block("a", "The float was found.")
    row = replace(row, content=(*row.content, NoteRef("n", "1"), Text(" It was wet.")))
    cut = apply(Document(language="en", blocks=(row,)), SplitSentences()).document
    first, second = cut.blocks
    assert (first.readable, second.text) == ("The float was found.1", "It was wet.")
    assert apply(cut, JoinSentences()).document.blocks[0].content == row.content
