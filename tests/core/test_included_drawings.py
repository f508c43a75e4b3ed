"""Drawings that a page includes as a whole (form XObjects), as typesetters do with figures in files of their own."""

from __future__ import annotations

from pathlib import Path

import pikepdf
import pytest

from evenquill.core.evidence import PictureKind
from evenquill.core.model import PictureBlock, TableBlock
from tests.conftest import texts

TEXT = "The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote. "

CURVE = """#set page(width: 70mm, height: 50mm, margin: 2mm)
#place(dx: 8mm, dy: 8mm, curve(stroke: 1pt, curve.move((0mm, 20mm)), curve.line((20mm, 0mm)), curve.line((40mm, 18mm))))
#place(dx: 4mm, dy: 40mm, text(8pt)[Neap])
#place(dx: 50mm, dy: 40mm, text(8pt)[Spring])"""


@pytest.fixture
def with_drawing(typeset):
    """A page of text with another page laid over a free place of it, as one object."""

    def make(text: str, drawing: str) -> Path:
        path, over = typeset(text), typeset(drawing, name="drawing")
        with pikepdf.open(path, allow_overwriting_input=True) as page, pikepdf.open(over) as included:
            page.pages[0].add_overlay(included.pages[0], pikepdf.Rectangle(80, 250, 280, 390))
            page.save(path)
        return path

    return make


def test_an_included_drawing_is_a_picture_with_its_labels(with_drawing, read, rebuilt):
    path = with_drawing(f"{2 * TEXT}\n#v(65mm)\n{2 * TEXT}", CURVE)
    (page,) = read(path)
    (picture,) = page.pictures
    assert picture.kind is PictureKind.DRAWING
    assert {"Neap", "Spring"}.isdisjoint(line.text for line in page.lines)
    document = rebuilt(path)
    assert [isinstance(block, PictureBlock) for block in document.blocks] == [False, True, False]


def test_included_text_stays_text(with_drawing, read, rebuilt):
    included = f"#set page(width: 70mm, height: 50mm, margin: 2mm)\n#line(length: 60mm)\n{2 * TEXT}"
    path = with_drawing(f"{2 * TEXT}\n#v(65mm)\n{2 * TEXT}", included)
    assert read(path)[0].pictures == ()
    assert " ".join(texts(rebuilt(path))).count("The keeper wrote down") == 6


def included_whole(typeset, source: str, height: float) -> Path:
    """An empty page with another laid over it as one object, from its top down to a share of its height."""
    path, over = typeset("#hide[.]"), typeset(source, name="over")
    with pikepdf.open(path, allow_overwriting_input=True) as page, pikepdf.open(over) as included:
        _, _, width, top = map(float, page.pages[0].mediabox)
        included.pages[0].mediabox = [0, (1 - height) * top, width, top]
        page.pages[0].add_overlay(included.pages[0], pikepdf.Rectangle(0, (1 - height) * top, width, top))
        page.save(path)
    return path


COVER = """#align(center)[Harbour office #v(20mm) #box(curve(stroke: 1pt, curve.move((0mm, 8mm)), curve.line((9mm, 0mm)),
curve.line((20mm, 8mm)))) #v(20mm) #text(20pt)[Tides at Skerrin] \\ A manual #v(1fr) Lower Quay]"""

GAUGES = """#table(columns: 3, stroke: (x, y) => (bottom: 0.5pt, right: if x == 0 { 0.5pt } else { 0pt }),
[Gauge], [May], [June], [Pier], [2.31], [2.40], [Quay], [2.29], [2.38], [Lock], [1.98], [2.01])"""


def test_a_page_put_on_a_page_keeps_its_text_and_its_picture(typeset, read):
    (page,) = read(included_whole(typeset, COVER, 1.0))
    assert [line.text for line in page.lines] == ["Harbour office", "Tides at Skerrin", "A manual", "Lower Quay"]
    (picture,) = page.pictures
    assert picture.box.height < 60


@pytest.mark.parametrize("height", [1.0, 0.4])
def test_a_table_put_on_a_page_is_one(typeset, rebuilt, height):
    (table,) = rebuilt(included_whole(typeset, GAUGES, height)).blocks
    assert isinstance(table, TableBlock)
    assert (len(table.row_ids), len(table.widths)) == (4, 3)


def test_what_is_cut_off_of_a_page_put_on_a_page_is_not_drawn(typeset, read):
    cut = "Gauges #line(length: 60mm) #v(120mm) Below #line(length: 60mm) #rect(width: 30mm, height: 20mm, fill: red)"
    (page,) = read(included_whole(typeset, cut, 0.4))
    assert [line.text for line in page.lines] == ["Gauges"]
    assert len(page.rules) == 1
    assert page.boxes == ()
