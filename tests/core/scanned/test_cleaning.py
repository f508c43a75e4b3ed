"""Each step of cleaning, on pages whose damage is known."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import scan_effects
from sheets import PROSE, text_of, words_of

from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.scanned.cleaning.light import WHITE, darkened, evened, ink_level, light_of
from evenquill.core.reading.scanned.cleaning.skew import skew_of
from evenquill.core.reading.scanned.cleaning.straighten import paper_dpi

CHANCE = np.random.default_rng


@pytest.mark.parametrize("skew", [-14.0, -0.7, 0.0, 1.3, 9.5])
def test_skew_is_taken_back_to_a_tenth_of_a_degree(paper, read_paper, skew):
    evidence = read_paper(scan_effects.turned(paper(PROSE), skew))
    assert evidence.cleaned.skew == pytest.approx(skew, abs=0.1)
    assert "guide wire on 14 March" in " ".join(words_of(evidence))


@pytest.mark.parametrize("turns", [0, 1, 2, 3])
def test_a_page_laid_any_way_round_comes_out_upright(paper, read_paper, turns):
    evidence = read_paper(np.ascontiguousarray(np.rot90(paper(PROSE), turns)))
    assert evidence.cleaned.turn == turns
    assert evidence.width < evidence.height
    assert "within twelve millimetres" in text_of(evidence)


def test_columns_that_do_not_stand_on_one_grid_do_not_mislead(paper, read_paper):
    columns = f"#grid(columns: 2, gutter: 8mm, [{PROSE}], [#v(1.7mm) {PROSE}])"
    assert read_paper(paper(columns)).cleaned.skew == pytest.approx(0.0, abs=0.1)


def test_a_sheet_in_a_photo_is_found_and_seen_from_above(paper, read_paper):
    page = paper(PROSE + "\n\n" + PROSE, paper="a4")
    photo = scan_effects.photographed(page, CHANCE(5), lean=0.04)
    evidence = read_paper(photo, guessed=True)
    assert evidence.cleaned.sheet
    assert evidence.height / evidence.width == pytest.approx(297 / 210, rel=0.01)
    assert words_of(evidence) == words_of(read_paper(page))


def test_the_way_back_leads_to_the_place_on_the_page_as_it_came(paper, read_paper):
    skewed = scan_effects.turned(paper(PROSE), 4.0)
    evidence = read_paper(skewed)
    word = evidence.lines[0].words[0]
    matrix = np.array(evidence.cleaned.to_source).reshape(3, 3)
    x, y, w = matrix @ [word.x0 + 3, evidence.lines[0].baseline - 3, 1]
    column, row = round(x / w * 200 / 72), round(y / w * 200 / 72)
    assert skewed[row - 12 : row + 12, column - 12 : column + 12].min() < 90


def test_a_page_that_does_not_lie_flat_is_made_level(paper, read_paper):
    evidence = read_paper(scan_effects.warped(paper(PROSE + "\n\n" + PROSE, paper="a4"), 0.006))
    assert evidence.cleaned.curl
    assert "guide wire on 14 March" in " ".join(words_of(evidence))


def test_a_shadow_is_evened_out(paper, read_paper):
    dark = scan_effects.shadowed(paper(PROSE), CHANCE(1), 0.6)
    grey = cv2.cvtColor(dark, cv2.COLOR_RGB2GRAY)
    even = evened(grey, light_of(grey, 200))
    corners = [even[5:40, 5:40], even[5:40, -40:-5], even[-40:-5, 5:40], even[-40:-5, -40:-5]]
    assert all(abs(float(corner.mean()) - WHITE) < 8 for corner in corners)
    assert words_of(read_paper(dark)) == words_of(read_paper(paper(PROSE)))


def test_faint_print_is_darkened(typeset, read_paper):
    page = scan_effects.printed(scan_effects.drawn(typeset(PROSE), 1, 200), CHANCE(2), ink=168)
    grey = cv2.cvtColor(page, cv2.COLOR_RGB2GRAY)
    even = evened(grey, light_of(grey, 200))
    assert ink_level(darkened(even)) < ink_level(even) - 40
    evidence = read_paper(page)
    assert evidence.cleaned.darkened
    assert words_of(evidence) == PROSE.split()


def test_specks_and_a_dark_border_are_not_read(paper, read_paper):
    page = scan_effects.scanned(paper(PROSE), CHANCE(4), specks=500)
    page[:, :14] = 12
    page[-11:, :] = 20
    evidence = read_paper(page)
    assert evidence.cleaned.specks > 100
    wanted = PROSE.split()
    read = words_of(evidence)
    assert len(set(wanted) - set(read)) <= 2
    assert len(read) <= len(wanted) + 4


def test_each_step_can_be_switched_off(paper, read_paper):
    skewed = scan_effects.turned(paper(PROSE), 1.2)
    evidence = read_paper(
        skewed, Preparation(straighten=False, flatten=False, even_light=False, despeckle=False, languages=("eng",))
    )
    done = evidence.cleaned
    assert (done.skew, done.sheet, done.curl, done.light, done.darkened, done.specks) == (
        0.0,
        False,
        False,
        False,
        False,
        0,
    )


def test_the_clerk_can_say_how_a_page_is_turned(paper, read_paper):
    evidence = read_paper(paper(PROSE), Preparation(turn=180, languages=("eng",)))
    assert evidence.cleaned.turn == 2
    assert "float was found" not in text_of(evidence)


def test_skew_is_not_guessed_from_a_few_letters():
    assert skew_of(np.array([[0.0, 0.0], [50.0, 9.0], [90.0, 3.0]]), 10.0).clear == 0.0


def test_pictures_without_a_resolution_are_taken_for_sheets():
    assert paper_dpi(827, 1169) == pytest.approx(100, rel=0.01)
    assert paper_dpi(1700, 2200) == pytest.approx(200, rel=0.01)
    assert paper_dpi(2338, 1654) == pytest.approx(200, rel=0.01)
