"""Small pictures that stand in a line of text."""

import io
import zipfile

import docx
import pytest
from msgspec.structs import replace
from PIL import Image

from evenquill.core.edits import EditText, JoinBlocks, SplitBlock, apply, undo
from evenquill.core.evidence import PictureKind
from evenquill.core.model import Document, InlinePicture, NoteRef, PictureBlock, Role, Text, TextBlock, texts_of
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import OBJECT, readable
from evenquill.core.rebase import keep_ids, rebase_corrections
from evenquill.core.rebuild import rebuild
from evenquill.core.source import SourceFacts
from evenquill.core.writers.docx import write_docx
from tests.core.blocks import block

PROSE = "the keeper turns the wheel until the float is free, and writes down the height that the staff shows by then"


@pytest.fixture
def sign(tmp_path):
    Image.effect_noise((60, 60), 90).save(tmp_path / "sign.png")


def pictures(document: Document) -> list[InlinePicture]:
    return [
        item
        for one in document.blocks
        for text in texts_of(one)
        for item in text.content
        if isinstance(item, InlinePicture)
    ]


def test_a_sign_in_a_line_is_part_of_its_paragraph(sign, typeset, rebuilt):
    source = f'At noon {PROSE}. Then press #box(image("sign.png", height: 9pt)) twice; {PROSE}.'
    document = rebuilt(typeset(source))
    (paragraph,) = document.blocks
    assert f"Then press {OBJECT} twice; the keeper" in paragraph.text
    (picture,) = pictures(document)
    assert (picture.media, picture.height) == ("image/png", pytest.approx(9, abs=0.5))
    assert [paragraph.text[word.start : word.end] for word in paragraph.words].count(OBJECT) == 1


def test_a_sign_at_either_end_of_a_line_is_in_it(sign, typeset, rebuilt):
    source = (
        f'#box(image("sign.png", height: 9pt)) At noon {PROSE}.\n\nAt six {PROSE} #box(image("sign.png", height: 9pt))'
    )
    first, second = rebuilt(typeset(source)).blocks
    assert first.text.startswith(f"{OBJECT} At noon")
    assert second.text.endswith(f"by then {OBJECT}")


@pytest.mark.parametrize(
    "placed",
    [
        'image("sign.png", width: 9pt)',
        'align(center, image("sign.png", height: 60pt))',
        'place(right, dx: 30pt, image("sign.png", height: 9pt))',
        'image("sign.png", width: 100%, height: 6pt, fit: "stretch")',
    ],
)
def test_what_stands_by_itself_or_beside_the_text_stays_so(placed, sign, typeset, rebuilt):
    document = rebuilt(typeset(f"At noon {PROSE}.\n\n#{placed}\n\nAt six {PROSE}."))
    assert pictures(document) == []
    assert sum(isinstance(one, PictureBlock) for one in document.blocks) == 1


def test_a_sign_that_is_drawn_with_words_is_described_by_them(sign, typeset, read):
    (page,) = read(typeset(f'Then press #box(image("sign.png", height: 9pt)) twice; {PROSE}.'))
    drawn = tuple(picture._replace(kind=PictureKind.DRAWING, words="Stop") for picture in page.pictures)
    (found,) = pictures(rebuild([replace(page, pictures=drawn)], SourceFacts(pages=1)))
    assert found.alt == "Drawing with the words: Stop"


SIGN = InlinePicture("p", "image/png", 9.0, 9.0, "the sign for rain")


def shown(text: str = "Then press  twice.") -> TextBlock:
    start, end = text.split("  ") if "  " in text else (text, "")
    return TextBlock("a", Role.PARAGRAPH, (Text(f"{start} "), SIGN, Text(f" {end}")), "Body text")


def test_it_is_one_character_of_the_text_for_every_edit():
    document = Document(blocks=(shown(), block("b", "The well was dry.")))
    first = document.blocks[0]
    assert (first.text, readable(first.content)) == (f"Then press {OBJECT} twice.", "Then press  twice.")
    parted = apply(document, SplitBlock("a", 12), Ids(10))
    assert [pictures(Document(blocks=(one,))) for one in parted.document.blocks] == [[SIGN], [], []]
    whole = apply(parted.document, JoinBlocks("a", parted.document.blocks[1].id))
    assert whole.document.blocks[0].text == first.text
    typed = apply(document, EditText("a", (Text("Press "), SIGN)))
    assert pictures(typed.document) == [SIGN]
    for edit in (parted, typed):
        assert undo(edit.document, edit.inverse) == document


def test_it_stays_when_the_page_is_read_again():
    base = Document(blocks=(shown(),))
    mine = apply(base, EditText("a", (Text("Then press "), SIGN, Text(" three times.")))).document
    theirs = keep_ids(Document(blocks=(shown(),)), base)
    assert pictures(rebase_corrections(base, mine, theirs, frozenset({1})).document) == [SIGN]


def test_it_is_written_in_its_line_with_its_description(tmp_path):
    data = io.BytesIO()
    Image.new("RGB", (20, 20), "navy").save(data, "PNG")
    note = TextBlock("n", Role.NOTE, (Text("See "), SIGN), "Body text")
    marked = replace(shown(), content=(*shown().content, NoteRef("n", "1")))
    written = write_docx(Document(blocks=(marked, note)), lambda _: data.getvalue())
    opened = docx.Document(io.BytesIO(written))
    first = opened.paragraphs[0]
    assert first.text == "Then press  twice."
    (shape,) = opened.inline_shapes
    assert (shape.width.pt, shape.height.pt) == (9.0, 9.0)
    assert shape._inline.docPr.get("descr") == "the sign for rain"
    with zipfile.ZipFile(io.BytesIO(written)) as package:
        names = [name for name in package.namelist() if name.startswith("word/media/")]
        assert len(names) == 1  # the same picture twice is kept once
        assert b"w:drawing" in package.read("word/footnotes.xml")


@pytest.mark.parametrize(
    "kind", [PictureKind.STAMP, PictureKind.SIGNATURE, PictureKind.HANDWRITING, PictureKind.WATERMARK]
)
def test_marks_on_the_paper_are_never_taken_for_signs(kind, sign, typeset, read):
    (page,) = read(typeset(f'Then press #box(image("sign.png", height: 9pt)) twice; {PROSE}.'))
    marked = replace(page, pictures=tuple(picture._replace(kind=kind) for picture in page.pictures))
    assert len(pictures(rebuild([page], SourceFacts(pages=1)))) == 1
    assert pictures(rebuild([marked], SourceFacts(pages=1))) == []
