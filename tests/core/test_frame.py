"""From PDF user space to the page as it is looked at."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from evenquill.core.model import Box, Spot, union
from evenquill.core.model.geometry import WordSpot
from evenquill.core.reading.native.characters import upright_y
from evenquill.core.reading.native.frame import Frame


@pytest.mark.parametrize(
    ("turns", "corner", "size"),
    [(0, (0, 0), (200, 100)), (1, (0, 0), (100, 200)), (2, (0, 0), (200, 100)), (3, (0, 0), (100, 200))],
)
def test_one_corner_of_the_crop_box_is_the_top_left(turns, corner, size):
    frame = Frame(10, 20, 210, 120, turns)
    corners = [frame.point(x, y) for x in (10, 210) for y in (20, 120)]
    assert corner in corners
    assert (frame.width, frame.height) == size
    assert all(0 <= x <= frame.width and 0 <= y <= frame.height for x, y in corners)


@given(st.integers(0, 3), st.lists(st.floats(0, 500), min_size=4, max_size=4))
def test_boxes_are_upright_and_the_same_one_by_one_and_together(turns, values):
    frame = Frame(0, 0, 500, 500, turns)
    x0, x1 = sorted(values[:2])
    y0, y1 = sorted(values[2:])
    one = frame.box(x0, y0, x1, y1)
    assert one.x0 <= one.x1
    assert one.y0 <= one.y1
    assert np.allclose(frame.boxes(np.array([[x0, y0, x1, y1]]))[0], one)
    # Turning a page does not change areas.
    assert one.width * one.height == pytest.approx((x1 - x0) * (y1 - y0), abs=1e-9)


def test_text_at_any_angle_has_its_baseline_below_its_top():
    for angle in (0, 90, 180, 270):
        top = {0: (50, 10), 90: (10, 50), 180: (50, 90), 270: (90, 50)}[angle]
        base = {0: (50, 20), 90: (20, 50), 180: (50, 80), 270: (80, 50)}[angle]
        assert upright_y(*base, angle) > upright_y(*top, angle)


def test_boxes_know_what_they_share_and_hold():
    a, b = Box(0, 0, 10, 10), Box(8, 12, 20, 20)
    assert (a.overlap_x(b), a.overlap_y(b)) == (2, -2)
    assert union([a, b]) == Box(0, 0, 20, 20)
    assert union([a, b]).holds(b)
    assert not a.holds(b)
    assert a.holds(Box(-1, 0, 10, 11), slack=1)
    assert (b.center_x, b.center_y) == (14, 16)
    with pytest.raises(ValueError, match="no boxes"):
        union([])


def test_spots_are_plain_values():
    assert Spot(1, Box(0, 0, 1, 1)) == (1, (0, 0, 1, 1))
    assert WordSpot(0, 3, 2, Box(0, 0, 1, 1)).page == 2
