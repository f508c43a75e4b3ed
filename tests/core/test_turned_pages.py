"""Pages of a PDF whose text stands on its side: read, drawn and read again as if they were turned."""

from __future__ import annotations

import io

import pikepdf
import pypdfium2 as pdfium
import pytest
from PIL import Image

from evenquill.core.model import Box, RemarkKind, Role
from evenquill.core.reading.preparation import Preparation
from evenquill.core.region_reading import native_scan, read_region
from evenquill.core.strip_drawing import draw_strip
from evenquill.core.strip_types import Strip
from tests.conftest import texts

TEXT = "The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote. "
PAGE = f"= Tides\n{2 * TEXT}\n\n#table(columns: 3, [Gauge], [High], [Low], [North Pier], [2.31], [0.87], [Ferry slip], [1.90], [0.40])"


@pytest.fixture
def on_its_side(typeset):
    """A page whose content is turned by quarter turns clockwise, and that says nothing of it."""

    def make(turns: int):
        path = typeset(PAGE)
        with pikepdf.open(path, allow_overwriting_input=True) as file:
            page = file.pages[0]
            _, _, width, height = (float(side) for side in page.mediabox)
            matrix = {1: f"0 -1 1 0 0 {width}", 2: f"-1 0 0 -1 {width} {height}", 3: f"0 1 -1 0 {height} 0"}[turns]
            page.contents_add(f"q {matrix} cm".encode(), prepend=True)
            page.contents_add(b"Q")
            page.mediabox = [0, 0, width, height] if turns == 2 else [0, 0, height, width]
            file.save(path)
        return path

    return make


@pytest.mark.parametrize("turns", [1, 2, 3])
def test_a_page_on_its_side_is_read_as_if_it_stood_upright(on_its_side, typeset, read, rebuilt, turns):
    path = on_its_side(turns)
    (page,) = read(path)
    assert page.turn == 4 - turns
    assert RemarkKind.DIRECTION in [remark.kind for remark in page.remarks]
    assert page.width < page.height
    assert {line.angle for line in page.lines} == {0}
    document = rebuilt(path)
    assert texts(document, Role.HEADING) == ["Tides"]
    (table,) = [block for block in document.blocks if hasattr(block, "cells")]
    assert table.row_count == 3
    upright = read(typeset(PAGE))[0]
    assert [line.text for line in page.lines] == [line.text for line in upright.lines]
    assert page.lines[0].box == pytest.approx(upright.lines[0].box, abs=1.0)


def test_its_strips_are_drawn_turned_and_it_is_as_before_in_the_file(on_its_side, read):
    path = on_its_side(1)
    (page,) = read(path)
    heading = next(line for line in page.lines if line.text == "Tides")
    strip = draw_strip(Strip(str(path), None, 1, heading.box, 4.0, turn=page.turn))
    with Image.open(io.BytesIO(strip)) as image:
        assert image.width == pytest.approx(4 * heading.box.width, abs=2)
        assert image.convert("L").getextrema()[0] < 80
    whole = draw_strip(Strip(str(path), None, 1, None, 1.0))
    with Image.open(io.BytesIO(whole)) as image:
        assert image.width > image.height  # turned only where it is asked for


def test_a_place_on_it_is_read_again(on_its_side, read):
    path = on_its_side(3)
    (page,) = read(path)
    heading = next(line for line in page.lines if line.text == "Tides")
    scan = native_scan(pdfium.PdfDocument(path), 1, page.turn)
    box = Box(heading.box.x0 - 3, heading.box.y0 - 3, heading.box.x1 + 3, heading.box.y1 + 3)
    assert read_region(scan, [box], Preparation(languages=("eng",)), 1).text == "Tides"


def test_a_word_along_the_edge_turns_no_page(typeset, read):
    (page,) = read(typeset(f"#place(left + top, dx: -8mm, rotate(-90deg, reflow: true)[Gauge book of 1974]){3 * TEXT}"))
    assert page.turn == 0
    assert {line.angle for line in page.lines} == {0, 90}
