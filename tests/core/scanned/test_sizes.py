"""Sizes of type measured from a picture."""

from __future__ import annotations

import numpy as np
import pytest
import scan_effects
from sheets import PROSE

from evenquill.core.model import Family
from evenquill.core.reading.scanned.sizes import SHARES, Heights, Ratios, size_of, sizes_of

SMALL, TALL = (share * 10 for share in SHARES[Family.SERIF])


def test_a_line_that_shows_only_one_height_is_as_large_as_its_like():
    tall, figures = 1.1 * TALL, 0.8 * TALL
    heights = [Heights(SMALL, tall, figures), Heights(SMALL, 0.0), Heights(0.0, tall), Heights(0.0, 0.0, figures)]
    assert sizes_of(heights, [0.0] * 4, [Family.SERIF] * 4, [30] * 4, 200) == [10.5] * 4


def test_typewriting_is_as_wide_as_it_is_and_its_short_lines_as_large_as_the_others():
    # Letters as high as those of 12 points and as wide as those of 10.
    heights = [Heights(*(1.2 * 10 * share for share in SHARES[Family.MONO]))] * 2
    assert sizes_of(heights, [6 * 300 / 72, 0.0], [Family.MONO] * 2, [40, 2], 300) == [10.0, 10.0]


@pytest.mark.parametrize("family", Family)
def test_the_size_is_that_of_the_face_that_is_taken_for_it(family):
    small, tall = SHARES[family]
    assert size_of(Heights(small * 10, tall * 10), family) == pytest.approx(10)
    assert size_of(Heights(small * 10, 0.0), family, Ratios(small / tall)) == pytest.approx(10)


@pytest.mark.parametrize(("dpi", "blur"), [(150, 0.6), (150, 1.2), (300, 1.5)])
def test_blurred_letters_are_no_larger(paper, read_paper, dpi, blur):
    source = f'#set text(font: "Liberation Serif", size: 11pt)\n{PROSE}'
    page = scan_effects.scanned(paper(source, dpi=dpi), np.random.default_rng(4), blur=blur)
    evidence = read_paper(page, dpi=dpi)
    assert float(np.median([line.size for line in evidence.lines])) == pytest.approx(11, abs=0.5)
