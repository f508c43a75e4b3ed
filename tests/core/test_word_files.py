"""Word-processor files as sources: what they hold is kept as it is, and each row and word has its place on pages that are set."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

import docx
import pypdfium2 as pdfium
import pytest
from docx.shared import Pt
from PIL import Image
from test_docx_reading import changed_part, said_of, styled
from test_formats import DOCUMENT, picture_bytes

from evenquill.core.convert import Conversion, convert
from evenquill.core.errors import DamagedSource, SourceError, UnsupportedSource
from evenquill.core.model import Document, PictureBlock, Role, TableBlock, TextBlock
from evenquill.core.source import DOCX, ODT, media_of
from evenquill.core.source.sniffing import COMPOUND
from evenquill.core.word_files.set_copy import places_in
from evenquill.core.writers.docx import write_docx
from evenquill.core.writers.odt import write_odt
from tests.conftest import tables

SENTENCE = "The gauge at the north pier was read each hour and the drum wound on Mondays. "


@pytest.fixture
def converted(pool, tmp_path):
    """What files come to, whose bytes are given by their names."""

    def make(**files: bytes) -> Conversion:
        paths = []
        for name, data in files.items():
            path = tmp_path / name.replace("_", ".")
            path.write_bytes(data)
            paths.append(path)
        return convert(paths, pool, tmp_path / "pictures")

    return make


def by_python_docx(fill) -> bytes:
    made = docx.Document()
    fill(made)
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


def copy_of(conversion: Conversion) -> pdfium.PdfDocument:
    return pdfium.PdfDocument(conversion.facts.read_instead)


def assert_words_stand_there(conversion: Conversion) -> None:
    """What is written on the pages at the place of each word is that word."""
    pages = [(page.get_height(), page.get_textpage()) for page in copy_of(conversion)]
    for text in conversion.document.texts:
        for word in text.words:
            height, letters = pages[word.page - 1]
            x0, y0, x1, y1 = word.box
            found = letters.get_text_bounded(x0 - 0.5, height - y1 - 0.5, x1 + 0.5, height - y0 + 0.5)
            assert text.text[word.start : word.end].replace("\u00ad", "") in found, (text.text, word)


def placed_share(document: Document) -> float:
    return sum(len(text.words) for text in document.texts) / sum(len(text.text.split()) for text in document.texts)


@pytest.mark.parametrize(("name", "write", "media"), [("a_docx", write_docx, DOCX), ("a_odt", write_odt, ODT)])
def test_what_a_file_holds_is_kept_and_has_its_place(converted, tmp_path, name, write, media):
    conversion = converted(**{name: write(styled(), lambda _: picture_bytes())})
    document = conversion.document
    assert conversion.facts.media == media_of(tmp_path / name.replace("_", ".")) == media
    assert said_of(document) == said_of(styled())
    assert {style.id for style in document.styles} == {style.id for style in styled().styles}
    assert len(document.pages) == conversion.facts.pages == len(copy_of(conversion)) == 2
    assert [block.spots[0].page for block in document.blocks if isinstance(block, TextBlock)][:4] == [1, 1, 1, 2]
    assert_words_stand_there(conversion)
    assert placed_share(document) > 0.9
    assert document.remarks == ()


def test_cells_notes_pictures_and_items_have_their_places(converted):
    conversion = converted(a_docx=write_docx(DOCUMENT, lambda _: picture_bytes()))
    document = conversion.document
    assert_words_stand_there(conversion)
    (table,) = tables(document)
    north, value = table.cells[2].texts[0], table.cells[3].texts[0]
    assert north.words[0].box.x1 < value.words[0].box.x0
    assert abs(north.words[0].box.y0 - value.words[0].box.y0) < 1
    note = next(block for block in document.texts if block.role is Role.NOTE)
    assert note.words[0].box.y0 > 700
    (picture,) = [block for block in document.blocks if isinstance(block, PictureBlock)]
    assert picture.spots[0].box.width == pytest.approx(80, abs=1)
    item = next(block for block in document.texts if block.role is Role.LIST_ITEM)
    assert item.spots[0].box.x0 < item.words[0].box.x0 - 5
    assert all(block.spots for block in document.blocks)


def test_rows_in_columns_and_with_set_in_lines_have_their_own_words(converted):
    def fill(made):
        columns = made.sections[0]._sectPr.find("{*}cols")
        columns.set("{http://schemas.openxmlformats.org/wordprocessingml/2006/main}num", "2")
        for n in range(14):
            paragraph = made.add_paragraph(f"Row{n} " + SENTENCE * 4)
            paragraph.paragraph_format.first_line_indent = Pt(12)

    conversion = converted(a_docx=by_python_docx(fill))
    assert_words_stand_there(conversion)
    assert placed_share(conversion.document) > 0.99
    first = [block.words[0].box for block in conversion.document.blocks]
    assert {round(box.x0, -2) for box in first} >= {100, 300}
    for block in conversion.document.blocks:
        assert block.words[0].start == 0


def test_a_long_table_has_its_cells_where_they_stand(converted):
    def fill(made):
        table = made.add_table(90, 3, style="Table Grid")
        for n, row in enumerate(table.rows):
            for m, cell in enumerate(row.cells):
                cell.text = f"{n}.{m} high water"

    conversion = converted(a_docx=by_python_docx(fill))
    assert_words_stand_there(conversion)
    (table,) = tables(conversion.document)
    assert placed_share(conversion.document) == 1
    assert len(table.spots) == len(conversion.document.pages) > 1


def test_a_table_whose_last_cell_is_empty_has_the_words_of_its_last_row(converted):
    def fill(made):
        table = made.add_table(2, 2)
        for n, said in enumerate(("Gauge", "May", "North pier by the lighthouse " * 6)):
            table.cell(n // 2, n % 2).text = said
        made.add_paragraph("Below it.")

    conversion = converted(a_docx=by_python_docx(fill))
    assert_words_stand_there(conversion)
    assert placed_share(conversion.document) == 1


def test_files_of_several_sorts_are_one_document(converted, typeset):
    pdf = typeset("= Printed\nA page that was printed.\n#pagebreak()\nIts second page.", "printed").read_bytes()
    word = write_docx(DOCUMENT, lambda _: picture_bytes())
    conversion = converted(a_pdf=pdf, b_docx=word, c_pdf=pdf)
    document = conversion.document
    assert len(document.pages) == 5
    rows = {block.text: block for block in document.blocks if isinstance(block, TextBlock)}
    assert rows["Gauges of the north"].spots[0].page == 3
    last = [block for block in document.blocks if isinstance(block, TextBlock)][-1]
    assert (last.text, last.spots[0].page, last.words[0].page) == ("Its second page.", 5, 5)
    assert len({block.id for block in document.blocks}) == len(document.blocks)
    known = {section.id for section in document.sections}
    assert all(block.section in known for block in document.blocks)
    # Each file's text keeps its own look, though both call it the same; the first one its name.
    assert not any("(1)" in style.id for style in document.styles)
    assert document.style(last.style).font != document.style(rows["Gauges of the north"].style).font
    (table,) = [block for block in document.blocks if isinstance(block, TableBlock)]
    assert table.spots[0].page == 3


def with_picture(data: bytes) -> bytes:
    """A file whose one picture has these bytes."""
    whole = write_docx(DOCUMENT, lambda _: picture_bytes())
    with zipfile.ZipFile(io.BytesIO(whole)) as file:
        (name,) = [one for one in file.namelist() if one.startswith("word/media/")]
    return changed_part(whole, name, lambda _: data)


@pytest.mark.parametrize("picture", [b"BM" + b"\0" * 60, picture_bytes()[:-30]], ids=["no bitmap", "cut short"])
def test_a_broken_picture_is_left_out_and_said(converted, picture):
    document = converted(a_docx=with_picture(picture)).document
    assert not [block for block in document.blocks if isinstance(block, PictureBlock)]
    assert any("Pictures of a kind that cannot be shown here" in remark.sentence for remark in document.remarks)


def test_a_bitmap_is_shown(converted):
    out = io.BytesIO()
    Image.new("RGB", (80, 40), "teal").save(out, "BMP")
    conversion = converted(a_docx=with_picture(out.getvalue()))
    drawn = copy_of(conversion)[0].render(scale=1).to_pil().convert("RGB")
    assert (0, 128, 128) in {color for _, color in drawn.getcolors(1 << 20)}


@pytest.mark.parametrize(
    ("data", "said", "error"),
    [
        (COMPOUND + b"\0" * 500, "locked by a password, or of an older form", UnsupportedSource),
        (b"PK\3\4" + b"\0" * 200, "cannot be unpacked", DamagedSource),
        (b"PK\5\6" + b"\0" * 18, "cannot be read", UnsupportedSource),
    ],
    ids=["locked", "broken", "nothing in it"],
)
def test_files_that_cannot_be_taken_say_why(converted, data, said, error):
    with pytest.raises(error, match=said):
        converted(a_docx=data)


def test_another_package_is_no_document(converted):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as made:
        made.writestr("sheet.xml", "<x/>")
    with pytest.raises(UnsupportedSource, match="not a PDF, a picture"):
        converted(a_docx=out.getvalue())


def test_pages_that_say_nothing_of_places_are_refused(typeset):
    with pytest.raises(SourceError, match="Take the file in once more"):
        places_in(Path(typeset("Words.")))
