"""Borders as browsers and typesetters of web pages draw them: areas between two rectangles, one side being what is left when the rest is
cut off, and cells with a border around each."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import pytest

from tests.conftest import grid, tables, texts
from tests.core.raw_pages import DESCRIPTOR, SERIF, write_page

ROWS = (
    ("Name", "Year", "Sum"),
    ("Larvik quay", "2014", "17.30"),
    ("Ostrel", "2015", "1.20"),
    ("Harbour", "2016", "2.00"),
)
EDGES = (60.0, 140.0, 180.0, 230.0)


def page(path: Path, content: str) -> Path:
    return write_page(path, content, "/F0 5 0 R", {5: SERIF, 6: DESCRIPTOR})


def word(x: float, y: float, text: str) -> str:
    return f"BT /F0 10 Tf {x} {y} Td ({text}) Tj ET\n"


def ring(x: float, y: float, width: float, height: float, *, opposite: bool = False) -> str:
    """A border of one point: by the rule of odd crossings, or with its inner edge the other way round."""
    inner = (x + 1, y + 1, width - 2, height - 2)
    if not opposite:
        return f"{x} {y} {width} {height} re {' '.join(map(str, inner))} re f*\n"
    left, low, right, high = inner[0], inner[1], inner[0] + inner[2], inner[1] + inner[3]
    back = f"{left} {low} m {left} {high} l {right} {high} l {right} {low} l h"
    return f"{x} {y} {width} {height} re {back} f\n"


def table(spacing: float, *, frame: bool = False) -> str:
    """Cells with a border around each and this space between them, some with a frame around all."""
    out = ""
    for row, cells in enumerate(ROWS):
        for (left, right), text in zip(pairwise(EDGES), cells, strict=True):
            y = 700 - row * (18 + spacing)
            out += ring(left, y, right - left - spacing, 18) + word(left + 3, y + 5, text)
    low = 700 - 3 * (18 + spacing) - spacing
    return out + (ring(60 - spacing, low, 170 + spacing, 718 + spacing - low) if frame else "")


@pytest.mark.parametrize("opposite", [False, True])
def test_a_border_is_no_ground(tmp_path, read, opposite):
    (found,) = read(
        page(tmp_path / "b.pdf", ring(60, 680, 300, 40, opposite=opposite) + word(70, 695, "A boxed line of words"))
    )
    assert found.fills == ()
    (box,) = found.outlines
    assert (box.x0, box.x1) == pytest.approx((60, 360), abs=0.5)


def test_an_area_with_a_small_hole_is_a_ground(tmp_path, read):
    (found,) = read(
        page(tmp_path / "b.pdf", "0.9 g 60 600 300 120 re 70 690 20 20 re f* 0 g\n" + word(100, 640, "Words on it"))
    )
    assert [fill.color for fill in found.fills] == ["e6e6e6"]


def test_one_side_of_a_border_that_is_cut_off_is_a_rule(tmp_path, read):
    side = "q 60 776 m 130 776 l 130 777 l 60 777 l h W n 60 776 70 66 re 60 777 70 65 re f* Q\n"
    (found,) = read(
        page(tmp_path / "b.pdf", side + word(60, 780, "Harbour office") + word(60, 700, "The tide was low."))
    )
    assert (found.boxes, found.fills) == ((), ())
    (rule,) = found.rules
    assert rule.box.y1 - rule.box.y0 <= 1.5
    assert (rule.box.x0, rule.box.x1) == pytest.approx((60, 130), abs=0.5)


@pytest.mark.parametrize(("spacing", "frame"), [(1.5, False), (1.5, True), (4.5, False)])
def test_cells_with_a_border_around_each_are_a_table(tmp_path, rebuilt, spacing, frame):
    document = rebuilt(page(tmp_path / "t.pdf", word(60, 760, "Words before it") + table(spacing, frame=frame)))
    (found,) = tables(document)
    assert grid(found) == [list(row) for row in ROWS]
    assert not any(cell.fill for cell in found.cells)
    assert texts(document)[0] == "Words before it"


def test_grounds_of_a_design_that_lie_over_each_other_in_part_are_no_cells(tmp_path, rebuilt):
    grounds = "0.9 g 40 700 500 80 re f 40 300 500 390 re f 0.8 g 60 500 180 240 re f 0 g\n"
    left = "".join(word(70, 720 - 14 * n, f"Written down at tide {n} of the year") for n in range(12))
    right = "".join(word(270, 670 - 14 * n, f"What the office kept of it and copied in {n}") for n in range(14))
    document = rebuilt(page(tmp_path / "d.pdf", grounds + left + right))
    assert not tables(document)
    words = " ".join(texts(document))
    assert words.index("tide 11") < words.index("copied in 0")
