"""Runs and blocks are cut and joined without losing a character or a place."""

from __future__ import annotations

import itertools

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from evenquill.core.model import (
    Align,
    Block,
    Box,
    Document,
    Marks,
    NoteRef,
    NumberFormat,
    Numbering,
    ParagraphStyle,
    PictureBlock,
    Role,
    Spot,
    TabStop,
    Text,
    TextBlock,
    UrlLink,
    WordSpot,
)
from evenquill.core.model.cutting import cut_block, join_blocks, spots_of_words
from evenquill.core.model.inline import cut, joined, plain, stripped

RUNS = st.lists(st.builds(Text, st.text("ab \n", max_size=6), st.sampled_from([Marks.NONE, Marks.BOLD])), max_size=6)


@given(RUNS)
def test_joining_runs_keeps_the_text_and_leaves_no_neighbours_alike(runs):
    out = joined(runs)
    assert plain(out) == plain(runs)
    assert all(run.text for run in out)
    assert not any(a.same_look(b) for a, b in itertools.pairwise(out) if isinstance(a, Text) and isinstance(b, Text))


@given(RUNS, st.integers(0, 30))
def test_two_cuts_make_the_whole(runs, at):
    assert plain(cut(runs, 0, at)) + plain(cut(runs, at)) == plain(runs)


@given(RUNS)
def test_stripping_takes_white_space_at_the_ends_only(runs):
    assert plain(stripped(runs)) == plain(runs).strip()


def test_marks_of_notes_are_never_merged():
    runs = (NoteRef("n1", "1"), NoteRef("n1", "2"))
    assert joined(runs) == runs


def words(text: str, page: int = 1, top: float = 0) -> tuple[WordSpot, ...]:
    out, at = [], 0
    for word in text.split(" "):
        out.append(WordSpot(at, at + len(word), page, Box(at, top, at + len(word), top + 10)))
        at += len(word) + 1
    return tuple(out)


def block(text: str, page: int = 1, top: float = 0) -> TextBlock:
    spots = words(text, page, top)
    return TextBlock("b", content=(Text(text),), words=spots, spots=spots_of_words(spots))


@given(st.lists(st.text("abc", min_size=1, max_size=4), min_size=1, max_size=6), st.integers(0, 30))
def test_cutting_a_block_keeps_each_word_with_one_half(parts, at):
    whole = block(" ".join(parts))
    first, second = cut_block(whole, 0, at), cut_block(whole, at)
    for half in (first, second):
        assert all(half.text[word.start : word.end] for word in half.words)
        assert half.text == half.text.strip()
    assert len(first.words) + len(second.words) in (len(whole.words), len(whole.words) + 1)
    assert (first.text + second.text).replace(" ", "") == whole.text.replace(" ", "")


def test_cut_and_joined_again_is_what_it_was():
    whole = block("one two three four")
    assert join_blocks(cut_block(whole, 0, 7), cut_block(whole, 7), " ") == whole


def test_spots_part_where_the_text_jumps_up_or_the_page_changes():
    column = (*words("left column", top=300), *words("right column", top=20), *words("next page", 2, 20))
    assert [(spot.page, spot.box.y0) for spot in spots_of_words(column)] == [(1, 300), (1, 20), (2, 20)]


def test_a_block_that_was_written_by_hand_keeps_its_spots_when_cut():
    spot = Spot(3, Box(0, 0, 5, 5))
    made = TextBlock("n", content=(Text("typed by hand"),), spots=(spot,))
    assert cut_block(made, 0, 5).spots == (spot,)


def test_a_document_is_the_same_after_a_journey_through_json():
    document = Document(
        "Gauges",
        "en",
        (ParagraphStyle("Body text", first=12.5), ParagraphStyle("Heading 1", bold=True, outline=1, color="7a1f1f")),
        (
            TextBlock(
                "a",
                Role.LIST_ITEM,
                (Text("x", Marks.BOLD | Marks.SUPER, "ff0000", UrlLink("https://a.example")), NoteRef("n", "1")),
                "Body text",
                2,
                Numbering(NumberFormat.LOWER_ROMAN, "(%)", 4),
                Align.RIGHT,
                (TabStop(10.5, Align.RIGHT, True),),
                True,
                (Spot(1, Box(0, 1, 2, 3)),),
                (WordSpot(0, 1, 1, Box(0, 1, 2, 3)),),
                True,
            ),
            PictureBlock("p", "0" * 64, "image/png", 10, 20, Align.CENTER, "A pier", "page"),
        ),
    )
    assert msgspec.json.decode(msgspec.json.encode(document), type=Document) == document
    for one in document.blocks:
        assert msgspec.json.decode(msgspec.json.encode(one), type=Block) == one


def test_plain_blocks_are_stored_short():
    assert (
        msgspec.json.encode(TextBlock("a", content=(Text("x"),)))
        == b'{"type":"text","id":"a","content":[{"type":"text","text":"x"}]}'
    )


def test_a_style_that_is_missing_is_the_first():
    document = Document(styles=(ParagraphStyle("Body text"), ParagraphStyle("Caption")))
    assert document.style("Caption").name == "Caption"
    assert document.style("Lost").name == "Body text"
    assert Document().style("Lost").name == "Body text"
    with pytest.raises(KeyError):
        document.index("nobody")
