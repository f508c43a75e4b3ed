"""Lines at sides of cells and what cells are filled with: set by hand, kept by every change of a table, and in all formats."""

from __future__ import annotations

import io
import re
import zipfile

import pytest
from lxml import etree
from msgspec.structs import replace
from test_odt import FO, STYLE, TABLE

from evenquill.core.docx_reading import read_docx
from evenquill.core.edits import (
    CellLines,
    InsertLines,
    JoinTables,
    MergeCells,
    RuleCells,
    RuleTable,
    ShadeCells,
    SplitCell,
    TransposeTable,
    apply,
    undo,
)
from evenquill.core.edits.table_operations import Line
from evenquill.core.errors import EditError
from evenquill.core.evidence import PageEvidence, Rule
from evenquill.core.layout.tables.cell_looks import drawn_sides
from evenquill.core.layout.tables.placed import PlacedCell, PlacedTable
from evenquill.core.model import Box, Document, PageSetup, ParagraphStyle, Section, Sides, TableBlock
from evenquill.core.model.cell_lines import facing
from evenquill.core.model.sides import SIDE_NAMES
from evenquill.core.writers.docx import write_docx
from evenquill.core.writers.odt import write_odt
from evenquill.core.writers.registry import WRITERS
from tests.conftest import tables, text_blocks
from tests.core.blocks import table

LEVELS = [["Gauge", "May", "June"], ["North pier", "2.31", "2.29"], ["Ferry slip", "0.87", "0.91"]]
LEVEL = Sides.TOP | Sides.BOTTOM
"""Lines of a table as reports have them: above, below the header, at the end."""
N, T, B = Sides.NONE, Sides.TOP, Sides.BOTTOM


def document_with(block: TableBlock) -> Document:
    styles = (ParagraphStyle("Body text", size=11), ParagraphStyle("Table text", size=9))
    return Document(styles=styles, blocks=(block,), sections=(Section("s", PageSetup(595, 842, 72, 72, 72, 72)),))


@pytest.fixture
def plain() -> Document:
    return document_with(replace(table("t", LEVELS), header_rows=1, ruled=False, section="s"))


def after(document: Document, *operations) -> Document:
    for operation in operations:
        edit = apply(document, operation)
        assert undo(edit.document, edit.inverse) == document
        document = edit.document
    return document


def sides(document: Document) -> list[list[Sides]]:
    (block,) = tables(document)
    rows: list[list[Sides]] = [[] for _ in range(block.row_count)]
    for cell in block.cells:
        rows[cell.row].append(block.sides_of(cell))
    return rows


def seen(document: Document) -> list[Sides]:
    """The sides of each cell at which a line is to be seen: its own, or that of the cell beside it."""
    (block,) = tables(document)
    beside = facing(block)
    return [
        block.sides_of(cell) | Sides(sum({own for own, other, side in beside[cell.id] if side & block.sides_of(other)}))
        for cell in block.cells
    ]


REPORT = (
    RuleCells("t", 0, 0, 1, 3, CellLines.ABOVE),
    RuleCells("t", 0, 0, 1, 3, CellLines.BELOW),
    RuleCells("t", 2, 0, 1, 3, CellLines.BELOW),
)


def test_lines_are_drawn_where_they_are_asked_for(plain):
    report = after(plain, *REPORT)
    assert sides(report) == [[LEVEL] * 3, [N] * 3, [B] * 3]
    boxed = sides(after(plain, RuleCells("t", 1, 1, 2, 2, CellLines.AROUND)))
    assert boxed[1:] == [[N, T | Sides.LEFT, T | Sides.RIGHT], [N, B | Sides.LEFT, B | Sides.RIGHT]]
    assert boxed[0] == [N] * 3
    assert sides(after(plain, RuleCells("t", 0, 0, 1, 1, CellLines.ALL)))[0] == [Sides.ALL, N, N]
    with pytest.raises(EditError, match="just these"):
        apply(report, REPORT[0])
    with pytest.raises(EditError, match="no such cells"):
        apply(plain, RuleCells("t", 2, 0, 2, 1, CellLines.ALL))


def test_a_line_taken_off_goes_from_both_cells_that_it_is_between(plain):
    ruled = after(plain, RuleTable("t", ruled=True))
    middle = sides(after(ruled, RuleCells("t", 1, 1, 1, 1, CellLines.NONE)))
    assert middle[1] == [Sides.ALL & ~Sides.RIGHT, N, Sides.ALL & ~Sides.LEFT]
    assert (middle[0][1], middle[2][1]) == (Sides.ALL & ~B, Sides.ALL & ~T)
    everywhere = after(ruled, RuleCells("t", 0, 0, 3, 3, CellLines.NONE))
    assert everywhere.blocks[0] == plain.blocks[0]
    assert sides(after(everywhere, RuleTable("t", ruled=True))) == [[Sides.ALL] * 3] * 3


def test_lines_go_with_cells_that_are_put_in_merged_split_and_turned(plain):
    report = after(plain, *REPORT)
    assert sides(after(report, InsertLines("t", Line.COLUMN, 3)))[0] == [LEVEL] * 4
    merged = after(report, MergeCells("t", 0, 1, 2, 2))
    assert sides(merged) == [[LEVEL, T], [N], [B] * 3]
    assert sides(after(report, MergeCells("t", 0, 0, 1, 2), SplitCell("t", 0, 0))) == sides(report)
    across = Sides.LEFT | Sides.RIGHT
    assert sides(after(report, TransposeTable("t"))) == [[across, N, Sides.RIGHT]] * 3


def partly_ruled(plain: Document) -> Document:
    """A header with lines, a tall cell with a box around it, and a table without lines else."""
    return after(plain, MergeCells("t", 1, 0, 2, 1), *REPORT[:2], RuleCells("t", 1, 0, 2, 1, CellLines.AROUND))


def test_docx_read_again_has_the_same_lines(plain, pictures):
    for document in (plain, after(plain, *REPORT), partly_ruled(plain), after(plain, RuleTable("t", ruled=True))):
        data = write_docx(document, lambda _: b"")
        assert sides(read_docx(data, pictures)) == sides(document)


def test_ruled_tables_of_docx_without_some_lines(plain, pictures):
    document = after(plain, RuleTable("t", ruled=True), RuleCells("t", 0, 0, 1, 1, CellLines.NONE))
    assert tables(document)[0].ruled
    assert sides(read_docx(write_docx(document, lambda _: b""), pictures)) == sides(document)


def test_a_pdf_has_the_lines_of_its_document(plain, rebuilt, tmp_path):
    between_rows = [RuleCells("t", row, 0, 1, 3, CellLines.BELOW) for row in range(3)]
    for operations in (REPORT, between_rows, [RuleTable("t", ruled=True)]):
        document = after(plain, *operations)
        path = tmp_path / "out.pdf"
        path.write_bytes(WRITERS["pdf"].write(document, lambda _: b"", ()))
        assert seen(rebuilt(path)) == seen(document)


def test_other_formats_say_which_sides_have_a_line(plain):
    report = after(plain, *REPORT)
    html = WRITERS["html"].write(report, lambda _: b"", ()).decode()
    head, body, last = re.findall(r"<tr>(.*?)</tr>", html, re.DOTALL)
    assert head.count("border-top: 0.5pt solid; border-left: 0; border-bottom: 0.5pt solid") == 3
    assert "border" not in body
    assert last.count("border-bottom: 0.5pt solid") == 3
    rtf = WRITERS["rtf"].write(report, lambda _: b"", ()).decode("ascii")
    rows = rtf.split("\\trowd")[1:]
    assert [[row.count(f"\\clbrdr{side}") for side in "tblr"] for row in rows] == [[3, 3, 0, 0], [0] * 4, [0, 3, 0, 0]]
    assert sides_in_odt(report) == [[LEVEL] * 3, [N] * 3, [B] * 3]


def sides_in_odt(document: Document) -> list[list[Sides]]:
    content = etree.fromstring(zipfile.ZipFile(io.BytesIO(write_odt(document, lambda _: b""))).read("content.xml"))
    looks = {
        style.get(f"{STYLE}name"): style.find(f"{STYLE}table-cell-properties")
        for style in content.iter(f"{STYLE}style")
        if style.get(f"{STYLE}family") == "table-cell"
    }
    rows = []
    for row in content.iter(f"{TABLE}table-row"):
        cells = [looks[cell.get(f"{TABLE}style-name")] for cell in row.iter(f"{TABLE}table-cell")]
        rows.append(
            [
                sum(side for side, name in SIDE_NAMES.items() if look.get(f"{FO}border-{name}") != "none")
                for look in cells
            ]
        )
    return rows


def fills(document: Document) -> list[str]:
    (block,) = tables(document)
    return [cell.fill for cell in block.cells]


SHADED = ShadeCells("t", 0, 0, 1, 3, "e4e0d8")


def test_cells_are_filled_by_hand_and_it_goes_with_them(plain):
    shaded = after(plain, SHADED)
    assert fills(shaded) == ["e4e0d8"] * 3 + [""] * 6
    assert fills(after(shaded, InsertLines("t", Line.COLUMN, 1)))[:4] == ["e4e0d8"] * 4
    assert fills(after(shaded, MergeCells("t", 0, 0, 1, 2), SplitCell("t", 0, 0))) == fills(shaded)
    assert after(shaded, ShadeCells("t", 0, 0, 3, 3)) == plain
    with pytest.raises(EditError, match="six figures"):
        apply(plain, ShadeCells("t", 0, 0, 1, 1, "red"))
    with pytest.raises(EditError, match="just so"):
        apply(plain, ShadeCells("t", 0, 0, 1, 1))


def test_what_cells_are_filled_with_is_in_every_format(plain, rebuilt, tmp_path, pictures):
    document = after(plain, SHADED, RuleTable("t", ruled=True))
    assert fills(read_docx(write_docx(document, lambda _: b""), pictures)) == fills(document)
    path = tmp_path / "out.pdf"
    path.write_bytes(WRITERS["pdf"].write(document, lambda _: b"", ()))
    assert fills(rebuilt(path)) == fills(document)
    assert WRITERS["html"].write(document, lambda _: b"", ()).decode().count("background: #e4e0d8") == 3
    rtf = WRITERS["rtf"].write(document, lambda _: b"", ()).decode("ascii")
    assert rtf.count("\\clcbpat") == 3
    assert "\\red228\\green224\\blue216" in rtf
    assert b'fo:background-color="#e4e0d8"' in zipfile.ZipFile(io.BytesIO(write_odt(document, lambda _: b""))).read(
        "content.xml"
    )


def test_light_letters_on_a_dark_header_stay_so(typeset, rebuilt):
    dark = 'fill: (_, y) => if y == 0 { rgb("204a5a") }, stroke: none'
    head = ", ".join(f"text(fill: white)[*{text}*]" for text in LEVELS[0])
    body = ", ".join(f"[{text}]" for row in LEVELS[1:] for text in row)
    document = rebuilt(typeset(f"#table(columns: 3, {dark}, {head}, {body})"))
    (block,) = tables(document)
    assert fills(document) == ["204a5a"] * 3 + [""] * 6
    colors = [document.resolved_styles[text.style].color or text.content[0].color for text in block.texts]
    assert colors == ["ffffff"] * 3 + [None] * 6


def test_light_letters_on_a_dark_ground_outside_of_tables_are_dark_on_paper(typeset, rebuilt):
    banner = '#rect(width: 100%, height: 20mm, fill: rgb("204a5a"))[#text(fill: white, size: 20pt)[Harbour office]]'
    document = rebuilt(
        typeset(f'{banner}\nThe keeper wrote down #text(fill: rgb("00ff00"))[what the gauge] had shown.')
    )
    looks = [
        document.resolved_styles[text.style].color or piece.color
        for text in (*text_blocks(document), *(text for table in tables(document) for text in table.texts))
        for piece in text.content
    ]
    assert "ffffff" not in looks
    assert "00ff00" in looks


def test_a_line_that_parts_no_cells_is_no_harm(typeset, rebuilt):
    """A short line within a row: the grid has a place there that all cells go over."""
    rows = ", ".join(f"[{text}]" for row in LEVELS for text in row)
    stub = "place(dx: 46pt, dy: 62pt, line(length: 20pt, stroke: 0.5pt))"
    grid = f"table(columns: (60pt, 60pt, 60pt), rows: (30pt, 60pt, 30pt), stroke: 0.5pt, {rows})"
    document = rebuilt(typeset(f"#{stub}\n#{grid}"))
    (block,) = tables(document)
    assert [text.text for text in block.texts if text.text] == [text for row in LEVELS for text in row]


def test_a_boundary_that_all_cells_go_over_stands_between_its_neighbours():
    cells = (PlacedCell(0, 0, 2, 1, Box(0, 0, 50, 40)), PlacedCell(0, 1, 2, 1, Box(50, 0, 100, 40)),
             PlacedCell(2, 0, 1, 1, Box(0, 40, 50, 60)), PlacedCell(2, 1, 1, 1, Box(50, 40, 100, 60)))  # fmt: skip
    rules = tuple(Rule(Box(0, y - 0.2, 100, y + 0.2)) for y in (0.0, 40.0, 60.0))
    drawn = drawn_sides(PageEvidence(1, 200, 200, rules=rules), PlacedTable(Box(0, 0, 100, 60), (0, 50, 100), cells))
    assert drawn == [LEVEL] * 4


def test_tables_that_are_joined_keep_the_lines_of_both(plain):
    report = after(plain, *REPORT)
    (block,) = tables(report)
    ruled = replace(table("u", LEVELS[1:]), ruled=True, section="s")
    joined = apply(replace(report, blocks=(block, ruled)), JoinTables("t"))
    assert undo(joined.document, joined.inverse).blocks == (block, ruled)
    assert sides(joined.document) == [*sides(report), [Sides.ALL] * 3, [Sides.ALL] * 3]
