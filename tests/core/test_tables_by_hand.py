"""Rows, columns and cells of a table changed by hand. A table is written as its rows, a merged cell as its text in each place."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from evenquill.core.edits import (
    AlignColumns,
    ArrangeColumns,
    CellLines,
    Exclude,
    FillCells,
    InsertLines,
    JoinTables,
    Line,
    MergeCells,
    MoveLines,
    RemoveEmptyLines,
    RemoveLines,
    RuleCells,
    RuleTable,
    SetColumnWidths,
    SetHeaderRows,
    SplitCell,
    SplitColumn,
    SplitTable,
    TransposeTable,
    WidthsBy,
    apply,
    undo,
)
from evenquill.core.edits.table_columns import widths_within
from evenquill.core.errors import EditError
from evenquill.core.model import Align, Box, Document, ParagraphStyle, Section, Spot, TableBlock
from evenquill.core.model.grid import grid_faults
from evenquill.core.model.ids import Ids
from tests.core.blocks import block, table

LEVELS = [["Gauge", "May", "June"], ["North pier", "2.31", "2.29"], ["Ferry slip", "0.87", "0.91"]]


@pytest.fixture
def document() -> Document:
    levels = replace(table("t", LEVELS), header_rows=1)
    return Document(
        styles=(ParagraphStyle("Body text", size=11), ParagraphStyle("Table text", size=9)),
        blocks=(block("a", "Above"), levels, block("b", "Below")),
    )


def found(document: Document, at: int = 1) -> TableBlock:
    block = document.blocks[at]
    assert isinstance(block, TableBlock)
    assert not list(grid_faults(block))
    return block


def shown(block: TableBlock) -> list[list[str]]:
    rows = [[""] * len(block.widths) for _ in block.row_ids]
    for cell in block.cells:
        for row in range(cell.row, cell.row + cell.rows):
            for column in range(cell.column, cell.column + cell.columns):
                rows[row][column] = cell.text
    return rows


def after(document: Document, *operations) -> TableBlock:
    """The table after operations, each of which undo takes back to the letter."""
    for operation in operations:
        edit = apply(document, operation)
        assert undo(edit.document, edit.inverse) == document
        document = edit.document
    return found(document)


def test_rows_and_columns_are_put_in_and_look_like_their_neighbours(document):
    aligned = apply(document, AlignColumns("t", 1, Align.RIGHT, 2)).document
    longer = after(aligned, InsertLines("t", Line.ROW, 3), InsertLines("t", Line.ROW, 1))
    assert shown(longer) == [LEVELS[0], ["", "", ""], LEVELS[1], LEVELS[2], ["", "", ""]]
    assert longer.header_rows == 1
    assert [cell.texts[0].align for cell in longer.cells if cell.row == 4] == [None, Align.RIGHT, Align.RIGHT]
    broader = after(aligned, InsertLines("t", Line.COLUMN, 1, 2))
    assert shown(broader)[1] == ["North pier", "", "", "2.31", "2.29"]
    assert sum(broader.widths) == pytest.approx(sum(found(document).widths))
    assert after(document, InsertLines("t", Line.ROW, 0)).header_rows == 2
    with pytest.raises(EditError, match="no such place"):
        apply(document, InsertLines("t", Line.ROW, 4))
    with pytest.raises(EditError, match="at most"):
        apply(document, InsertLines("t", Line.COLUMN, 0, 10**6))


def test_rows_and_columns_are_taken_out(document):
    assert shown(after(document, RemoveLines("t", Line.ROW, 0))) == LEVELS[1:]
    assert after(document, RemoveLines("t", Line.ROW, 0)).header_rows == 0
    left = after(document, RemoveLines("t", Line.COLUMN, 1, 2))
    assert shown(left) == [["Gauge"], ["North pier"], ["Ferry slip"]]
    assert len(left.widths) == 1
    with pytest.raises(EditError, match="Nothing would be left"):
        apply(document, RemoveLines("t", Line.ROW, 0, 3))
    with pytest.raises(EditError, match="no such place"):
        apply(document, RemoveLines("t", Line.ROW, 2, 2))


def test_rows_and_columns_are_moved(document):
    assert shown(after(document, MoveLines("t", Line.ROW, 2, 1))) == [LEVELS[0], LEVELS[2], LEVELS[1]]
    assert shown(after(document, MoveLines("t", Line.COLUMN, 0, 3)))[0] == ["May", "June", "Gauge"]
    assert found(apply(document, MoveLines("t", Line.ROW, 0, 3, 1)).document).row_ids[-1] == found(document).row_ids[0]
    for at, to, count in ((0, 1, 1), (0, 0, 1)):
        with pytest.raises(EditError, match="there already"):
            apply(document, MoveLines("t", Line.ROW, at, to, count))
    merged = apply(document, MergeCells("t", 1, 0, 2, 1)).document
    with pytest.raises(EditError, match="merged cell"):
        apply(merged, MoveLines("t", Line.ROW, 0, 2))
    assert shown(after(merged, MoveLines("t", Line.ROW, 1, 0, 2)))[2] == LEVELS[0]


def test_merged_cells_grow_and_shrink_with_what_goes_through_them(document):
    wide = apply(document, MergeCells("t", 0, 0, 1, 3)).document
    assert shown(found(wide))[0] == ["Gauge\nMay\nJune"] * 3
    assert shown(after(wide, InsertLines("t", Line.COLUMN, 1)))[:2] == [
        ["Gauge\nMay\nJune"] * 4,
        ["North pier", "", "2.31", "2.29"],
    ]
    assert shown(after(wide, RemoveLines("t", Line.COLUMN, 0)))[0] == ["Gauge\nMay\nJune"] * 2
    # A part of a merged cell is enough to name it, and what it would cut comes with it.
    tall = apply(wide, MergeCells("t", 0, 1, 2, 1)).document
    assert shown(found(tall))[1] == shown(found(tall))[0]
    assert found(tall).header_rows == 0
    with pytest.raises(EditError, match="one cell already"):
        apply(wide, MergeCells("t", 0, 0, 1, 2))


def test_a_cell_is_split_into_what_it_was_merged_of_or_in_two(document):
    merged = apply(document, MergeCells("t", 1, 1, 2, 2)).document
    assert shown(after(merged, SplitCell("t", 2, 2))) == LEVELS
    one = apply(document, FillCells("t", 1, 2, (("",),))).document
    pair = apply(one, MergeCells("t", 1, 1, 1, 2)).document
    assert shown(after(pair, SplitCell("t", 1, 1)))[1] == ["North pier", "2.31", ""]
    halved = after(document, SplitCell("t", 1, 1))
    assert shown(halved) == [
        ["Gauge", "May", "May", "June"],
        ["North pier", "2.31", "", "2.29"],
        ["Ferry slip", "0.87", "0.87", "0.91"],
    ]
    assert sum(halved.widths) == pytest.approx(sum(found(document).widths))
    with pytest.raises(EditError, match="no such cell"):
        apply(document, SplitCell("t", 3, 0))


def test_a_column_of_two_numbers_becomes_two(document):
    rows = [["Gauge", "May June"], ["North pier", "2.31 2.29"], ["Ferry slip", " −0,87  14"], ["Sill", "dry"]]
    whole = replace(document, blocks=(block("a", "Above"), table("t", rows), block("b", "Below")))
    parted = after(whole, SplitColumn("t", 1))
    assert shown(parted)[1:] == [["North pier", "2.31", "2.29"], ["Ferry slip", "−0,87", "14"], ["Sill", "dry", ""]]
    assert [(word.start, word.end) for word in parted.cells[5].texts[0].words] == [(0, 4)]
    headed = apply(whole, MergeCells("t", 0, 0, 1, 2)).document
    assert found(apply(headed, SplitColumn("t", 1)).document).cells[0].columns == 3
    with pytest.raises(EditError, match="no such column"):
        apply(whole, SplitColumn("t", 2))


def test_cells_are_filled_and_the_table_grows(document):
    filled = after(document, FillCells("t", 2, 1, (("0.88", "0.92", "0.95"), ("1.01", "1\nand 2"))))
    assert shown(filled) == [
        ["Gauge", "May", "June", ""],
        ["North pier", "2.31", "2.29", ""],
        ["Ferry slip", "0.88", "0.92", "0.95"],
        ["", "1.01", "1\nand 2", ""],
    ]
    merged = apply(document, MergeCells("t", 1, 1, 2, 1)).document
    assert shown(after(merged, FillCells("t", 1, 1, (("2.4",),))))[2] == ["Ferry slip", "2.4", "0.91"]
    for wrong, says in (
        (FillCells("t", 1, 0, (("a", "b"), ("c", "d"))), "in the way"),
        (FillCells("t", 0, 0, ((), ())), "nothing to fill"),
        (FillCells("t", 9, 0, (("a",),)), "no such cell"),
        (FillCells("t", 0, 0, (("x",) * 200,) * 100), "At most"),
    ):
        with pytest.raises(EditError, match=says):
            apply(merged, wrong)


def test_all_empty_rows_and_columns_go_at_once(document):
    gaps = apply(document, InsertLines("t", Line.ROW, 2, 2)).document
    gaps = apply(gaps, InsertLines("t", Line.COLUMN, 3)).document
    assert shown(after(gaps, RemoveEmptyLines("t"))) == LEVELS
    with pytest.raises(EditError, match="No row and no column"):
        apply(document, RemoveEmptyLines("t"))
    empty = Document(blocks=(table("t", [["", " "]]),))
    with pytest.raises(EditError, match="whole table is empty"):
        apply(empty, RemoveEmptyLines("t"))


def test_tables_are_joined_over_what_does_not_part_them(document):
    more = replace(table("u", [["Gauge", "May", "June"], ["Lock", "3.10", "3.08"]]), header_rows=1, spots=(spot(2),))
    first = replace(document.blocks[1], spots=(spot(1),))
    whole = replace(document, blocks=(document.blocks[0], first, block("b", "Below"), more))
    with pytest.raises(EditError, match="right after"):
        apply(whole, JoinTables("t"))
    with pytest.raises(EditError, match="right before"):
        apply(whole, JoinTables("t", back=True))
    aside = apply(whole, Exclude("b", excluded=True)).document
    for operation in (JoinTables("t"), JoinTables("u", back=True)):
        edit = apply(aside, operation)
        assert shown(found(edit.document)) == [*LEVELS, ["Lock", "3.10", "3.08"]]
        assert [one.id for one in edit.document.blocks] == ["a", "t", "b"]
        assert (found(edit.document).header_rows, found(edit.document).spots) == (1, (spot(1), spot(2)))
        assert edit.focus.block == "t"
        assert undo(edit.document, edit.inverse) == aside


def test_the_narrower_of_two_tables_is_given_columns(document):
    narrow = replace(document, blocks=(*document.blocks[:2], table("u", [["Lock"], ["Weir"]])))
    assert shown(after(narrow, JoinTables("t")))[3:] == [["Lock", "", ""], ["Weir", "", ""]]
    turned = replace(document, blocks=(document.blocks[0], narrow.blocks[2], document.blocks[1]))
    joined = after(turned, JoinTables("u"))
    assert shown(joined)[:2] == [["Lock", "", ""], ["Weir", "", ""]]
    assert len(joined.row_ids) == 5


def test_a_table_is_split_in_two_and_joined_again(document):
    edit = apply(document, SplitTable("t", 2))
    first, second = found(edit.document, 1), found(edit.document, 2)
    assert (shown(first), shown(second)) == (LEVELS[:2], LEVELS[2:])
    assert (first.header_rows, second.header_rows, edit.focus.block) == (1, 0, second.id)
    assert shown(after(edit.document, JoinTables("t"))) == LEVELS
    with pytest.raises(EditError, match="not before the first"):
        apply(document, SplitTable("t", 0))
    merged = apply(document, MergeCells("t", 1, 0, 2, 1)).document
    with pytest.raises(EditError, match="merged cell"):
        apply(merged, SplitTable("t", 2))


def test_columns_are_made_of_rows(document):
    turned = after(document, TransposeTable("t"))
    assert shown(turned) == [list(row) for row in zip(*LEVELS, strict=True)]
    assert shown(after(document, TransposeTable("t"), TransposeTable("t"))) == LEVELS


def test_columns_are_given_widths(document):
    assert after(document, SetColumnWidths("t", (120, 40.5, 40))).widths == (120, 40.5, 40)
    assert (
        len(set(after(document, SetColumnWidths("t", (120, 40, 40)), ArrangeColumns("t", WidthsBy.EVEN)).widths)) == 1
    )
    for widths, says in (((1.0, 50, 50), "at least"), ((50.0,), "Each column"), ((1400.0, 90, 90), "at most")):
        with pytest.raises(EditError, match=says):
            apply(document, SetColumnWidths("t", widths))
    page = Section("s").setup.text_width
    assert sum(after(document, ArrangeColumns("t", WidthsBy.PAGE)).widths) == pytest.approx(page, abs=0.1)
    by_text = after(document, ArrangeColumns("t", WidthsBy.CONTENT)).widths
    assert by_text[0] > by_text[1] == by_text[2]
    long = apply(document, FillCells("t", 1, 0, (("a long remark of the keeper " * 20,),))).document
    widths = after(long, ArrangeColumns("t", WidthsBy.CONTENT)).widths
    assert sum(widths) == pytest.approx(page, abs=0.1)
    assert widths[1:] == by_text[1:]
    assert widths_within([10, 300, 100], 210) == (10, 100, 100)
    assert widths_within([10, 300, 200], 210) == (10, 120, 80)


def test_lines_are_drawn_or_not(document):
    assert not after(document, RuleTable("t", ruled=False)).ruled
    with pytest.raises(EditError, match="no table"):
        apply(document, RuleTable("a", ruled=False))


def spot(page: int) -> Spot:
    return Spot(page, Box(10, 10, 90, 40))


CHANGES = st.one_of(
    st.builds(InsertLines, st.just("t"), st.sampled_from(Line), st.integers(0, 5), st.integers(1, 2)),
    st.builds(RemoveLines, st.just("t"), st.sampled_from(Line), st.integers(0, 5), st.integers(1, 2)),
    st.builds(MoveLines, st.just("t"), st.sampled_from(Line), st.integers(0, 4), st.integers(0, 5), st.integers(1, 2)),
    st.builds(MergeCells, st.just("t"), *(st.integers(0, 4),) * 2, *(st.integers(1, 3),) * 2),
    st.builds(SplitCell, st.just("t"), st.integers(0, 5), st.integers(0, 5)),
    st.builds(SplitColumn, st.just("t"), st.integers(0, 3)),
    st.builds(FillCells, st.just("t"), *(st.integers(0, 3),) * 2, st.just((("x", "y z"), ("",)))),
    st.builds(SetHeaderRows, st.just("t"), st.integers(0, 3)),
    st.builds(SplitTable, st.just("t"), st.integers(1, 4)),
    st.builds(JoinTables, st.just("t"), st.booleans()),
    st.builds(
        RuleCells, st.just("t"), *(st.integers(0, 3),) * 2, *(st.integers(1, 3),) * 2, st.sampled_from(CellLines)
    ),
    st.just(RemoveEmptyLines("t")),
    st.just(TransposeTable("t")),
)


@given(st.lists(CHANGES, max_size=14))
@settings(max_examples=200, deadline=None)
def test_a_table_stays_sound_whatever_is_done_to_it_and_nothing_is_lost_by_merging(operations):
    document = Document(blocks=(table("t", LEVELS), table("u", [["p"], ["q"]])))
    start, inverses, counter = document, [], Ids(1)
    for operation in operations:
        before = sorted(filter(str.strip, (text.text for text in document.texts)))
        try:
            edit = apply(document, operation, counter)
        except EditError:
            continue
        document = edit.document
        inverses.append(edit.inverse)
        for one in document.blocks:
            assert isinstance(one, TableBlock)
            assert not list(grid_faults(one))
            assert one.header_rows < one.row_count
        if not isinstance(operation, RemoveLines | FillCells | JoinTables):
            assert sorted(filter(str.strip, (text.text for text in document.texts))) == before
    for inverse in reversed(inverses):
        document = undo(document, inverse)
    assert document == start
