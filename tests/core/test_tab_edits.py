"""Tab stops set by hand, and rows that are lined up."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.edits import LineUp, SetTabs, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import Align, Box, Document, ParagraphStyle, Spot, TabStop, TextBlock, WordSpot
from evenquill.core.model.inline import from_text
from tests.core.blocks import block, table


def row(name: str, text: str, *stops: TabStop) -> TextBlock:
    return replace(block(name, ""), content=from_text(text), tabs=stops, style="Body text")


def document(*blocks) -> Document:
    return Document(styles=(ParagraphStyle("Body text", size=10),), blocks=blocks)


def after(before: Document, operation) -> Document:
    edit = apply(before, operation)
    assert undo(edit.document, edit.inverse) == before
    return edit.document


def test_stops_are_kept_in_order_and_once():
    given = (TabStop(200.04, Align.RIGHT, leader=True), TabStop(80), TabStop(80.0))
    made = after(document(row("a", "Wire\t3\tm")), SetTabs("a", given))
    assert made.blocks[0].tabs == (TabStop(80), TabStop(200.0, Align.RIGHT, leader=True))


def test_stops_of_text_in_a_cell_are_set():
    whole = document(table("t", [["Wire\t3", "m"]]))
    (cell, *_) = whole.blocks[0].texts
    made = after(whole, SetTabs(cell.id, (TabStop(40),)))
    assert next(iter(made.blocks[0].texts)).tabs == (TabStop(40),)


@pytest.mark.parametrize("stop", [TabStop(0), TabStop(-5), TabStop(5000), TabStop(50, Align.JUSTIFY)])
def test_stops_where_no_row_can_have_one_are_refused(stop):
    with pytest.raises(EditError, match="between the left edge"):
        apply(document(row("a", "Wire\t3")), SetTabs("a", (stop,)))


def test_rows_out_of_line_take_the_furthest_stop_that_is_near():
    whole = document(
        row("a", "Name:\tMira Sollen", TabStop(90)),
        row("b", "Office of the harbour:\tLower Wendle", TabStop(118.5)),
        block("p", "A remark between them."),
        row("c", "Date:\t3 May", TabStop(96)),
        row("d", "Number:\t12", TabStop(300)),
    )
    made = after(whole, LineUp(("a", "b", "p", "c", "d")))
    assert [one.tabs for one in made.blocks] == [(TabStop(118.5),)] * 2 + [()] + [(TabStop(118.5),)] * 2
    assert made.blocks[2] == whole.blocks[2]


def test_wide_gaps_and_rows_of_dots_become_tabs():
    whole = document(
        row("a", "Wire . . . . . . . 40"),
        row("b", "Float ........ 7"),
        row("c", "Drum\t21", TabStop(150, Align.RIGHT, leader=True)),
    )
    made = after(whole, LineUp(("a", "b", "c")))
    assert [one.text for one in made.blocks] == ["Wire\t40", "Float\t7", "Drum\t21"]
    assert {one.tabs for one in made.blocks} == {(TabStop(150, Align.RIGHT, leader=True),)}


def test_dots_lead_though_nothing_tells_where_what_they_lead_to_stood():
    made = after(document(row("a", "Wire ....... 40"), row("b", "Float ....... 7")), LineUp(("a", "b")))
    (stops,) = {one.tabs for one in made.blocks}
    assert (stops[0].align, stops[0].leader) == (Align.RIGHT, True)
    assert stops[0].at > 5 * len("Float40")


def test_what_dots_lead_to_ends_where_it_ended():
    words = (WordSpot(0, 4, 1, Box(50, 0, 70, 10)), WordSpot(13, 15, 1, Box(190, 0, 200, 10)))
    one = replace(row("a", "Wire ....... 40"), words=words, spots=(Spot(1, Box(50, 0, 200, 10)),))
    made = after(document(one, row("b", "Float ....... 7")), LineUp(("a", "b")))
    assert {part.tabs for part in made.blocks} == {(TabStop(150, Align.RIGHT, leader=True),)}


def test_gaps_without_any_stop_have_room_for_what_stands_before_them():
    made = after(document(row("a", "Name:    Mira"), row("b", "Harbour office:   Weir Lane")), LineUp(("a", "b")))
    (stops,) = {one.tabs for one in made.blocks}
    assert stops[0].at > 5 * len("Harbour office:")
    assert [one.text for one in made.blocks] == ["Name:\tMira", "Harbour office:\tWeir Lane"]


def test_a_gap_is_a_stop_where_its_word_stood():
    words = (WordSpot(0, 5, 1, Box(50, 0, 80, 10)), WordSpot(9, 13, 1, Box(170, 0, 200, 10)))
    one = replace(row("a", "Name:    Mira"), words=words, spots=(Spot(1, Box(50, 0, 200, 10)),))
    made = after(document(one, row("b", "Date:\t3 May", TabStop(121))), LineUp(("a", "b")))
    assert [part.tabs for part in made.blocks] == [(TabStop(121),)] * 2
    assert [(word.start, word.end) for word in made.blocks[0].words] == [(0, 5), (6, 10)]


def test_rows_that_are_in_line_or_have_nothing_to_line_up_are_said():
    whole = document(row("a", "Name:\tMira", TabStop(90)), row("b", "Date:\t3 May", TabStop(90)), row("c", "Text."))
    with pytest.raises(EditError, match="in line already"):
        apply(whole, LineUp(("a", "b", "c")))
    with pytest.raises(EditError, match="Fewer than two"):
        apply(whole, LineUp(("a", "c")))
