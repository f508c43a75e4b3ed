"""Lists within cells of tables: read from the page, made by hand, and in all formats."""

from __future__ import annotations

import csv
import io
import re

import docx
import pytest
from msgspec.structs import replace

from evenquill.core.docx_reading import read_docx
from evenquill.core.edits import CellMarks, JoinNeighbour, ListCells, PutRows, ShiftLevel, SplitBlock, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import Align, Document, NumberFormat, PageSetup, ParagraphStyle, Section, TableBlock
from evenquill.core.odt_reading import read_odt
from evenquill.core.resolve.list_labels import list_labels
from evenquill.core.resolve.lists import lists_of
from evenquill.core.writers.registry import WRITERS
from evenquill.core.writers.spreadsheet import csv_of
from tests.conftest import tables
from tests.core.blocks import block, table

DUTIES = [["Post", "Duties"], ["Keeper", "Wind the clock\nTrim the lamp\nNote the tide"], ["Mate", "Row\nLook out"]]


def labelled(document: Document, column: int = 1) -> list[list[str]]:
    """The texts of the cells in a column, each with the mark that it has."""
    (found,) = tables(document)
    labels = list_labels(document.blocks)
    return [
        [f"{labels.get(text.id, '')} {text.text}".strip() for text in cell.texts]
        for cell in found.cells
        if cell.column == column
    ]


@pytest.fixture
def plain() -> Document:
    styles = (ParagraphStyle("Body text", size=11), ParagraphStyle("Table text", size=10))
    rows = replace(table("t", DUTIES), header_rows=1, section="s")
    return Document(
        styles=styles, blocks=(rows, block("p", "So it is."), ), sections=(Section("s", PageSetup(595, 842, 72, 72, 72, 72)),)
    )  # fmt: skip


@pytest.fixture
def document(plain) -> Document:
    """The keeper's duties have bullets, the mate's are numbered."""
    bullets = apply(plain, ListCells("t", row=1, column=1, rows=1, columns=1, marks=CellMarks.BULLETS)).document
    return apply(bullets, ListCells("t", row=2, column=1, rows=1, columns=1, marks=CellMarks.NUMBERS)).document


LABELLED = [["Duties"], ["• Wind the clock", "• Trim the lamp", "• Note the tide"], ["1. Row", "2. Look out"]]


def test_each_line_of_a_cell_becomes_an_item_and_undo_makes_it_a_line_again(plain, document):
    assert labelled(document) == LABELLED
    edit = apply(plain, ListCells("t", row=1, column=1, rows=2, columns=1, marks=CellMarks.NUMBERS))
    assert labelled(edit.document)[1:] == [
        ["1. Wind the clock", "2. Trim the lamp", "3. Note the tide"],
        ["1. Row", "2. Look out"],
    ]
    assert undo(edit.document, edit.inverse) == plain


def test_marks_can_be_others_or_none(document):
    numbered = apply(document, ListCells("t", row=1, column=1, rows=1, columns=1, marks=CellMarks.NUMBERS)).document
    assert labelled(numbered)[1] == ["1. Wind the clock", "2. Trim the lamp", "3. Note the tide"]
    bare = apply(document, ListCells("t", row=1, column=1, rows=2, columns=1, marks=CellMarks.NONE)).document
    assert labelled(bare)[1:] == [["Wind the clock", "Trim the lamp", "Note the tide"], ["Row", "Look out"]]
    with pytest.raises(EditError, match="just so"):
        apply(bare, ListCells("t", row=1, column=1, rows=2, columns=1, marks=CellMarks.NONE))


def test_items_of_a_cell_are_split_joined_and_set_deeper(document):
    (found,) = tables(document)
    clock, lamp, _ = next(cell for cell in found.cells if cell.row == 1 and cell.column == 1).texts
    split = apply(document, SplitBlock(clock.id, 4))
    assert labelled(split.document)[1] == ["• Wind", "• the clock", "• Trim the lamp", "• Note the tide"]
    assert split.focus is not None
    back = apply(split.document, JoinNeighbour(split.focus.block, back=True))
    assert labelled(back.document) == labelled(document)
    assert back.focus is not None
    assert (back.focus.block, back.focus.offset) == (clock.id, 5)
    deeper = apply(document, ShiftLevel((lamp.id,), 1)).document
    assert labelled(deeper)[1] == ["• Wind the clock", "◦ Trim the lamp", "• Note the tide"]
    first = apply(document, JoinNeighbour(clock.id, back=True)).document
    assert labelled(first)[1] == ["Wind the clock", "• Trim the lamp", "• Note the tide"]
    with pytest.raises(EditError, match="no text beside it"):
        apply(first, JoinNeighbour(clock.id, back=True))


def test_rows_that_are_copied_keep_the_lists_in_their_cells(document):
    (found,) = tables(document)
    pasted = apply(document, PutRows("p", (found,), ())).document
    copy = pasted.blocks[-1]
    assert isinstance(copy, TableBlock)
    assert [text.numbering for text in copy.texts] == [text.numbering for text in found.texts]


def written(document: Document, name: str) -> bytes:
    return WRITERS[name].write(document, lambda _: b"", ())


def test_docx_has_lists_in_its_cells_and_gives_them_back(document, pictures):
    data = written(document, "docx")
    cells = [row.cells[1] for row in docx.Document(io.BytesIO(data)).tables[0].rows]
    numbered = [[p._p.pPr.numPr is not None for p in cell.paragraphs] for cell in cells]
    assert numbered == [[False], [True] * 3, [True] * 2]
    assert labelled(read_docx(data, pictures)) == LABELLED


def test_odt_has_lists_in_its_cells_and_gives_them_back(document, pictures):
    assert labelled(read_odt(written(document, "odt"), pictures)) == LABELLED


def test_html_has_lists_in_its_cells(document):
    html = written(document, "html").decode()
    cells = re.findall(r"<t[dh]\b[^>]*>(.*?)</t[dh]>", html, re.DOTALL)
    assert [len(re.findall(r"<li\b", cell)) for cell in cells] == [0, 0, 0, 3, 0, 2]
    assert "<ul" in cells[3]
    assert "<ol" in cells[5]


def test_formats_without_lists_in_cells_say_the_marks(document):
    assert (
        "| Keeper | • Wind the clock<br>• Trim the lamp<br>• Note the tide |" in written(document, "markdown").decode()
    )
    assert "Mate\t1. Row 2. Look out" in written(document, "text").decode()
    (found,) = tables(document)
    rows = list(csv.reader(io.StringIO(csv_of(found, "en").decode("utf-8-sig"))))
    assert rows[2] == ["Mate", "1. Row\n2. Look out"]


def test_pdf_and_rtf_show_the_marks(document, tmp_path, rebuilt):
    path = tmp_path / "duties.pdf"
    path.write_bytes(written(document, "pdf"))
    assert labelled(rebuilt(path)) == LABELLED
    rtf = written(document, "rtf").decode("ascii")
    assert len(re.findall(r"\\intbl[^\n]*\\ls\d+\\ilvl0", rtf)) == 5


def test_bullets_of_many_cells_are_one_list():
    rows = [["a\nb"]] * 50
    many = Document(styles=(ParagraphStyle("Body text"),), blocks=(table("t", rows),))
    listed = apply(many, ListCells("t", row=0, column=0, rows=50, columns=1, marks=CellMarks.BULLETS)).document
    assert len(lists_of(listed.blocks)[0]) == 1


PAGE = """#set page(width: 420pt, height: 320pt, margin: 40pt)
#set text(size: 10pt)
The posts of the harbour and what those who hold them have to do each day are given below.

#table(columns: (90pt, 200pt), stroke: STROKE, inset: 5pt,
  [Post], [Duties],
  [Keeper], [FIRST],
  [Mate], [SECOND],
  [Boy], [Runs where he is sent.],
)
They are read out once a year.
"""


@pytest.mark.parametrize("stroke", ["0.5pt", "(x: none, y: 0.5pt)"])
def test_items_within_cells_are_read_as_such(stroke, typeset, rebuilt):
    page = PAGE.replace("STROKE", stroke)
    page = page.replace(
        "FIRST", "\n- Winds the clock every morning before the bell\n- Trims the lamp\n- Notes the tide\n"
    )
    page = page.replace("SECOND", "\n+ Rows\n+ Looks out\n")
    document = rebuilt(typeset(page))
    assert labelled(document)[1:] == [
        ["• Winds the clock every morning before the bell", "• Trims the lamp", "• Notes the tide"],
        ["1. Rows", "2. Looks out"],
        ["Runs where he is sent."],
    ]
    (found,) = tables(document)
    items = [text for cell in found.cells for text in cell.texts if text.is_item]
    assert [text.numbering.format for text in items] == [NumberFormat.BULLET] * 3 + [NumberFormat.DECIMAL] * 2
    assert {text.align for text in items} <= {None, Align.LEFT}


def test_a_sign_or_number_alone_in_its_cell_is_text(typeset, rebuilt):
    page = PAGE.replace("STROKE", "0.5pt").replace("FIRST", "– 5 to 7").replace("SECOND", "1. see above")
    (found,) = tables(rebuilt(typeset(page)))
    assert isinstance(found, TableBlock)
    assert [cell.text for cell in found.cells if cell.column == 1] == [
        "Duties", "– 5 to 7", "1. see above", "Runs where he is sent.",
    ]  # fmt: skip
