"""Text that nobody can see, and text that does not run from left to right: said, set aside or put in order, and never lost."""

from __future__ import annotations

import pypdfium2 as pdfium

from evenquill.core.evidence import Line, Word
from evenquill.core.model import Box, RemarkKind
from evenquill.core.queries import find_queries
from evenquill.core.reading.native.direction import is_right_to_left, with_columns_joined
from evenquill.core.rebuild import rebuild
from evenquill.core.source import SourceFacts

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
    assert [query.kind for query in find_queries(document)] == ["hidden"]


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
    assert [query.kind for query in find_queries(rebuild([page], FACTS))] == ["direction"]


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
