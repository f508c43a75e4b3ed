"""The PDF that is written: complete for an independent reader, and made for those who listen."""

from __future__ import annotations

import io
import re

import pikepdf
import pypdfium2 as pdfium
import pytest
from blocks import table
from msgspec.structs import replace
from test_formats import AWKWARD, DOCUMENT, SIGNS, STYLES, picture_bytes, text

from evenquill.core.model import (
    Align,
    Document,
    Field,
    FieldKind,
    Numbering,
    ParagraphStyle,
    Role,
    Running,
    RunningPair,
    RunningPart,
    Section,
    Tab,
    TabStop,
    Text,
)
from evenquill.core.model.sections import PageSetup
from evenquill.core.reading.native.page import read_page
from evenquill.core.writers.pdf import write_pdf
from evenquill.core.writers.problem import NotWritten
from evenquill.core.writers.registry import WRITERS


def written(document: Document = DOCUMENT) -> bytes:
    return write_pdf(document, lambda _: picture_bytes())


def pages_of(data: bytes) -> list[str]:
    return [page.get_textpage().get_text_bounded() for page in pdfium.PdfDocument(data)]


def squeezed(said: str) -> str:
    return re.sub(r"\s+", "", said)


def test_all_words_are_there_and_none_is_taken_for_markup():
    said = squeezed("".join(pages_of(written())))
    for sentence in (
        SIGNS, *AWKWARD, "Gauges of the north", "The float was hard against", "see the table and the page.", "Loud and quiet", "3.first",
        "within", "4.second", "(b)lettered", "One line", "another line", "if a < b:", "Said long ago.", "Date", "14 March", "May | June",
        "2,31", "Figure 1: A sheet", "Found by the keeper.",
    ):  # fmt: skip
        assert squeezed(sentence) in said, sentence
    assert "Setaside" not in said


def test_it_is_tagged_named_and_in_a_language_with_bookmarks_and_links():
    with pikepdf.open(io.BytesIO(written())) as pdf:
        assert pdf.Root.MarkInfo.Marked
        assert str(pdf.Root.Lang) == "de"
        with pdf.open_metadata() as metadata:
            assert metadata["dc:title"] == "Gauges & <Tides>"
            assert metadata["pdfuaid:part"] == "1"
        with pdf.open_outline() as outline:
            assert [item.title for item in outline.root] == ["Gauges of the north"]
        links = [note for page in pdf.pages for note in page.get("/Annots", []) if note.Subtype == "/Link"]
        addresses = [str(link.A.URI) for link in links if "/A" in link and "/URI" in link.A]
        assert "https://skerrin.example/wire?a=1&b=2" in addresses
        assert len(links) >= 3
        kinds = {
            str(item.S)
            for item in pdf.objects
            if isinstance(item, pikepdf.Dictionary) and "/S" in item and "/P" in item
        }
        assert {"/H1", "/P", "/Table", "/TH", "/TD", "/L", "/LI", "/Figure", "/Link"} <= kinds
        figures = [item for item in pdf.objects if isinstance(item, pikepdf.Dictionary) and item.get("/S") == "/Figure"]
        assert [str(figure.Alt) for figure in figures] == ["A teal sheet"]


def test_a_document_whose_headings_skip_a_level_is_written_all_the_same():
    skips = replace(
        DOCUMENT, blocks=(text("a", "One", role=Role.HEADING, level=1), text("b", "Three", role=Role.HEADING, level=3))
    )
    data = written(skips)
    assert "Three" in "".join(pages_of(data))
    with pikepdf.open(io.BytesIO(data)) as pdf, pdf.open_metadata() as metadata:
        assert "pdfuaid:part" not in metadata


def test_pages_have_their_size_and_running_heads_with_numbers():
    head = Running((Text("Gauges"), Tab(), Tab(), Field(FieldKind.PAGE)), "Body text", (200.0, 400.0))
    first = Running((Text("Only once"),), "Body text")
    part = RunningPart("r", RunningPair(head), first=RunningPair(first), start=7)
    section = Section("s", PageSetup(500, 400, 50, 50, 60, 60), running="r")
    blocks = tuple(text(f"p{n}", f"Row {n} of many", section="s") for n in range(60))
    data = written(Document(styles=STYLES, blocks=blocks, sections=(section,), running=(part,)))
    assert pdfium.PdfDocument(data).get_page_size(0) == pytest.approx((500, 400), abs=0.5)
    assert [page.split()[:2] for page in pages_of(data)][:3] == [["Only", "once"], ["Gauges", "8"], ["Gauges", "9"]]
    bare = WRITERS["pdf"].write(
        replace(DOCUMENT, running=(part,), sections=(section,), blocks=blocks), lambda _: b"", ["without_running_heads"]
    )
    assert "Gauges" not in "".join(pages_of(bare))


def test_a_number_at_the_head_of_the_first_page_is_the_one_that_it_has_and_tells_even_pages():
    odd, even = (
        Running((Text(side), Tab(), Field(FieldKind.PAGE)), "Body text", (200.0,)) for side in ("Right", "Left")
    )
    part = RunningPart("r", RunningPair(odd, odd), RunningPair(even, even), start=134)
    section = Section("s", PageSetup(500, 400, 50, 50, 60, 60), running="r")
    blocks = tuple(text(f"p{n}", f"Row {n} of many", section="s") for n in range(60))
    data = written(Document(styles=STYLES, blocks=blocks, sections=(section,), running=(part,)))
    said = [["Left", "134"], ["Right", "135"], ["Left", "136"]]
    words = [page.split() for page in pages_of(data)][:3]
    assert [page[:2] for page in words] == said == [page[-2:] for page in words]


def test_tabs_stand_at_their_stops():
    stops = (TabStop(200, Align.RIGHT, leader=True),)
    block = text("p", "Float", Tab(), "12", tabs=stops)
    section = Section("s", PageSetup(500, 400, 50, 50, 60, 60))
    data = written(Document(styles=STYLES, blocks=(replace(block, section="s"),), sections=(section,)))
    textpage = pdfium.PdfDocument(data)[0].get_textpage()
    end = textpage.get_text_range().rindex("2")
    assert textpage.get_charbox(end)[2] == pytest.approx(250, abs=2)
    assert ".." in squeezed(textpage.get_text_range())


def test_what_cannot_be_set_is_said_in_a_sentence():
    with pytest.raises(NotWritten, match="cannot be set as PDF"):
        write_pdf(DOCUMENT, lambda _: b"no picture")


def test_headings_are_as_large_and_as_heavy_as_their_style_says():
    blocks = (
        text("a", "Plain heading", role=Role.HEADING, level=1),
        text("b", "Loud heading", role=Role.HEADING, level=2, style="Loud"),
    )
    data = written(Document(styles=STYLES, blocks=blocks))
    with pikepdf.open(io.BytesIO(data)) as pdf:
        faces = [str(font.BaseFont) for font in pdf.pages[0].Resources.Font.values()]
    assert len([face for face in faces if "Bold" in face]) == 1
    assert len([face for face in faces if "Bold" not in face]) == 1
    shown = pdfium.PdfDocument(data)[0].get_textpage()
    _, bottom, _, top = shown.get_charbox(0)
    assert top - bottom < 11


def test_columns_and_styles_are_kept():
    styles = (
        ParagraphStyle("Body text", size=11),
        ParagraphStyle("Small", size=7, left=20, first=-10, align=Align.JUSTIFY, color="aa0000"),
    )
    section = Section("s", PageSetup(595, 842, 72, 72, 72, 72), columns=2)
    blocks = tuple(text(f"p{n}", "Words that stand in columns. " * 8, style="Small", section="s") for n in range(30))
    page = pdfium.PdfDocument(written(Document(styles=styles, blocks=blocks, sections=(section,))))[0].get_textpage()
    lefts = {round(page.get_charbox(n)[0]) for n in range(0, page.count_chars(), 3)}
    assert any(left > 305 for left in lefts)
    assert any(left < 150 for left in lefts)


@pytest.mark.parametrize(
    "document", [Document(), Document(blocks=(text("p"),)), Document(blocks=(text("p", "Word", style="gone"),))]
)
def test_little_is_written_too(document):
    assert written(document).startswith(b"%PDF")


def test_what_stands_at_the_right_of_a_running_head_stays_on_its_line():
    head = Running((Text("Gauges"), Tab(), Tab(), Text("page 5 of 21")), "Body text", (150.0, 480.0))
    setup = PageSetup(400, 500, 50, 50, 60, 60)
    document = Document(
        styles=STYLES,
        blocks=(text("p", "A row.", section="s"),),
        sections=(Section("s", setup, 1, "r"),),
        running=(RunningPart("r", RunningPair(head)),),
    )
    (page,) = pages_of(written(document))
    assert " ".join(page.splitlines()[0].split()) == "Gauges page 5 of 21"


@pytest.mark.parametrize(("left", "first"), [(0.0, 18.0), (30.0, -18.0), (12.0, 0.0)])
def test_first_lines_are_set_in_or_out_as_their_style_says(left, first):
    style = ParagraphStyle("Body text", size=11, left=left, first=first)
    document = replace(
        DOCUMENT, styles=(style,), blocks=(text("a", "The float was hard against the guide wire again. " * 8),)
    )
    lines = lines_from(write_pdf(document, lambda _: b""))
    assert len(lines) > 2
    assert lines[0] - lines[1] == pytest.approx(first, abs=1.5)
    assert lines[1] == pytest.approx(lines[2], abs=1.5)


def lines_from(data: bytes) -> list[float]:
    """Where the lines of the first page begin, from top to bottom, in points."""
    page = pdfium.PdfDocument(data)[0].get_textpage()
    tops: dict[int, float] = {}
    for n in range(page.count_chars()):
        left, bottom, *_ = page.get_charbox(n)
        if page.get_text_range(n, 1).strip():
            tops.setdefault(-round(bottom / 8), left)
    return [tops[key] for key in sorted(tops)]


def test_a_header_whose_cells_reach_below_it_is_set():
    made = table("t", [["Gauge", "May"], ["", "2.31"], ["North pier", "2.44"]], header_rows=1)
    tall = replace(made.cells[0], rows=2)
    cells = (tall, *(cell for cell in made.cells[1:] if (cell.row, cell.column) != (1, 0)))
    document = replace(DOCUMENT, blocks=(replace(made, cells=cells),))
    assert "2.31" in "".join(pages_of(written(document)))


def test_items_have_the_letters_of_their_own_styles_and_stand_apart_as_these_say():
    styles = (
        ParagraphStyle("Body text", size=11),
        ParagraphStyle("List item", based_on="Body text", color="aa0000", before=9),
        ParagraphStyle("List item, depth 2", based_on="Body text", size=8),
    )
    items = (
        text("a", "outer", role=Role.LIST_ITEM, style="List item", numbering=Numbering()),
        text("b", "deeper", role=Role.LIST_ITEM, level=1, style="List item, depth 2", numbering=Numbering()),
        text("c", "second", role=Role.LIST_ITEM, style="List item", numbering=Numbering()),
        text("d", "third", role=Role.LIST_ITEM, style="List item", numbering=Numbering()),
    )
    (page,) = pdfium.PdfDocument(written(Document(styles=styles, blocks=items)))
    page_read = read_page(page.pdf, 1, lambda *_: "")
    looks = {word.text: (page_read.types[word.type], line.baseline) for line in page_read.lines for word in line.words}
    assert (looks["outer"][0].color, looks["outer"][0].size) == ("aa0000", 11)
    assert (looks["deeper"][0].color, looks["deeper"][0].size) == (None, 8)
    assert looks["third"][1] - looks["second"][1] == pytest.approx(1.2 * 11 + 9, abs=0.5)
