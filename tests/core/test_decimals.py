"""Numbers of a table's column set with their decimal signs below each other: by hand, from the page, and in all formats."""

from __future__ import annotations

import io
import re
import zipfile

import docx
import pypdfium2 as pdfium
import pytest
from docx.enum.text import WD_TAB_ALIGNMENT
from msgspec.structs import replace

from evenquill.core.docx_reading import read_docx
from evenquill.core.edits import AlignBlock, AlignColumns, ChangeStyle, SetTabs, apply
from evenquill.core.edits.style_operations import StyleLook
from evenquill.core.errors import EditError
from evenquill.core.model import Align, Document, PageSetup, ParagraphStyle, Section, TabStop
from evenquill.core.model.decimals import decimal_sign, decimals_of
from evenquill.core.odt_reading import read_odt
from evenquill.core.writers.registry import WRITERS
from tests.conftest import grid, tables
from tests.core.blocks import block, table

DEPTHS = [["Buoy", "Depth"], ["Grey Ness", "12"], ["Tern Bank", "3.75"], ["Long Sand", "104.5"]]


def written(document: Document, name: str) -> bytes:
    return WRITERS[name].write(document, lambda _: b"", ())


@pytest.fixture
def document() -> Document:
    styles = (ParagraphStyle("Body text", size=11), ParagraphStyle("Table text", size=10))
    whole = Document(
        styles=styles,
        blocks=(replace(table("t", DEPTHS), header_rows=1, section="s"), block("p", "Sounded in May.", section="s")),
        sections=(Section("s", PageSetup(595, 842, 72, 72, 72, 72)),),
    )
    return apply(whole, AlignColumns("t", column=1, columns=1, align=Align.DECIMAL)).document


def depths(document: Document) -> list[tuple[str, Align | None]]:
    (found,) = tables(document)
    return [(text.text, text.align) for cell in found.cells if cell.column for text in cell.texts]


@pytest.mark.parametrize(
    ("numbers", "sign"),
    [
        (["12", "3.75", "104.5"], "."),
        (["1.204,50", "7,5"], ","),
        (["1,204", "12,016", "7"], ""),
        (["1,204", "12,5"], ","),
        (["1.204.016", "2.5"], ""),
        (["May", "—"], ""),
        ([".5", "1.25"], "."),
    ],
)
def test_the_sign_before_decimals_is_told_from_that_between_thousands(numbers, sign):
    assert decimal_sign(numbers) == sign


def test_decimals_are_what_follows_the_sign_with_its_unit():
    assert [decimals_of(text, ",") for text in ("7,5 %", "1.204,50", "12", "a, b")] == [",5 %", ",50", "", ""]


def test_docx_has_a_decimal_tab_stop_in_each_cell(document, pictures):
    data = written(document, "docx")
    rows = docx.Document(io.BytesIO(data)).tables[0].rows
    stops = [row.cells[1].paragraphs[0].paragraph_format.tab_stops for row in rows]
    assert [[stop.alignment for stop in own] for own in stops] == [[], *[[WD_TAB_ALIGNMENT.DECIMAL]] * 3]
    assert len({own[0].position for own in stops[1:]}) == 1
    assert [row.cells[1].text for row in rows] == ["Depth", "12", "3.75", "104.5"]
    assert depths(read_docx(data, pictures)) == depths(document)


def test_odt_says_which_sign_it_is_and_comes_back_without_the_tab(document, pictures):
    data = written(document, "odt")
    content = zipfile.ZipFile(io.BytesIO(data)).read("content.xml").decode()
    assert re.search(r'style:tab-stop [^>]*style:type="char"', content)
    assert 'style:char="."' in content
    assert depths(read_odt(data, pictures)) == depths(document)


def test_rtf_has_decimal_stops(document):
    data = written(document, "rtf").decode("ascii")
    assert len(re.findall(r"\\tqdec\\tx\d+", data)) == 3


def test_html_leaves_room_for_the_decimals_that_are_missing(document):
    data = written(document, "html").decode()
    rooms = dict(re.findall(r'padding-right: (calc\([^"]*\))"[^>]*>([^<]*)<', data))
    assert {text: room for room, text in rooms.items()} == {
        "104.5": "calc(1ch + 0em)", "3.75": "calc(0ch + 0em)", "12": "calc(2ch + 0.25em)",
    }  # fmt: skip


def test_decimal_signs_stand_below_each_other_in_pdf(document):
    page = pdfium.PdfDocument(written(document, "pdf"))[0].get_textpage()
    text = page.get_text_range()
    signs = [page.get_charbox(n)[0] for n, letter in enumerate(text) if letter == "." and text[n - 1].isdigit()]
    ends = [page.get_charbox(text.index(number) + len(number) - 1)[2] for number in ("12", "3.75", "104.5")]
    assert len(signs) == 2
    assert max(signs) - min(signs) < 0.2
    assert abs(ends[0] - signs[0]) < 2
    assert ends[1] - ends[2] > 3


def test_only_cells_are_aligned_by_decimals(document):
    for operation in (
        AlignBlock("p", Align.DECIMAL),
        SetTabs("p", (TabStop(90, Align.DECIMAL),)),
        ChangeStyle("Body text", StyleLook(align=Align.DECIMAL)),
    ):
        with pytest.raises(EditError):
            apply(document, operation)


TYPESET = """#set page(width: 400pt, height: 300pt, margin: 50pt)
#set text(size: 10pt, font: "Liberation Serif")
The soundings of the harbour were taken at low water in the spring and are given here.

#table(columns: (120pt, 90pt), stroke: STROKE,
  [Buoy], [Depth],
  ..(
    ("Grey Ness", "12"), ("Tern Bank", "3.75"), ("Long Sand", "104.5"), ("Holm Sound", "27.25"), ("Outer Bar", "8"),
  ).map(((name, depth)) => {
    let parts = depth.split(".")
    ([#name], [#h(30pt - measure-of(parts.at(0)))#depth])
  }).flatten(),
)
They are kept by the office and checked each year.
"""


@pytest.mark.parametrize("stroke", ["0.5pt", "none"])
def test_numbers_in_line_by_their_decimal_signs_are_read_as_such(stroke, typeset, rebuilt):
    widths = {"12": 10, "3": 5, "104": 15, "27": 10, "8": 5}
    source = TYPESET.replace("STROKE", stroke).replace("measure-of(parts.at(0))", f"({_typst(widths)}).at(parts.at(0))")
    (found,) = tables(rebuilt(typeset(source)))
    assert [row[1] for row in grid(found)] == ["Depth", "12", "3.75", "104.5", "27.25", "8"]
    aligned = {cell.row: cell.texts[0].align for cell in found.cells if cell.column == 1}
    assert [aligned[row] for row in range(1, 6)] == [Align.DECIMAL] * 5


def _typst(widths: dict[str, float]) -> str:
    return ", ".join(f'"{number}": {width}pt' for number, width in widths.items())
