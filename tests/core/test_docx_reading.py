"""DOCX and ODT files read into documents: our own come back as they were; DOCX files of others are understood, and nothing in them does
harm."""

from __future__ import annotations

import io
import re
import zipfile

import docx
import pypandoc
import pytest
from docx.enum.text import WD_ALIGN_PARAGRAPH, WD_BREAK
from docx.shared import Pt
from msgspec.structs import replace
from test_formats import DOCUMENT, picture_bytes, text

from evenquill.core.docx_reading import read_docx
from evenquill.core.equations.tex import tex
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.errors import DamagedSource, SourceError, TooLarge, UnsupportedSource
from evenquill.core.model import (
    Align,
    BlockLink,
    Document,
    Equation,
    Field,
    FieldKind,
    InlinePicture,
    Marks,
    NoteRef,
    NumberFormat,
    ParagraphStyle,
    PictureBlock,
    Role,
    Running,
    RunningPair,
    RunningPart,
    Section,
    Tab,
    TableBlock,
    TabStop,
    Text,
    TextBlock,
    UrlLink,
)
from evenquill.core.model.grid import grid_faults
from evenquill.core.model.inline import Lettering
from evenquill.core.model.sections import PageSetup
from evenquill.core.odt_reading import read_odt
from evenquill.core.resolve import resolve
from evenquill.core.resolve.list_labels import list_labels
from evenquill.core.writers.docx import write_docx
from evenquill.core.writers.odt import write_odt
from tests.conftest import grid, tables

WAYS = {"docx": (write_docx, read_docx), "odt": (write_odt, read_odt)}


@pytest.fixture(params=WAYS)
def there_and_back(request, pictures):
    """What writes a document in a format and reads it back."""
    write, read = WAYS[request.param]
    return lambda document: read(write(document, lambda _: picture_bytes()), pictures)


def said_of(document: Document) -> list[tuple]:
    """What each row of text is and says, notes apart."""
    return [
        (block.role, block.level, block.text, block.numbering and (block.numbering.format, block.numbering.pattern))
        for block in document.blocks
        if isinstance(block, TextBlock) and not block.excluded and block.role is not Role.NOTE
    ]


@pytest.fixture
def back(there_and_back) -> Document:
    return there_and_back(DOCUMENT)


def with_text(document: Document, said: str) -> TextBlock:
    return next(block for block in document.texts if said in block.text)


def test_rows_come_back_as_they_were(back):
    kinds = [(role, said) for role, _, said, _ in said_of(back)]
    wanted = [(role, said) for role, _, said, _ in said_of(DOCUMENT)]
    # Rows that share the style of the text have no sign of their kind in a file, but for headings of ODT.
    plain = {Role.VERSE, Role.CODE, Role.QUOTE, Role.CAPTION, Role.HEADING}
    assert kinds[1:] == [(Role.PARAGRAPH if role in plain else role, said) for role, said in wanted[1:]]
    assert kinds[0][1] == wanted[0][1]
    assert back.title == DOCUMENT.title
    assert back.language == "de"
    assert "Set aside" not in {block.text for block in back.texts}


def test_lists_come_back_with_their_signs_numbers_and_depths(back):
    items = [block for block in back.blocks if isinstance(block, TextBlock) and block.role is Role.LIST_ITEM]
    assert [(item.text, item.level) for item in items] == [("first", 0), ("within", 1), ("second", 0), ("lettered", 0)]
    first, within, second, lettered = (item.numbering for item in items)
    assert (first.format, first.pattern, first.start) == (NumberFormat.DECIMAL, "%.", 3)
    assert (within.format, second.start) == (NumberFormat.BULLET, None)
    assert (lettered.format, lettered.pattern, lettered.start) == (NumberFormat.LOWER_LETTER, "(%)", 2)


def test_marks_notes_and_links_come_back(back):
    content = with_text(back, "float").content
    assert [item.text for item in content if item.marks is Marks.BOLD] == ["float"]
    assert [item.text for item in content if item.marks is Marks.ITALIC] == ["hard"]
    (mark,) = [item for item in content if isinstance(item, NoteRef)]
    note = back.blocks[back.index(mark.note)]
    assert (note.role, note.text) == (Role.NOTE, "Found by the keeper.")
    links = {item.text: item.link for item in content if item.link}
    assert links["wire"] == UrlLink("https://skerrin.example/wire?a=1&b=2")
    (table,) = tables(back)
    assert links["the table"] == BlockLink(table.id)
    assert isinstance(links["the page"], BlockLink)
    loud = with_text(back, "Loud")
    assert back.style(loud.style).bold
    assert [(item.text, item.marks) for item in loud.content] == [("Loud and ", Marks.NONE), ("quiet", Marks.BOLD)]


def test_tables_pictures_tabs_and_equations_come_back(back, pictures):
    (table,) = tables(back)
    assert grid(table) == [["Gauge", "May | June"], ["North pier", "2,31"]]
    assert table.header_rows == 1
    (picture,) = [block for block in back.blocks if isinstance(block, PictureBlock)]
    assert pictures.get(picture.picture) == picture_bytes()
    assert (picture.width, picture.height, picture.alt) == (80, 40, "A teal sheet")
    assert any(isinstance(item, Tab) for item in with_text(back, "14 March").content)
    (equation,) = [item for item in with_text(back, "Range").content if isinstance(item, Equation)]
    assert tex(equation.tree) == r"\frac{a}{b}"


STYLED = (
    ParagraphStyle("Body text", size=10.5, font="Libertinus Serif", leading=14, before=3),
    ParagraphStyle("Heading 2", based_on="Body text", size=14, bold=True, outline=2, keep_next=True),
    ParagraphStyle("Quotation", based_on="Body text", left=24, right=24, first=-6, color="204060"),
    ParagraphStyle("Verse", based_on="Body text", italic=True, align=Align.CENTER),
    ParagraphStyle("Code", based_on="Body text", font="Liberation Mono"),
    ParagraphStyle("Caption", based_on="Body text", size=9),
    ParagraphStyle("Contents 2", based_on="Body text", left=12),
    ParagraphStyle("Running head", based_on="Body text", size=8),
)


def styled() -> Document:
    tabs = (TabStop(120.0, Align.RIGHT, leader=True),)
    mixed = (
        Text("small", lettering=Lettering("Liberation Sans", 8.0, "ffee88")), Text(" red", color="aa0000"),
        Text(" under", Marks.UNDERLINE), Text(" struck", Marks.STRIKE), Text(" caps", Marks.SMALL_CAPITALS), Text("2", Marks.SUPER),
        Text("3", Marks.SUB),
    )  # fmt: skip
    running = RunningPart(
        "r",
        RunningPair(
            Running((Text("Gauges"), Tab(), Text("page "), Field(FieldKind.PAGE)), "Running head", (200.0,)), None
        ),
        first=RunningPair(),
        start=7,
        format=NumberFormat.LOWER_ROMAN,
    )
    return Document(
        styles=STYLED,
        blocks=(
            text("h", "Readings", role=Role.HEADING, level=2, style="Heading 2", section="s"),
            text("m", *mixed, section="s"),
            text("q", "Said long ago.", role=Role.QUOTE, style="Quotation", section="s"),
            text("v", "In verse", role=Role.VERSE, style="Verse", section="s", page_break=True),
            text("k", "if a < b:", role=Role.CODE, style="Code", section="s"),
            text("c", "Figure 1: A sheet", role=Role.CAPTION, style="Caption", section="s"),
            text("o", "Readings", Tab(), "7", role=Role.CONTENTS, level=2, style="Contents 2", section="s", tabs=tabs),
            text("e", Equation(read_tex("x^2 + y_i = \\sum_{k=1}^{n} a_k"), display=True, number="(4)"),
                 role=Role.EQUATION, section="t"),
            text("r", "At the right", align=Align.RIGHT, section="t"),
        ),
        sections=(
            Section("s", PageSetup(500, 700, 60, 61, 62, 63), 1, "r"),
            Section("t", PageSetup(500, 700, 60, 61, 62, 63), 2, "r"),
        ),
        running=(running,),
    )  # fmt: skip


def test_kinds_styles_and_letters_come_back(there_and_back):
    document = styled()
    back = there_and_back(document)
    assert said_of(back) == said_of(document)
    for before, after in zip(document.blocks, back.blocks, strict=True):
        # Entries of contents lists lead to their headings in the file.
        assert tuple(replace(item, link=None) for item in after.content) == before.content, before.id
        one, other = document.style(before.style), back.style(after.style)
        same = (
            "font",
            "size",
            "bold",
            "italic",
            "color",
            "align",
            "left",
            "right",
            "first",
            "before",
            "leading",
            "outline",
        )
        for field in same:
            assert getattr(other, field) == pytest.approx(getattr(one, field), abs=0.05), (before.id, field)
        assert (after.align, after.tabs, after.page_break) == (before.align, before.tabs, before.page_break)


def test_pages_columns_and_running_heads_come_back(there_and_back):
    document = styled()
    back = there_and_back(document)
    layouts = [(section.layout, section.continues) for section in resolve(back).sections]
    (first, _), (second, goes_on) = layouts
    assert first.setup == document.sections[0].setup
    assert (first.columns, second.columns, goes_on) == (1, 2, True)
    assert (first.part.start, first.part.format) == (7, NumberFormat.LOWER_ROMAN)
    head = first.part.usual.header
    assert [type(item) for item in head.content] == [Text, Tab, Text, Field]
    assert head.tabs == (200.0,)
    assert first.part.first == RunningPair()
    assert first.part.usual.footer is None


FORMULAS = (
    r"\frac{a+b}{c}", r"\sqrt{x}", r"\sqrt[3]{x}", "x_i^2", r"\int_{0}^{\infty} f(x)\,dx", r"\sum_{k=1}^{n} k", r"\lim_{x \to 0} f(x)",
    r"\begin{pmatrix} a & b \\ c & d \end{pmatrix}", r"\hat{x} + \overline{y}", r"\mathbf{v} \cdot \mathbb{R}", r"\sin x",
    r"\left[ a \right]", r"\underbrace{a+b}_{n}", r"3.14 \le \pi", r"f(x) = \begin{cases} 1 & x > 0 \\ 0 & \text{otherwise} \end{cases}",
    r"\binom{n}{k}", r"\begin{aligned} a &= b \\ c &= d \end{aligned}",
)  # fmt: skip


@pytest.mark.parametrize("formula", FORMULAS)
def test_formulas_come_back(there_and_back, formula):
    tree = read_tex(formula)
    back = there_and_back(Document(styles=STYLED, blocks=(text("e", "See ", Equation(tree), " there"),)))
    (equation,) = [item for item in back.blocks[0].content if isinstance(item, Equation)]
    assert tex(equation.tree) == tex(tree)


def by_python_docx(fill) -> bytes:
    made = docx.Document()
    fill(made)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def test_a_file_of_another_writer_is_understood(pictures):
    def fill(made):
        made.add_heading("Tide gauges", 0)
        made.add_heading("Readings", 1)
        paragraph = made.add_paragraph("A plain row with ")
        paragraph.add_run("bold").bold = True
        paragraph.alignment = WD_ALIGN_PARAGRAPH.CENTER
        made.add_paragraph("one", style="List Bullet")
        made.add_paragraph("first", style="List Number")
        made.add_paragraph("second", style="List Number")
        made.add_paragraph("Said long ago.", style="Quote")
        set_in = made.add_paragraph("Set in by hand")
        set_in.paragraph_format.left_indent = Pt(30)
        made.add_paragraph("").add_run().add_break(WD_BREAK.PAGE)
        made.add_paragraph("On a new page")
        table = made.add_table(3, 3, style="Table Grid")
        table.cell(0, 0).merge(table.cell(0, 1)).text = "wide"
        table.cell(1, 0).merge(table.cell(2, 0)).text = "tall"
        table.cell(2, 2).text = "last"
        made.add_picture(io.BytesIO(picture_bytes()), width=Pt(40))

    document = read_docx(by_python_docx(fill), pictures)
    rows = [(block.role, block.text) for block in document.blocks if isinstance(block, TextBlock)]
    assert rows == [
        (Role.HEADING, "Tide gauges"), (Role.HEADING, "Readings"), (Role.PARAGRAPH, "A plain row with bold"), (Role.LIST_ITEM, "one"),
        (Role.LIST_ITEM, "first"), (Role.LIST_ITEM, "second"), (Role.QUOTE, "Said long ago."), (Role.PARAGRAPH, "Set in by hand"),
        (Role.PARAGRAPH, "On a new page"),
    ]  # fmt: skip
    plain = with_text(document, "A plain row")
    assert (plain.align, plain.content[-1].marks) == (Align.CENTER, Marks.BOLD)
    assert with_text(document, "one").numbering.format is NumberFormat.BULLET
    assert with_text(document, "first").numbering.ordered
    assert document.style(with_text(document, "Set in").style).left == 30
    assert with_text(document, "On a new page").page_break
    (table,) = tables(document)
    assert list(grid_faults(table)) == []
    assert [(cell.row, cell.column, cell.rows, cell.columns, cell.text) for cell in table.cells if cell.text] == [
        (0, 0, 1, 2, "wide"),
        (1, 0, 2, 1, "tall"),
        (2, 2, 1, 1, "last"),
    ]
    assert table.ruled
    assert [block.width for block in document.blocks if isinstance(block, PictureBlock)] == [40]


def test_what_pandoc_writes_is_understood(pictures, tmp_path):
    source = (
        "# Gauges\n\nThe *float*, see [the office](https://skerrin.example/), stuck.[^1]\n\n[^1]: In March.\n\n"
        "1. one\n2. two\n    - deep\n\n$$x^2 + 1$$\n\n| a | b |\n|---|---|\n| 1 | 2 |\n\n> Quoted.\n\n    code line\n"
    )
    path = tmp_path / "pandoc.docx"
    pypandoc.convert_text(source, "docx", format="markdown", outputfile=str(path))
    document = read_docx(path.read_bytes(), pictures)
    kinds = {block.text.strip(): block.role for block in document.texts}
    assert kinds["Gauges"] is Role.HEADING
    assert (kinds["In March."], kinds["Quoted."], kinds["code line"]) == (Role.NOTE, Role.QUOTE, Role.CODE)
    items = [(block.text, block.level) for block in document.texts if block.role is Role.LIST_ITEM]
    assert items == [("one", 0), ("two", 0), ("deep", 1)]
    float_row = with_text(document, "float")
    assert next(item for item in float_row.content if item.text == "float").marks is Marks.ITALIC
    assert UrlLink("https://skerrin.example/") in {item.link for item in float_row.content}
    (equation,) = [block for block in document.texts if block.role is Role.EQUATION]
    assert tex(equation.content[0].tree) == "x^{2}+1" or "x" in tex(equation.content[0].tree)
    assert [cell.text for cell in tables(document)[0].cells] == ["a", "b", "1", "2"]


def changed_part(data: bytes, name: str, change) -> bytes:
    """The file with one of its parts made other; one that is not there is made of nothing."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as file, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for one in file.namelist():
            made.writestr(one, change(file.read(one)) if one == name else file.read(one))
        if name not in file.namelist():
            made.writestr(name, change(b""))
    return out.getvalue()


MAIN = "word/document.xml"


def edited(before: str, after: str, document: Document = DOCUMENT) -> bytes:
    """A file of ours in which something of the text is other."""
    data = write_docx(document, lambda _: picture_bytes())
    return changed_part(data, MAIN, lambda part: part.decode().replace(before, after, 1).encode())


def test_tracked_changes_are_taken_as_accepted_and_said(pictures):
    run = "<w:r><w:t xml:space='preserve'>{}</w:t></w:r>"
    gone = "<w:del w:id='1' w:author='a'><w:r><w:delText>Said</w:delText></w:r></w:del>"
    new = f"<w:ins w:id='2' w:author='a'>{run.format('Written')}</w:ins>{run.format(' long ago.')}"
    data = edited('<w:r><w:t xml:space="preserve">Said long ago.</w:t></w:r>', gone + new)
    document = read_docx(data, pictures)
    assert with_text(document, "long ago").text == "Written long ago."
    assert any("tracked in the file (2)" in remark.sentence for remark in document.remarks)


def test_comments_are_shown_and_not_taken(pictures):
    comments = (
        b"<w:comments xmlns:w='http://schemas.openxmlformats.org/wordprocessingml/2006/main'><w:comment w:id='0'><w:p><w:r>"
        b"<w:t>Ask the keeper</w:t></w:r></w:p></w:comment></w:comments>"
    )
    data = changed_part(write_docx(DOCUMENT, lambda _: picture_bytes()), "word/comments.xml", lambda _: comments)
    relation = b'<Relationship Id="c1" Type="http://x/comments" Target="comments.xml"/></Relationships>'
    data = changed_part(data, "word/_rels/document.xml.rels", lambda part: part.replace(b"</Relationships>", relation))
    document = read_docx(data, pictures)
    assert any("Ask the keeper" in remark.sentence for remark in document.remarks)
    assert "Ask the keeper" not in " ".join(block.text for block in document.texts)


def test_hidden_text_is_left_out_and_control_boxes_are_opened(pictures):
    run = '<w:r><w:t xml:space="preserve">Said long ago.</w:t></w:r>'
    box = f"<w:sdt><w:sdtContent>{run}</w:sdtContent></w:sdt><w:r><w:rPr><w:vanish/></w:rPr><w:t>secret</w:t></w:r>"
    document = read_docx(edited(run, box), pictures)
    assert with_text(document, "Said").text == "Said long ago."


def test_macros_and_what_is_to_be_fetched_are_said_and_left_alone(pictures):
    data = changed_part(write_docx(DOCUMENT, lambda _: picture_bytes()), "word/vbaProject.bin", lambda _: b"run me")
    outside = (
        b'<Relationship Id="o1" Type="http://x/attachedTemplate" Target="https://skerrin.example/t.dotm" TargetMode="External"/>'
        b"</Relationships>"
    )
    data = changed_part(data, "word/_rels/document.xml.rels", lambda part: part.replace(b"</Relationships>", outside))
    said = " ".join(remark.sentence for remark in read_docx(data, pictures).remarks)
    assert "macros" in said
    assert "Nothing was fetched" in said


def test_links_that_may_run_something_are_not_taken(pictures):
    data = changed_part(
        write_docx(DOCUMENT, lambda _: picture_bytes()),
        "word/_rels/document.xml.rels",
        lambda part: re.sub(rb"https://skerrin[^\"]*", b"javascript:alert(1)", part),
    )
    assert all(not isinstance(item.link, UrlLink) for item in with_text(read_docx(data, pictures), "float").content)


def many_in_one(depth: int) -> bytes:
    cell = "<w:tc>{}<w:p/></w:tc>"
    inner = "<w:p/>"
    for _ in range(depth):
        inner = f"<w:tbl><w:tr>{cell.format(inner)}</w:tr></w:tbl>"
    return edited("<w:sectPr", inner + "<w:sectPr")


@pytest.mark.parametrize("depth", [3, 60])
def test_tables_within_tables_keep_their_text(pictures, depth):
    document = read_docx(many_in_one(depth), pictures)
    assert all(not list(grid_faults(table)) for table in tables(document))


@pytest.mark.parametrize(
    ("data", "error"),
    [
        (b"", UnsupportedSource),
        (b"no zip", UnsupportedSource),
        (changed_part(write_docx(DOCUMENT, lambda _: picture_bytes()), MAIN, lambda _: b"<w:broken"), DamagedSource),
        (changed_part(write_docx(DOCUMENT, lambda _: picture_bytes()), "_rels/.rels", lambda _: b"<r/>"), UnsupportedSource),
        (changed_part(write_docx(DOCUMENT, lambda _: picture_bytes()), "x", lambda _: b"0" * 300_000_000), TooLarge),
    ],
    ids=["nothing", "no zip", "broken text", "no text", "a bomb"],
)  # fmt: skip
def test_what_is_no_document_is_refused_with_a_sentence(pictures, data, error):
    with pytest.raises(error) as raised:
        read_docx(data, pictures)
    assert isinstance(raised.value, SourceError)
    assert str(raised.value).endswith(".")


def test_entities_are_not_resolved(pictures, tmp_path):
    (tmp_path / "secret").write_text("the secret")
    declared = f'<!DOCTYPE d [<!ENTITY x SYSTEM "file://{tmp_path}/secret">]>'

    def change(part: bytes) -> bytes:
        at = part.index(b"<w:document")
        return part[:at] + declared.encode() + part[at:].replace(b"Said long ago.", b"&x;", 1)

    data = changed_part(write_docx(DOCUMENT, lambda _: picture_bytes()), MAIN, change)
    document = read_docx(data, pictures)
    assert "secret" not in " ".join(block.text for block in document.texts)


def test_pictures_in_lines_come_back(there_and_back):
    sign = InlinePicture("ab" * 32, "image/png", 12, 6, alt="a sign")
    document = replace(DOCUMENT, blocks=(text("p", "Press ", sign, " twice"),))
    (row,) = there_and_back(document).blocks
    (found,) = [item for item in row.content if isinstance(item, InlinePicture)]
    assert (found.width, found.height, found.alt) == (12, 6, "a sign")
    assert isinstance(document.blocks[0], TextBlock)
    assert not isinstance(row, TableBlock)


def test_lists_in_cells_keep_their_marks(pictures):
    def fill(made):
        cell = made.add_table(1, 1).cell(0, 0)
        cell.text = "before"
        for said in ("one", "two"):
            cell.add_paragraph(said, style="List Number")

    (table,) = tables(read_docx(by_python_docx(fill), pictures))
    labels = list_labels((table,))
    assert [f"{labels.get(text.id, '')} {text.text}".strip() for text in table.texts] == ["before", "1. one", "2. two"]
