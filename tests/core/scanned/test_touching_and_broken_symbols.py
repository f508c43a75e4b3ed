"""Symbols of formulas whose ink hangs together with that of others, or has come apart."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from evenquill.core.reading.scanned.formulas.faint_strokes import faintest, joined_by_faint_stroke
from evenquill.core.reading.scanned.formulas.grouping import symbols_among
from evenquill.core.reading.scanned.formulas.seen_symbols import InkPart, recognised
from evenquill.core.reading.scanned.formulas.symbols import card
from evenquill.core.reading.scanned.formulas.touching_symbols import with_touching_parted
from evenquill.core.reading.scanned.ink import Pieces, pieces_of
from evenquill.core.reading.scanned.raster import Pixels

X_HEIGHT = 20.0
WORD = """
#set page(height: 40pt, width: 120pt, margin: 8pt)
#set text(font: "New Computer Modern", size: 11pt)
"""


@pytest.fixture
def ink_of_source(paper):
    """The evenly lit picture of a line of Typst source at 300 dots an inch, and its pieces of ink."""

    def draw(source: str) -> tuple[Pixels, Pieces]:
        grey = cv2.cvtColor(paper(WORD + source, dpi=300), cv2.COLOR_RGB2GRAY)
        return grey, pieces_of((grey < 150).astype(np.uint8))

    return draw


def texts(symbols) -> list[str]:
    return [card().classes[one.best].text for one in sorted(symbols, key=lambda one: one.box.x0)]


@pytest.mark.parametrize("word", ["max", "exp"])
def test_letters_that_touch_are_parted_however_many_there_are(ink_of_source, word):
    even, pieces = ink_of_source(f"#text(tracking: -1.1pt)[{word}]")
    whole = recognised(pieces, [InkPart((n,), pieces.box(n)) for n in range(len(pieces.areas))], even)
    assert len([one for one in whole if one.box.height > 0.6 * X_HEIGHT]) < len(word)
    found = symbols_among(pieces, range(len(pieces.areas)), even, X_HEIGHT, whole=True).symbols
    assert texts(found) == list(word)


def test_a_letter_that_is_one_is_not_cut(ink_of_source):
    even, pieces = ink_of_source("m")
    one = recognised(pieces, [InkPart((0,), pieces.box(0))], even)
    assert with_touching_parted(pieces, one, even, X_HEIGHT, whole=True) == one


def test_a_stroke_too_faint_for_ink_joins_the_parts_of_a_letter(ink_of_source):
    even, pieces = ink_of_source("$h$")
    assert len(pieces.areas) == 1
    x0, y0, x1, y1 = (int(value) for value in pieces.boxes[0])
    middle = even[y0:y1, (x0 + x1) // 2 - 1 : (x0 + x1) // 2 + 2]
    middle[middle < 200] = 200
    broken = pieces_of((even < 150).astype(np.uint8))
    assert len(broken.areas) == 2
    assert texts(symbols_among(broken, range(2), even, X_HEIGHT, whole=True).symbols) == ["h"]
    middle[:] = 250  # nothing is left of the stroke
    assert texts(symbols_among(broken, range(2), even, X_HEIGHT, whole=True).symbols) != ["h"]


def test_nothing_joins_what_has_only_paper_between(ink_of_source):
    even, pieces = ink_of_source("$n thin n$")
    assert len(pieces.areas) == 2
    boxes = [pieces.box(n) for n in range(2)]
    around = boxes[0]._replace(
        x0=min(box.x0 for box in boxes), x1=max(box.x1 for box in boxes), y0=boxes[0].y0, y1=boxes[0].y1
    )
    assert joined_by_faint_stroke(pieces, (0,), (1,), around, even, faintest(even)) is None
    line = even.copy()
    row = int(boxes[0].center_y)
    line[row : row + 2, int(around.x0) : int(around.x1)] = np.minimum(
        line[row : row + 2, int(around.x0) : int(around.x1)], 205
    )
    ink = joined_by_faint_stroke(pieces, (0,), (1,), around, line, faintest(line))
    assert ink is not None
    assert cv2.connectedComponents(ink, connectivity=8)[0] == 2
