"""Settling queries and regions as operations, what they cost, and the certificate that tells of them."""

from __future__ import annotations

import msgspec
import pytest
from msgspec.structs import replace

from evenquill.core.edits import (
    AddRegion,
    CutNote,
    CutPicture,
    DescribePicture,
    EditText,
    Exclude,
    InsertParagraph,
    KeepAsItIs,
    ReadRegion,
    RemoveRegion,
    SetRegion,
    SettleWords,
    WordAnswer,
    apply,
    undo,
)
from evenquill.core.edits.corrections import Correction, corrections_of
from evenquill.core.edits.typed import typed_characters
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.errors import EditError
from evenquill.core.model import (
    Box,
    Document,
    DoubtKey,
    Equation,
    Marks,
    PageGeometry,
    ParagraphStyle,
    PictureBlock,
    Role,
    Spot,
    TableBlock,
    TabStop,
    Text,
    TextBlock,
    WordSpot,
)
from evenquill.core.model.equation import Operator
from evenquill.core.queries import find_queries
from evenquill.core.queries.kept import KeptDoubts
from evenquill.core.writers.certificate import WorkDone, certificate_entries, certificate_text

PLACE = Spot(1, Box(60, 300, 260, 340))


def row(id: str, text: str) -> TextBlock:
    words, at = [], 0
    for n, word in enumerate(text.split(" ")):
        words.append(WordSpot(at, at + len(word), 1, Box(40.0 * n, 100, 40.0 * n + 36, 112), 0.5))
        at += len(word) + 1
    return TextBlock(
        id, content=(Text(text),), style="Body text", words=tuple(words), spots=(Spot(1, Box(0, 100, 300, 112)),)
    )


@pytest.fixture
def document() -> Document:
    return Document(
        language="en",
        styles=(ParagraphStyle("Body text"),),
        blocks=(
            row("a", "The well was purnped, then purnped again"),
            row("b", "Nobody purnped it"),
            PictureBlock("i", "0" * 64, "image/png", 100, 50, spots=(Spot(1, Box(50, 400, 150, 450)),)),
        ),
        pages=(PageGeometry(595, 842, Box(50, 50, 545, 792)),),
    )


def answer(block: str, start: int, read: str, text: str, **more) -> WordAnswer:
    return WordAnswer(block, read, text, start, **more)


def texts(document: Document) -> list[str]:
    return [block.text for block in document.blocks if isinstance(block, TextBlock)]


def test_several_words_are_settled_as_one_step_and_undone_as_one(document):
    alike = (
        answer("b", 7, "purnped", "pumped"),
        answer("a", 13, "purnped,", "pumped,", key=DoubtKey("word", 1, "purnped,")),
        answer("a", 27, "purnped", "pumped"),
    )
    edit = apply(document, SettleWords(alike))
    assert texts(edit.document) == ["The well was pumped, then pumped again", "Nobody pumped it"]
    sure = [word for word in edit.document.blocks[0].words if word.confidence == 1.0]
    assert [edit.document.blocks[0].text[word.start : word.end] for word in sure] == ["pumped,", "pumped"]
    assert [word.box.x0 for word in sure] == [120.0, 200.0]
    assert undo(edit.document, edit.inverse) == document


def test_a_settled_word_keeps_its_look(document):
    bold = TextBlock("c", content=(Text("It "), Text("purnped", Marks.BOLD), Text(" well")))
    wide = Document(blocks=(bold,))
    after = apply(wide, SettleWords((answer("c", 3, "purnped", "pumped"),))).document.blocks[0]
    assert after.content == (Text("It "), Text("pumped", Marks.BOLD), Text(" well"))


def test_answers_to_words_that_are_gone_change_nothing(document):
    with pytest.raises(EditError, match="no longer there"):
        apply(document, SettleWords((answer("a", 12, "bumped,", "pumped,"),)))
    with pytest.raises(EditError, match="no longer there"):
        apply(document, SettleWords((answer("x", 0, "The", "the"),)))
    with pytest.raises(EditError, match="nothing to settle"):
        apply(document, SettleWords(()))


def test_an_answer_finds_its_word_by_its_place_on_the_source_whatever_was_changed_before_it(document):
    first, second = (Spot(1, Box(x, 100, x + 36, 112)) for x in (120.0, 200.0))
    longer = apply(document, SettleWords((answer("a", 0, "The", "Nowhere the"),))).document
    # The start is that of before; the second of two like words is meant.
    edit = apply(longer, SettleWords((answer("a", 27, "purnped", "pumped", spot=second),)))
    assert texts(edit.document)[0] == "Nowhere the well was purnped, then pumped again"
    # It was answered already; the other word that reads so is not taken in its place.
    with pytest.raises(EditError, match="no longer there"):
        apply(edit.document, SettleWords((answer("a", 27, "purnped", "pumped", spot=second),)))
    both = apply(edit.document, SettleWords((answer("a", 13, "purnped,", "pumped,", spot=first),))).document
    assert texts(both)[0] == "Nowhere the well was pumped, then pumped again"


def test_typed_answers_go_into_the_documents_list_and_chosen_ones_do_not(document):
    chosen = apply(document, SettleWords((answer("b", 0, "Nobody", "Somebody"),))).document
    typed = apply(document, SettleWords((answer("b", 0, "Nobody", "Oskery", typed=True),))).document
    assert chosen.settled.words == ()
    assert typed.settled.words == ("Oskery",)


def test_a_region_takes_what_was_read_there(document):
    read = ReadRegion("Read anew", (WordSpot(0, 4, 1, Box(60, 300, 90, 312), 0.9),))
    edit = apply(document, SetRegion("b", 0, PLACE, read))
    after = edit.document.blocks[1]
    assert (after.text, after.spots, after.words) == ("Read anew", (PLACE,), read.words)
    assert undo(edit.document, edit.inverse) == document


def test_regions_are_added_in_their_place_and_removed(document):
    read = apply(document, AddRegion(PLACE, read=ReadRegion("Between"))).document
    assert texts(read) == ["The well was purnped, then purnped again", "Nobody purnped it", "Between"]
    assert isinstance(read.blocks[3], PictureBlock)  # which stands below it
    below = Spot(1, Box(60, 500, 260, 540))
    cut = apply(document, AddRegion(below, picture=CutPicture("1" * 64, "image/png")))
    assert (cut.document.blocks[-1].width, cut.document.blocks[-1].height) == (200, 40)
    assert undo(cut.document, cut.inverse) == document
    removed = apply(document, RemoveRegion("a"))
    assert texts(removed.document) == ["Nobody purnped it"]
    assert undo(removed.document, removed.inverse) == document


def test_a_picture_is_cut_anew_where_its_region_is_moved(document):
    moved = apply(document, SetRegion("i", 0, PLACE, picture=CutPicture("2" * 64, "image/jpeg"))).document.blocks[2]
    assert (moved.picture, moved.width, moved.height, moved.spots) == ("2" * 64, 200, 40, (PLACE,))


def test_text_becomes_a_picture_and_a_picture_text(document):
    cut = CutPicture("2" * 64, "image/png")
    picture = apply(document, SetRegion("b", 0, PLACE, picture=cut, note=CutNote.HANDWRITING)).document.blocks[1]
    assert (picture.id, picture.picture, picture.note) == ("b", "2" * 64, "handwriting")
    text = apply(document, SetRegion("i", 0, PLACE, ReadRegion("The stairs"))).document.blocks[2]
    assert (text.id, text.text, text.style) == ("i", "The stairs", "Body text")


def test_a_region_becomes_an_equation_kept_as_a_picture_and_stays_one_when_it_is_moved(document):
    cut, again = CutPicture("2" * 64, "image/png"), CutPicture("3" * 64, "image/png")
    made = apply(document, SetRegion("b", 0, PLACE, picture=cut, note=CutNote.EQUATION))
    assert made.document.blocks[1].note == "equation"
    moved = apply(made.document, SetRegion("b", 0, PLACE, picture=again)).document.blocks[1]
    assert (moved.note, moved.picture) == ("equation", "3" * 64)
    assert undo(made.document, made.inverse) == document


def test_a_place_becomes_an_equation_and_a_picture_of_one_too(document):
    equation = Equation(read_tex(r"\tau=\frac{A}{a}"))
    for id, at in (("b", 1), ("i", 2)):
        edit = apply(document, SetRegion(id, 0, PLACE, equation=equation))
        row = edit.document.blocks[at]
        assert isinstance(row, TextBlock)
        assert (row.id, row.role, row.content, row.spots, row.words) == (
            id, Role.EQUATION, (replace(equation, display=True),), (PLACE,), (),
        )  # fmt: skip
        assert undo(edit.document, edit.inverse) == document
    added = apply(document, AddRegion(PLACE, equation=equation)).document.blocks[2]
    assert (added.role, added.spots) == (Role.EQUATION, (PLACE,))
    with pytest.raises(EditError, match="no text"):
        apply(document, AddRegion(PLACE, equation=Equation(Operator(""))))


def test_what_was_read_with_tab_stops_becomes_a_table_and_a_paragraph_again(document):
    stops = (TabStop(80.0), TabStop(120.0))
    read = ReadRegion("\t2.31\t4.1\nSouth\t2.28", (WordSpot(1, 5, 1, PLACE.box), WordSpot(10, 15, 1, PLACE.box)), stops)
    made = apply(document, SetRegion("b", 0, PLACE, read))
    table = made.document.blocks[1]
    assert isinstance(table, TableBlock)
    assert (table.id, table.widths, table.spots) == ("b", (80.0, 40.0, 72.0), (PLACE,))
    assert [(cell.row, cell.column, cell.text) for cell in table.cells] == [
        (0, 0, ""), (0, 1, "2.31"), (0, 2, "4.1"), (1, 0, "South"), (1, 1, "2.28"), (1, 2, ""),
    ]  # fmt: skip
    assert [text.words for text in table.texts if text.words] == [
        (WordSpot(0, 4, 1, PLACE.box),),
        (WordSpot(0, 5, 1, PLACE.box),),
    ]
    assert made.document.style("Table text").name == "Table text"
    assert undo(made.document, made.inverse) == document
    back = apply(made.document, SetRegion("b", 0, PLACE, ReadRegion("North 2.31"))).document.blocks[1]
    assert isinstance(back, TextBlock)
    assert back.text == "North 2.31"


@pytest.mark.parametrize(
    ("operation", "sentence"),
    [
        (SetRegion("b", 3, PLACE, ReadRegion("x")), "no such place"),
        (SetRegion("b", 0, PLACE), "Nothing was read"),
        (SetRegion("i", 0, PLACE), "Nothing was read"),
        (SetRegion("b", 0, Spot(2, PLACE.box), ReadRegion("x")), "no such page"),
        (AddRegion(Spot(1, Box(5, 5, 7, 50)), read=ReadRegion("x")), "too small"),
        (AddRegion(PLACE), "Nothing was read"),
        (RemoveRegion("x"), "no longer there"),
    ],
)
def test_regions_that_make_no_sense_are_refused(document, operation, sentence):
    with pytest.raises(EditError, match=sentence):
        apply(document, operation)


def test_only_what_hands_typed_counts_as_typed(document):
    assert typed_characters(document, EditText("b", (Text("Nobody pumped it"),))) == len("m")
    assert typed_characters(document, EditText("b", (Text("Nobody purnped it!"),))) == 1
    assert typed_characters(document, EditText("i", ())) == 0
    assert typed_characters(document, SettleWords((answer("b", 7, "purnped", "pumped"),))) == 0
    assert typed_characters(document, SettleWords((answer("b", 7, "purnped", "pumped", typed=True),))) == 6
    assert typed_characters(document, InsertParagraph(text="Two words")) == 9
    assert typed_characters(document, DescribePicture("i", "A float")) == 7
    assert typed_characters(document, Exclude("a", True)) == 0


def test_the_history_says_what_was_corrected(document):
    settle = SettleWords(
        (
            answer("a", 27, "purnped", "pumped"),
            answer("b", 0, "Nobody", "Nobody", key=DoubtKey("word", 1, "Nobody")),
        )
    )
    edit = apply(document, settle)
    assert list(corrections_of(settle, edit.inverse)) == [
        Correction(1, "purnped", "pumped"),
        Correction(1, "Nobody", "Nobody"),
    ]
    retyped = EditText("b", (Text("Somebody purnped it well"),))
    inverse = apply(document, retyped).inverse
    assert list(corrections_of(retyped, inverse)) == [Correction(1, "Nobody", "Somebody"), Correction(1, "", "well")]
    assert list(corrections_of(Exclude("a", True), ())) == []


def test_the_certificate_lists_what_was_done_and_what_is_open(document):
    work = WorkDone(words=10, characters=55, raised=4, changed=1, kept=1, left=0, open=2, typed=3)
    corrections = [Correction(1, "purnped", "pumped"), Correction(0, "Nobody", "Nobody")]
    people = {"Oske": 2, "clerk": 1}
    text = certificate_text(certificate_entries("Log 7", 12, work, people, corrections, find_queries(document)))
    assert text.startswith("Certificate of correction: Log 7\nWritten from revision 12.\n")
    assert "\nWorked on by Oske: 2 changes.\nWorked on by clerk: 1 change.\n" in text
    assert "Characters typed:  3, where the whole text has 55" in text
    assert "Corrected\n---------\nPage 1:\n   “purnped” to “pumped”\n" in text
    assert "Kept as it was read\n-------------------\nThe document:\n   “Nobody”\n" in text
    assert "   “purnped,” (uncertain word)" in text
    assert "picture without alternative text: " in text
    assert certificate_text(certificate_entries("Log 7", 1, work, {}, [], [])).count("Nothing.") == 3


def test_what_is_settled_is_undone_without_the_whole_list(document):
    kept = tuple(DoubtKey("word", 1, f"word{n}") for n in range(500))
    many = apply(document, KeepAsItIs(kept)).document
    edit = apply(many, KeepAsItIs((DoubtKey("word", 1, "another"), kept[3])))
    assert len(msgspec.json.encode(edit.inverse)) < 200
    assert undo(edit.document, edit.inverse) == many


def test_keeping_one_doubt_leaves_equal_words_elsewhere_in_doubt():
    here, there = Box(10, 10, 40, 20), Box(10, 300, 40, 310)
    kept = KeptDoubts([DoubtKey("word", 1, "Tarow", "a", here)])
    assert DoubtKey("word", 1, "Tarow", "a", here) in kept
    assert DoubtKey("word", 1, "Tarow", "b", Box(11, 10, 41, 20)) in kept  # read again, split off: the same place
    assert DoubtKey("word", 1, "Tarow", "a", there) not in kept
    assert DoubtKey("word", 2, "Tarow", "a", here) not in kept
    kept.remove([DoubtKey("word", 1, "Tarow", "a", here)])
    assert DoubtKey("word", 1, "Tarow", "a", here) not in kept
    # What an earlier release remembered has neither place nor block, and stands for the whole page.
    assert DoubtKey("word", 3, "Tarow", "a", here) in KeptDoubts([DoubtKey("word", 3, "Tarow")])
