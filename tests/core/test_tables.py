"""Tables on small real pages: found by their rules, by shading, or by how columns stand in line; and what looks like one and is none."""

from __future__ import annotations

import io

import docx
import numpy as np
import pypandoc
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from demo import scan_effects
from evenquill.core.convert import source_pages_of
from evenquill.core.evidence import Word
from evenquill.core.layout.tables.pieces import in_pieces
from evenquill.core.model import Align, Marks, NoteRef, Role, Sides
from evenquill.core.reading.jobs import page_jobs
from evenquill.core.reading.page_reader import read_source_page
from evenquill.core.rebuild import rebuild
from evenquill.core.source import SourceFacts, examine
from evenquill.core.writers.docx import write_docx
from tests.conftest import grid, tables, texts

PROSE = (
    "The float was found hard against the guide wire, and the trace for the two days is lost. The well was pumped dry, the "
    "orifice cleared of weed and the float hung again on a new wire. Levels before and after are given in the book."
)
ROWS = [
    ["North pier", "2.31", "14"],
    ["Ferry slip", "0.87", "9"],
    ["Middle Stairs", "11.40", "120"],
    ["Sill", "3.05", "7"],
]
HEAD = ["Station", "Height", "Days"]


def cells(rows: list[list[str]], head: list[str] = HEAD) -> str:
    return ", ".join([*(f"[*{text}*]" for text in head), *(f"[{text}]" for row in rows for text in row)])


RULED = f"#table(columns: 3, stroke: 0.5pt, {cells(ROWS)})"
BETWEEN_ROWS = f"#table(columns: 3, stroke: (x: none, y: 0.5pt), {cells(ROWS)})"
ABOVE_AND_BELOW = (
    f"#table(columns: 3, stroke: none, inset: (x: 3.2pt, y: 2pt), table.hline(), {cells([])}, table.hline(), "
    f"{', '.join(f'[{text}]' for row in ROWS for text in row)}, table.hline())"
)
SHADED = f"#table(columns: 3, stroke: none, fill: (_, y) => if calc.even(y) {{ luma(220) }}, {cells(ROWS)})"
IN_LINE = f"#table(columns: 3, stroke: none, align: (left, right, right), inset: (x: 9pt, y: 2pt), {cells(ROWS)})"


LEVEL = Sides.TOP | Sides.BOTTOM


@pytest.mark.parametrize(
    ("table", "sides"),
    [
        (RULED, [Sides.ALL] * 5),
        (BETWEEN_ROWS, [LEVEL] * 5),
        (ABOVE_AND_BELOW, [LEVEL, Sides.TOP, Sides.NONE, Sides.NONE, Sides.BOTTOM]),
        (SHADED, [Sides.NONE] * 5),
        (IN_LINE, [Sides.NONE] * 5),
    ],
)
def test_a_table_is_found_by_rules_shading_or_columns_in_line(typeset, rebuilt, table, sides):
    document = rebuilt(typeset(f"{PROSE}\n\n{table}\n\n{PROSE}"))
    (found,) = tables(document)
    assert grid(found) == [HEAD, *ROWS]
    assert found.header_rows == 1
    assert [found.sides_of(cell) for cell in found.cells] == [side for side in sides for _ in HEAD]
    assert {cell.fill for cell in found.cells} == ({"dcdcdc", ""} if table is SHADED else {""})
    assert texts(document) == [PROSE, PROSE]
    assert all(text.role is Role.CELL and text.style == "Table text" for text in found.texts)


def test_cells_may_take_several_rows_and_columns(typeset, rebuilt):
    source = """#table(columns: 5, align: center + horizon,
      table.cell(rowspan: 2)[*Day*], table.cell(colspan: 2)[*First*], table.cell(colspan: 2)[*Second*],
      [*h.m*], [*m*], [*h.m*], [*m*],
      [1], [03.13], [4.62], [09.27], [0.90], [2], [04.07], table.cell(rowspan: 2, colspan: 2)[none], [4.87], [3], [05.01], [5.03])"""
    (table,) = tables(rebuilt(typeset(source)))
    assert [(c.row, c.column, c.rows, c.columns, c.text) for c in table.cells if c.rows > 1 or c.columns > 1] == [
        (0, 0, 2, 1, "Day"),
        (0, 1, 1, 2, "First"),
        (0, 3, 1, 2, "Second"),
        (3, 2, 2, 2, "none"),
    ]
    assert table.header_rows == 2
    assert grid(table)[2:] == [
        ["1", "03.13", "4.62", "09.27", "0.90"],
        ["2", "04.07", "none", "4.87"],
        ["3", "05.01", "5.03"],
    ]


def test_headings_without_lines_span_what_stands_under_them(typeset, rebuilt):
    source = """#let side(x, y) = if y == 0 { center } else if x == 0 { left } else { right }
    #table(columns: 5, stroke: none, align: side, inset: (x: 8pt, y: 2pt),
      [*Name*], table.cell(colspan: 2)[*North pier*], table.cell(colspan: 2)[*Ferry slip*],
      [], [*H (m)*], [*g*], [*H (m)*], [*g*],
      [M2], [1.4126], [163.4], [1.4098], [163.71], [S2], [0.4871], [208.15], [0.490], [208.0],
      [N2], [0.278], [141.9], [0.2764], [142.35], [K1], [0.0912], [318.72], [0.0907], [318.9])"""
    (table,) = tables(rebuilt(typeset(source)))
    assert [(c.column, c.rows, c.columns, c.text) for c in table.cells if c.row == 0] == [
        (0, 2, 1, "Name"),
        (1, 1, 2, "North pier"),
        (3, 1, 2, "Ferry slip"),
    ]
    assert grid(table)[1:3] == [["H (m)", "g", "H (m)", "g"], ["M2", "1.4126", "163.4", "1.4098", "163.71"]]


LONG = [
    "cleared of weed by the diver and hung again",
    "two turns of the drum lost in the night",
    "read from the staff, no trace",
    "the clock stopped at noon and was wound again by the keeper",
]


@pytest.mark.parametrize(
    ("stroke", "align"),
    [
        ("0.4pt", "top"),
        ("0.4pt", "horizon"),
        ("(x: none, y: 0.4pt)", "top"),
        ("(x: none, y: 0.4pt)", "horizon"),
        ("none", "top"),
    ],
)
def test_lines_of_one_cell_are_one_row(typeset, rebuilt, align, stroke):
    rows = [[name, text, f"{n}.20"] for n, (name, text) in enumerate(zip("ABCD", LONG, strict=True))]
    head = ["Mark", "What was found", "Level"]
    looks = f"align: left + {align}, stroke: {stroke}, inset: 5pt"
    (table,) = tables(rebuilt(typeset(f"#table(columns: (30pt, 110pt, 40pt), {looks}, {cells(rows, head)})")))
    assert grid(table) == [head, *rows]


def test_words_broken_in_cells_are_whole_and_paragraphs_stay_apart(typeset, rebuilt):
    source = """#set text(lang: "en", hyphenate: true)
    #table(columns: (80pt, 160pt), [The superintendent's observations], [One paragraph.

    Another one.], [Sill], [x])"""
    (table,) = tables(rebuilt(typeset(source)))
    assert table.texts[0].text == "The superintendent’s observations"
    assert [text.text for text in table.cells[1].texts] == ["One paragraph.", "Another one."]
    assert len({text.id for text in table.texts}) == len(table.texts)


def test_columns_are_aligned_as_most_of_their_cells(typeset, rebuilt):
    source = f"#table(columns: (1fr, 1fr, 1fr), align: (left, right, center), {cells(ROWS)})"
    (table,) = tables(rebuilt(typeset(source)))
    aligned = {cell.column: {text.align or Align.LEFT for text in cell.texts} for cell in table.cells if cell.row}
    assert aligned == {0: {Align.LEFT}, 1: {Align.RIGHT}, 2: {Align.CENTER}}


def test_a_table_goes_on_over_pages_and_its_header_is_there_once(typeset, rebuilt):
    rows = [[f"Station {n}", f"{n}.05", str(7 * n % 31)] for n in range(60)]
    source = f"""#set page(header: align(right)[Station book], footer: align(center, context counter(page).display()))
    #table(columns: 3, stroke: 0.5pt, table.header({cells([])}), {", ".join(f"[{text}]" for row in rows for text in row)})
    {PROSE}"""
    document = rebuilt(typeset(source))
    (table,) = tables(document)
    assert grid(table) == [HEAD, *rows]
    assert [spot.page for spot in table.spots] == [1, 2, 3]
    assert [spot.page for spot in table.texts[0].spots] == [1, 2, 3]
    assert texts(document) == [PROSE]


def test_the_same_rules_in_another_table_do_not_join_it(typeset, rebuilt):
    document = rebuilt(typeset(f"{RULED}\n\n{PROSE}\n\n#table(columns: 2, [a], [b], [c], [d])"))
    assert [len(table.widths) for table in tables(document)] == [3, 2]


TOTALS = """#table(columns: 2, stroke: none, align: (left, right), column-gutter: 60pt,
  [Wire], [22.20], [Figures], [48.00], [*Total*], [*70.20*])"""


def test_names_with_sums_are_a_table(typeset, rebuilt):
    (table,) = tables(rebuilt(typeset(TOTALS)))
    assert grid(table) == [["Wire", "22.20"], ["Figures", "48.00"], ["Total", "70.20"]]
    assert table.header_rows == 0


PAIRS = """#grid(columns: 4, column-gutter: 20pt, row-gutter: 7pt,
  [*Order no.:*], [91-0362], [*Date:*], [11 June 1991], [*Station:*], [Ferry slip], [*Due:*], [1 August 1991],
  [*From:*], [D. Tarrow], [*To:*], [A. Morvane])"""
CONTENTS = """#grid(columns: (20pt, 200pt, 20pt), row-gutter: 7pt, [1], [State of the gauges], [2], [1.1], [North pier], [2],
  [1.2], [Ferry slip], [4], [2], [Repairs], [5], [2.1], [The well], [7], [3], [Costs], [9])"""
LISTING = """#rect(width: 100%)[```
height   = reading - 0.021
width    = reading + 0.15
note     = read("dry") or 14
level    = height / 2
```]"""
FRAMES = f"#rect(width: 100%)[{PROSE}]\n#rect(width: 100%)[{PROSE}]"
ITEMS = """#grid(columns: (10pt, 60pt, 150pt), row-gutter: 7pt, [•], [float], [2.50 crowns], [•], [wire], [4.10 crowns],
  [•], [drum], [7.00 crowns], [•], [clock], [9.30 crowns])"""
COLUMNS = f"#line(length: 100%)\n#columns(2)[#set par(justify: true)\n{PROSE} {PROSE}]\n#line(length: 100%)"
ADDRESSES = """#grid(columns: 2, column-gutter: 60pt, row-gutter: 5pt, [Harbour Board], [Boatyard Harrow], [Lower Quay 1], [Slip Lane 2],
  [Skerrin], [Skerrin], [91-0362], [by hand])"""


@pytest.mark.parametrize("source", [PAIRS, CONTENTS, LISTING, FRAMES, ITEMS, COLUMNS, ADDRESSES])
def test_what_stands_in_line_is_not_always_a_table(typeset, rebuilt, source):
    assert tables(rebuilt(typeset(f"{PROSE}\n\n{source}\n\n{PROSE}"))) == []


def test_empty_cells_of_a_form_stay(typeset, rebuilt):
    source = "#table(columns: (60pt, 80pt, 80pt), [Date], [Read by], [Height], ..range(6).map(_ => []))"
    (table,) = tables(rebuilt(typeset(source)))
    assert grid(table) == [["Date", "Read by", "Height"], ["", "", ""], ["", "", ""]]
    assert all(text.spots for text in table.texts)


def test_a_table_of_a_scan_is_found(typeset, pictures, tmp_path):
    random = np.random.default_rng(4)
    page = scan_effects.drawn(
        typeset(f"#set text(size: 12pt)\n{PROSE}\n\n#table(columns: 3, stroke: 0.6pt, inset: 6pt, {cells(ROWS)})")
    )
    path = tmp_path / "scan.pdf"
    path.write_bytes(scan_effects.as_pdf([scan_effects.scanned(scan_effects.turned(page, 0.6), random)]))
    jobs = page_jobs(source_pages_of([(path, examine(path))]), pictures.folder, password=None, preparations={})
    evidence = [read_source_page(job, pictures.keep) for job in jobs]
    (table,) = tables(rebuild(evidence, SourceFacts(1)))
    assert grid(table) == [HEAD, *ROWS]


WORDS = st.lists(
    st.sampled_from(["float", "wire", "drum", "clock", "14", "2.31", "sill", "oil"]), min_size=0, max_size=3
).map(" ".join)


@given(
    st.integers(2, 4).flatmap(lambda n: st.lists(st.lists(WORDS, min_size=n, max_size=n), min_size=2, max_size=6)),
    st.sampled_from(["0.5pt", "none", "(x: none, y: 0.5pt)"]),
)
@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_no_word_of_a_table_is_lost_or_doubled(typeset, rebuilt, rows, stroke):
    body = ", ".join(f"[{text}]" for row in rows for text in row)
    document = rebuilt(typeset(f"{PROSE}\n\n#table(columns: {len(rows[0])}, stroke: {stroke}, {body})"))
    found = " ".join(text.text for text in document.texts).split()
    assert sorted(found) == sorted([*PROSE.split(), *(word for row in rows for text in row for word in text.split())])


def test_it_is_written_as_a_real_table(typeset, rebuilt):
    body = ", ".join(f"[{text}]" for row in ROWS for text in row)
    source = f"""#table(columns: 3, table.header(table.cell(colspan: 2)[*Station*], [*Days*]), {body})
    #table(columns: 2, [a], table.cell(rowspan: 2)[b], [c])"""
    data = write_docx(rebuilt(typeset(f"{PROSE}\n\n{source}")), {}.__getitem__)
    first, second = docx.Document(io.BytesIO(data)).tables
    assert [[cell.text for cell in row.cells] for row in first.rows] == [["Station", "Station", "Days"], *ROWS]
    assert [[cell.text for cell in row.cells] for row in second.rows] == [["a", "b"], ["c", "b"]]
    assert first.rows[0]._tr.trPr.find(docx.oxml.ns.qn("w:tblHeader")) is not None
    html = pypandoc.convert_text(data, "html", "docx")
    assert 'colspan="2"' in html
    assert 'rowspan="2"' in html


@pytest.mark.parametrize(("sure", "stays"), [(0.9, False), (1.0, True)])
def test_one_cell_alone_is_recognised_as_bold_by_mistake_only(typeset, read, sure, stays):
    (page,) = read(typeset(RULED))
    bold = next(n for n, look in enumerate(page.types) if look.bold)

    def seen(word: Word) -> Word:
        return word._replace(confidence=sure, type=bold if word.text == "0.87" else word.type)

    lines = tuple(line._replace(words=tuple(map(seen, line.words))) for line in page.lines)
    (table,) = tables(rebuild([replace(page, lines=lines)], SourceFacts(1)))
    marked = [text.text for text in table.texts if any(Marks.BOLD in run.marks for run in text.content)]
    assert marked == [*HEAD, *(["0.87"] if stays else [])]


def test_rows_without_lines_between_them_are_parted_in_a_grid(typeset, rebuilt):
    line = "table.hline()"
    source = f"#table(columns: 3, stroke: (x: 0.5pt, y: none), {line}, {cells([])}, {line}, {cells(ROWS, [])}, {line})"
    (table,) = tables(rebuilt(typeset(source)))
    assert grid(table) == [HEAD, *ROWS]
    beside = Sides.LEFT | Sides.RIGHT
    assert [table.sides_of(cell) for cell in table.cells[:: len(HEAD)]] == [
        Sides.ALL, beside | Sides.TOP, beside, beside, beside | Sides.BOTTOM,
    ]  # fmt: skip


def test_lines_of_cells_in_a_grid_stay_together(typeset, rebuilt):
    address = "Harbour Board, Lower Quay 1 in the town of Skerrin"
    rows = [["A", address, "2.31"], ["B", address, "0.87"], ["C", address, "1.20"]]
    (table,) = tables(
        rebuilt(typeset(f"#table(columns: (60pt, 70pt, 60pt), {cells(rows, ['Mark', 'Where', 'Level'])})"))
    )
    assert grid(table)[1:] == rows


DOTS = " ".join(["."] * 40)


def test_short_stretches_of_a_contents_list_without_dots_are_no_tables(typeset, rebuilt):
    entry = "#grid(columns: (1fr, auto), [{}], [{}])"
    bold = "\n".join(
        entry.format(f"*{title}*", n) for n, title in enumerate(("Plans", "Points", "Polygons", "Plots"), 20)
    )
    dotted = "\n".join(
        entry.format(f"{title} {DOTS}", n) for n, title in enumerate(("Wells", "Wires", "Drums", "Clocks"), 30)
    )
    assert (
        tables(rebuilt(typeset(f"#set par(spacing: 6pt)\n#set block(spacing: 6pt)\n{dotted}\n{bold}\n{dotted}"))) == []
    )


OPTIONS = "\n".join(
    f"#grid(columns: (30pt, 1fr), [-{flag}], [{text} {PROSE[:90]}])"
    for flag, text in zip("dnOst", ["Begin", "Copy", "Read", "Stop", "Take"], strict=True)
)


def test_options_with_what_they_do_are_no_table(typeset, rebuilt):
    assert tables(rebuilt(typeset(f"#set par(justify: true)\n#set block(spacing: 6pt)\n{OPTIONS}"))) == []


@pytest.mark.parametrize("left", [True, False])
def test_a_table_between_rules_takes_nothing_from_the_column_beside_it(typeset, rebuilt, left):
    """Its last rule is that of its header, so that its rows are told by what goes on below that."""
    head = f"table.hline(), {cells([])}, table.hline(), {cells(ROWS, [])}"
    table = f"#table(columns: 3, stroke: none, inset: (x: 3pt, y: 2pt), {head})"
    sides = [f"{PROSE}\n\n{table}\n\n{PROSE}", f"{PROSE} {PROSE} {PROSE}"]
    source = "#set page(width: 420pt, height: 300pt)\n#set text(size: 8pt)\n#set par(justify: true)\n#columns(2)[{}\n#colbreak()\n{}]"
    document = rebuilt(typeset(source.format(*(sides if left else sides[::-1]))))
    (found,) = tables(document)
    assert grid(found) == [HEAD, *ROWS]
    words = " ".join(text.text for text in document.texts).split()
    assert sorted(words) == sorted(" ".join([*[PROSE] * 5, *HEAD, *(text for row in ROWS for text in row)]).split())


def test_turned_text_between_rules_is_not_lost(typeset, rebuilt):
    turned = ABOVE_AND_BELOW.replace("[2.31]", "[2.31 #box(rotate(-90deg, reflow: true)[turned])]")
    document = rebuilt(typeset(f"{PROSE}\n\n{turned}\n\n{PROSE}"))
    assert " ".join(text.text for text in document.texts).split().count("turned") == 1


def test_notes_are_tied_to_their_marks_in_cells_and_to_no_plain_number_there(typeset, rebuilt):
    marked = RULED.replace("[0.87]", "[0.87#footnote[Read from the staff.]]").replace("[7]", "[1]")
    document = rebuilt(typeset(f"{PROSE}\n\n{marked}\n\n{PROSE}"))
    (table,) = tables(document)
    (note,) = (block for block in document.blocks if block not in (table,) and block.role is Role.NOTE)
    assert [
        text.readable
        for text in table.texts
        if any(isinstance(run, NoteRef) and run.note == note.id for run in text.content)
    ] == ["0.871"]
    assert note.text == "Read from the staff."
    assert "Read from the staff." in pypandoc.convert_text(write_docx(document, {}.__getitem__), "markdown", "docx")


def test_letters_of_one_width_part_no_words_of_a_cell(typeset, read):
    source = """#set text(font: "DejaVu Sans Mono", size: 9pt)
    #set par(justify: false)
    North pier gauge#h(12pt)Elspeth Rowan#h(9.5pt)1 377"""
    (page,) = read(typeset(source))
    assert [piece.text for line in page.lines for piece in in_pieces(line, page.types)] == [
        "North pier gauge",
        "Elspeth Rowan",
        "1 377",
    ]


def test_a_table_is_as_wide_as_its_rules_and_its_headings_stand_as_their_columns(typeset, rebuilt):
    fill = "fill: (_, y) => if y == 0 { luma(220) }"
    rows = ", ".join(f"[{n}], [{n}.05], [{1007 * n % 31}]" for n in range(1, 9))
    source = f"""#table(columns: (60pt, 1fr, 1fr), stroke: none, align: right, inset: (x: 6pt, y: 3pt), {fill},
    table.hline(), [*Day*], [*Time of high water*], [*Height*], table.hline(), {rows}, table.hline())"""
    document = rebuilt(typeset(f"#set page(width: 400pt, height: 300pt, margin: 40pt)\n{source}"))
    (table,) = tables(document)
    assert sum(table.widths) == pytest.approx(320, abs=2)
    assert {text.align or document.style(text.style).align for text in table.texts} == {Align.RIGHT}
    assert [cell.fill for cell in table.cells] == ["dcdcdc"] * 3 + [""] * 24


def test_words_too_long_for_their_column_that_were_broken_without_a_hyphen_are_whole(typeset, rebuilt):
    source = """#set page(width: 260pt)
    The keeper reads the gauge at noon and writes down what he has seen of the tide and of the wind.
    #table(columns: (45pt, 52pt, 1fr), stroke: 0.5pt, inset: 2pt, [Managem#linebreak()ent], [The boot#linebreak()loader], [of the gauge],
    [Impleme#linebreak()ntations], [Boot#linebreak()loader], [at noon])"""
    (table,) = tables(rebuilt(typeset(source)))
    said = [text.text for cell in table.cells for text in cell.texts]
    assert said == ["Management", "The boot loader", "of the gauge", "Implementations", "Boot loader", "at noon"]


def test_numbers_broken_at_their_thousands_are_whole(typeset, rebuilt):
    values = [
        ("12 904,39", "North pier"),
        ("42 306,57", "Ferry slip"),
        ("30 488,72", "Middle Stairs"),
        ("7,05", "Sill"),
    ]
    rows = ", ".join(f"[{place} of the harbour], [{value.replace(' ', '#linebreak()')}]" for value, place in values)
    source = f"""#set page(width: 200pt)
    #set text(lang: "fr")
    #table(columns: (60pt, 40pt), stroke: (x: none, y: 0.5pt), inset: 2pt, align: (left, right), [Station], [Level], {rows})"""
    (table,) = tables(rebuilt(typeset(source)))
    assert [row[1] for row in grid(table)] == ["Level", *(value for value, _ in values)]


def test_a_caption_below_a_table_is_no_row_of_it(typeset, rebuilt):
    form = "columns: (60mm, 1fr, 1fr), stroke: none, align: (center, right, right), inset: 9pt"
    source = f"""#table({form}, table.hline(), {cells(ROWS)}, [], [Sum], [150])
    _Table 1. Heights of the stations_
    #table(columns: (60mm, 1fr), stroke: none, align: (center, right), table.hline(), [Sum], [150], [Fee], [3.50], table.hline())

    {PROSE}"""
    document = rebuilt(typeset(source))
    assert [len(grid(table)) for table in tables(document)] == [6, 2]
    assert "Table 1. Heights of the stations" in texts(document)
