"""What is to be looked at before a document goes out."""

from __future__ import annotations

import pytest
from blocks import table
from msgspec.structs import replace
from test_formats import text

from evenquill.core.checks import CheckKind, checks_of
from evenquill.core.colors import contrast
from evenquill.core.model import (
    Box,
    Document,
    InlinePicture,
    PageGeometry,
    ParagraphStyle,
    PictureBlock,
    Role,
    Text,
)

STYLES = (
    ParagraphStyle("Body text", size=11),
    ParagraphStyle("Pale", size=11, color="9a9a9a"),
    ParagraphStyle("Large", size=20, color="8a8a8a"),
)


def document(*blocks, pages: int = 1, **more) -> Document:
    geometry = (PageGeometry(300, 400, Box(40, 40, 260, 360)),) * pages
    return replace(Document("Tides", "en", STYLES, blocks, geometry), **more)


def kinds(made: Document) -> list[CheckKind]:
    return [check.kind for check in checks_of(made)]


def heading(name: str, level: int):
    return text(name, f"Heading {name}", role=Role.HEADING, level=level)


def test_a_sound_document_has_nothing_to_be_looked_at():
    picture = PictureBlock("f", "x", "image/png", 50, 40, alt="A sheet")
    made = document(
        heading("a", 1),
        heading("b", 2),
        text("p", "A row."),
        picture,
        table("t", [["a", "b"], ["c", "d"]], header_rows=1),
    )
    assert checks_of(made) == ()


def test_headings_that_skip_a_level_are_named():
    (check,) = checks_of(document(heading("a", 1), heading("b", 3), heading("c", 2), heading("d", 4)))
    assert (check.kind, check.rows, check.places) == (CheckKind.STRUCTURE, ("b", "d"), (1, 3))
    assert checks_of(document(heading("a", 1), heading("b", 2), heading("c", 1), heading("d", 2))) == ()


def test_a_long_document_without_headings_and_a_short_one():
    assert kinds(document(text("p", "A row."), pages=4)) == [CheckKind.STRUCTURE]
    assert kinds(document(text("p", "A row."), pages=3)) == []


def test_what_the_whole_document_lacks():
    assert kinds(document(text("p", "A row."), title=" ", language="")) == [CheckKind.TITLE, CheckKind.LANGUAGE]


def test_pictures_that_nobody_has_described_are_found_in_lines_too():
    sign = InlinePicture("x", "image/png", 9, 9)
    picture = PictureBlock("f", "x", "image/png", 50, 40)
    (check,) = checks_of(document(text("p", "Press ", sign), picture, replace(picture, id="g", excluded=True)))
    assert (check.kind, check.rows) == (CheckKind.ALTERNATIVE_TEXT, ("p", "f"))
    assert check.sentence.startswith("2 pictures are not described")


def test_tables_without_a_header_row_are_found_and_single_rows_and_columns_are_not():
    rows = [["a", "b"], ["c", "d"]]
    (check,) = checks_of(document(table("t", rows), table("u", rows[:1]), table("v", [["a"], ["c"]])))
    assert (check.kind, check.rows) == (CheckKind.HEADER_ROWS, ("t",))


def test_pale_letters_are_found_by_their_style_or_by_themselves():
    blocks = (
        text("p", "Pale", style="Pale"), text("q", "Large", style="Large"), text("r", Text("yellow", color="ffee00")), text("s", "Black"),
    )  # fmt: skip
    (check,) = checks_of(document(*blocks))
    assert (check.kind, check.rows) == (CheckKind.CONTRAST, ("p", "r"))


def test_letters_in_cells_are_judged_on_what_fills_these():
    light = table("t", [["a", "b"], ["c", "d"]], header_rows=1)
    white = tuple(
        replace(cell, fill="204a5a", texts=(replace(cell.texts[0], content=(Text(cell.text, color="ffffff"),)),))
        for cell in light.cells
    )
    assert kinds(document(replace(light, cells=white))) == []
    unfilled = tuple(replace(cell, fill="") for cell in white)
    assert kinds(document(replace(light, cells=unfilled))) == [CheckKind.CONTRAST]


@pytest.mark.parametrize(("color", "wanted"), [("000000", 21.0), ("ffffff", 1.0), ("767676", 4.54), ("0000ff", 8.59)])
def test_contrast_is_that_of_the_guidelines(color, wanted):
    assert contrast(color) == pytest.approx(wanted, abs=0.01)
