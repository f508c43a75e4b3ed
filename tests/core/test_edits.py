"""Operations: what they do, that each can be undone to the letter, and that words keep their place on the source."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from evenquill.core.edits import (
    AlignBlock,
    AlignColumns,
    ApplyStyle,
    ArrangeColumns,
    ChangeStyle,
    ChooseHandwriting,
    CutAtEdges,
    DescribePicture,
    EditText,
    Exclude,
    FillCells,
    Focus,
    HandwritingAs,
    InsertLines,
    InsertParagraph,
    JoinBlocks,
    JoinNeighbour,
    JoinTables,
    KeepAsItIs,
    Line,
    MakeEquations,
    MakePlain,
    MergeCells,
    MergeStyles,
    MoveBlock,
    MoveHeading,
    MoveLines,
    NewStyle,
    OneFlow,
    ReadRegion,
    ReadRowAgain,
    RemoveEmptyLines,
    RemoveLines,
    ReplacePicture,
    ReplaceText,
    ResizePicture,
    RestartNumbering,
    RowsToTable,
    SetColumnWidths,
    SetHeaderRows,
    SetKind,
    SetSides,
    ShiftLevel,
    SplitBlock,
    SplitCell,
    SplitTable,
    StyleLook,
    TableToRows,
    Together,
    TransposeTable,
    WidthsBy,
    apply,
    undo,
)
from evenquill.core.edits.words import moved_words
from evenquill.core.errors import EditError
from evenquill.core.find import Search
from evenquill.core.model import (
    HANDWRITING,
    HANDWRITING_STYLE,
    Align,
    Box,
    Document,
    DoubtKey,
    Marks,
    NoteRef,
    NumberFormat,
    ParagraphStyle,
    PictureBlock,
    Role,
    Section,
    Sides,
    Spot,
    TableBlock,
    Text,
    TextBlock,
    UrlLink,
    WordSpot,
)
from evenquill.core.model.equation import Identifier
from evenquill.core.model.grid import grid_faults
from evenquill.core.model.ids import Ids
from tests.conftest import ids
from tests.core.blocks import block, table, texts, three_rows_and_a_picture, words


@pytest.fixture
def document() -> Document:
    return three_rows_and_a_picture()


def test_splitting_parts_text_words_and_spots(document):
    after = apply(document, SplitBlock("a", 10)).document
    assert texts(after)[:2] == ["The float", "was found"]
    assert words(after.blocks[1]) == {"was": (1, 100.0), "found": (1, 140.0)}
    assert after.blocks[1].spots == (Spot(1, Box(100, 100, 190, 112)),)


def test_splitting_at_the_end_makes_an_empty_row(document):
    after = apply(document, SplitBlock("a", 19)).document
    assert texts(after)[:2] == ["The float was found", ""]


def test_joining_puts_a_space_between_and_keeps_both_places(document):
    after = apply(document, JoinBlocks("a", "b")).document
    assert texts(after)[0] == "The float was found hard against the wire"
    assert [spot.page for spot in after.blocks[0].spots] == [1, 2]
    assert words(after.blocks[0])["wire"] == (2, 170.0)


def test_joining_after_a_hyphen_puts_no_space(document):
    document = apply(document, EditText("a", (Text("a two-"),))).document
    assert texts(apply(document, JoinBlocks("a", "b")).document)[0] == "a two-hard against the wire"


def test_rows_apart_are_not_joined(document):
    with pytest.raises(EditError, match="follow one another"):
        apply(document, JoinBlocks("c", "a"))
    with pytest.raises(EditError, match="picture"):
        apply(document, JoinBlocks("b", "i"))


def test_correcting_a_word_keeps_the_place_of_all(document):
    after = apply(document, EditText("a", (Text("The "), Text("floating", Marks.BOLD), Text(" was found")))).document
    assert words(after.blocks[0]) == {"The": (1, 0.0), "floating": (1, 40.0), "was": (1, 100.0), "found": (1, 140.0)}


def test_a_new_kind_brings_the_style_of_that_kind(document):
    after = apply(document, SetKind("a", Role.HEADING, 2)).document
    assert (after.blocks[0].role, after.blocks[0].level) == (Role.HEADING, 2)
    assert after.style(after.blocks[0].style).outline == 2
    again = apply(after, SetKind("b", Role.HEADING, 2)).document
    assert again.blocks[1].style == after.blocks[0].style
    assert len(again.styles) == 2


def test_text_that_was_bold_as_a_whole_is_plain_in_a_bold_style(document):
    bold = apply(document, EditText("a", (Text("The float", Marks.BOLD),))).document
    assert apply(bold, SetKind("a", Role.HEADING, 1)).document.blocks[0].content == (Text("The float"),)


def test_numbered_items_go_on_with_the_list_before(document):
    after = apply(document, SetKind("a", Role.LIST_ITEM, 0, ordered=True)).document
    after = apply(after, SetKind("b", Role.LIST_ITEM, 0, ordered=True)).document
    assert [after.blocks[n].numbering.start for n in (0, 1)] == [1, None]
    assert after.blocks[0].numbering.format is NumberFormat.DECIMAL


def test_moving_setting_aside_inserting_aligning(document):
    assert ids(apply(document, MoveBlock("c", "a")).document.blocks) == ["c", "a", "b", "i"]
    assert ids(apply(document, MoveBlock("a", None)).document.blocks) == ["b", "i", "c", "a"]
    assert apply(document, Exclude("b", True)).document.blocks[1].excluded
    inserted = apply(document, InsertParagraph("a", "Between")).document
    assert ids(inserted.blocks)[:2] == ["a", "b1"]
    assert inserted.blocks[1].spots == document.blocks[0].spots
    assert apply(document, AlignBlock("i", Align.CENTER)).document.blocks[2].align is Align.CENTER


def test_pictures_are_resized_replaced_and_described(document):
    assert apply(document, ResizePicture("i", 100, 50)).document.blocks[2].width == 100
    replaced = apply(document, ReplacePicture("i", "1" * 64, "image/jpeg", 400, 100)).document.blocks[2]
    assert (replaced.picture, replaced.width, replaced.height) == ("1" * 64, 200, 50)
    assert apply(document, DescribePicture("i", "The hut")).document.blocks[2].alt == "The hut"


@pytest.mark.parametrize(
    "operation",
    [
        EditText("gone", ()),
        EditText("i", ()),
        SplitBlock("a", 99),
        SetKind("i", Role.HEADING, 1),
        MoveBlock("a", "a"),
        MoveBlock("a", "gone"),
        InsertParagraph("gone"),
        JoinNeighbour("i"),
        ShiftLevel(("a",), 1),
        ReadRowAgain("a", ReadRegion(" ")),
        ResizePicture("i", 0, 10),
        ResizePicture("a", 10, 10),
        ReplacePicture("i", "1" * 64, "image/png", 0, 0),
    ],
)
def test_what_does_not_fit_is_refused_with_a_sentence(document, operation):
    with pytest.raises(EditError) as caught:
        apply(document, operation)
    assert str(caught.value).endswith(".")


IDS = st.sampled_from(["a", "b", "c", "i", "b1", "b2", "t", "t.0.1", "b4"])
STYLES = st.sampled_from(["Body text", "One", "Two", "Heading 1", "List item"])
OPERATIONS = st.one_of(
    st.builds(EditText, IDS, st.lists(st.builds(Text, st.text("ab -\n\t", max_size=8)), max_size=3).map(tuple)),
    st.builds(SplitBlock, IDS, st.integers(0, 25)),
    st.builds(JoinBlocks, IDS, IDS),
    st.builds(JoinNeighbour, IDS, st.booleans()),
    st.builds(SetKind, IDS, st.sampled_from(Role), st.integers(0, 9), st.booleans()),
    st.builds(ShiftLevel, st.lists(IDS, max_size=2).map(tuple), st.sampled_from((-1, 1))),
    st.builds(MoveBlock, IDS, st.none() | IDS, st.none() | IDS),
    st.builds(Exclude, IDS, st.booleans()),
    st.builds(InsertParagraph, st.none() | IDS, st.text("xy ", max_size=5)),
    st.builds(AlignBlock, IDS, st.sampled_from(Align)),
    st.builds(
        SetSides, IDS, st.sampled_from((Sides.NONE, Sides.TOP, Sides.BOTTOM, Sides.TOP | Sides.BOTTOM, Sides.LEFT))
    ),
    st.builds(SetHeaderRows, IDS, st.integers(-1, 3)),
    st.builds(MakeEquations, st.sampled_from(("one", "two", "a")), st.just(Identifier("n")), st.booleans()),
    st.builds(TableToRows, IDS),
    st.builds(
        ReplaceText, st.builds(Search, st.sampled_from(("o", "t", "e\t", " "))), st.sampled_from(("", "oo", "\n"))
    ),
    st.builds(InsertLines, IDS, st.sampled_from(Line), st.integers(0, 3), st.integers(1, 2)),
    st.builds(RemoveLines, IDS, st.sampled_from(Line), st.integers(0, 3), st.integers(1, 2)),
    st.builds(MoveLines, IDS, st.sampled_from(Line), st.integers(0, 3), st.integers(0, 4), st.integers(1, 2)),
    st.builds(MergeCells, IDS, *(st.integers(0, 2),) * 2, *(st.integers(1, 3),) * 2),
    st.builds(SplitCell, IDS, st.integers(0, 3), st.integers(0, 3)),
    st.builds(FillCells, IDS, *(st.integers(0, 2),) * 2, st.just((("x", "y z"), ("1\n2",)))),
    st.builds(RemoveEmptyLines, IDS),
    st.builds(TransposeTable, IDS),
    st.builds(SplitTable, IDS, st.integers(0, 3)),
    st.builds(JoinTables, IDS, st.booleans()),
    st.builds(AlignColumns, IDS, st.integers(0, 2), st.sampled_from(Align)),
    st.builds(ArrangeColumns, IDS, st.sampled_from(WidthsBy)),
    st.builds(SetColumnWidths, IDS, st.lists(st.floats(1, 99), min_size=1, max_size=3).map(tuple)),
    st.builds(
        ChangeStyle, STYLES, st.builds(StyleLook, size=st.none() | st.integers(2, 20), bold=st.none() | st.booleans())
    ),
    st.builds(ApplyStyle, st.lists(IDS, max_size=3).map(tuple), STYLES),
    st.builds(MergeStyles, STYLES, STYLES),
    st.builds(CutAtEdges, st.lists(IDS, max_size=3).map(tuple), st.lists(st.integers(0, 60), max_size=3).map(tuple)),
    st.builds(MakePlain, st.sampled_from(("", "Carlito"))),
    st.builds(NewStyle, IDS, st.sampled_from(("One", "Two"))),
    st.builds(RowsToTable, st.lists(IDS, max_size=3).map(tuple)),
    st.builds(ReadRowAgain, IDS, st.builds(ReadRegion, st.text("abc ", max_size=12))),
    st.builds(KeepAsItIs, st.lists(st.builds(DoubtKey, st.just("word"), st.integers(1, 2)), max_size=2).map(tuple)),
)


@given(st.lists(OPERATIONS, max_size=12))
@settings(max_examples=150, deadline=None)
def test_any_history_can_be_undone_to_the_letter(operations):
    start = Document(
        styles=(ParagraphStyle("Body text"),),
        blocks=(
            block("a", "one two three"),
            block("b", "four-"),
            PictureBlock("i", "0" * 64, "image/png", 9, 9),
            table("t", [["one", "two"], ["three\t3", ""]]),
            block("c", "five\tsix"),
        ),
    )
    document = start
    inverses = []
    counter = Ids(1)
    for operation in operations:
        given = counter.next
        try:
            edit = apply(document, operation, counter)
        except EditError:
            continue
        inverses.append(edit.inverse)
        # Done again from the same number, it makes the same, ids and all.
        assert apply(document, operation, Ids(given)).document == edit.document
        document = edit.document
        names = [*ids(document.blocks), *(text.id for text in document.texts if text.role is Role.CELL)]
        assert len(set(names)) == len(names)
        for one in document.texts:
            assert all(0 <= word.start <= word.end <= len(one.text) for word in one.words)
        assert not [fault for one in document.blocks if isinstance(one, TableBlock) for fault in grid_faults(one)]
    for inverse in reversed(inverses):
        document = undo(document, inverse)
    assert document == start


@given(st.text("abc ", max_size=20), st.text("abc ", max_size=20))
def test_words_outside_an_edit_keep_their_text(before, after):
    spots = block("x", before).words
    for word in moved_words(spots, before, after):
        assert 0 <= word.start < word.end <= len(after) or word.start == word.end


def test_handwriting_is_kept_as_text_picture_or_both_and_back_again():
    spots = (Spot(1, Box(0, 0, 50, 20)),)
    other = (Spot(1, Box(0, 40, 50, 60)),)
    before = Document(
        blocks=(
            PictureBlock("p1", "0" * 64, "image/png", 50, 20, note=HANDWRITING, spots=spots),
            TextBlock("t1", content=(Text("seen"),), style=HANDWRITING_STYLE, spots=spots, excluded=True),
            TextBlock("b1", content=(Text("print"),)),
            PictureBlock("p2", "1" * 64, "image/png", 50, 20, note=HANDWRITING, spots=other),
            TextBlock("t2", content=(Text("read"),), style=HANDWRITING_STYLE, spots=other, excluded=True),
        )
    )

    def aside(document):
        return [block.id for block in document.blocks if block.excluded]

    one = apply(before, ChooseHandwriting(HandwritingAs.TEXT, "p1"))
    assert aside(one.document) == ["p1", "t2"]
    every = apply(one.document, ChooseHandwriting(HandwritingAs.BOTH))
    assert aside(every.document) == []
    assert undo(undo(every.document, every.inverse), one.inverse) == before
    with pytest.raises(EditError, match="no handwriting"):
        apply(before, ChooseHandwriting(HandwritingAs.TEXT, "b1"))


def sections(*headings: tuple[str, int]) -> Document:
    """Headings of these levels, each with a paragraph."""
    blocks = []
    for name, level in headings:
        blocks.append(TextBlock(name, Role.HEADING, (Text(name),), "Body text", level))
        blocks.append(TextBlock(f"{name}1", content=(Text(f"text of {name}"),), style="Body text"))
    return Document(styles=(ParagraphStyle("Body text", size=11),), blocks=tuple(blocks))


def order(document: Document) -> str:
    return " ".join(block.id for block in document.blocks if not block.id.endswith("1"))


@pytest.mark.parametrize(
    ("heading", "before", "expected"),
    [("b", "a", "b c a d"), ("a", None, "b c d a"), ("c", "a", "c a b d"), ("d", "b", "a d b c")],
)
def test_a_section_moves_with_all_that_belongs_to_it(heading, before, expected):
    document = sections(("a", 1), ("b", 1), ("c", 2), ("d", 1))
    edit = apply(document, MoveHeading(heading, before))
    assert order(edit.document) == expected
    assert edit.document.blocks[edit.document.index(heading) + 1].id == f"{heading}1"
    assert undo(edit.document, edit.inverse) == document


def test_a_section_does_not_move_into_itself():
    document = sections(("a", 1), ("b", 2))
    with pytest.raises(EditError, match="stands under it"):
        apply(document, MoveHeading("a", "b"))
    with pytest.raises(EditError, match="not a heading"):
        apply(document, MoveHeading("a1", None))


def test_several_rows_change_as_one_step(document):
    steps = (SetKind("a", Role.LIST_ITEM), SetKind("b", Role.LIST_ITEM), Exclude("c", True), MoveBlock("i", None))
    edit = apply(document, Together(steps))
    assert [getattr(block, "role", None) for block in edit.document.blocks[:2]] == [Role.LIST_ITEM] * 2
    assert edit.document.blocks[-1].id == "i"
    assert undo(edit.document, edit.inverse) == document
    with pytest.raises(EditError, match="No rows"):
        apply(document, Together(()))


def test_one_step_that_fails_fails_all(document):
    with pytest.raises(EditError, match="picture"):
        apply(document, Together((SetKind("a", Role.HEADING, 1), SetKind("i", Role.HEADING, 1))))


def test_numbers_begin_anew_and_run_on_again(document):
    listed = apply(
        document, Together((SetKind("a", Role.LIST_ITEM, 0, True), SetKind("b", Role.LIST_ITEM, 0, True)))
    ).document
    anew = apply(listed, RestartNumbering("b", 5))
    assert anew.document.blocks[1].numbering.start == 5
    assert apply(anew.document, RestartNumbering("b", None)).document == listed
    with pytest.raises(EditError, match="no number"):
        apply(document, RestartNumbering("a"))


def test_one_flow_takes_columns_away_and_back(document):
    columns = replace(document, sections=(Section("s1"), Section("s2", columns=2), Section("s3", columns=3)))
    edit = apply(columns, OneFlow())
    assert [section.columns for section in edit.document.sections] == [1, 1, 1]
    assert undo(edit.document, edit.inverse) == columns
    with pytest.raises(EditError, match="already"):
        apply(document, OneFlow())


@pytest.mark.parametrize("role", [Role.CAPTION, Role.QUOTE, Role.VERSE, Role.CODE, Role.CONTENTS])
def test_each_kind_of_text_has_a_style_of_its_own(document, role):
    after = apply(document, SetKind("a", role, 1)).document
    assert after.blocks[0].role is role
    assert after.blocks[0].style != document.blocks[0].style
    assert after.blocks[0].style in {style.id for style in after.styles}


def test_a_row_joins_the_one_that_its_text_goes_on_in_and_says_where_the_caret_goes(document):
    noted = replace(document, blocks=(*document.blocks[:1], block("n", "A note", role=Role.NOTE), *document.blocks[1:]))
    edit = apply(noted, JoinNeighbour("a"))
    assert edit.document.blocks[0].text == "The float was found hard against the wire"
    assert edit.focus == Focus("a", 20)
    assert apply(noted, JoinNeighbour("b", back=True)).document == edit.document
    with pytest.raises(EditError, match="no row of text beside it"):
        apply(noted, JoinNeighbour("a", back=True))


def test_new_rows_are_where_the_clerk_goes_on(document):
    assert apply(document, SplitBlock("a", 4)).focus == Focus("b1", 0)
    assert apply(document, InsertParagraph("a", "Between")).focus == Focus("b1", 7)


def test_levels_go_as_deep_as_the_kind_allows(document):
    heading = apply(document, SetKind("a", Role.HEADING, 1)).document
    deeper = apply(heading, ShiftLevel(("a", "b"), 1))
    assert deeper.document.blocks[0].level == 2
    assert undo(deeper.document, deeper.inverse) == heading
    with pytest.raises(EditError, match="deeper or less deep"):
        apply(heading, ShiftLevel(("a",), -1))


def test_a_row_read_again_keeps_emphasis_links_and_marks_of_notes_and_takes_the_new_words():
    row = TextBlock(
        "a",
        content=(
            Text("The "),
            Text("fIoat", Marks.BOLD),
            NoteRef("n", "1"),
            Text(" was "),
            Text("here", link=UrlLink("https://a.example")),
        ),
        words=(WordSpot(4, 9, 1, Box(0, 0, 9, 9), 0.4),),
    )
    read = ReadRegion(
        "The float was here now", (WordSpot(4, 9, 1, Box(1, 1, 9, 9), 0.9), WordSpot(19, 22, 1, Box(30, 1, 40, 9), 0.8))
    )
    after = apply(Document(blocks=(row,)), ReadRowAgain("a", read)).document.blocks[0]
    assert isinstance(after, TextBlock)
    assert after.content == (
        Text("The "),
        Text("float", Marks.BOLD),
        NoteRef("n", "1"),
        Text(" was "),
        Text("here now", link=UrlLink("https://a.example")),
    )
    assert [after.text[word.start : word.end] for word in after.words] == ["float", "now"]
    assert after.words[0].confidence == 0.9
