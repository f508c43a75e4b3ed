"""Which pieces of ink before lines are bullets, and which are specks and letters."""

from __future__ import annotations

import numpy as np

from evenquill.core.reading.scanned.ink import pieces_of
from evenquill.core.reading.scanned.textlines import text_lines

X_HEIGHT, LEFT, STEP = 12, 100, 40


def signs(marks: dict[int, tuple[int, int, int]], first_letter: int = 0) -> list[str]:
    """What stands before six lines of letters: marks by the number of their line, each with the pixels from its right to the text, from
    its foot to the baseline, and the length of its sides. The first letter may be a blot that stands this far before the next one."""
    ink = np.zeros((7 * STEP, 600), np.uint8)
    for line in range(6):
        base = (line + 1) * STEP
        for letter in range(30):
            x = LEFT + letter * 13
            ink[base - X_HEIGHT : base, x : x + 3] = ink[base - X_HEIGHT : base, x + 6 : x + 9] = 1
            ink[base - X_HEIGHT : base - X_HEIGHT + 3, x : x + 9] = 1
        if line in marks:
            gap, foot, side = marks[line]
            ink[base - foot - side : base - foot, LEFT - gap - side : LEFT - gap] = 1
        if first_letter and line == 3:
            x = LEFT - first_letter - X_HEIGHT
            ink[base - X_HEIGHT : base, x : x + X_HEIGHT - 1] = 1
            ink[base - X_HEIGHT : base - X_HEIGHT + 4, x + 4 : x + X_HEIGHT - 1] = 0  # a quarter of it is white
    pieces = pieces_of(ink)
    usable = np.ones(len(pieces.boxes), np.bool_)
    return [line.sign for line in text_lines(pieces, usable, float(X_HEIGHT)) if line.sign]


def test_marks_that_stand_alike_before_their_lines_are_bullets():
    assert signs({1: (16, 5, 3), 2: (16, 5, 3), 4: (16, 5, 3)}) == ["•"] * 3


def test_specks_before_lines_are_no_bullets_for_being_alike():
    assert signs({1: (30, 4, 3), 4: (30, 4, 3)}) == ["•"] * 2
    assert signs({1: (30, 4, 3), 4: (30, 9, 3)}) == []


def test_a_letter_that_is_a_blot_is_no_bullet_but_what_stands_apart_is():
    assert signs({}, first_letter=7) == []
    assert signs({}, first_letter=20) == ["•"]
