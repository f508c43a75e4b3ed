"""How documents come out: what stands where on their pages, what does not fit, and how it can be made to fit."""

from __future__ import annotations

import io

import pypdfium2 as pdfium
import pytest
from msgspec.structs import replace
from PIL import Image

from evenquill.core.edits import FitPages, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import (
    Box,
    Document,
    PageGeometry,
    ParagraphStyle,
    PictureBlock,
    Role,
    Section,
    Spot,
    Tab,
    TableBlock,
    Text,
    TextBlock,
    WordSpot,
)
from evenquill.core.model.sections import PageSetup
from evenquill.core.outcome.fitting import Way, find_fit
from evenquill.core.outcome.misfits import MisfitKind, misfits
from evenquill.core.outcome.setting import SetPages, set_pages

PAGE = PageSetup(300.0, 400.0, 40.0, 40.0, 40.0, 40.0)
AREA = Box(40.0, 40.0, 260.0, 360.0)
SENTENCE = "The gauge at the north pier was read each hour and the drum wound on Mondays. "


def a_document(*blocks, pages: int = 1, **styles: float) -> Document:
    return Document(
        title="Tides",
        language="en",
        styles=(ParagraphStyle("Body text", size=10.0, leading=14.0, after=6.0, **styles),),
        blocks=tuple(replace(block, section="s") for block in blocks),
        pages=(PageGeometry(300.0, 400.0, AREA),) * pages,
        sections=(Section("s", PAGE, 1, ""),),
    )


def paragraph(name: str, text: str, page: int = 1) -> TextBlock:
    return TextBlock(name, content=(Text(text),), style="Body text", spots=(Spot(page, AREA),))


def on_pages(name: str, *parts: str) -> TextBlock:
    """A paragraph of which each part comes from a page of the source of its own, from the first on."""
    text = " ".join(parts)
    words = tuple(
        WordSpot(text.index(part), text.index(part) + len(part), n, AREA) for n, part in enumerate(parts, start=1)
    )
    spots = tuple(Spot(n, AREA) for n in range(1, len(parts) + 1))
    return TextBlock(name, content=(Text(text),), style="Body text", words=words, spots=spots)


def square() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (20, 20), "teal").save(out, "PNG")
    return out.getvalue()


def outcome_of(document: Document) -> SetPages:
    return set_pages(document, lambda _: square())


def height_of(pdf: bytes, page: int, said: str) -> tuple[float, float]:
    """The upper and lower edges of a text on a page, from its upper edge, by an independent reader."""
    with pdfium.PdfDocument(pdf) as document:
        text = document[page - 1].get_textpage()
        at, count = text.search(said).get_next()
        boxes = [text.get_charbox(n) for n in range(at, at + count)]
        height = document[page - 1].get_height()
    return height - max(box[3] for box in boxes), height - min(box[1] for box in boxes)


def test_places_of_rows_are_where_a_reader_of_the_pdf_finds_their_text():
    blocks = [paragraph(f"p{n}", f"Row {n} of the log. {SENTENCE * 3}Last words of {n}.") for n in range(14)]
    made = outcome_of(a_document(*blocks))
    rows = {row.row: row for row in made.outcome.rows}
    assert list(rows) == [block.id for block in blocks]
    assert [row.place for row in rows.values()] == list(range(14))
    assert len(made.outcome.pages) > 1
    assert (made.outcome.pages[0].width, made.outcome.pages[0].height) == (300.0, 400.0)
    for n, row in enumerate(rows.values()):
        upper, _ = height_of(made.pdf, row.start.page, f"Row {n} of")
        assert row.start.y == pytest.approx(upper, abs=4.0)
        _, lower = height_of(made.pdf, row.end.page, f"of {n}.")
        assert row.end.y == pytest.approx(lower, abs=4.0)


def test_it_is_known_where_pages_of_the_source_begin_within_a_row_too():
    parts = f"First. {SENTENCE * 6}", f"Second. {SENTENCE * 6}", f"Third. {SENTENCE}"
    made = outcome_of(a_document(on_pages("p", *parts), paragraph("q", "Fourth page.", page=4), pages=4))
    starts = {start.page: start.at for start in made.outcome.source_starts}
    assert list(starts) == [2, 3, 4]
    for page, said in ((2, "Second."), (3, "Third."), (4, "Fourth")):
        upper, _ = height_of(made.pdf, starts[page].page, said)
        assert starts[page].y == pytest.approx(upper, abs=4.0)


def test_marks_change_nothing_of_the_text():
    tabbed = TextBlock(
        "t", content=(Text("Datum"), Tab(), Text("2.31")), style="Body text", words=(WordSpot(6, 10, 2, AREA),)
    )
    heading = TextBlock(
        "h", role=Role.HEADING, level=1, content=(Text("Readings"),), style="Body text", spots=(Spot(2, AREA),)
    )
    picture = PictureBlock("f", "x", "image/png", 50.0, 40.0, spots=(Spot(2, AREA),))
    made = outcome_of(a_document(on_pages("p", "One", "two"), tabbed, heading, picture, pages=2))
    with pdfium.PdfDocument(made.pdf) as document:
        said = document[0].get_textpage().get_text_bounded().split()
    assert said == ["One", "two", "Datum", "2.31", "Readings"]
    assert [row.row for row in made.outcome.rows] == ["p", "t", "h", "f"]


def test_the_header_of_a_table_that_comes_again_does_not_move_the_table(rebuilt, typeset):
    rows = "".join(f"[{n}],[{n * 2}]," for n in range(60))
    source = f"Before it.\n#table(columns: 2, table.header([Day],[Height]), {rows})\nAfter it."
    document = rebuilt(typeset(source))
    table = next(block for block in document.blocks if isinstance(block, TableBlock))
    assert table.header_rows
    made = outcome_of(document)
    place = next(row for row in made.outcome.rows if row.row == table.id)
    assert place.start.page == 1 < place.end.page


def lines_over(count: int) -> Document:
    """A document of one page of which some lines do not go on it."""
    return a_document(*(paragraph(f"p{n}", f"Line {n}.") for n in range(16 + count)))


def test_lines_that_run_over_are_counted():
    (found,) = misfits(lines_over(0 + 3), outcome_of(lines_over(3)).outcome)
    assert (found.kind, found.page, found.row) == (MisfitKind.MORE_PAGES, 2, "p16")
    assert "run over to a page of their own" in found.sentence
    assert misfits(lines_over(0), outcome_of(lines_over(0)).outcome) == ()


def test_a_document_with_fewer_pages_and_one_with_many_more_is_told_in_pages():
    short = replace(lines_over(0), pages=lines_over(0).pages * 3)
    (found,) = misfits(short, outcome_of(short).outcome)
    assert (found.kind, found.sentence) == (
        MisfitKind.FEWER_PAGES,
        "The document takes one page here and 3 in the source.",
    )
    (found,) = misfits(lines_over(40), outcome_of(lines_over(40)).outcome)
    assert found.sentence == "The document takes 4 pages here and 1 in the source."


def test_a_page_that_ends_early_for_a_picture_is_told_and_one_that_is_broken_off_is_not():
    tall = PictureBlock("f", "x", "image/png", 200.0, 200.0, spots=(Spot(1, AREA),))
    document = a_document(*(paragraph(f"p{n}", "A line.") for n in range(9)), tall, pages=2)
    found = misfits(document, outcome_of(document).outcome)
    assert [(one.kind, one.page, one.row) for one in found] == [(MisfitKind.FREE_ROOM, 1, "f")]
    broken = replace(document, blocks=(*document.blocks[:-1], replace(document.blocks[-1], page_break=True)))
    assert misfits(broken, outcome_of(broken).outcome) == ()


@pytest.mark.parametrize("way", [Way.SPACING, Way.SIZE])
def test_lines_that_run_over_are_fetched_back(way):
    document = lines_over(1)
    fit = find_fit(document, way, outcome_of)
    assert fit is not None
    assert fit.starts == ()
    fitted = apply(document, fit).document
    assert len(outcome_of(fitted).outcome.pages) == 1
    assert fit.spacing < 1.0 if way is Way.SPACING else fit.size < 1.0


def test_the_least_that_does_is_found():
    document = lines_over(1)
    fit = find_fit(document, Way.SPACING, outcome_of)
    nearer = FitPages(spacing=(fit.spacing + 1.0) / 2)
    assert len(outcome_of(apply(document, nearer).document).outcome.pages) == 2


def test_what_is_too_short_is_spread_out():
    document = replace(lines_over(0), pages=lines_over(0).pages * 2)
    fit = find_fit(document, Way.SPACING, outcome_of)
    assert fit.spacing > 1.0


def test_nothing_makes_forty_lines_more_fit_and_what_fits_is_left_alone():
    assert find_fit(lines_over(40), Way.SPACING, outcome_of) is None
    assert find_fit(lines_over(40), Way.SIZE, outcome_of) is None
    assert find_fit(lines_over(0), Way.SPACING, outcome_of) is None
    assert find_fit(lines_over(0), Way.SOURCE, outcome_of) is None


def test_pages_begin_where_those_of_the_source_do():
    blocks = [paragraph("a", "One."), paragraph("b", "Two.", page=2), paragraph("c", "Three.", page=3)]
    document = a_document(*blocks, pages=3)
    fit = find_fit(document, Way.SOURCE, outcome_of)
    assert fit == FitPages(starts=("b", "c"))
    fitted = outcome_of(apply(document, fit).document).outcome
    assert [(row.row, row.start.page) for row in fitted.rows] == [("a", 1), ("b", 2), ("c", 3)]


def test_a_page_that_ends_within_a_row_is_not_begun_and_lines_come_nearer_where_pages_are_full():
    full = [paragraph(f"p{n}", "A line.", page=1) for n in range(17)]
    document = a_document(*full, on_pages("q", "Ends", "within."), paragraph("r", "Page two."), pages=2)
    fit = find_fit(document, Way.SOURCE, outcome_of)
    assert fit is None
    document = a_document(*full, paragraph("r", "Page two.", page=2), pages=2)
    fit = find_fit(document, Way.SOURCE, outcome_of)
    assert fit.starts == ("r",)
    assert fit.spacing < 1.0
    assert len(outcome_of(apply(document, fit).document).outcome.pages) == 2


def test_fitting_changes_all_styles_in_proportion_and_is_undone_in_one_step():
    document = a_document(paragraph("a", "One."), before=4.0)
    big = ParagraphStyle("Heading 1", size=20.0)
    document = replace(document, styles=(*document.styles, big))
    edit = apply(document, FitPages(spacing=0.9, size=0.95, starts=("a",)))
    body, heading = (edit.document.style(name) for name in ("Body text", "Heading 1"))
    assert (body.size, heading.size) == (9.5, 19.0)
    assert (body.leading, body.before, body.after) == (11.97, 3.6, 5.4)
    assert heading.leading == pytest.approx(1.2 * 19.0 * 0.9, abs=0.01)
    assert edit.document.blocks[0].page_break
    assert undo(edit.document, edit.inverse) == document


def test_lines_never_come_nearer_than_their_letters_are_tall():
    document = a_document(paragraph("a", "One."))
    assert apply(document, FitPages(spacing=0.71)).document.style("Body text").leading == 10.0


@pytest.mark.parametrize(
    "operation", [FitPages(), FitPages(spacing=float("nan")), FitPages(size=3.0), FitPages(starts=("gone",))]
)
def test_what_cannot_be_done_is_refused(operation):
    with pytest.raises(EditError):
        apply(a_document(paragraph("a", "One.")), operation)


def test_pages_begin_within_columns_and_within_lists():
    columns = Section("c", PAGE, 2, "")
    item = TextBlock("j", role=Role.LIST_ITEM, content=(Text("Item two"),), style="Body text", page_break=True)
    blocks = (
        paragraph("h", "Above the columns."),
        replace(paragraph("p", "In columns."), section="c"),
        replace(paragraph("q", "On a new page."), section="c", page_break=True),
        replace(item, id="i", content=(Text("Item one"),), section="s", page_break=False),
        replace(item, section="s"),
    )
    document = a_document(*blocks)
    kept = tuple(replace(block, section="c") if block.id in ("p", "q") else block for block in document.blocks)
    document = replace(document, blocks=kept, sections=(*document.sections, columns))
    pages = {row.row: row.start.page for row in outcome_of(document).outcome.rows}
    assert pages == {"h": 1, "p": 1, "q": 2, "i": 2, "j": 3}


def test_notes_begin_no_page():
    note = replace(paragraph("n", "A note.", page=2), role=Role.NOTE)
    document = a_document(paragraph("a", "One."), note, paragraph("b", "Two.", page=2), pages=2)
    assert find_fit(document, Way.SOURCE, outcome_of) == FitPages(starts=("b",))
