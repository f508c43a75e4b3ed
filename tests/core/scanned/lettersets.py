"""Lines of letters as boxes, for the steps that work on places alone: ink without a picture."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.text_line import TextLine
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol

X_HEIGHT = 20.0
BASELINE = 100

Boxed = tuple[str, float, float, float, float]
"""A character, its left and right end, and its top and foot in x-heights above the baseline."""

WIDTHS = {
    "i": 0.35,
    "l": 0.35,
    "f": 0.5,
    "t": 0.5,
    "r": 0.55,
    "I": 0.45,
    "1": 0.5,
    ".": 0.3,
    ",": 0.3,
    "’": 0.3,
    "m": 1.6,
    "w": 1.5,
    "W": 1.8,
}
TALL = frozenset("bdfhkltABCDEFGHIKLMNOPRSTUVWXYZ0123456789")


def pieces_of_boxes(boxes: Sequence[Sequence[float]]) -> Pieces:
    """Pieces of ink known by their boxes (left, top, right, bottom) alone."""
    whole = np.array(boxes, np.int32).reshape(-1, 4)
    areas = (whole[:, 2] - whole[:, 0]) * (whole[:, 3] - whole[:, 1])
    return Pieces(np.zeros((1, 1), np.int32), whole, areas.astype(np.int32))


def letters(text: str, *, gap: float = 0.15, space: float = 0.6, start: float = 10.0) -> list[Boxed]:
    """The characters of a text as they would stand on a line; gaps in x-heights."""
    out: list[Boxed] = []
    x = start
    for character in text:
        if character == " ":
            x += (space - gap) * X_HEIGHT
            continue
        width = WIDTHS.get(character, 1.0) * X_HEIGHT
        top = 0.25 if character in ".," else 1.45 if character in TALL else 1.0
        foot = -0.2 if character == "," else 0.0
        out.append((character, x, x + width, top, foot))
        x += width + gap * X_HEIGHT
    return out


def boxes_of(boxed: Sequence[Boxed]) -> list[tuple[float, float, float, float]]:
    return [(x0, BASELINE - top * X_HEIGHT, x1, BASELINE - foot * X_HEIGHT) for _, x0, x1, top, foot in boxed]


def text_line(pieces: Pieces, x_height: float = X_HEIGHT) -> TextLine:
    """A level line of all the pieces."""
    x0, y0 = (int(value) for value in pieces.boxes[:, :2].min(axis=0))
    x1, y1 = (int(value) for value in pieces.boxes[:, 2:].max(axis=0))
    return TextLine(np.arange(len(pieces.areas)), x0, y0, x1, y1, float(BASELINE), 0.0, x_height)


def read_as(text: str, boxed: Sequence[Boxed], *, confidence: float = 0.95) -> tuple[ReadWord, ...]:
    """Words of a text whose characters stand on boxes, one on each."""
    places = iter(boxed)
    return tuple(
        ReadWord(tuple(Symbol(c, (at := next(places))[1], at[2], confidence) for c in word), confidence)
        for word in text.split()
    )


def line_read(text: str, boxed: Sequence[Boxed] | None = None, **wanted: float) -> tuple[ReadLine, Pieces]:
    """A line on its own ink, read as ``text``; without boxes, as it would stand."""
    boxed = boxed if boxed is not None else letters(text)
    pieces = pieces_of_boxes(boxes_of(boxed))
    return ReadLine(text_line(pieces), read_as(text, boxed, **wanted)), pieces
