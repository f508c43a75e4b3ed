"""Labels and values beside each other: columns of whole blocks, and which lines make a row."""

from __future__ import annotations

import pytest

from evenquill.core.evidence import Type
from evenquill.core.layout.flow import FlowLine, FlowWord
from evenquill.core.model import Box, Family
from evenquill.core.rebuild.pair_blocks import PAIR_FEATURES, pair_blocks, pair_features, rows_of_block
from evenquill.core.rebuild.structure.segments import Decided
from tests.conftest import texts

WRAPPED = """#set page(width: 130mm)
Order 91-0362

#grid(columns: (22mm, 30mm, 22mm, 22mm), column-gutter: 6pt, row-gutter: 9pt, align: {align},
  [Keeper of the gauge:], [D. Tarrow], [Day of the reading:], [4 March 1991],
  [Station:], [Ferry slip], [Reading:], [3.70],
  [Sent by the office of:], [A. Morvane], [Wanted back:], [1 August 1991])

The float was found below the light and taken to the station by the keeper, who wrote it down.
"""
ROWS = [
    "Keeper of the gauge:\tD. Tarrow\tDay of the reading:\t4 March 1991",
    "Station:\tFerry slip\tReading:\t3.70",
    "Sent by the office of:\tA. Morvane\tWanted back:\t1 August 1991",
]


def test_labels_that_are_wrapped_come_whole_before_their_values_wherever_these_stand(typeset, rebuilt):
    for align in ("top + left", "bottom + left"):
        found = texts(rebuilt(typeset(WRAPPED.format(align=align))))
        assert found[1:4] == ROWS, align
        assert len(found) == 5


def test_lines_that_fill_all_columns_are_rows_of_their_own(typeset, rebuilt):
    source = """#set text(size: 9pt)
    == Positions
    #grid(columns: (18mm, 90mm), row-gutter: 5pt, [1998–2000], [Keeper of the gauge at the old ferry slip below the light],
      [2000–2002], [Reader of gauges, Office of Tides, Brannowick], [2002], [Clerk of the Office of Tides])"""
    found = texts(rebuilt(typeset(source)))
    assert found[1:] == [
        "1998–2000\tKeeper of the gauge at the old ferry slip below the light",
        "2000–2002\tReader of gauges, Office of Tides, Brannowick",
        "2002\tClerk of the Office of Tides",
    ]


def test_labels_in_small_letters_are_rows_of_their_own_too(typeset, rebuilt):
    pairs = [
        ("gauge + wire", "both are sent"),
        ("gauge - wire", "the gauge is sent without its wire"),
        ("x", "nothing"),
        ("y", "all of it"),
    ]
    rows = ", ".join(f'[#raw("{label}")], [{value}]' for label, value in pairs)
    source = f"= What to send\n#set text(size: 8pt)\n#grid(columns: (25mm, 1fr), row-gutter: 4pt, {rows})"
    assert texts(rebuilt(typeset(source)))[1:] == [f"{label}\t{value}" for label, value in pairs]


def line(y: float, *columns: tuple[float, str]) -> FlowLine:
    """A line of 10 points whose words stand in columns, a tab before each where there is room for one."""
    look = Type("Serif", Family.SERIF, 10.0)
    words: list[FlowWord] = []
    for x, text in columns:
        for n, word in enumerate(text.split(" ")):
            before = " " if n or (words and x - words[-1].box.x1 < 12) else "\t" if words else ""
            words.append(FlowWord(word, before, look, 0, None, Box(x, y - 8, x + 5 * len(word), y + 2)))
            x = words[-1].box.x1 + 3
    box = Box(words[0].box.x0, y - 8, words[-1].box.x1, y + 2)
    return FlowLine(1, box, box.x0, box.x1, y, 10.0, tuple(words))


def blocks(*lines: FlowLine, role: str = "pairs"):
    decisions = {id(one): Decided(role, "new", (1.0,), 0.6) for one in lines}
    return pair_blocks(lines, decisions), decisions


def cells(block) -> list[dict[int, str]]:
    return [{n: " ".join(word.text for word in words) for n, words in block.cells(one).items()} for one in block.lines]


def test_columns_are_where_no_line_of_a_block_has_a_word():
    (block,), _ = blocks(
        line(100, (50, "Keeper of"), (130, "Wilnor"), (240, "Day"), (300, "4 March")),
        line(112, (50, "the gauge:"), (240, "of reading:")),
        line(130, (62, "Station:"), (130, "Ferry slip"), (240, "Due:"), (300, "May")),
    )
    assert cells(block) == [
        {0: "Keeper of", 1: "Wilnor", 2: "Day", 3: "4 March"},
        {0: "the gauge:", 2: "of reading:"},
        {0: "Station:", 1: "Ferry slip", 2: "Due:", 3: "May"},
    ]


def test_a_word_that_begins_where_its_column_does_is_in_it_though_the_label_reaches_up_to_it():
    (block,), _ = blocks(
        line(100, (50, "Keeper:"), (130, "Wilnor")),
        line(112, (50, "Station:"), (130, "Ferry slip")),
        line(124, (50, "Administration:"), (130, "Keel light")),
        line(136, (50, "Due:"), (130, "May")),
    )
    assert cells(block)[2] == {0: "Administration:", 1: "Keel light"}


def test_there_is_no_block_without_columns_of_one_line_or_of_other_text():
    prose = [line(100 + 12 * n, (50, "the float was found below the light today")) for n in range(3)]
    assert blocks(*prose)[0] == []
    pairs = [line(100, (50, "Keeper:"), (130, "Wilnor")), line(112, (50, "Due:"), (130, "May"))]
    assert blocks(pairs[0])[0] == []
    assert blocks(*pairs, role="text")[0] == []
    far = line(160, (50, "Station:"), (130, "Ferry slip"))
    (block,), _ = blocks(*pairs, far)
    assert block.lines == tuple(pairs)


def test_each_line_but_the_first_has_all_measures_and_no_line_is_lost():
    lines = [
        line(100, (50, "Keeper of"), (130, "Wilnor")),
        line(112, (50, "the gauge:")),
        line(132, (50, "Due:"), (130, "May")),
    ]
    (block,), decisions = blocks(*lines)
    measures = pair_features(block, decisions)
    assert [len(own) for own in measures] == [len(PAIR_FEATURES)] * 2
    rows = rows_of_block(block, decisions)
    assert [" ".join(one.text for one in row.lines) for row in rows] == ["Keeper of the gauge:\tWilnor", "Due:\tMay"]
    assert all(0 <= row.chance <= 1 for row in rows)


@pytest.mark.parametrize(
    ("joint", "second", "breaks"), [("new", "Lower", {1}), ("same", "Lower", set()), ("new", "lower", set())]
)
def test_lines_of_an_address_behind_its_label_stay_lines(joint, second, breaks):
    lines = [
        line(100, (50, "For:"), (130, "Harbour office")),
        line(112, (130, f"{second} Quay 4")),
        line(132, (50, "Due:"), (130, "May")),
        line(152, (50, "Seen:"), (130, "June")),
    ]
    (block,), decisions = blocks(*lines)
    decided = dict(decisions)
    decided[id(block.lines[1])] = decided[id(block.lines[1])]._replace(joint=joint)
    first = rows_of_block(block, decided)[0]
    assert (len(first.lines), first.breaks) == (2, breaks)
