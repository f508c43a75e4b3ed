"""Corrections kept through a new reading, on documents small enough to see through."""

from __future__ import annotations

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from evenquill.core.edits import (
    EditText,
    Exclude,
    InsertParagraph,
    JoinBlocks,
    MoveBlock,
    Operation,
    RemoveRegion,
    SetKind,
    SplitBlock,
    apply,
)
from evenquill.core.errors import EditError
from evenquill.core.model import (
    Box,
    Cell,
    Document,
    Marks,
    NoteRef,
    ParagraphStyle,
    PictureBlock,
    RemarkKind,
    Role,
    Spot,
    TableBlock,
    Text,
    TextBlock,
    WordSpot,
)
from evenquill.core.model.ids import names_in
from evenquill.core.rebase import keep_ids, rebase_corrections

STYLES = (ParagraphStyle("Body text"), ParagraphStyle("Heading 1", outline=1))


def row(name: str, text: str, page: int = 1, top: float = 100.0, left: float = 0.0) -> TextBlock:
    """A row whose words stand side by side, 40 points each."""
    words, at = [], 0
    for n, word in enumerate(text.split(" ")):
        x = left + 40.0 * n
        words.append(WordSpot(at, at + len(word), page, Box(x, top, x + 36, top + 12), 0.6))
        at += len(word) + 1
    spots = (Spot(page, Box(left, top, left + 40.0 * len(words), top + 12)),)
    return TextBlock(name, content=(Text(text),), style="Body text", spots=spots, words=tuple(words))


def document(*rows: TextBlock | TableBlock | PictureBlock) -> Document:
    return Document(styles=STYLES, blocks=rows)


def texts(made: Document) -> list[str]:
    return [block.readable for block in made.blocks if isinstance(block, TextBlock)]


def edited(start: Document, *operations: Operation) -> Document:
    for operation in operations:
        start = apply(start, operation).document
    return start


def reread(base: Document, mine: Document, fresh: Document, *pages: int) -> Document:
    return rebase_corrections(base, mine, keep_ids(fresh, base), frozenset(pages or (1,))).document


OLD = document(
    row("b1", "the fIoat was hard", top=100), row("b2", "against the wire", top=120), row("b3", "at noon", top=140)
)
SAME = document(
    row("x", "the fIoat was hard", top=100), row("y", "against the wire", top=120), row("z", "at noon", top=140)
)


def test_what_was_not_corrected_is_as_it_is_read_now():
    fresh = document(row("x", "the float was hard", top=100), row("y", "against the wires", top=120))
    made = reread(OLD, OLD, fresh)
    assert texts(made) == ["the float was hard", "against the wires"]
    assert [block.id for block in made.blocks] == ["b1", "b2"]
    assert not made.remarks


def test_a_word_that_reads_the_same_is_corrected_again():
    mine = edited(OLD, EditText("b1", (Text("the float was hard"),)))
    fresh = document(row("x", "the fIoat was hard!", top=100), *SAME.blocks[1:])
    made = reread(OLD, mine, fresh)
    assert texts(made)[0] == "the float was hard!"
    assert not made.remarks


def test_a_word_that_reads_otherwise_stays_corrected_and_is_listed_with_both_texts():
    mine = edited(OLD, EditText("b1", (Text("the float was hard"),)))
    made = reread(OLD, mine, document(row("x", "the flcat was hard", top=100), *SAME.blocks[1:]))
    assert texts(made)[0] == "the float was hard"
    (remark,) = made.remarks
    assert remark.kind is RemarkKind.NOT_CARRIED_OVER
    assert remark.sentence == "Page 1: “float” stays as it was corrected; the new reading says “flcat”."


def test_a_row_that_is_no_longer_read_stays_if_it_was_corrected_and_goes_if_not():
    mine = edited(OLD, EditText("b1", (Text("the float was hard"),)))
    made = reread(OLD, mine, document(SAME.blocks[1]))
    assert texts(made) == ["the float was hard", "against the wire"]
    assert "finds nothing where “the float was hard” stands" in made.remarks[0].sentence


def test_both_halves_of_a_row_that_was_split_are_there_with_the_new_words():
    mine = edited(OLD, SplitBlock("b1", 10))
    assert texts(mine)[:2] == ["the fIoat", "was hard"]
    made = reread(OLD, mine, document(row("x", "the float was very hard", top=100), *SAME.blocks[1:]))
    # “very” stands where “hard” stood, “hard” where nothing did: all of it is in the second half.
    assert texts(made) == ["the float", "was very hard", "against the wire", "at noon"]
    assert [block.id for block in made.blocks] == [block.id for block in mine.blocks]


def test_rows_that_were_joined_are_one_with_the_new_words():
    mine = edited(OLD, JoinBlocks("b1", "b2"))
    made = reread(
        OLD,
        mine,
        document(row("x", "the float was hard", top=100), row("y", "against the wires", top=120), SAME.blocks[2]),
    )
    assert texts(made) == ["the float was hard against the wires", "at noon"]
    assert made.blocks[0].id == "b1"


def test_kind_emphasis_and_what_was_set_aside_survive():
    mine = edited(
        OLD,
        SetKind("b2", Role.HEADING, 1),
        EditText("b1", (Text("the "), Text("fIoat", Marks.BOLD), Text(" was hard"))),
        Exclude("b3", True),
    )
    made = reread(
        OLD,
        mine,
        document(row("x", "The fIoat was hard", top=100), row("y", "against a wire", top=120), SAME.blocks[2]),
    )
    first, second, third = made.blocks
    assert isinstance(first, TextBlock)
    assert first.content == (Text("The "), Text("fIoat", Marks.BOLD), Text(" was hard"))
    assert isinstance(second, TextBlock)
    assert (second.role, second.text, second.style) == (Role.HEADING, "against a wire", mine.blocks[1].style)
    assert third.excluded


def test_rows_that_were_moved_or_made_stay_where_they_are():
    mine = edited(OLD, MoveBlock("b3", "b1"), InsertParagraph("b1", "Typed by hand"))
    made = reread(OLD, mine, document(row("x", "the float was hard", top=100), *SAME.blocks[1:]))
    assert texts(made) == ["at noon", "the float was hard", "Typed by hand", "against the wire"]


def test_a_row_that_was_taken_out_stays_out():
    made = reread(OLD, edited(OLD, RemoveRegion("b2")), SAME)
    assert texts(made) == ["the fIoat was hard", "at noon"]


def test_a_better_order_of_the_new_reading_stands_where_nobody_changed_the_order():
    mine = edited(OLD, EditText("b1", (Text("the float was hard"),)))
    made = reread(OLD, mine, document(SAME.blocks[2], SAME.blocks[0], SAME.blocks[1]))
    assert texts(made) == ["at noon", "the float was hard", "against the wire"]


def test_paragraphs_that_are_parted_otherwise_now_take_the_corrected_words():
    base = document(row("b1", "the fIoat was hard against the wire"))
    mine = edited(base, EditText("b1", (Text("the float was hard against the wire"),)))
    fresh = document(row("x", "the fIoat was hard"), row("y", "against the wire", left=160))
    made = reread(base, mine, fresh)
    assert texts(made) == ["the float was hard", "against the wire"]
    assert made.blocks[0].id == "b1"


def test_what_is_new_on_the_page_comes_where_it_is_read():
    mine = edited(OLD, EditText("b1", (Text("the float was hard"),)))
    made = reread(OLD, mine, document(SAME.blocks[0], row("n", "a new line", top=110), *SAME.blocks[1:]))
    assert texts(made) == ["the float was hard", "a new line", "against the wire", "at noon"]


def test_marks_of_notes_on_other_pages_keep_their_notes():
    note = replace(row("b9", "Read from the staff.", page=2, top=500), role=Role.NOTE)
    marked = replace(
        row("b8", "The level was high", page=2), content=(Text("The level"), NoteRef("b9", "1"), Text(" was high"))
    )
    base = document(*OLD.blocks, marked, note)
    # Read again, page 1 has a row more, so that all ids of a fresh rebuilding are others.
    fresh_note = replace(row("f6", "Read from the staff.", page=2, top=500), role=Role.NOTE)
    fresh_marked = replace(
        row("f5", "The level was high", page=2), content=(Text("The level"), NoteRef("f6", "1"), Text(" was high"))
    )
    fresh = document(
        row("f1", "A new head", top=60),
        *(replace(block, id=f"f{n}") for n, block in enumerate(SAME.blocks, 2)),
        fresh_marked,
        fresh_note,
    )
    made = reread(base, base, fresh)
    assert texts(made)[-2:] == ["The level1 was high", "Read from the staff."]
    (mark,) = [
        item
        for block in made.blocks
        if isinstance(block, TextBlock)
        for item in block.content
        if isinstance(item, NoteRef)
    ]
    assert made.blocks[made.index(mark.note)].id == "b9"


def test_pages_that_were_not_read_again_stay_as_they_were_corrected():
    second = row("b4", "three four", page=2)
    base = document(*OLD.blocks, second)
    mine = edited(base, EditText("b4", (Text("three and four"),)))
    made = reread(base, mine, document(row("x", "new words", top=100), row("w", "three four", page=2)))
    assert texts(made) == ["new words", "three and four"]
    assert len({block.id for block in made.blocks}) == 2


def table(name: str, *cells: str) -> TableBlock:
    made = tuple(
        Cell(f"{name}.c{n}", 0, n, (replace(row(f"{name}.t{n}", text, left=100.0 * n), role=Role.CELL),))
        for n, text in enumerate(cells)
    )
    return TableBlock(name, (100.0,) * len(cells), (f"{name}.r",), made, spots=(Spot(1, Box(0, 100, 300, 112)),))


def test_a_table_is_merged_cell_by_cell_and_keeps_its_ids():
    base = document(table("b1", "fIoat", "2.31"))
    mine = edited(base, EditText("b1.t0", (Text("float"),)))
    made = reread(base, mine, document(table("x", "fIoat", "2.37")))
    (found,) = made.blocks
    assert isinstance(found, TableBlock)
    assert [text.text for text in found.texts] == ["float", "2.37"]
    assert list(names_in(found)) == list(names_in(base.blocks[0]))


def test_a_table_of_another_shape_leaves_the_corrected_one_and_says_so():
    base = document(table("b1", "fIoat", "2.31"))
    mine = edited(base, EditText("b1.t0", (Text("float"),)))
    made = reread(base, mine, document(table("x", "fIoat", "2", "31")))
    (found,) = made.blocks
    assert isinstance(found, TableBlock)
    assert [text.text for text in found.texts] == ["float", "2.31"]
    assert "the table that begins “float” stays as it was corrected" in made.remarks[-1].sentence


def test_a_description_of_a_picture_survives():
    picture = PictureBlock("p", "0" * 64, "image/png", 100, 50, spots=(Spot(1, Box(0, 300, 100, 350)),))
    base = document(*OLD.blocks, picture)
    mine = document(*OLD.blocks, replace(picture, alt="The hut"))
    made = reread(base, mine, document(*SAME.blocks, replace(picture, id="q", picture="1" * 64)))
    found = made.blocks[-1]
    assert isinstance(found, PictureBlock)
    assert (found.alt, found.picture, found.id) == ("The hut", "1" * 64, "p")


def test_a_page_that_was_turned_is_matched_by_its_text():
    mine = edited(OLD, EditText("b1", (Text("the float was hard"),)))
    turned = document(
        row("x", "the fIoat was hard", top=400, left=300),
        row("y", "against the wire", top=420, left=300),
        row("z", "at noon", top=440, left=300),
    )
    made = reread(OLD, mine, turned)
    assert texts(made) == ["the float was hard", "against the wire", "at noon"]


WORDS = st.sampled_from(["tide", "gauge", "fIoat", "well", "pier"])
OPERATIONS = st.one_of(
    st.builds(
        EditText,
        st.sampled_from(["b1", "b2", "b3"]),
        st.tuples(st.builds(Text, st.lists(WORDS, min_size=1, max_size=5).map(" ".join))),
    ),
    st.builds(SplitBlock, st.sampled_from(["b1", "b2"]), st.integers(1, 12)),
    st.builds(JoinBlocks, st.just("b1"), st.sampled_from(["b2", "b3"])),
    st.builds(MoveBlock, st.sampled_from(["b1", "b2", "b3"]), st.none() | st.sampled_from(["b1", "b2", "b3"])),
    st.builds(SetKind, st.sampled_from(["b1", "b2", "b3"]), st.sampled_from([Role.HEADING, Role.QUOTE])),
    st.builds(Exclude, st.sampled_from(["b1", "b2", "b3"]), st.booleans()),
    st.builds(InsertParagraph, st.sampled_from(["b1", "b2", "b3"]), st.sampled_from(["typed", ""])),
)


def after(operations: list[Operation]) -> Document:
    mine = OLD
    for operation in operations:
        try:
            mine = apply(mine, operation).document
        except EditError:
            continue
    return mine


@given(st.lists(OPERATIONS, max_size=6))
@example([JoinBlocks("b1", "b2"), JoinBlocks("b1", "b3"), SplitBlock("b1", 1)])
@settings(max_examples=300, deadline=None)
def test_a_reading_that_says_the_same_leaves_every_correction_as_it_is(operations):
    mine = after(operations)
    made = reread(OLD, mine, SAME)
    assert [block.id for block in made.blocks] == [block.id for block in mine.blocks]
    for block, own in zip(made.blocks, mine.blocks, strict=True):
        assert isinstance(block, TextBlock)
        assert isinstance(own, TextBlock)
        assert (block.content, block.role, block.level, block.excluded) == (
            own.content,
            own.role,
            own.level,
            own.excluded,
        )
    assert not made.remarks


@given(st.lists(OPERATIONS, max_size=6), st.lists(st.lists(WORDS, min_size=1, max_size=4), min_size=1, max_size=4))
@settings(max_examples=300, deadline=None)
def test_whatever_is_read_then_no_id_comes_twice_and_typed_rows_stay(operations, lines):
    mine = after(operations)
    fresh = document(*(row(f"f{n}", " ".join(words), top=100.0 + 20 * n) for n, words in enumerate(lines)))
    made = reread(OLD, mine, fresh)
    names = [name for block in made.blocks for name in names_in(block)]
    assert len(set(names)) == len(names)
    kept = {block.id for block in made.blocks}
    typed = [
        block for block in mine.blocks if isinstance(block, TextBlock) and block.text == "typed" and not block.words
    ]
    assert {block.id for block in typed} <= kept


@pytest.mark.parametrize("again", [frozenset(), frozenset({2})])
def test_without_a_page_read_again_nothing_changes(again):
    mine = edited(OLD, EditText("b1", (Text("the float was hard"),)), MoveBlock("b3", "b1"))
    made = rebase_corrections(OLD, mine, keep_ids(SAME, OLD), again).document
    assert made.blocks == mine.blocks
