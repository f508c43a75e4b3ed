"""Several tables on a page with text between them, in smaller type, with cells that wrap and no rules between their rows."""

from __future__ import annotations

import pytest

from evenquill.core.evidence import Line, Type, Word
from evenquill.core.layout.tables.row_features import Row, rows_in_pieces
from evenquill.core.layout.tables.sums import first_sum
from evenquill.core.model import Box, Family
from tests.conftest import grid, tables

PROSE = (
    "The float was found hard against the guide wire, and the trace for the two days is lost. The well was pumped dry, the "
    "orifice cleared of weed and the float hung again on a new wire. Levels before and after are given in the book."
)
HEAD = ["Place", "Pens", "Remarks"]
FIRST = [
    ["Coal berth", "128", "moor and store the sill of the pier before the well is filled"],
    ["Ferry slip", "396", "level recorded at the harbour, key of the drum kept there"],
    ["Hollin Quay", "335", "pier and bench wired in summer, stone of the boat record set in winter"],
    ["Skerrin", "203", "inlet and plank seen by the keeper"],
]
SECOND = [["North pier", "2.31", "oil"], ["Ferry slip", "0.87", "chain"], ["Middle Stairs", "11.40", "rope"]]


def table(rows: list[list[str]], gap: float) -> str:
    cells = ", ".join(
        [*(f"[*{text}*]" for text in HEAD), "table.hline(stroke: 0.5pt)", *(f"[{t}]" for row in rows for t in row)]
    )
    ends = "table.hline(stroke: 1pt)"
    columns = "columns: (26mm, 14mm, 40mm), align: (left, right, left)"
    return (
        f"#block[#set text(size: 8.5pt, hyphenate: false);#set par(justify: false, leading: 0.5em);"
        f"#table({columns}, stroke: none, inset: (x: 3pt, y: {gap}pt), {ends}, {cells}, {ends})]"
    )


@pytest.mark.parametrize("gap", [3.5, 6.0])
def test_wrapped_cells_of_each_table_are_one_row(typeset, rebuilt, gap):
    made = rebuilt(typeset("\n\n".join([PROSE, table(FIRST, gap), PROSE, table(SECOND, gap), PROSE]), paper="a4"))
    assert [grid(one) for one in tables(made)] == [[HEAD, *FIRST], [HEAD, *SECOND]]


def test_sums_below_a_ruled_table_are_a_row_each(typeset, rebuilt):
    goods = [["Float", "2", "11.60", "23.20"], ["Wire, 5 m", "1", "7.90", "7.90"], ["Pens", "6", "1.50", "9.00"]]
    sums = [["", "", "Goods", "40.10"], ["", "", "Freight", "3.50"], ["", "", "To pay", "43.60"]]
    rows = [["Article", "Count", "Price", "Sum"], *goods, *sums]
    body = ", ".join(f"[{text}]" for row in rows for text in row)
    ruled = "stroke: (x, y) => if y < 4 { (bottom: 0.5pt) }, align: (left, right, right, right), row-gutter: 0pt"
    source = f"{PROSE}\n#table(columns: (1fr, 20mm, 20mm, 20mm), inset: (y: 3.4pt), {ruled}, {body})\n{PROSE}"
    (found,) = tables(rebuilt(typeset(source)))
    assert grid(found) == rows


def test_numbers_close_before_words_are_a_column_of_their_own(typeset, rebuilt):
    rows = [["Inlet", "9.5", "cleared in May"], ["Lock", "1204.75", "new wire"], ["Sill", "88.25", "left as it was"]]
    rows += [["Slip", "310.00", "float hung again"], ["Pier", "7.10", "drum turned"], ["Quay", "12.95", "ink dried"]]
    body = ", ".join(f"[{text}]" for row in rows for text in row)
    spaced = "column-gutter: (20mm, 0pt), inset: (x: 2.4pt, y: 4pt), align: (left, right, left)"
    source = f"{PROSE}\n#table(columns: 3, stroke: none, {spaced}, {body})\n{PROSE}"
    (found,) = tables(rebuilt(typeset(source)))
    assert grid(found) == rows


def rows_of_pieces(*rows: list[tuple[str, float, float]], apart: tuple[int, float] = (0, 0.0)) -> list[Row]:
    """Rows of pieces, each a word from one place to another; those from the first place of ``apart`` on stand so many points lower."""
    tops = [100 + 14 * n + (apart[1] if n >= apart[0] else 0) for n in range(len(rows))]
    lines = [
        Line(Box(x0, top, x1, top + 10), top + 9, 10.0, (Word(text, x0, x1, 0),))
        for top, row in zip(tops, rows, strict=True)
        for text, x0, x1 in row
    ]
    return rows_in_pieces(lines, (Type("Liberation Serif", Family.SERIF, 10.0),))


@pytest.mark.parametrize(
    ("labels", "place"),
    [
        ([(210, 240), (210, 262), (210, 236)], 3),  # in line with nothing
        ([(230, 250), (215, 250), (222, 250)], 6),  # at the end of a column
        ([(210, 240)], 4),  # one alone
        ([(50, 90), (50, 80)], 5),  # below the goods
    ],
)
def test_sums_that_keep_to_no_column_of_the_goods_are_a_table_of_their_own(labels, place):
    goods = [
        [(f"Float{n}", 50.0, 90.0), (f"{n}", 150.0, 155.0), ("7.90", 230.0, 250.0), ("23.20", 300.0, 325.0)]
        for n in range(3)
    ]
    sums = [[("Goods", float(x0), float(x1)), ("40.10", 300.0, 325.0)] for x0, x1 in labels]
    assert first_sum(rows_of_pieces(*goods, *sums)) == place


@pytest.mark.parametrize(
    ("gap", "number", "place"), [(16, (118, 138), 3), (2, (118, 138), 5), (16, (305, 325), 5), (16, (140, 160), 5)]
)
def test_sums_that_stand_apart_beside_all_numbers_are_a_table_of_their_own(gap, number, place):
    goods = [
        [(f"Float{n}", 50.0, 130.0), (f"{n}", 150.0, 155.0), ("7.90", 230.0, 250.0), ("23.20", 300.0, 325.0)]
        for n in range(3)
    ]
    sums = [[("Goods", 50.0, 90.0), ("40.10", float(number[0]), float(number[1]))] for _ in range(2)]
    assert first_sum(rows_of_pieces(*goods, *sums, apart=(3, gap))) == place
