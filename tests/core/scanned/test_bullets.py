"""Which pieces of ink before lines are bullets, and which are specks and letters."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from evenquill.core.reading.scanned.ink import pieces_of
from evenquill.core.reading.scanned.text_line import TextLine
from evenquill.core.reading.scanned.textlines import text_lines

X_HEIGHT, LEFT, STEP = 12, 100, 40

Mark = tuple[int, int, int] | tuple[int, int, int, int]


def lines_of(
    marks: dict[int, Mark], first_letter: int = 0, set_in: int = 0, more: Sequence[Mark] = ()
) -> list[TextLine]:
    """Six lines of letters with what stands before them: marks by the number of their line, each with the pixels from its right to the
    text, from its foot to the baseline, and its height (and its width if another). The first letter may be a blot that stands this far
    before the next one. Lines with marks are ``set_in`` by some pixels, and have ``more`` of them."""
    ink = np.zeros((7 * STEP, 600), np.uint8)
    for line in range(6):
        base = (line + 1) * STEP
        left = LEFT + (set_in if line in marks else 0)
        for letter in range(30):
            x = left + letter * 13
            ink[base - X_HEIGHT : base, x : x + 3] = ink[base - X_HEIGHT : base, x + 6 : x + 9] = 1
            ink[base - X_HEIGHT : base - X_HEIGHT + 3, x : x + 9] = 1
        for mark in (marks[line], *more) if line in marks else ():
            gap, foot, side, wide = (*mark, mark[2])[:4]
            ink[base - foot - side : base - foot, left - gap - wide : left - gap] = 1
        if first_letter and line == 3:
            x = LEFT - first_letter - X_HEIGHT
            ink[base - X_HEIGHT : base, x : x + X_HEIGHT - 1] = 1
            ink[base - X_HEIGHT : base - X_HEIGHT + 4, x + 4 : x + X_HEIGHT - 1] = 0  # a quarter of it is white
    pieces = pieces_of(ink)
    usable = np.ones(len(pieces.boxes), np.bool_)
    return text_lines(pieces, usable, float(X_HEIGHT))


def signs(marks: dict[int, Mark], first_letter: int = 0) -> list[str]:
    return [line.sign for line in lines_of(marks, first_letter) if line.sign]


def test_marks_that_stand_alike_before_their_lines_are_bullets():
    assert signs({1: (16, 5, 3), 2: (16, 5, 3), 4: (16, 5, 3)}) == ["•"] * 3


def test_specks_before_lines_are_no_bullets_for_being_alike():
    assert signs({1: (30, 4, 3), 4: (30, 4, 3)}) == ["•"] * 2
    assert signs({1: (30, 4, 3), 4: (30, 9, 3)}) == []


def test_a_letter_that_is_a_blot_is_no_bullet_but_what_stands_apart_is():
    assert signs({}, first_letter=7) == []
    assert signs({}, first_letter=20) == ["•"]


def test_dirt_alone_is_no_bullet_but_a_disc_is():
    assert signs({2: (30, 4, 5)}) == []
    assert signs({2: (30, 4, 6)}) == ["•"]


def test_a_word_of_one_letter_that_begins_where_the_lines_around_it_do_is_no_bullet():
    letter = (16, 0, X_HEIGHT)
    read = lines_of({2: letter}, set_in=16 + X_HEIGHT)
    assert [line.sign for line in read] == [""] * 6
    assert {line.x0 for line in read} == {LEFT}
    # A list whose items are set in: the lines around its marks begin where the text does, or are marked too.
    assert [line.sign for line in lines_of({2: letter}) if line.sign] == ["•"]
    assert len([line for line in lines_of({1: letter, 2: letter, 3: letter}, set_in=16 + X_HEIGHT) if line.sign]) == 3


def test_an_i_with_its_dot_and_point_is_a_mark_to_be_read():
    letter, dot, point = (40, 0, 10, 3), (40, 12, 3, 3), (34, 0, 3, 3)
    found = lines_of({1: letter, 4: letter}, more=(dot, point))
    assert [line.sign for line in found] == [""] * 8
    assert sorted(len(line.pieces) for line in found) == [3, 3, *[30] * 6]
    # A stroke alone is none.
    assert all(len(line.pieces) == 30 or line.sign for line in lines_of({1: letter, 4: letter}))


def test_dashes_before_lines_are_marks_alone_or_of_unlike_thickness():
    assert signs({2: (30, 5, 3, 14)}) == ["–"]
    assert signs({2: (30, 5, 3, 14), 3: (30, 5, 4, 14)}) == ["–"] * 2
    assert signs({2: (30, 0, 3, 14)}) == []  # on the baseline it is dirt, or the end of a rule
    assert signs({2: (30, 5, 3, 5)}) == []
