"""Operations on tables and on texts in their cells."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.edits import (
    AlignBlock,
    EditText,
    Exclude,
    JoinBlocks,
    MoveBlock,
    RestoreText,
    RowsToTable,
    SetHeaderRows,
    SetKind,
    SettleWords,
    TableToRows,
    WordAnswer,
    apply,
    undo,
)
from evenquill.core.errors import EditError
from evenquill.core.model import (
    Align,
    Cell,
    Document,
    DoubtKey,
    ParagraphStyle,
    Role,
    TableBlock,
    Text,
    TextBlock,
)
from evenquill.core.model.grid import grid_faults
from tests.conftest import ids
from tests.core.blocks import block, table, texts, three_rows_and_a_picture, words


@pytest.fixture
def document() -> Document:
    return three_rows_and_a_picture()


@pytest.fixture
def tabled() -> Document:
    return Document(
        styles=(ParagraphStyle("Body text", size=11), ParagraphStyle("Table text", size=9)),
        blocks=(block("a", "Above"), table("t", [["North pier", "2.31"], ["Ferry slip", "0.87"]]), block("b", "Below")),
    )


def test_text_in_a_cell_is_changed_where_it_stands(tabled):
    edit = apply(tabled, EditText("t.1.1", (Text("0.78"),)))
    found = edit.document.blocks[1]
    assert isinstance(found, TableBlock)
    assert [cell.text for cell in found.cells] == ["North pier", "2.31", "Ferry slip", "0.78"]
    assert apply(tabled, AlignBlock("t.0.0", Align.RIGHT)).document.blocks[1].texts[0].align is Align.RIGHT
    assert apply(tabled, AlignBlock("t", Align.CENTER)).document.blocks[1].align is Align.CENTER
    assert undo(edit.document, edit.inverse) == tabled
    assert edit.inverse == (RestoreText(1, tabled.blocks[1].texts[3]),)  # the other cells are not kept with each step


def test_words_in_cells_are_settled_like_others(tabled):
    answers = (
        WordAnswer("t.0.0", "North", "South", 0, key=DoubtKey("word", 1, "North")),
        WordAnswer("b", "Below", "Below", 0, key=DoubtKey("word", 1, "Below")),
        WordAnswer("t.0.0", "pier", "quay", 6),
        WordAnswer("t.1.0", "Ferry", "Fairy", typed=True),
    )
    edit = apply(tabled, SettleWords(answers))
    assert [text.text for text in edit.document.texts][1:5] == ["South quay", "2.31", "Fairy slip", "0.87"]
    assert edit.document.settled.words == ("Below", "Fairy")
    assert undo(edit.document, edit.inverse) == tabled


@pytest.mark.parametrize(
    "operation",
    [
        JoinBlocks("t.0.0", "t.0.1"),
        SetKind("t.0.0", Role.HEADING, 1),
        MoveBlock("t.0.0"),
        Exclude("t.0.0", True),
    ],
)
def test_text_in_a_cell_is_no_row(tabled, operation):
    with pytest.raises(EditError, match="text in a table"):
        apply(tabled, operation)


def test_a_table_is_no_row_of_text(tabled):
    with pytest.raises(EditError, match="Its text is in its cells"):
        apply(tabled, SetKind("t", Role.HEADING, 1))
    with pytest.raises(EditError, match="Make a table of the rows"):
        apply(tabled, SetKind("a", Role.CELL))


def test_a_header_has_fewer_rows_than_its_table_and_cuts_no_cell(tabled):
    assert apply(tabled, SetHeaderRows("t", 1)).document.blocks[1].header_rows == 1
    with pytest.raises(EditError, match="fewer rows"):
        apply(tabled, SetHeaderRows("t", 2))
    with pytest.raises(EditError, match="no table"):
        apply(tabled, SetHeaderRows("a", 1))
    cells = (
        Cell("1", 0, 0, (block("x", "x"),), rows=2),
        Cell("2", 0, 1, (block("y", "y"),)),
        Cell("3", 1, 1, (block("z", "z"),)),
    )
    tall = replace(tabled, blocks=(TableBlock("u", (9.0, 9.0), ("r1", "r2"), cells),))
    with pytest.raises(EditError, match="goes on below"):
        apply(tall, SetHeaderRows("u", 1))


def test_a_table_becomes_rows_of_text_and_these_a_table(tabled):
    rows = apply(tabled, TableToRows("t"))
    assert texts(rows.document) == ["Above", "North pier\t2.31", "Ferry slip\t0.87", "Below"]
    assert ids(rows.document.blocks) == ["a", "t", "b1", "b"]
    first = rows.document.blocks[1]
    assert isinstance(first, TextBlock)
    assert [stop.at for stop in first.tabs] == [60.0]
    assert words(first) == {"North": (1, 0), "pier": (1, 60), "2.31": (1, 0)}
    assert undo(rows.document, rows.inverse) == tabled
    again = apply(rows.document, RowsToTable(("t", "b1")))
    made = again.document.blocks[1]
    assert isinstance(made, TableBlock)
    assert [(cell.row, cell.column, cell.text) for cell in made.cells] == [
        (0, 0, "North pier"), (0, 1, "2.31"), (1, 0, "Ferry slip"), (1, 1, "0.87"),
    ]  # fmt: skip
    assert words(made.texts[1]) == {"2.31": (1, 0)}
    assert list(grid_faults(made)) == []
    assert made.widths[0] == 60.0
    assert undo(again.document, again.inverse) == rows.document


def test_cells_that_take_several_places_leave_tabs_for_them():
    cells = (
        Cell("1", 0, 0, (block("p", "Day"),), rows=2),
        Cell("2", 0, 1, (block("q", "First"),), columns=2),
        Cell("3", 1, 1, (block("r", "h.m"), block("s", "UT"))),
        Cell("4", 1, 2, (block("s2", "m"),)),
    )
    document = Document(
        styles=(ParagraphStyle("Body text"),), blocks=(TableBlock("t", (20.0, 30.0, 30.0), ("r1", "r2"), cells),)
    )
    assert texts(apply(document, TableToRows("t")).document) == ["Day\tFirst", "\th.m UT\tm"]


def test_only_rows_with_tabs_that_follow_one_another_become_a_table(document):
    with pytest.raises(EditError, match="no tabs"):
        apply(document, RowsToTable(("a", "b")))
    with pytest.raises(EditError, match="follow one another"):
        apply(document, RowsToTable(("a", "c")))
