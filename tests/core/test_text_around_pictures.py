"""Text around pictures: set so by hand, read from the page, written in every format that has it, and read back."""

from __future__ import annotations

import io
import re
import zipfile

import pypandoc
import pypdfium2 as pdfium
import pytest
from msgspec.structs import replace
from test_formats import picture_bytes

from evenquill.core.docx_reading import read_docx
from evenquill.core.edits import AlignBlock, SetAround, apply
from evenquill.core.model import Align, Document, Family, ParagraphStyle, PictureBlock, Role, Text, TextBlock
from evenquill.core.odt_reading import read_odt
from evenquill.core.pictures import PictureFolder
from evenquill.core.reading.native.page import read_page
from evenquill.core.writers.docx import write_docx
from evenquill.core.writers.html import write_html
from evenquill.core.writers.odt import write_odt
from evenquill.core.writers.pdf import write_pdf
from evenquill.core.writers.rtf import write_rtf

TIDE = (
    "The tide runs out twice a day past the quay of Narrow Haven and leaves the boats on the mud until it comes back. "
)
BODY = ParagraphStyle(
    "body", "Body", font="Liberation Serif", family=Family.SERIF, size=11.0, align=Align.JUSTIFY, first=14.0
)
CAPTION = ParagraphStyle("caption", "Caption", font="Liberation Serif", family=Family.SERIF, size=9.0, italic=True)
WIDTH, HEIGHT = 150.0, 120.0


def document(*, align: Align = Align.RIGHT, caption: bool = False, around: bool = True, below: int = 5) -> Document:
    figure = PictureBlock("p", "f" * 64, "image/png", WIDTH, HEIGHT, align, "A boat", around=around)
    under = (TextBlock("c", Role.CAPTION, (Text("Figure 1: A boat"),), "caption"),) if caption else ()
    first = TextBlock("a", Role.PARAGRAPH, (Text("Before the picture stands one line."),), "body")
    rows = [TextBlock(f"b{n}", Role.PARAGRAPH, (Text(TIDE * 3),), "body") for n in range(below)]
    return Document(styles=(BODY, CAPTION), blocks=(first, figure, *under, *rows), language="en")


def picture(_: str) -> bytes:
    return picture_bytes()


def lines_beside(data: bytes) -> tuple[list[float], list[float]]:
    """The left and right ends of the lines of the first page that stand beside its picture."""
    page = read_page(pdfium.PdfDocument(data), 1, lambda *_: "f" * 64)
    box = page.pictures[0].box
    beside = [line.box for line in page.lines if box.y0 + 2 < line.box.center_y < box.y1 - 2]
    assert len(beside) >= 5
    return [line.x0 - box.x1 for line in beside], [box.x0 - line.x1 for line in beside]


def test_in_the_pdf_text_stands_beside_the_picture_and_goes_on_below_it():
    data = write_pdf(document(), picture)
    _, gaps = lines_beside(data)
    assert all(5 < gap < 40 for gap in gaps)
    page = read_page(pdfium.PdfDocument(data), 1, lambda *_: "f" * 64)
    below = [line.box.width for line in page.lines if line.box.y0 > page.pictures[0].box.y1]
    assert max(below) > 400
    said = re.sub(r"\s+", "", "".join(line.text for line in page.lines))
    assert said.count(re.sub(r"\s+", "", TIDE)) == 15  # nothing is lost where it is parted, and nothing said twice


def test_a_picture_at_the_left_has_text_at_its_right():
    gaps, _ = lines_beside(write_pdf(document(align=Align.LEFT), picture))
    assert all(5 < gap < 40 for gap in gaps)


def test_its_caption_stands_below_it_and_not_beside():
    page = read_page(pdfium.PdfDocument(write_pdf(document(caption=True), picture)), 1, lambda *_: "f" * 64)
    (caption,) = [line for line in page.lines if line.text.startswith("Figure 1")]
    box = page.pictures[0].box
    assert caption.box.y0 >= box.y1 - 1
    assert caption.box.x0 == pytest.approx(box.x0, abs=2)


@pytest.mark.parametrize("wide", [False, True])
def test_without_text_below_or_room_beside_it_stands_alone(wide):
    made = document(below=1 if wide else 0)
    if wide:
        made = replace(made, blocks=tuple(replace(b, width=420.0) if b.id == "p" else b for b in made.blocks))
    page = read_page(pdfium.PdfDocument(write_pdf(made, picture)), 1, lambda *_: "f" * 64)
    box = page.pictures[0].box
    assert not [line for line in page.lines if box.y0 < line.box.center_y < box.y1]


@pytest.mark.parametrize("align", [Align.LEFT, Align.RIGHT])
@pytest.mark.parametrize("caption", [False, True])
@pytest.mark.parametrize(("write", "read"), [(write_docx, read_docx), (write_odt, read_odt)], ids=["docx", "odt"])
def test_a_word_processor_file_gives_it_back(tmp_path, write, read, align, caption):
    made = document(align=align, caption=caption)
    back = read(write(made, picture), PictureFolder(tmp_path))
    (figure,) = [block for block in back.blocks if isinstance(block, PictureBlock)]
    assert (figure.around, figure.align) == (True, align)
    assert figure.width == pytest.approx(WIDTH, abs=0.5)
    said = [block.text for block in back.blocks if isinstance(block, TextBlock)]
    assert said == [block.text for block in made.texts] or [s.strip() for s in said] == [
        b.text.strip() for b in made.texts
    ]
    assert back.blocks.index(figure) == 1


@pytest.mark.parametrize("write", [write_docx, write_odt])
def test_one_with_text_above_and_below_comes_back_as_that(tmp_path, write):
    read = read_docx if write is write_docx else read_odt
    back = read(write(document(around=False), picture), PictureFolder(tmp_path))
    (figure,) = [block for block in back.blocks if isinstance(block, PictureBlock)]
    assert not figure.around


def test_a_picture_that_another_program_has_text_around_is_one(tmp_path):
    inline = write_docx(document(around=False), picture)
    anchored = _with_anchor(inline)
    back = read_docx(anchored, PictureFolder(tmp_path))
    (figure,) = [block for block in back.blocks if isinstance(block, PictureBlock)]
    assert (figure.around, figure.align) == (True, Align.RIGHT)


def _with_anchor(data: bytes) -> bytes:
    """The file with its picture as other programs place it: anchored to a paragraph, at the right, with text around."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as source, zipfile.ZipFile(out, "w") as made:
        for info in source.infolist():
            part = source.read(info)
            if info.filename == "word/document.xml":
                xml = part.decode()
                begun = (
                    '<wp:anchor behindDoc="0" simplePos="0"><wp:simplePos x="0" y="0"/><wp:positionH relativeFrom="column">'
                    "<wp:align>right</wp:align></wp:positionH>"
                )
                xml = re.sub(r"<wp:inline[^>]*>", begun, xml).replace("</wp:inline>", "</wp:anchor>")
                xml = re.sub(r"(<wp:docPr)", r'<wp:wrapSquare wrapText="bothSides"/>\1', xml, count=1)
                part = xml.encode()
            made.writestr(info, part)
    return out.getvalue()


def test_in_html_it_floats_with_its_caption():
    said = write_html(document(caption=True), picture).decode()
    figure = re.search(r"<figure[^>]*>.*?</figure>", said, re.DOTALL)[0]
    assert "float: right" in figure
    assert "A boat</figcaption>" in figure


def test_in_rtf_it_stands_in_a_frame_that_an_independent_reader_passes_over(tmp_path):
    data = write_rtf(document(caption=True), picture)
    assert data.count(b"\\posxr") == 2
    path = tmp_path / "out.rtf"
    path.write_bytes(data)
    assert "Figure 1: A boat" in pypandoc.convert_file(str(path), "plain", format="rtf")


def test_by_hand_it_is_set_and_taken_back(tmp_path):
    made = document(around=False, align=Align.CENTER)
    around = apply(made, SetAround("p", True)).document
    assert (around.blocks[1].around, around.blocks[1].align) == (True, Align.LEFT)  # text goes along one side alone
    right = apply(around, AlignBlock("p", Align.RIGHT)).document
    assert right.blocks[1].around
    assert not apply(right, AlignBlock("p", Align.CENTER)).document.blocks[1].around
    assert not apply(right, SetAround("p", False)).document.blocks[1].around


@pytest.mark.parametrize("side", [Align.LEFT, Align.RIGHT])
def test_a_page_with_text_around_a_picture_gives_such_a_one(rebuilt, typeset, tmp_path, side):
    (tmp_path / "boat.png").write_bytes(picture_bytes())
    beside = f"[{TIDE * 2}]"
    cells = (
        f'image("boat.png", width: 60pt), {beside}'
        if side is Align.LEFT
        else f'{beside}, image("boat.png", width: 60pt)'
    )
    columns = "(60pt, 1fr)" if side is Align.LEFT else "(1fr, 60pt)"
    made = rebuilt(typeset(f"{TIDE * 3}\n\n#grid(columns: {columns}, gutter: 10pt, {cells})\n\n{TIDE * 3}"))
    (figure,) = [block for block in made.blocks if isinstance(block, PictureBlock)]
    assert (figure.around, figure.align) == (True, side)


def test_one_between_paragraphs_is_none(rebuilt, typeset, tmp_path):
    (tmp_path / "boat.png").write_bytes(picture_bytes())
    made = rebuilt(typeset(f'{TIDE * 3}\n\n#image("boat.png", width: 60pt)\n\n{TIDE * 3}'))
    (figure,) = [block for block in made.blocks if isinstance(block, PictureBlock)]
    assert not figure.around
