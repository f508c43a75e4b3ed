"""Tables that are cut by the end of a page or column, and headers that could be taken for tables."""

from __future__ import annotations

import pytest

from evenquill.core.layout import find_furniture, lay_out
from evenquill.core.layout.tables.carried import OpenTable, rest_of_table
from tests.conftest import tables, texts

PROSE = "The float was found below the light and taken to the station by the keeper, who wrote it down at once."
ROWS = [[f"Station {n}", f"{n}.05", str(1007 * n % 31)] for n in range(40)]


WRAPPED = [
    ["The gauge on the long north pier", "8,367.59"],
    ["Ferry slip at the inner harbour", "205.15"],
    ["Middle stairs of the old fish quay", "37.83"],
    ["The sill of the upper dock gate", "5.65"],
]


def wrapped_rows(rows: list[list[str]]) -> str:
    """Rows in columns of which the first is narrow, without lines, well apart from each other."""
    return f"#table(columns: (90pt, 60pt), stroke: none, align: (left, right), inset: (x: 2pt, y: 6pt), {cells(rows)})"


def cells(rows: list[list[str]]) -> str:
    return ", ".join(f"[{text}]" for row in rows for text in row)


def grid(table) -> list[list[str]]:
    rows: dict[int, list[str]] = {}
    for cell in table.cells:
        rows.setdefault(cell.row, []).append(" ".join(text.text for text in cell.texts))
    return list(rows.values())


def test_a_table_whose_header_alone_is_drawn_goes_on_over_the_page(typeset, rebuilt):
    source = f"""#table(columns: (60mm, 1fr, 1fr), stroke: none, align: (left, right, right), fill: (_, y) => if y == 0 {{ luma(220) }},
    [*Station*], [*High*], [*Low*], {cells(ROWS)})"""
    (table,) = tables(rebuilt(typeset(source)))
    assert grid(table) == [["Station", "High", "Low"], *ROWS]
    assert table.header_rows == 1


NAMES = ("North pier", "Ferry slip", "Old sill", "Outer skerry", "Lock", "Customs quay", "Signal hill")
STATIONS = [[NAMES[n % 7], NAMES[(3 * n + 1) % 7].lower(), NAMES[(5 * n + 2) % 7]] for n in range(33)]


@pytest.mark.parametrize(
    "lines",
    [
        "none",
        "none, inset: (y: 6pt)",
        "none, align: center",
        "(x, y) => if y == 0 { (bottom: 0.5pt) }",
        "(x: none, y: 0.3pt)",
        "none, fill: (_, y) => if calc.odd(y) { luma(235) }",
    ],
)
def test_short_words_below_one_another_are_rows_and_the_first_on_a_page_is_no_header(typeset, rebuilt, lines):
    head = "[*Station*], [*Reached from*], [*Kept by*]"
    (table,) = tables(rebuilt(typeset(f"{PROSE}\n#table(columns: 3, stroke: {lines}, {head}, {cells(STATIONS)})")))
    assert grid(table) == [["Station", "Reached from", "Kept by"], *STATIONS]
    assert table.header_rows == 1


def test_columns_in_the_middle_are_the_same_though_the_text_in_them_is_longer_elsewhere(typeset, rebuilt):
    rows = [[name * (1 + n // 30), value, other] for n, (name, value, other) in enumerate(ROWS)]
    source = f"#table(columns: (1fr, 1fr, 1fr), stroke: none, align: center, {cells(rows)})"
    (table,) = tables(rebuilt(typeset(source)))
    assert grid(table) == rows


def test_a_single_row_at_the_top_of_the_next_page_is_one_of_the_table_before(typeset, rebuilt):
    rows = [*ROWS[:29], ["The last station", "29.05", "1"]]
    source = f"""#table(columns: (60mm, 1fr, 1fr), stroke: none, align: (left, right, center), {cells(rows)})

    #v(20pt)
    {PROSE}"""
    document = rebuilt(typeset(source))
    assert [spot.page for table in tables(document) for spot in table.spots] == [1, 2]
    assert grid(tables(document)[0])[-1] == rows[-1]
    assert texts(document) == [PROSE]


def test_a_heading_at_the_top_of_the_next_page_is_none_of_the_table_before(typeset, rebuilt):
    source = f"""#table(columns: (60mm, 1fr, 1fr), stroke: none, align: (left, right, center), {cells(ROWS[:28])})
    #pagebreak()
    #strong[Wire and oil] #h(12mm) 1971

    {PROSE}"""
    document = rebuilt(typeset(source))
    assert [spot.page for table in tables(document) for spot in table.spots] == [1]
    assert texts(document)[-1] == PROSE


def test_a_table_with_another_header_on_the_next_page_is_another_one(typeset, rebuilt):
    def table(head: list[str], rows: list[list[str]]) -> str:
        return f"#table(columns: (1fr, 1fr, 1fr), stroke: none, {', '.join(f'[*{text}*]' for text in head)}, {cells(rows)})"

    source = f"""{table(["Station", "High", "Low"], ROWS[:6])}\n#pagebreak()\n{table(["Harbour", "Wire", "Oil"], ROWS[6:12])}"""
    found = tables(rebuilt(typeset(source)))
    assert [grid(one)[0] for one in found] == [["Station", "High", "Low"], ["Harbour", "Wire", "Oil"]]


def test_a_shaded_header_between_dashed_rules_is_of_the_table_below_it(typeset, rebuilt):
    source = f"""{PROSE}
    #table(columns: (1fr, 1fr, 1fr), stroke: (x, y) => (bottom: (thickness: 0.6pt, dash: "dashed"), top: if y == 0 {{ 0.6pt }}),
      fill: (_, y) => if y == 0 {{ luma(220) }}, [Station], [High], [Low], {cells(ROWS[:6])})"""
    (table,) = tables(rebuilt(typeset(source)))
    assert grid(table) == [["Station", "High", "Low"], *ROWS[:6]]


def test_the_heading_of_a_group_below_a_header_is_no_part_of_it(typeset, rebuilt):
    def group(name: str, rows: list[list[str]]) -> str:
        return f"[*{name}*], [], [], {cells(rows)}"

    source = f"""#table(columns: (1fr, 1fr, 1fr), stroke: none, align: (left, right, right), [*Station*], [*High*], [*Low*],
    {group("North", ROWS[1:4])}, {group("South", ROWS[4:7])})"""
    (table,) = tables(rebuilt(typeset(source)))
    assert grid(table)[:3] == [["Station", "High", "Low"], ["North", "", ""], ROWS[1]]
    assert table.header_rows == 1


def test_a_row_that_is_not_bold_is_no_rest_of_a_header_that_is(typeset, rebuilt):
    long = "Take the reading at high water and write down what the gauge shows, and the wind."
    source = f"""#table(columns: (1fr, 2fr, 1fr), stroke: none, [*Task*], [*What to do*], [*Keeper*],
    [Gauge], [{long}], [Wilnor], [Float], [{long}], [Selbel])"""
    document = rebuilt(typeset(source))
    (table,) = tables(document)
    assert grid(table) == [["Task", "What to do", "Keeper"], ["Gauge", long, "Wilnor"], ["Float", long, "Selbel"]]
    assert texts(document) == []


def test_the_wrapped_header_of_a_drawn_grid_is_one_row(typeset, rebuilt):
    head = ["Station on the old quay", "High water above the gauge", "Low water below the gauge"]
    source = f"#block(width: 60mm)[#table(columns: (1fr, 1fr, 1fr), stroke: 0.5pt, {cells([head, *ROWS[:3]])})]"
    (table,) = tables(rebuilt(typeset(source)))
    assert grid(table) == [head, *ROWS[:3]]


def test_headings_of_columns_in_several_lines_above_a_body_that_is_not_drawn_are_one_row(typeset, rebuilt):
    head = ["*Station on the old quay*", "*High water above the gauge*", "*Low*"]
    source = f"""#block(width: 70mm)[#table(columns: (1fr, 1fr, 1fr), stroke: none, row-gutter: 4pt, align: top,
    {cells([head, *ROWS[:6]])})]"""
    (table,) = tables(rebuilt(typeset(source)))
    assert grid(table)[:2] == [[text.strip("*") for text in head], ROWS[0]]


def test_a_row_that_the_end_of_the_page_cuts_in_two_is_one(typeset, rebuilt):
    long = f"{PROSE} {PROSE.replace('keeper', 'harbour master')} {PROSE}"
    source = f"""#set page(width: 300pt, height: 240pt, margin: 40pt)
    #v(60pt)
    #table(columns: (60pt, 1fr), stroke: 0.5pt, [Gauge], [What was seen], [North pier], [{long}], [Sill], [Nothing at all])"""
    (table,) = tables(rebuilt(typeset(source)))
    assert [spot.page for spot in table.spots][-1] > 1
    assert grid(table) == [["Gauge", "What was seen"], ["North pier", long], ["Sill", "Nothing at all"]]


def test_a_row_without_a_name_at_the_top_of_the_next_page_stays_one_where_it_begins_a_sentence(typeset, rebuilt):
    rows = "[Gauge], [What was seen], [North pier], [The float was found below the light and taken to the station.],"
    source = f"""#set page(width: 300pt, height: 200pt, margin: 40pt)
    #v(40pt)
    #table(columns: (60pt, 1fr), stroke: 0.5pt, {rows} [], [It was pumped dry.], [Sill], [Nothing at all], [Slip], [Weed])"""
    document = rebuilt(typeset(source))
    assert [row[0] for table in tables(document) for row in grid(table)] == ["Gauge", "North pier", "", "Sill", "Slip"]


@pytest.mark.parametrize(
    ("more", "rows"), [(WRAPPED[2:3], 1), (WRAPPED[2:], 2), ([["Wire", "and"], ["oil", "1971"]], 2)]
)
def test_wrapped_rows_at_the_top_of_a_column_carry_on_a_table_with_such_rows(typeset, read, more, rows):
    (page,) = read(typeset(wrapped_rows(WRAPPED[:2]), "above"))
    (table,) = (
        item for column in lay_out([page], find_furniture([page]), page.types[0])[0].columns for item in column.items
    )
    (below,) = read(typeset(wrapped_rows(more), "below"))
    rest = rest_of_table(OpenTable(table, table.edges[0]), below.lines, below.types, table.edges[0], 500.0)
    assert rest is not None
    assert rest.rows == rows
    said = {(cell.row, cell.column): " ".join(line.text for line in cell.lines) for cell in rest.cells}
    assert [[said[row, 0], said[row, 1]] for row in range(rows)] == more


def test_a_few_rows_on_the_next_page_stand_in_the_columns_of_those_before(typeset, rebuilt):
    rows = [[NAMES[n % 7], NAMES[(n + 3) % 7], NAMES[(n + 5) % 7]] for n in range(6)]
    full = [["Lock", "Stairs of the old fish quay", "Sill"], ["Quay", "Gate of the long high dock", "Lock"]]
    source = f"""#set page(width: 300pt, height: 168pt, margin: (x: 20pt, y: 36pt))
    #table(columns: (80pt, auto, 60pt), stroke: none, inset: (x: 1.5pt, y: 4pt), {cells([*rows, *full])})"""
    (table,) = tables(rebuilt(typeset(source)))
    assert [spot.page for spot in table.spots] == [1, 2]
    assert grid(table) == [*rows, *full]
