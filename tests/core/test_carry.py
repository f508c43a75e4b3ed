"""Corrections carried over to a new reading, on documents small enough to see through."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.model import (
    Box,
    Cell,
    Document,
    ParagraphStyle,
    RemarkKind,
    Run,
    Spot,
    TableBlock,
    TextBlock,
    WordSpot,
)
from evenquill.core.rebuild.carry import carried_over

STYLES = (ParagraphStyle("Body text"),)


def row(name: str, text: str, page: int = 1, top: float = 100.0) -> TextBlock:
    """A row whose words stand side by side, 40 points each."""
    words, at = [], 0
    for n, word in enumerate(text.split(" ")):
        words.append(WordSpot(at, at + len(word), page, Box(40.0 * n, top, 40.0 * n + 36, top + 12)))
        at += len(word) + 1
    spots = (Spot(page, Box(0, top, 40.0 * len(words), top + 12)),)
    return TextBlock(name, runs=(Run(text),), style="Body text", spots=spots, words=tuple(words))


def document(*rows: TextBlock) -> Document:
    return Document(styles=STYLES, blocks=rows)


def corrected(block: TextBlock, text: str) -> TextBlock:
    return TextBlock(block.id, runs=(Run(text),), style=block.style, spots=block.spots, words=block.words)


def texts(made: Document) -> list[str]:
    return [block.text for block in made.blocks if isinstance(block, TextBlock)]


def test_a_word_that_reads_the_same_is_corrected_again():
    old = row("b1", "the fIoat was hard")
    made = carried_over(
        document(old),
        document(corrected(old, "the float was hard")),
        document(row("b1", "the fIoat was hard!")),
        frozenset({1}),
    )
    assert texts(made) == ["the float was hard!"]
    assert not made.remarks


def test_a_word_in_a_cell_is_corrected_again_and_cells_keep_their_tables_name():
    def table(text: str) -> TableBlock:
        return TableBlock(
            "b1", (40.0, 40.0), (Cell(0, 0, (row("b1.0.0", text),)), Cell(0, 1, (row("b1.0.1", "2.31", top=140),)))
        )

    other = row("b1", "kept", page=2)
    made = carried_over(
        document(table("fIoat"), other),
        document(table("fIoat").with_text(corrected(row("b1.0.0", "fIoat"), "float")), other),
        document(replace(table("fIoat"), spots=(Spot(1, Box(0, 0, 9, 9)),))),
        frozenset({1, 0}),
    )
    found = next(block for block in made.blocks if isinstance(block, TableBlock))
    assert [text.text for text in found.texts] == ["float", "2.31"]
    assert {text.id.split(".")[0] for text in found.texts} == {found.id}
    assert not made.remarks


def test_a_word_that_now_reads_as_corrected_is_left():
    old = row("b1", "the fIoat was hard")
    made = carried_over(
        document(old),
        document(corrected(old, "the float was hard")),
        document(row("b1", "the float was hard")),
        frozenset({1}),
    )
    assert texts(made) == ["the float was hard"]
    assert not made.remarks


def test_a_word_that_reads_otherwise_is_listed():
    old = row("b1", "the fIoat was hard")
    made = carried_over(
        document(old),
        document(corrected(old, "the float was hard")),
        document(row("b1", "the flcat was hard")),
        frozenset({1}),
    )
    assert texts(made) == ["the flcat was hard"]
    (remark,) = made.remarks
    assert remark.kind is RemarkKind.NOT_CARRIED_OVER
    assert remark.sentence == "Page 1: “fIoat” had been corrected to “float”; after reading again now it says “flcat”."


def test_a_word_that_is_gone_is_listed():
    old = row("b1", "the fIoat was hard")
    made = carried_over(document(old), document(corrected(old, "the float was hard")), document(), frozenset({1}))
    assert "no longer there" in made.remarks[0].sentence


def test_other_pages_stay_as_they_were_corrected_and_names_stay_apart():
    first, second = row("b1", "one two"), row("b2", "three four", page=2)
    kept = corrected(second, "three and four")
    made = carried_over(
        document(first, second),
        document(first, kept),
        document(row("b1", "new"), row("b2", "words", top=200.0)),
        frozenset({1}),
    )
    assert texts(made) == ["new", "words", "three and four"]
    assert len({block.id for block in made.blocks}) == 3


def test_emphasis_of_the_new_reading_is_kept_round_a_carried_word():
    old = row("b1", "the fIoat was")
    fresh = row("b1", "the fIoat was")
    fresh = TextBlock(
        "b1", runs=(Run("the "), Run("fIoat", 1), Run(" was")), style="Body text", spots=fresh.spots, words=fresh.words
    )
    made = carried_over(document(old), document(corrected(old, "the float was")), document(fresh), frozenset({1}))
    (block,) = made.blocks
    assert isinstance(block, TextBlock)
    assert [run.text for run in block.runs] == ["the ", "float", " was"]
    assert block.runs[1].marks == 1
