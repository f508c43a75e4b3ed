"""ODT files of other writers read into documents, and bad ones: nothing in them does harm."""

from __future__ import annotations

import io
import zipfile

import pypandoc
import pytest
from test_docx_reading import changed_part, with_text
from test_formats import DOCUMENT, picture_bytes

from evenquill.core.equations.tex import tex
from evenquill.core.errors import DamagedSource, SourceError, TooLarge, UnsupportedSource
from evenquill.core.model import (
    Align,
    Break,
    Document,
    Equation,
    InlinePicture,
    Marks,
    NoteRef,
    NumberFormat,
    Role,
    Sides,
    Tab,
    TextBlock,
    UrlLink,
)
from evenquill.core.model.grid import grid_faults
from evenquill.core.odt_reading import read_odt
from evenquill.core.resolve.list_labels import list_labels
from evenquill.core.writers.odt import write_odt
from tests.conftest import grid, tables

SPACES = " ".join(
    f'xmlns:{name}="urn:oasis:names:tc:opendocument:xmlns:{space}:1.0"'
    for name, space in {
        "office": "office", "text": "text", "style": "style", "table": "table", "draw": "drawing", "fo": "xsl-fo-compatible",
        "svg": "svg-compatible",
    }.items()
) + ' xmlns:xlink="http://www.w3.org/1999/xlink" xmlns:math="http://www.w3.org/1998/Math/MathML"'  # fmt: skip


def packed(body: str, automatic: str = "", shared: str = "", **more: bytes) -> bytes:
    """An ODT file with a body, automatic styles, and what is in its part of styles."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr("mimetype", "application/vnd.oasis.opendocument.text")
        made.writestr(
            "content.xml",
            f"<office:document-content {SPACES}><office:automatic-styles>{automatic}</office:automatic-styles>"
            f"<office:body><office:text>{body}</office:text></office:body></office:document-content>",
        )
        made.writestr("styles.xml", f"<office:document-styles {SPACES}>{shared}</office:document-styles>")
        for name, data in more.items():
            made.writestr(name, data)
    return out.getvalue()


def rows(document: Document) -> list[tuple[Role, str]]:
    return [(block.role, block.text) for block in document.blocks if isinstance(block, TextBlock)]


def test_what_pandoc_writes_is_understood(pictures, tmp_path):
    source = (
        "# Gauges\n\nThe *float*, see [the office](https://skerrin.example/), stuck.[^1]\n\n[^1]: In March.\n\n"
        "3. one\n4. two\n    - deep\n\n$$x^2 + 1$$\n\n| a | b |\n|---|---|\n| 1 | 2 |\n\n> Quoted.\n"
    )
    path = tmp_path / "pandoc.odt"
    pypandoc.convert_text(source, "odt", format="markdown", outputfile=str(path))
    document = read_odt(path.read_bytes(), pictures)
    kinds = {block.text.strip(): block.role for block in document.texts}
    assert (kinds["Gauges"], kinds["In March."], kinds["Quoted."]) == (Role.HEADING, Role.NOTE, Role.QUOTE)
    items = [block for block in document.texts if block.role is Role.LIST_ITEM]
    assert [(item.text, item.level, item.numbering.ordered) for item in items] == [
        ("one", 0, True),
        ("two", 0, True),
        ("deep", 1, False),
    ]
    assert items[0].numbering.start == 3
    float_row = with_text(document, "float")
    assert next(item for item in float_row.content if item.text == "float").marks is Marks.ITALIC
    assert UrlLink("https://skerrin.example/") in {item.link for item in float_row.content}
    assert any(isinstance(item, NoteRef) for item in float_row.content)
    (equation,) = [item for block in document.texts for item in block.content if isinstance(item, Equation)]
    assert "x" in tex(equation.tree)
    assert grid(tables(document)[0]) == [["a", "b"], ["1", "2"]]


def test_spaces_tabs_and_breaks_are_what_the_standard_says(pictures):
    body = (
        "<text:p>  The   float\n stood<text:s text:c='3'/>still <text:span> here </text:span> twice<text:tab/>at"
        "<text:line-break/> noon<text:soft-page-break/></text:p>"
    )
    (row,) = read_odt(packed(body), pictures).blocks
    assert row.text == "The float stood   still here twice\tat\nnoon"
    assert [type(item) for item in row.content if item.text in "\t\n"] == [Tab, Break]


def test_styles_take_over_from_their_parents_and_shares_count(pictures):
    shared = (
        "<office:font-face-decls><style:font-face style:name='F1' svg:font-family=\"'Libertinus Serif'\"/></office:font-face-decls>"
        "<office:styles><style:default-style style:family='paragraph'><style:text-properties fo:font-size='10pt' fo:language='sv'/>"
        "</style:default-style><style:style style:name='Base' style:display-name='Base row' style:family='paragraph'>"
        "<style:paragraph-properties fo:margin-left='1cm' fo:line-height='150%'/><style:text-properties style:font-name='F1' "
        "fo:font-size='150%' fo:font-weight='bold'/></style:style></office:styles>"
    )
    automatic = (
        "<style:style style:name='P1' style:family='paragraph' style:parent-style-name='Base'><style:paragraph-properties "
        "fo:text-align='end' fo:margin-top='4pt'/></style:style>"
        "<style:style style:name='T1' style:family='text'><style:text-properties fo:font-weight='normal' style:text-position='super 58%' "
        "fo:color='#aa0000'/></style:style>"
    )
    body = "<text:p text:style-name='P1'>Heavy <text:span text:style-name='T1'>light</text:span></text:p>"
    document = read_odt(packed(body, automatic, shared), pictures)
    (row,) = document.blocks
    look = document.style(row.style)
    assert (look.font, look.size, look.bold, look.leading) == (
        "Libertinus Serif",
        15.0,
        True,
        pytest.approx(25.9, abs=0.1),
    )
    assert (look.left, look.before) == (pytest.approx(28.35), 4.0)
    assert row.align is Align.RIGHT
    assert (row.content[1].marks, row.content[1].color) == (Marks.BOLD | Marks.SUPER, "aa0000")
    assert document.language == "sv"


LIST = (
    "<text:list-style style:name='L1'><text:list-level-style-number text:level='1' style:num-format='1' style:num-suffix='.'/>"
    "<text:list-level-style-number text:level='2' style:num-format='1' style:num-suffix=')' text:display-levels='2'/></text:list-style>"
)


def test_lists_count_as_they_say(pictures):
    body = (
        "<text:list text:style-name='L1'><text:list-item><text:p>one</text:p><text:p>more of it</text:p><text:list><text:list-item>"
        "<text:p>deep</text:p></text:list-item></text:list></text:list-item><text:list-item text:start-value='5'><text:p>five</text:p>"
        "</text:list-item></text:list><text:p>Between</text:p><text:list text:style-name='L1' text:continue-numbering='true'>"
        "<text:list-item><text:p>six</text:p></text:list-item></text:list>"
    )
    document = read_odt(packed(body, LIST), pictures)
    assert rows(document) == [
        (Role.LIST_ITEM, "one"), (Role.PARAGRAPH, "more of it"), (Role.LIST_ITEM, "deep"), (Role.LIST_ITEM, "five"),
        (Role.PARAGRAPH, "Between"), (Role.LIST_ITEM, "six"),
    ]  # fmt: skip
    one, _, deep, five, _, six = document.blocks
    assert (one.numbering.start, one.numbering.format) == (1, NumberFormat.DECIMAL)
    assert (deep.level, deep.numbering.pattern) == (1, "%.%)")
    assert (five.numbering.start, six.numbering.start) == (5, None)


def test_numbers_of_headings_are_part_of_their_text(pictures):
    shared = (
        "<office:styles><text:outline-style><text:outline-level-style text:level='1' style:num-format='I' style:num-suffix='.'/>"
        "<text:outline-level-style text:level='2' style:num-format=''/></text:outline-style></office:styles>"
    )
    body = "".join(
        f"<text:h text:outline-level='{n}'>{said}</text:h>" for n, said in ((1, "Tides"), (2, "Spring"), (1, "Wind"))
    )
    document = read_odt(packed(body, "", shared), pictures)
    assert [(block.level, block.text) for block in document.blocks] == [(1, "I. Tides"), (2, "Spring"), (1, "II. Wind")]


def test_tables_repeat_span_and_have_lines(pictures):
    automatic = (
        "<style:style style:name='C' style:family='table-cell'><style:table-cell-properties fo:border='0.5pt solid #000000' "
        "fo:border-left='none' fo:background-color='#eeffee'/></style:style>"
    )
    cell = "<table:table-cell{}><text:p>{}</text:p></table:table-cell>"
    body = (
        "<table:table><table:table-column table:number-columns-repeated='3'/><table:table-header-rows><table:table-row>"
        + cell.format(" table:number-columns-spanned='2' table:style-name='C'", "wide")
        + "<table:covered-table-cell/>"
        + cell.format("", "last")
        + "</table:table-row></table:table-header-rows><table:table-row>"
        + cell.format(" table:number-columns-repeated='2'", "same")
        + "</table:table-row><table:table-row table:number-rows-repeated='2'>"
        + cell.format("", "<text:span>below</text:span>")
        + "<table:table-cell table:number-columns-repeated='1000'/></table:table-row></table:table>"
    )
    (table,) = tables(read_odt(packed(body, automatic), pictures))
    assert list(grid_faults(table)) == []
    assert (table.header_rows, table.row_count, len(table.widths)) == (1, 4, 3)
    said = {(cell.row, cell.column): cell.text for cell in table.cells}
    assert (said[0, 0], said[0, 2], said[1, 0], said[1, 1], said[1, 2], said[3, 0]) == (
        "wide",
        "last",
        "same",
        "same",
        "",
        "below",
    )
    wide = table.cells[0]
    assert (wide.columns, wide.fill) == (2, "eeffee")
    assert table.sides_of(wide) == Sides.TOP | Sides.RIGHT | Sides.BOTTOM


def test_pictures_boxes_formulas_and_comments_are_taken_for_what_they_are(pictures):
    body = (
        "<text:p>See <draw:frame svg:width='2cm' svg:height='1cm'><draw:image xlink:href='Pictures/a.png'/><svg:desc>A sheet</svg:desc>"
        "</draw:frame><office:annotation><text:p>Ask the keeper</text:p></office:annotation> it</text:p>"
        "<text:p>Beside<draw:frame><draw:text-box><text:p>In a box</text:p></draw:text-box></draw:frame></text:p>"
        "<text:p>Of <draw:frame><draw:object><math:math><math:mi>x</math:mi></math:math></draw:object></draw:frame> metres</text:p>"
        "<text:p><draw:frame><draw:image xlink:href='https://skerrin.example/a.png'/></draw:frame>Gone</text:p>"
    )
    document = read_odt(
        packed(body, **{"Pictures/a.png": picture_bytes(), "Basic/Standard/Module1.xml": b"run"}), pictures
    )
    (picture,) = [item for item in with_text(document, "See").content if isinstance(item, InlinePicture)]
    assert (picture.width, picture.height, picture.alt) == (pytest.approx(56.69), pytest.approx(28.35), "A sheet")
    assert [said for _, said in rows(document)][1:3] == ["Beside", "In a box"]
    assert any(isinstance(item, Equation) for item in with_text(document, "metres").content)
    said = " ".join(remark.sentence for remark in document.remarks)
    assert "comments (1), which are not taken over: Ask the keeper" in said
    assert "Pictures of a kind that cannot be shown here" in said
    assert "macros" in said


def test_tracked_changes_are_taken_as_accepted_and_said(pictures):
    body = (
        "<text:tracked-changes><text:changed-region><text:deletion><text:p>Gone</text:p></text:deletion></text:changed-region>"
        "</text:tracked-changes><text:p>Kept <text:change-start/>new<text:change-end/></text:p>"
    )
    document = read_odt(packed(body), pictures)
    assert rows(document) == [(Role.PARAGRAPH, "Kept new")]
    assert any("tracked in the file (1)" in remark.sentence for remark in document.remarks)


def test_links_that_may_run_something_are_not_taken(pictures):
    body = "<text:p><text:a xlink:href='javascript:alert(1)'>here</text:a></text:p>"
    (row,) = read_odt(packed(body), pictures).blocks
    assert (row.text, row.content[0].link) == ("here", None)


def nested(depth: int) -> str:
    return "<text:section>" * depth + "<text:p>Deep</text:p>" + "</text:section>" * depth


LOCKED = (
    b"<manifest:manifest xmlns:manifest='urn:oasis:names:tc:opendocument:xmlns:manifest:1.0'><manifest:file-entry>"
    b"<manifest:encryption-data/></manifest:file-entry></manifest:manifest>"
)


@pytest.mark.parametrize(
    ("data", "error"),
    [
        (b"", UnsupportedSource),
        (b"no zip", UnsupportedSource),
        (changed_part(packed(""), "content.xml", lambda _: b"<broken"), DamagedSource),
        (changed_part(packed(""), "content.xml", lambda _: b"<other/>"), UnsupportedSource),
        (changed_part(packed(""), "META-INF/manifest.xml", lambda _: LOCKED), UnsupportedSource),
        (changed_part(packed(""), "x", lambda _: b"0" * 300_000_000), TooLarge),
        (packed(nested(5_000)), DamagedSource),
    ],
    ids=["nothing", "no zip", "broken text", "another document", "locked", "a bomb", "too deep"],
)
def test_what_is_no_document_is_refused_with_a_sentence(pictures, data, error):
    with pytest.raises(error) as raised:
        read_odt(data, pictures)
    assert isinstance(raised.value, SourceError)
    assert str(raised.value).endswith(".")


def test_entities_are_not_resolved(pictures, tmp_path):
    (tmp_path / "secret").write_text("the secret")
    declared = f'<!DOCTYPE d [<!ENTITY x SYSTEM "file://{tmp_path}/secret">]>'.encode()
    data = changed_part(packed("<text:p>Said &x; so</text:p>"), "content.xml", lambda part: declared + part)
    document = read_odt(data, pictures)
    assert "secret" not in " ".join(block.text for block in document.texts)


def test_our_own_file_has_no_remarks(pictures):
    assert read_odt(write_odt(DOCUMENT, lambda _: picture_bytes()), pictures).remarks == ()


def test_lists_in_cells_keep_their_marks(pictures):
    items = "".join(f"<text:list-item><text:p>{said}</text:p></text:list-item>" for said in ("one", "two"))
    cell = f"<table:table-cell><text:list text:style-name='L1'>{items}</text:list><text:p>after</text:p></table:table-cell>"
    body = f"<table:table><table:table-row>{cell}</table:table-row></table:table>"
    (table,) = tables(read_odt(packed(body, LIST), pictures))
    labels = list_labels((table,))
    assert [f"{labels.get(text.id, '')} {text.text}".strip() for text in table.texts] == ["1. one", "2. two", "after"]
