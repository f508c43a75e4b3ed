"""Text that nobody can see, and text that does not run from left to right: said, set aside or put in order, and never lost."""

from __future__ import annotations

import io
import zipfile

import pypdfium2 as pdfium
import pytest

from evenquill.core.evidence import Line, PageEvidence, Type, Word
from evenquill.core.model import Box, Family, RemarkKind
from evenquill.core.queries import find_queries
from evenquill.core.reading.native.direction import is_right_to_left, with_columns_joined
from evenquill.core.rebuild import rebuild
from evenquill.core.source import SourceFacts
from evenquill.core.writers.docx import write_docx

FACTS = SourceFacts(media="application/pdf", pages=1, language="en")


def kinds_said(page):
    return [remark.kind for remark in page.remarks]


def test_white_text_on_white_is_set_aside_and_said(typeset, read):
    (page,) = read(typeset("The gauge stands.\n\n#text(fill: white)[Secret words in white.]\n\nIt was read at noon."))
    assert [line.text for line in page.hidden] == ["Secret words in white."]
    assert "Secret" not in " ".join(line.text for line in page.lines)
    assert kinds_said(page) == [RemarkKind.HIDDEN_TEXT]
    document = rebuild([page], FACTS)
    aside = [block.text for block in document.blocks if block.excluded]
    assert aside == ["Secret words in white."]
    assert document.remarks[0].sentence.startswith("Page 1 has text that nobody can see")
    assert len(find_queries(document, of_kinds={"hidden"})) == 1


def test_white_text_on_a_dark_ground_is_text(typeset, read):
    (page,) = read(
        typeset("#block(fill: navy, inset: 6pt)[#text(fill: white)[Closed in ice.]]\n\nIt was read at noon.")
    )
    assert page.hidden == ()
    assert "Closed in ice." in [line.text for line in page.lines]
    assert page.remarks == ()


def test_letters_that_are_not_painted_are_hidden(typeset, read, tmp_path):
    path = typeset("Painted words.\n\nWords without paint.")
    document = pdfium.PdfDocument(path)
    page = document[0]
    last = list(page.get_objects(filter=[pdfium.raw.FPDF_PAGEOBJ_TEXT]))[-1]
    pdfium.raw.FPDFTextObj_SetTextRenderMode(last.raw, pdfium.raw.FPDF_TEXTRENDERMODE_INVISIBLE)
    page.gen_content()
    unpainted = tmp_path / "unpainted.pdf"
    document.save(unpainted)
    (evidence,) = read(unpainted)
    assert [line.text for line in evidence.hidden] == ["Words without paint."]
    assert [line.text for line in evidence.lines] == ["Painted words."]


def test_text_from_right_to_left_is_kept_in_its_order(typeset, read):
    first, second = "שלום עולם 1984", "הים גבוה היום"
    (page,) = read(typeset(f'#set text(font: "DejaVu Sans", lang: "he")\n{first}\n\n{second}'))
    assert [line.text for line in page.lines] == [first, second]
    assert kinds_said(page) == [RemarkKind.DIRECTION]
    assert "from right to left" in page.remarks[0].sentence
    assert "direction" in {query.kind for query in find_queries(rebuild([page], FACTS))}


def test_a_foreign_word_within_a_line_does_not_turn_it(typeset, read):
    (page,) = read(typeset('#set text(font: "DejaVu Sans")\nThe word שלום stands in the line.'))
    assert page.remarks == ()
    assert page.lines[0].text.startswith("The word")
    assert page.lines[0].text.endswith("stands in the line.")
    assert not is_right_to_left(page.lines[0].text)


def character(text: str, x: float, y: float) -> Line:
    box = Box(x, y, x + 10, y + 10)
    return Line(box, y + 9, 10.0, (Word(text, box.x0, box.x1, 0),))


def test_columns_of_characters_are_read_downwards_and_from_the_right():
    columns = ["潮位観測所", "港の記録帳"]
    lines = [character(c, 200 - 16 * n, 40 + 11 * k) for n, column in enumerate(columns) for k, c in enumerate(column)]
    joined, downwards = with_columns_joined(lines)
    assert downwards
    # Turned by a quarter they stand one below the other, the right one first.
    assert [line.text for line in sorted(joined, key=lambda line: line.baseline)] == columns
    assert {line.angle for line in joined} == {270}
    assert joined[0].box.height > 4 * joined[0].box.width
    level = [character("潮", 40, 40), character("位", 52, 40)]
    assert with_columns_joined(level) == (tuple(level), False)


@pytest.mark.parametrize(
    ("language", "rows"),
    [
        ("zh", ["北码头的验潮仪于三月十四日发现浮子紧贴导线，", "井已抽干，孔口已清除杂草，仪器重新启动。"]),
        ("ja", ["北埠頭の検潮儀は三月十四日に浮子が導線に", "密着しているのが発見された。"]),
        ("ko", ["북쪽 부두의 검조기는 삼월 십사일에 발견되-", "었고 우물은 비워졌다."]),
    ],
)
def test_text_in_any_script_is_converted_and_looked_through(language, rows):
    type_ = Type("Noto Serif", Family.SERIF, 10.0)
    lines = []
    for n, text in enumerate(rows):
        box = Box(50, 90 + 14 * n, 50 + 10 * len(text), 102 + 14 * n)
        lines.append(Line(box, 100 + 14.0 * n, 10.0, (Word(text, box.x0, box.x1, 0, confidence=0.6),)))
    page = PageEvidence(1, 420.0, 595.0, types=(type_,), lines=tuple(lines))
    document = rebuild([page], SourceFacts(pages=1, language=language))
    assert "".join(block.text for block in document.blocks).replace(" ", "").startswith(rows[0][:10].replace(" ", ""))
    find_queries(document)
    assert write_docx(document, lambda _: b"")


def test_a_field_is_told_from_text_that_looks_like_one():
    line = Line(
        Box(50, 90, 300, 102),
        100.0,
        10.0,
        (Word("Write", 50, 80, 0), Word("{page}", 84, 130, 0), Word("there.", 134, 170, 0)),
    )
    page = PageEvidence(1, 420.0, 595.0, types=(Type("Serif", Family.SERIF, 10.0),), lines=(line,))
    document = rebuild([page], SourceFacts(pages=1))
    assert [block.text for block in document.blocks] == ["Write {page} there."]
    with zipfile.ZipFile(io.BytesIO(write_docx(document, lambda _: b""))) as docx:
        xml = docx.read("word/document.xml").decode()
    assert "{page}" in xml
    assert "fldSimple" not in xml
