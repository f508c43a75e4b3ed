"""Bullets that are drawn and no letters, as browsers draw those of lists."""

from __future__ import annotations

import pytest

from evenquill.core.model import Role
from evenquill.core.model.geometry import Box
from evenquill.core.reading.native.drawn_bullets import SIGNS, with_drawn_bullets
from evenquill.core.reading.native.shape import Shape
from tests.conftest import text_blocks

ITEMS = (
    "The float was found hard against the guide wire and was set free on the same morning by the keeper.",
    "A drum and its paper, which is changed each week before the clock is wound.",
    "A staff beside the well.",
)


@pytest.mark.parametrize(
    "marker",
    [
        "circle(radius: 1.7pt, fill: black)",
        "circle(radius: 1.7pt, stroke: 0.5pt)",
        "square(size: 3.6pt, fill: black)",
        "square(size: 4pt, stroke: 0.5pt)",
    ],
)
def test_items_with_drawn_bullets_are_items(typeset, rebuilt, marker):
    items = "\n".join(f"- {item}" for item in ITEMS)
    path = typeset(
        f"The gauge needs these things:\n#set list(marker: box(height: 5pt, {marker}))\n{items}\n\nAnd a book."
    )
    blocks = text_blocks(rebuilt(path))
    assert [block.role for block in blocks] == [Role.PARAGRAPH, *[Role.LIST_ITEM] * 3, Role.PARAGRAPH]
    assert tuple(block.text for block in blocks[1:4]) == ITEMS


def test_a_bullet_is_what_its_shape_is_and_its_shape_is_drawn_no_more(typeset, read):
    (page,) = read(typeset(f"#set list(marker: box(height: 5pt, square(size: 3.6pt, fill: black)))\n- {ITEMS[2]}"))
    assert [line.text for line in page.lines] == [f"{SIGNS[False, True]} {ITEMS[2]}"]
    assert page.boxes == ()


def test_shapes_in_a_row_and_shapes_of_other_sizes_are_no_bullets(typeset, read):
    (page,) = read(typeset(ITEMS[2]))
    (line,) = page.lines
    shapes = [
        Box(line.box.x0 - gap, line.box.center_y - 2, line.box.x0 - gap + 4, line.box.center_y + 2) for gap in (8, 14)
    ]
    assert with_drawn_bullets([line], [Shape(box, slanted=True, filled=True) for box in shapes]) == (
        (line,),
        frozenset(),
    )
    large = Box(line.box.x0 - 30, line.box.y0 - 6, line.box.x0 - 8, line.box.y1 + 6)
    assert with_drawn_bullets([line], [Shape(large, slanted=False, filled=False)])[1] == frozenset()
    low = Box(line.box.x0 - 8, line.baseline, line.box.x0 - 4, line.baseline + 4)
    assert with_drawn_bullets([line], [Shape(low, slanted=True, filled=True)])[1] == frozenset()


def test_a_line_of_dots_is_a_rule_and_no_picture(typeset, read):
    dots = "#box(width: 80mm, height: 1pt, repeat(box(circle(radius: 0.5pt, fill: black)) + h(1.5pt)))"
    (page,) = read(typeset(f"Name of the gauge:\n\n{dots}\n\nName of its keeper:\n\n{dots}"))
    assert page.pictures == ()
    assert [round(rule.box.width, -1) for rule in page.rules] == [230, 230]
