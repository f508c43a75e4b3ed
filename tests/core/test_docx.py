"""The DOCX that is written: valid for an independent judge, complete for an independent reader."""

from __future__ import annotations

import io
import re
import subprocess
import sys
import zipfile

import docx
import pypandoc
import pytest
from docx.oxml.ns import qn
from msgspec.structs import replace
from PIL import Image

from evenquill.core.model import (
    Align,
    Box,
    Cell,
    Document,
    Field,
    FieldKind,
    Marks,
    NoteRef,
    NumberFormat,
    Numbering,
    PageGeometry,
    PageLink,
    ParagraphStyle,
    PictureBlock,
    Role,
    Running,
    RunningPair,
    RunningPart,
    Spot,
    TableBlock,
    TabStop,
    Text,
    TextBlock,
    UrlLink,
)
from evenquill.core.model.sections import PartStart, in_sections
from evenquill.core.writers.docx import write_docx

A4 = PageGeometry(595.28, 841.89, Box(72, 72, 523, 770))
LANDSCAPE = PageGeometry(841.89, 595.28, Box(60, 60, 780, 530))
STYLES = (
    ParagraphStyle("Body text", font="Liberation Serif", size=11, before=4),
    ParagraphStyle("Heading 1", size=16, bold=True, outline=1, keep_next=True),
    ParagraphStyle("List item", size=11),
    ParagraphStyle("Footnote text", size=9),
    ParagraphStyle("Running head", size=9),
)


def picture_bytes() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (80, 40), "teal").save(out, "PNG")
    return out.getvalue()


def written(*blocks, pages=(A4,), starts=(), columns=None, **more) -> bytes:
    """A document in sections by the pages that its blocks came from; ``starts`` are the pages from which on running parts run."""
    placed, sections = in_sections(blocks, pages, starts, columns or {})
    document = Document("Gauges", "en", STYLES, tuple(placed), pages, sections, **more)
    return write_docx(document, {"p": picture_bytes()}.__getitem__)


def text(id: str, words: str, role=Role.PARAGRAPH, page=1, **more) -> TextBlock:
    style = {Role.HEADING: "Heading 1", Role.LIST_ITEM: "List item", Role.NOTE: "Footnote text"}.get(role, "Body text")
    return TextBlock(id, role, (Text(words),), style, spots=(Spot(page, Box(72, 72, 500, 90)),), **more)


def markdown(data: bytes, tmp_path) -> str:
    path = tmp_path / "out.docx"
    path.write_bytes(data)
    return pypandoc.convert_file(str(path), "markdown", extra_args=["--wrap=none"])


def findings(data: bytes, tmp_path) -> str:
    path = tmp_path / "audited.docx"
    path.write_bytes(data)
    outcome = subprocess.run(
        [sys.executable, "-m", "openxml_audit", str(path)], capture_output=True, text=True, check=False
    )
    return "" if "no findings" in outcome.stdout else outcome.stdout + outcome.stderr


def part(data: bytes, name: str) -> str:
    with zipfile.ZipFile(io.BytesIO(data)) as package:
        return package.read(name).decode()


EVERYTHING = (
    text("h", "State of the gauges", Role.HEADING, level=1),
    TextBlock(
        "p",
        content=(
            Text("Read the "),
            Text("upper", Marks.BOLD),
            Text(" staff", Marks.ITALIC | Marks.UNDERLINE),
            NoteRef("n", "1"),
            Text(" at "),
            Text("the office", link=UrlLink("https://gauges.skerrin.example/?a=1&b=2")),
            Text(" or on page 2", link=PageLink(2), color="7a1f1f"),
            Text("struck", Marks.STRIKE),
        ),
        style="Body text",
        spots=(Spot(1, Box(72, 100, 500, 130)),),
    ),
    text("n", "Not the lower one.", Role.NOTE),
    text("a", "bring a key", Role.LIST_ITEM, numbering=Numbering()),
    text("b", "and a lamp", Role.LIST_ITEM, level=1, numbering=Numbering(NumberFormat.LOWER_LETTER, "%)", 1)),
    text("c", "Prices\t12.40", tabs=(TabStop(300, Align.RIGHT, True),)),
    PictureBlock(
        "i", "p", "image/png", 200, 100, Align.CENTER, alt='A "hut" & pier', spots=(Spot(1, Box(72, 300, 272, 400)),)
    ),
    text("l", "Wide table", page=2),
    text("s", "put away", excluded=True),
)


def test_a_document_with_everything_has_no_finding(tmp_path):
    data = written(
        *EVERYTHING,
        pages=(A4, LANDSCAPE),
        running=(
            RunningPart(
                "r",
                RunningPair(
                    Running((Text("Skerrin"), Text("\t\tGauges")), "Running head", (225.0, 450.0)),
                    Running(
                        (
                            Text("Page "),
                            Field(FieldKind.PAGE),
                            Text(" of the book"),
                        ),
                        "Running head",
                    ),
                ),
                first=RunningPair(),
                start=0,
            ),
        ),
    )
    assert findings(data, tmp_path) == ""


def cell(row: int, column: int, words: str, **size) -> Cell:
    return Cell(f"{row}.{column}.cell", row, column, (text(f"{row}.{column}", words),), **size)


TABLE = TableBlock(
    "t",
    (60.0, 60.0, 90.0),
    ("r1", "r2", "r3"),
    (
        cell(0, 0, "Day", rows=2),
        cell(0, 1, "First", columns=2),
        cell(1, 1, "h.m"),
        cell(1, 2, "m"),
        cell(2, 0, "1"),
        cell(2, 1, "03.13"),
        cell(2, 2, "4.62"),
    ),
    header_rows=2,
    align=Align.CENTER,
    spots=(Spot(1, Box(72, 72, 500, 190)),),
)


@pytest.mark.parametrize("ruled", [True, False])
def test_tables_are_valid_wherever_they_stand(tmp_path, ruled):
    """First and last on a page, two after each other, and where a page of another size begins."""
    table = replace(TABLE, ruled=ruled)
    landscape = replace(table, id="u", spots=(Spot(2, Box(60, 60, 780, 190)),))
    data = written(table, replace(table, id="v"), landscape, pages=(A4, LANDSCAPE))
    assert findings(data, tmp_path) == ""
    opened = docx.Document(io.BytesIO(data))
    assert [len(one.rows) for one in opened.tables] == [3, 3, 3]
    assert [[one.text for one in row.cells] for row in opened.tables[0].rows] == [
        ["Day", "First", "First"],
        ["Day", "h.m", "m"],
        ["1", "03.13", "4.62"],
    ]
    assert len(opened.sections) == 2
    assert ("w:tblBorders" in part(data, "word/document.xml")) is ruled


def test_a_table_is_no_wider_than_the_text_and_repeats_its_header():
    wide = replace(TABLE, widths=(400.0, 400.0, 400.0))
    xml = part(written(wide), "word/document.xml")
    widths = [int(width) for width in re.findall(r'<w:gridCol w:w="(\d+)"', xml)]
    assert sum(widths) == pytest.approx(451 * 20, abs=10)
    assert xml.count("<w:tblHeader/>") == 2


def test_a_run_in_heading_has_a_style_of_its_own(tmp_path):
    runs = (Text("The well.", Marks.BOLD | Marks.RUN_IN), Text(" It was pumped dry."))
    data = written(TextBlock("a", content=runs, style="Body text"))
    assert findings(data, tmp_path) == ""
    (paragraph,) = docx.Document(io.BytesIO(data)).paragraphs
    assert [(run.text, run.style.name) for run in paragraph.runs] == [
        ("The well.", "Run-in heading"),
        (" It was pumped dry.", "Default Paragraph Font"),
    ]


def test_marks_of_notes_and_links_work_in_cells(tmp_path):
    runs = (Text("4.62"), NoteRef("n", "1"), Text(" see"), Text(" there", link=PageLink(1)))
    marked = replace(
        TABLE, cells=(*TABLE.cells[:-1], Cell("marked", 2, 2, (TextBlock("x", content=runs, style="Body text"),)))
    )
    data = written(marked, text("n", "Not the lower one.", Role.NOTE))
    assert findings(data, tmp_path) == ""
    assert "Not the lower one." in part(data, "word/footnotes.xml")
    assert 'w:anchor="page_1"' in part(data, "word/document.xml")
    assert 'w:name="page_1"' in part(data, "word/document.xml")


def test_it_reads_back_complete(tmp_path):
    back = markdown(written(*EVERYTHING, pages=(A4, LANDSCAPE)), tmp_path)
    assert "# State of the gauges" in back
    assert "**upper**" in back
    assert "~~struck~~" in back
    assert "[^1]: Not the lower one." in back
    assert "(https://gauges.skerrin.example/?a=1&b=2)" in back
    assert re.search(r"^- +bring a key\n+ +a\) +and a lamp", back, re.M)
    assert "put away" not in back


def test_sizes_are_in_the_styles_and_not_on_the_runs():
    xml = part(written(*EVERYTHING), "word/document.xml")
    assert "<w:sz " not in xml
    assert "w:rFonts" not in xml
    assert "w:framePr" not in xml
    assert "txbxContent" not in xml


def test_properties_name_title_language_and_application():
    data = written(text("a", "x"))
    opened = docx.Document(io.BytesIO(data))
    assert opened.core_properties.title == "Gauges"
    assert opened.core_properties.language == "en"
    assert "Even Quill" in part(data, "docProps/app.xml")
    assert 'w:lang w:val="en-GB"' in part(data, "word/styles.xml")


def test_pages_of_another_size_are_a_section_of_their_own():
    opened = docx.Document(io.BytesIO(written(text("a", "one"), text("b", "two", page=2), pages=(A4, LANDSCAPE))))
    first, second = opened.sections
    assert first.page_width.pt == pytest.approx(595.3, abs=0.1)
    assert second.page_width.pt == pytest.approx(841.9, abs=0.1)
    assert first.left_margin.pt == pytest.approx(72, abs=0.5)


def test_a_picture_is_no_wider_than_the_text():
    wide = PictureBlock("i", "p", "image/png", 900, 450, spots=(Spot(1, Box(0, 0, 595, 300)),))
    opened = docx.Document(io.BytesIO(written(wide)))
    (shape,) = opened.inline_shapes
    assert shape.width.pt <= 451.5
    assert shape.width / shape.height == pytest.approx(2, abs=0.01)


def test_a_jpeg_without_the_header_that_most_have_is_embedded_once(tmp_path):
    out = io.BytesIO()
    Image.new("RGB", (80, 40), "teal").save(out, "JPEG")
    whole = out.getvalue()
    bare = whole[:2] + whole[4 + int.from_bytes(whole[4:6]) :]
    assert b"JFIF" in whole
    assert b"JFIF" not in bare
    shown = [
        PictureBlock(name, "p", "image/jpeg", 80, 40, spots=(Spot(1, Box(0, 0, 80, 40)),)) for name in ("one", "two")
    ]
    placed, sections = in_sections(shown, (A4,), (), {})
    data = write_docx(Document(pages=(A4,), sections=sections, styles=STYLES, blocks=placed), {"p": bare}.__getitem__)
    with zipfile.ZipFile(io.BytesIO(data)) as package:
        kept = [package.read(name) for name in package.namelist() if "media" in name]
    assert kept == [bare]
    assert findings(data, tmp_path) == ""


def test_markup_formulas_and_forbidden_signs_are_text(tmp_path):
    sly = "<w:p/> =SUM(A1) &amp; \x00\x0b ]]> {page"
    data = written(text("a", sly))
    assert docx.Document(io.BytesIO(data)).paragraphs[0].text == "<w:p/> =SUM(A1) &amp; \ufffd\ufffd ]]> {page"
    assert findings(data, tmp_path) == ""


def test_running_feet_have_a_page_field():
    foot = Running((Text("Page "), Field(FieldKind.PAGE)), "Running head")
    data = written(text("a", "x"), running=(RunningPart("r", RunningPair(footer=foot)),), starts=(PartStart(1, "r"),))
    with zipfile.ZipFile(io.BytesIO(data)) as package:
        (footer,) = [package.read(name).decode() for name in package.namelist() if name.startswith("word/footer")]
    assert 'w:instr=" PAGE "' in footer
    assert ">Page </w:t>" in footer


def test_emphasis_in_a_bold_style_is_taken_back():
    block = TextBlock("h", Role.HEADING, (Text("Bold "), Text("plain", Marks.BOLD)), "Heading 1", 1)
    opened = docx.Document(io.BytesIO(written(block)))
    assert [run.bold for run in opened.paragraphs[0].runs] == [None, False]


def test_numbering_goes_on_after_an_interruption_and_starts_again_where_it_should(tmp_path):
    one = Numbering(NumberFormat.DECIMAL, "%.", 1)
    on = Numbering(NumberFormat.DECIMAL, "%.")
    data = written(
        text("a", "first", Role.LIST_ITEM, numbering=one),
        text("b", "between"),
        text("c", "second", Role.LIST_ITEM, numbering=on),
        text("d", "new first", Role.LIST_ITEM, numbering=one),
    )
    opened = docx.Document(io.BytesIO(data))
    numbers = [p._p.pPr.numPr.numId.val if p._p.pPr.numPr is not None else None for p in opened.paragraphs]
    assert numbers == [1, None, 1, 2]


def test_a_note_without_a_mark_is_not_lost(tmp_path):
    assert "Orphan note" in markdown(written(text("a", "Text"), text("n", "Orphan note", Role.NOTE)), tmp_path)


def test_an_empty_document_is_a_valid_file(tmp_path):
    assert findings(written(), tmp_path) == ""


def test_page_numbers_that_cannot_be_set_are_left_to_the_word_processor(tmp_path):
    for number in (None, 0, 7):
        data = written(text("a", "x"), running=(RunningPart("r", start=number),), starts=(PartStart(1, "r"),))
        assert findings(data, tmp_path) == ""
        assert ("w:start=" in part(data, "word/document.xml")) is (number is not None)


def headed(text_: str) -> RunningPair:
    return RunningPair(Running((Text(text_),), "Running head"))


def test_parts_with_other_heads_are_sections_that_go_on_where_the_text_does(tmp_path):
    one = RunningPart("r", headed("Odd"), even=headed("Even"), first=RunningPair(), format=NumberFormat.LOWER_ROMAN)
    data = written(
        text("a", "first"),
        text("b", "second", page=2),
        text("c", "third", page=3),
        pages=(A4, A4, A4),
        running=(one, RunningPart("s", headed("Two"), start=1)),
        starts=(PartStart(1, "r"), PartStart(2, "s")),
    )
    assert findings(data, tmp_path) == ""
    opened = docx.Document(io.BytesIO(data))
    assert [section.start_type.name for section in opened.sections] == ["NEW_PAGE", "CONTINUOUS"]
    assert [section.header.paragraphs[0].text for section in opened.sections] == ["Odd", "Two"]
    assert opened.sections[0].even_page_header.paragraphs[0].text == "Even"
    assert opened.sections[0].different_first_page_header_footer
    assert 'w:fmt="lowerRoman"' in part(data, "word/document.xml")


def test_columns_are_sections_of_their_own(tmp_path):
    across, beside, after = text("a", "across"), text("b", "beside"), text("c", "after")
    data = written(across, beside, after, columns={"b": 2})
    assert findings(data, tmp_path) == ""
    columns = [section._sectPr.find(qn("w:cols")) for section in docx.Document(io.BytesIO(data)).sections]
    assert [None if found is None else found.get(qn("w:num")) for found in columns] == [None, "2", None]
