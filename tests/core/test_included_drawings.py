"""Drawings that a page includes as a whole (form XObjects), as typesetters do with figures in files of their own."""

from __future__ import annotations

from pathlib import Path

import pikepdf
import pytest

from evenquill.core.evidence import PictureKind
from evenquill.core.model import PictureBlock
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
