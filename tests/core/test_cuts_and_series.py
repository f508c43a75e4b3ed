"""Paragraphs cut by columns, pages and pictures; headings that are counted; labels and values in columns of their own."""

from __future__ import annotations

import pytest

from evenquill.core.evidence import Type
from evenquill.core.layout.flow import FlowLine, FlowWord
from evenquill.core.model import Box, Family, PictureBlock, Role
from evenquill.core.rebuild.drafts import Draft
from evenquill.core.rebuild.levels import levels_by_number
from evenquill.core.rebuild.lists import find_items_that_carry_on
from evenquill.core.rebuild.marks import list_mark
from evenquill.core.rebuild.pairs import in_pairs
from evenquill.core.rebuild.series import levels_by_series, place_of
from evenquill.core.rebuild.structure.roles import ROLES
from tests.conftest import block_with, text_blocks, texts

LONG = (
    "The keeper of the gauge shall read the float at slack water and write the reading down in ink before the next one is taken by "
    "anybody, and where the float is found hard against the wire he shall say so in the margin and hang it again before the evening "
    "tide comes in over the sill, for the trace of a day that is lost cannot be made good by any other means."
)
OTHER = "Levels before and after are given in the book. They agree within two millimetres, which is as near as the staff can be read."


def test_a_paragraph_over_two_pages_is_one(typeset, rebuilt):
    source = f"#set page(height: 60mm)\n#set par(justify: true)\n{LONG} {LONG} It is done.\n\n{OTHER}"
    document = rebuilt(typeset(source))
    assert len(document.pages) > 1
    assert texts(document) == [f"{LONG} {LONG} It is done.", OTHER]


def test_a_picture_within_a_paragraph_does_not_cut_it(typeset, rebuilt):
    first, second = LONG[: LONG.index(" and where")], LONG[LONG.index("and where") :]
    figure = '#box(width: 120pt, height: 40pt, fill: rgb("#c8d4dc"), circle(radius: 10pt, fill: rgb("#6b7f8c")))'
    cut = f"{first}#linebreak(justify: true)\n#v(4pt)\n{figure}\n#v(4pt)\n{second}"
    source = f"#set par(justify: true, spacing: 0.65em)\n{cut}\n\n#v(1em)\n{OTHER}"
    document = rebuilt(typeset(source))
    assert any(isinstance(block, PictureBlock) for block in document.blocks)
    assert block_with(document, "The keeper").text.endswith("by any other means.")


def test_a_new_paragraph_on_a_new_page_is_none_of_the_one_before(typeset, rebuilt):
    document = rebuilt(typeset(f"{LONG}\n\n#pagebreak()\n{OTHER}\n\n{LONG}"))
    assert texts(document) == [LONG, OTHER, LONG]


@pytest.mark.parametrize(
    ("text", "word", "values"),
    [
        ("Chapter IV", "chapter", (4,)),
        ("CAPÍTULO II\nOf gauges", "capítulo", (2,)),
        ("C. Of gauges", "", (3, 100)),
        ("12. Of gauges", "", (12,)),
    ],
)
def test_the_place_of_a_heading_in_its_series(text, word, values):
    place = place_of(text)
    assert place is not None
    assert (place.word, place.values) == (word, values)


@pytest.mark.parametrize("text", ["A gauge was read", "Of gauges", "7 gauges", ""])
def test_what_is_not_counted_has_no_place(text):
    place = place_of(text)
    assert place is None or place.word


def test_headings_of_one_series_have_one_level():
    names = ["Title", "Chapter I", "Section I", "Chapter II", "Chapter III", "Section II"]
    assert levels_by_series(names, [1, 3, 4, 2, 2, 4]) == [1, 2, 4, 2, 2, 4]


def test_a_section_stands_right_below_the_one_whose_number_it_goes_on() -> None:
    texts = ["2 Piers", "2.1 North pier", "Remark", "2.1.1 Gauges", "2.2 South pier", "3.1.1 Of another file"]
    assert levels_by_number(texts, [1, 3, 2, 4, 3, 4]) == [1, 2, 2, 3, 2, 4]


def test_what_carries_on_the_letters_of_headings_is_one(typeset, rebuilt):
    parts = "\n\n".join(
        f"*{letter}. {name}*\n\n{LONG}" for letter, name in (("A", "Of gauges"), ("B", "Of tides"), ("C", "Of ice"))
    )
    document = rebuilt(typeset(f"{parts}\n\n+ {OTHER}\n+ {OTHER}"))
    headings = [(block.level, block.text) for block in text_blocks(document) if block.role is Role.HEADING]
    assert headings == [(1, "A. Of gauges"), (1, "B. Of tides"), (1, "C. Of ice")]


def test_a_label_of_two_lines_stays_with_its_value(typeset, rebuilt):
    rows = [
        ("Keeper", "Osric Vane, since 1883"), ("Place of the gauge and of its well", "North pier, Skerrin"),
        ("Depth", "7.20 m below the sill"), ("Who is told when it stands still", "The harbour office, by wire, on the same day"),
        ("Built", "1871"),
    ]  # fmt: skip
    cells = ", ".join(f"[{label}], [{value}]" for label, value in rows)
    document = rebuilt(
        typeset(f"{LONG}\n\n#grid(columns: (28mm, 1fr), row-gutter: 1em, column-gutter: 8mm, {cells})\n\n{LONG}")
    )
    said = texts(document)
    assert "Place of the gauge and of its well\tNorth pier, Skerrin" in said
    assert "Who is told when it stands still\tThe harbour office, by wire, on the same day" in said


def pieces(y: float, *columns: tuple[float, str]) -> FlowLine:
    """A line whose words stand in columns, a tab before each but the first."""
    look = Type("Serif", Family.SERIF, 10.0)
    words: list[FlowWord] = []
    for x, text in columns:
        for n, word in enumerate(text.split(" ")):
            before = " " if n else "\t" if words else ""
            words.append(FlowWord(word, before, look, 0, None, Box(x, y - 8, x + 5 * len(word), y + 2)))
            x = words[-1].box.x1 + 3
    box = Box(words[0].box.x0, y - 8, words[-1].box.x1, y + 2)
    return FlowLine(1, box, box.x0, box.x1, y, 10.0, tuple(words))


def test_each_of_several_labels_in_a_row_comes_whole_before_its_value():
    lines = [
        pieces(100, (50, "Keeper of"), (120, "Wilnor"), (220, "Day of the"), (300, "4 March")),
        pieces(112, (50, "the gauge:"), (120, "Selbel"), (220, "reading:")),
    ]
    text = " ".join(line.text for line in in_pairs(lines))
    assert text == "Keeper of the gauge:\tWilnor Selbel\tDay of the reading:\t4 March"
    values = [pieces(100, (50, "Gauge:"), (120, "the one at")), pieces(112, (120, "the old quay"))]
    assert in_pairs(values) == values  # nothing to put right
    prose = [lines[0], pieces(112, (50, "a line that runs on across all of the columns above it"))]
    assert in_pairs(prose) == prose


def numbered(*rows: tuple[str, float, float]) -> list[Draft]:
    """Paragraphs by their text, left edge and how likely each is an item; those that are likelier than not are some, with their mark."""
    made = []
    for n, (text, x, likelihood) in enumerate(rows):
        draft = Draft([pieces(100.0 + 14 * n, (x, text))], 50.0, 500.0, 0.0)
        draft.of_roles = tuple(likelihood if role == "item" else (1 - likelihood) / (len(ROLES) - 1) for role in ROLES)
        draft.likely_role = "item" if likelihood > 0.5 else "text"
        if likelihood > 0.5:
            mark = list_mark(draft.lines[0], of_item=True)
            assert mark is not None
            draft.marker, draft.mark_x, draft.text_x = mark.text, x, mark.text_x
        made.append(draft)
    return made


@pytest.mark.parametrize(
    ("rows", "items"),
    [
        # The first is an item as the third is one with the next number, whatever stands between.
        (
            [("1 Open the well", 60, 0.4), ("a. Wipe the rung", 80, 0.9), ("2 Read the float", 60, 0.8)],
            [True, True, True],
        ),
        (
            [("1 Open the well", 60, 0.4), ("2 Read the float", 60, 0.3), ("3 Sign the book", 60, 0.8)],
            [True, True, True],
        ),
        ([("1 Open the well", 60, 0.01), ("2 Read the float", 60, 0.8)], [False, True]),
        # What is hardly likely is one only next to an item.
        (
            [("1 Open the well", 60, 0.05), ("2 Read the float", 60, 0.8), ("3 Sign", 60, 0.04)],
            [True, True, True],
        ),
        (
            [("1 Open the well", 60, 0.05), ("All in their order", 60, 0.0), ("2 Read the float", 60, 0.8)],
            [False, False, True],
        ),
        ([("1 Open the well", 75, 0.4), ("2 Read the float", 60, 0.8)], [False, True]),
        ([("4 Open the well", 60, 0.4), ("2 Read the float", 60, 0.8)], [False, True]),
    ],
)
def test_what_carries_on_the_numbers_of_items_is_one(rows, items):
    drafts = numbered(*rows)
    find_items_that_carry_on(drafts)
    assert [draft.likely_role == "item" and bool(draft.marker) for draft in drafts] == items
