"""The steps of cleaning one by one, on pictures drawn for them."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from lettersets import boxes_of, letters, pieces_of_boxes, text_line
from sheets import PROSE, words_of

from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.scanned.cleaning.curl import curl_of, uncurled
from evenquill.core.reading.scanned.cleaning.light import darkened, evened, ink_level, light_of
from evenquill.core.reading.scanned.cleaning.sheet import find_sheet
from evenquill.core.reading.scanned.cleaning.skew import skew_of
from evenquill.core.reading.scanned.cleaning.straighten import (
    _rest,
    _rotated,
    _turned,
    paper_dpi,
    resized,
    straightened,
    upside_down,
)
from evenquill.core.reading.scanned.colour import coloured_ink, ink_colour
from evenquill.core.reading.scanned.ink import ink_of, pieces_of
from evenquill.core.reading.scanned.raster import (
    WHITE,
    Raster,
    grey_of,
    lightness_at,
    warped,
    without_empty_colour,
)
from evenquill.core.reading.scanned.segments import segment_page
from evenquill.core.reading.scanned.speckle import specks, stroke_width, without_specks


def lined_page(height=1100, width=850, step=60, slope=0.0, swing=0.0):
    """A page at 100 dpi with rows of letter-like blocks, which may rise or swing."""
    page = np.full((height, width), WHITE, np.uint8)
    for base in range(120, height - 100, step):
        for n, x in enumerate(range(90, width - 100, 16)):
            y = round(base + slope * (x - width / 2) + swing * np.sin(np.pi * x / width))
            cv2.rectangle(page, (x, y - (10 if n % 4 else 15)), (x + 9, y), 30, -1)
    return page


def test_an_even_shadow_leaves_paper_white_and_ink_dark():
    page = lined_page().astype(np.float32)
    shadow = np.linspace(1.0, 0.45, page.shape[1], dtype=np.float32)[None, :]
    dark = (page * shadow).astype(np.uint8)
    light = light_of(dark, 100)
    assert light.pictures == ()
    even = evened(dark, light)
    paper, ink = even[100:104], even[page < 100]
    assert np.abs(paper.astype(int) - WHITE).max() <= 8
    assert np.median(ink) < 60


def test_a_dark_photograph_is_no_shadow():
    page = lined_page()
    page[300:620, 200:620] = 70
    light = light_of(page, 100)
    ((x0, y0, x1, y1),) = light.pictures
    assert (x0, y0, x1, y1) == pytest.approx((2.0, 3.0, 6.2, 6.2), abs=0.12)
    assert np.median(evened(page, light)[320:600, 220:600]) < 100


def test_faint_print_is_told_and_darkened_and_dark_print_left_alone():
    page = lined_page()
    assert darkened(page) is page
    faint = np.where(page < 100, 150, page).astype(np.uint8)
    assert ink_level(faint) == pytest.approx(150, abs=2)
    dark = darkened(faint)
    assert np.median(dark[page < 100]) < 60
    assert np.median(dark[page > 200]) == pytest.approx(WHITE, abs=2)
    assert ink_level(np.full((200, 200), WHITE, np.uint8)) == 0.0


def test_lightness_is_read_off_its_distribution():
    ramp = np.arange(256, dtype=np.uint8).reshape(16, 16)
    low, middle, high = lightness_at(ramp, 0.1, 0.5, 0.9)
    assert (low, middle, high) == pytest.approx((25, 127, 230), abs=1)


@pytest.mark.parametrize("degrees", [-14.0, -3.3, 0.0, 0.4, 9.0])
def test_skew_is_read_off_the_middles_of_letters(degrees):
    chance = np.random.default_rng(1)
    x, y = np.meshgrid(np.arange(30) * 22.0, np.arange(24) * 48.0)
    points = np.stack([x.ravel(), y.ravel() + chance.uniform(-2, 2, x.size)], axis=1)
    turn = np.deg2rad(degrees)
    turned = points @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    told = skew_of(turned, 16)
    assert told.angle == pytest.approx(degrees, abs=0.1)
    assert told.clear > 3


def test_lines_that_swing_are_drawn_level():
    swinging = lined_page(swing=14)
    segments = segment_page(Raster(swinging, 100))
    curl = curl_of(segments.black.lines, segments.black.pieces, 850, 1100)
    assert curl is not None
    level = segment_page(Raster(uncurled(swinging, curl), 100))
    assert curl_of(level.black.lines, level.black.pieces, 850, 1100) is None
    feet = [line.y1 for line in level.black.lines if len(line.pieces) > 30]
    heights = [line.y1 - line.y0 for line in level.black.lines if len(line.pieces) > 30]
    assert len(feet) >= 10
    assert max(heights) <= 21  # swinging, a line is 29 pixels high
    flat = segment_page(Raster(lined_page(), 100))
    assert curl_of(flat.black.lines, flat.black.pieces, 850, 1100) is None
    assert curl_of(flat.black.lines[:2], flat.black.pieces, 850, 1100) is None


@pytest.mark.parametrize("table", [(96, 72, 50), (205, 205, 205), (200, 185, 160), (60, 66, 78)])
@pytest.mark.parametrize("folded", [False, True])
def test_a_sheet_on_a_table_has_four_corners(table, folded):
    chance = np.random.default_rng(3)
    grain = cv2.GaussianBlur(chance.normal(0, 60, (900, 1200)).astype(np.float32), (0, 0), sigmaX=20, sigmaY=1.5)
    photo = np.clip(np.array(table) + grain[..., None], 0, 255).astype(np.uint8)
    corners = np.array([[260, 120], [890, 90], [980, 800], [210, 830]], np.int32)
    cv2.fillPoly(photo, [corners], (235, 232, 225))
    for row in range(220, 700, 24):
        cv2.putText(photo, "the gauge was read again", (330, row), cv2.FONT_HERSHEY_SIMPLEX, 0.7, (60, 60, 60), 2)
    light = np.linspace(1.0, 0.8, 1200)[None, :, None] * np.ones((900, 1, 1))
    if folded:
        light[440:450] *= 0.92
        light[450:] *= 0.98
    photo = (photo * light).astype(np.uint8)
    found = find_sheet(photo)
    assert found is not None
    assert np.abs(found - corners).max() < 8


@pytest.mark.parametrize("degrees", [30, 45, -38])
def test_a_sheet_that_lies_across_the_photo_is_found(degrees):
    photo = np.full((1000, 1000, 3), (96, 72, 50), np.uint8)
    turn = cv2.getRotationMatrix2D((500, 500), degrees, 1)
    corners = np.array([[250, 170], [750, 170], [770, 830], [230, 830]]) @ turn[:, :2].T + turn[:, 2]
    cv2.fillPoly(photo, [corners.astype(np.int32)], (235, 232, 225))
    found = find_sheet(photo)
    assert found is not None
    assert min(np.abs(np.roll(found, n, axis=0) - corners).max() for n in range(4)) < 8


def test_what_is_printed_on_a_page_is_no_sheet():
    assert find_sheet(np.full((900, 1200, 3), 235, np.uint8)) is None
    panel = np.full((900, 1200, 3), 205, np.uint8)
    cv2.rectangle(panel, (100, 100), (1100, 800), (250, 250, 250), -1)
    assert find_sheet(panel) is None


def test_turning_a_page_by_half_keeps_the_way_back():
    page = lined_page(slope=0.02)
    straight = straightened(Raster(page, 100), Preparation(), guessed_size=False)
    assert straight.skew == pytest.approx(np.degrees(np.arctan(0.02)), abs=0.1)
    other = upside_down(straight)
    assert other.turn == 2
    place = np.array([100.0, 200.0, 1.0])
    width, height = straight.raster.width, straight.raster.height
    same = np.array([width - 100.0, height - 200.0, 1.0])
    assert straight.matrix @ place == pytest.approx(other.matrix @ same, abs=1.5)


def test_pages_are_brought_to_a_resolution_that_can_be_read():
    page = Raster(lined_page(), 100)
    larger, back = resized(page, 150, 300)
    assert (larger.dpi, larger.width) == (150, 1275)
    assert back @ np.array([150.0, 300.0, 1.0]) == pytest.approx([100.0, 200.0, 1.0])
    same, back = resized(Raster(page.pixels, 160), 150, 300)
    assert same.pixels is page.pixels
    assert np.array_equal(back, np.eye(3))
    assert paper_dpi(1240, 1754) == pytest.approx(150, abs=1)
    assert paper_dpi(2550, 3300) == pytest.approx(300, abs=1)


def test_grey_pages_in_colour_become_grey_and_coloured_ones_do_not():
    page = lined_page()
    rgb = np.repeat(page[..., None], 3, axis=2)
    assert np.array_equal(without_empty_colour(rgb), page)
    assert without_empty_colour(page) is page
    rgb[501, 300] = (200, 30, 30)  # between the rows that are looked at first
    assert without_empty_colour(rgb).ndim == 3
    assert grey_of(page) is page
    assert coloured_ink(page, np.zeros_like(page), 100) is None


def test_a_shift_and_a_perspective_are_seen_the_same_way():
    page = lined_page()
    shift = np.array([[1.0, 0.0, 7.0], [0.0, 1.0, -5.0], [0.0, 0.0, 1.0]])
    perspective = shift.copy()
    perspective[2, 0] = 1e-7
    assert not np.allclose(perspective[2], (0, 0, 1), atol=1e-8)
    seen = [warped(page, matrix, 850, 1100)[20:-20, 20:-20].astype(int) for matrix in (shift, perspective)]
    assert np.abs(seen[0] - seen[1]).mean() < 1
    assert np.abs(seen[0] - page[25:-15, 13:-27]).mean() < 1


def test_coloured_ink_is_told_from_black_and_keeps_its_colour():
    page = np.full((600, 600, 3), 245, np.uint8)
    page[100:120, 100:300] = 40
    page[300:320, 100:300] = (190, 40, 50)
    mask = coloured_ink(page, ink_of(grey_of(page), 100), 100)
    assert mask is not None
    assert mask[302:318, 105:295].all()
    assert not mask[100:120].any()
    colour = ink_colour(page[295:325, 95:305], mask[295:325, 95:305])
    assert colour is not None
    assert int(colour[:2], 16) > int(colour[2:4], 16) + 100
    assert ink_colour(page[95:125, 95:305], np.ones((30, 210), np.uint8)) is None


def test_letters_of_a_dark_colour_are_not_torn_into_two_inks():
    page = np.full((600, 600, 3), 245, np.uint8)
    page[300:320, 100:300] = (190, 40, 50)  # a stamp, so that the page has colour
    page[315:335, 150:160] = 30  # and a black stroke that runs into it
    rng = np.random.default_rng(4)
    for n in range(10):  # dark blue, at the limit of what is coloured
        letter = page[100:120, 100 + 20 * n : 110 + 20 * n]
        letter[:] = np.array([52, 64, 100]) + rng.integers(-14, 15, letter.shape)
    mask = coloured_ink(page, ink_of(grey_of(page), 100), 100)
    assert mask is not None
    shares = [mask[100:120, 100 + 20 * n : 110 + 20 * n].mean() for n in range(10)]
    assert all(share in (0.0, 1.0) for share in shares)
    assert mask[302:314, 105:295].all()
    assert not mask[325:335, 150:160].any()


@pytest.mark.parametrize("width", [2, 4, 7])
def test_the_width_of_strokes_is_measured(width):
    page = np.full((300, 900), WHITE, np.uint8)
    for n in range(40):
        cv2.rectangle(page, (20 + 20 * n, 100), (20 + 20 * n + width - 1, 119), 30, -1)
    ink = ink_of(page, 200)
    assert stroke_width(ink, pieces_of(ink), 20) == pytest.approx(width, abs=1.0)


def test_specks_are_smaller_than_the_page_s_own_dots():
    boxed = letters("the tide. the wind. the rain. the fog. the swell. the keeper. the float. the well.")
    dots = [n for n, one in enumerate(boxed) if one[0] == "."]
    speck = (boxed[3][1], 92.0, boxed[3][1] + 2, 94.0)
    pieces = pieces_of_boxes([*boxes_of(boxed), speck])
    line = text_line(pieces)
    (kept,) = without_specks([line], pieces)
    assert len(kept.pieces) == len(boxed)
    assert set(dots) <= set(kept.pieces.tolist())
    few = pieces_of_boxes([*boxes_of(boxed[:6]), speck])
    assert len(without_specks([text_line(few)], few)[0].pieces) == 7  # too few dots to know their size
    assert specks(pieces, 6.0).tolist().count(True) == 1


def test_the_other_side_that_shines_through_is_not_read(paper, read_paper):
    page = paper(PROSE)
    other = paper("Of the other side nothing is to be read, however plainly its lines shine through the paper. " * 9)
    behind = 255 - (255 - other[:, ::-1].astype(np.float32)) * 0.22
    both = np.minimum(page, behind).astype(np.uint8)
    assert words_of(read_paper(both)) == PROSE.split()


def test_holes_punched_into_the_margin_are_no_ink(paper, read_paper):
    page = paper(PROSE)
    height = page.shape[0]
    for share in (0.35, 0.65):
        cv2.circle(page, (38, round(share * height)), 22, (25, 25, 25), -1)
    evidence = read_paper(page)
    assert words_of(evidence) == PROSE.split()
    assert evidence.pictures == ()


@pytest.mark.parametrize("turn", [0, 1, 2, 3])
def test_boxes_turn_with_their_page(turn):
    page = np.zeros((60, 90), np.uint8)
    page[10:22, 30:38] = 1
    page[40:45, 70:88] = 1
    boxes = pieces_of(page).boxes.astype(float)
    turned = pieces_of(np.ascontiguousarray(np.rot90(page, -turn))).boxes.astype(float)
    moved = _turned(boxes, turn, page.shape[1], page.shape[0])
    assert sorted(map(tuple, moved)) == sorted(map(tuple, turned))


@pytest.mark.parametrize("slope", [0.0, 0.4, -1.2])
def test_the_rest_of_a_skew_is_told_by_the_letters_of_lines(slope):
    """Rows of letters that rise by so many degrees, and are told to a hundredth of one."""
    rise = np.tan(np.radians(slope))
    boxes = []
    for base in range(100, 900, 40):
        for n in range(50):
            x = 60.0 + 14 * n
            y = base + rise * x
            boxes.append((x, y - (16 if n % 4 == 0 else 11), x + 9, y))
    letters_ = np.array(boxes)
    assert _rest(letters_) == pytest.approx(slope, abs=0.01)
    assert _rest(_rotated(letters_, slope)) == pytest.approx(0.0, abs=0.02)
    assert _rest(letters_[:40]) == 0.0  # one line tells nothing


def test_the_width_of_strokes_is_that_of_the_middle_of_a_full_page():
    page = np.zeros((1000, 1400), np.uint8)
    for row in range(40):
        for n in range(60):
            # Letters in the middle have strokes of four pixels, those at the edges of two.
            wide = 4 if 5 <= row < 35 else 2
            page[10 + 24 * row : 22 + 24 * row, 10 + 22 * n : 10 + 22 * n + wide] = 1
    pieces = pieces_of(page)
    assert len(pieces.areas) == 2400
    assert stroke_width(page, pieces, 12.0) == pytest.approx(4.0, abs=0.5)
    assert stroke_width(page[:100], pieces_of(page[:100]), 12.0) == pytest.approx(2.0, abs=0.5)
