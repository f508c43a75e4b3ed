"""Lines of a scan that touch one another are two lines."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.ink import pieces_of
from evenquill.core.reading.scanned.textlines import text_lines
from evenquill.core.reading.scanned.touching_lines import lines_parted

X_HEIGHT, STEP, TOP = 10, 20, 40


def lines_of_letters(count: int) -> NDArray[np.uint8]:
    """Lines of letters of X_HEIGHT, each STEP pixels below the other, the first one standing on TOP."""
    ink = np.zeros((TOP + count * STEP, 500), np.uint8)
    for line in range(count):
        base = TOP + line * STEP
        for letter in range(30):
            x = 60 + letter * 13
            ink[base - X_HEIGHT : base, x : x + 3] = ink[base - X_HEIGHT : base, x + 6 : x + 9] = 1
            ink[base - X_HEIGHT : base - X_HEIGHT + 3, x : x + 9] = 1
    return ink


def lines_in(ink: NDArray[np.uint8]) -> list[int]:
    """How many pieces each line has."""
    pieces = pieces_of(ink)
    usable = np.asarray(pieces.heights < 8 * X_HEIGHT)
    return [len(line.pieces) for line in text_lines(pieces, usable, float(X_HEIGHT))]


def test_a_foot_that_touches_the_head_below_is_cut_from_it():
    ink = lines_of_letters(3)
    ink[TOP : TOP + STEP - X_HEIGHT, 60 + 13 * 7] = 1  # between the first two lines
    ink[TOP + STEP : TOP + 2 * STEP - X_HEIGHT, 60 + 13 * 20 : 64 + 13 * 20] = 1
    ink[TOP + STEP + 4, 60 + 13 * 20 + 1 : 64 + 13 * 20] = 0  # and the other two, hanging by a hair
    pieces = pieces_of(ink)
    assert lines_in(ink) != [30, 30, 30]
    parted = lines_parted(ink, pieces, float(X_HEIGHT))
    assert parted is not None
    assert lines_in(parted) == [30, 30, 30]
    lost = np.argwhere(ink != parted)
    assert len(lost) == 2
    assert [TOP + STEP + 4, 60 + 13 * 20] in lost.tolist()


def test_large_letters_beside_lines_and_lines_apart_are_left_whole():
    ink = lines_of_letters(3)
    assert lines_parted(ink, pieces_of(ink), float(X_HEIGHT)) is None
    ink[TOP - X_HEIGHT : TOP + STEP, 5:25] = (
        1  # as a drop cap stands: two lines high, further from them than a word is from the next
    )
    assert lines_parted(ink, pieces_of(ink), float(X_HEIGHT)) is None
