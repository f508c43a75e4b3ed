"""Signs that typefaces put together from pieces, given as pieces."""

from __future__ import annotations

import pytest

from evenquill.core.equations.tex import tex
from evenquill.core.model import Box
from evenquill.core.reading.formulas.parts import Part
from evenquill.core.reading.formulas.structure import tree_of
from evenquill.core.reading.formulas.tall_signs import with_tall_signs
from evenquill.core.reading.formulas.wide_signs import with_wide_signs


def part(text: str, x: float, y: float = 0.0, width: float = 5.0, height: float = 7.0) -> Part:
    """A symbol of 10 points whose baseline is at ``y``."""
    return Part(Box(x, y - height, x + width, y), y, 10.0, text)


def dot(x: float, y: float) -> Part:
    return part(".", x, y, 1.2, 1.2)


@pytest.mark.parametrize(
    ("pieces", "sign"),
    [
        ([dot(0, 0), dot(4.4, 0), dot(8.8, 0)], "…"),
        ([dot(0, 0), dot(0, 4), dot(0, 8)], "⋮"),
        ([dot(0, 0), dot(4, 3), dot(8, 6)], "⋱"),
        ([part("·", 0), part("·", 4.4), part("·", 8.8)], "⋯"),
        ([part("↦", 0, width=1), part("→", 0.5, width=9)], "↦"),
        ([part("−", 0, width=7), part("→", 5, width=9)], "→"),
    ],
)
def test_pieces_are_one_sign(pieces, sign):
    (made,) = with_wide_signs(pieces)
    assert made.text == sign
    assert made.box.width >= max(piece.box.x1 for piece in pieces) - 0.1


def test_stops_that_do_not_belong_together_stay_stops():
    stops = [dot(0, 0), dot(30, 0), dot(30, 4)]
    assert [one.text for one in with_wide_signs(stops)] == [".", ".", "."]


def test_the_left_piece_of_a_brace_tells_which_way_it_opens():
    for left, others in (("⏞", "⏟⏟⏞"), ("⏟", "⏞⏞⏟")):
        pieces = [part(text, 10.0 * n, 0, 8, 3) for n, text in enumerate(left + others)]
        (made,) = with_wide_signs(pieces)
        assert (made.text, made.box.width) == (left, 38)


def test_pieces_of_a_tall_brace_are_one_with_a_baseline_that_follows_from_its_middle():
    pieces = [part(text, 0, 10.0 * n + 10, 4, 10) for n, text in enumerate("⎧⎪⎨⎪⎩")]
    (made,) = with_tall_signs(pieces)
    assert (made.text, made.box.height) == ("{", 50)
    assert made.baseline == pytest.approx(27.5)  # a quarter of an em below the middle, which is at 25


def test_a_root_whose_lower_pieces_have_no_character_encloses_what_hangs_together_below_its_bar():
    root, bar = part("√", 0, 4, 8, 4), Box(8, 0, 40, 0.6)
    numerator, denominator = part("1", 20, 9), part("2", 20, 24)
    inner = Box(18, 12, 28, 12.6)
    assert tex(tree_of([root, numerator, denominator], [bar, inner])) == r"\sqrt{\frac{1}{2}}"


def test_a_stroke_negates_the_relation_that_it_lies_over():
    (made,) = with_tall_signs([part("\u0338", 1, width=4), part("=", 0, width=7)])
    assert made.text == "≠"
