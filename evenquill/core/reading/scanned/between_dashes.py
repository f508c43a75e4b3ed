"""Numbers between dashes, as pages have them: the dashes are known by their shape, and the recogniser makes little of them."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.text_line import TextLine
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol

MOST_PIECES = 7
"""Pieces of ink of two dashes and what is between them, at most."""

FLAT, THIN, LONGEST = 1.3, 0.35, 2.2
"""Width of a dash over its height, at least; its height and its width in x-heights, at most."""

LOWEST, HIGHEST = 0.2, 1.1
"""X-heights above the baseline between which the middle of a dash is."""

APART = 0.2
"""X-heights between a dash and what it stands beside, at least."""

SURE = 0.97
"""Confidence in a dash that is known by its shape."""


class BetweenDashes(NamedTuple):
    """The line between two dashes, and the boxes of these, in pixels."""

    line: TextLine
    left: NDArray[np.int32]
    right: NDArray[np.int32]


def between_dashes(line: TextLine, pieces: Pieces) -> BetweenDashes | None:
    """What stands between two dashes in a line that is nothing else; None for any other."""
    if not 3 <= len(line.pieces) <= MOST_PIECES:
        return None
    order = line.pieces[np.argsort(pieces.boxes[line.pieces, 0], kind="stable")]
    left, right = pieces.boxes[order[0]], pieces.boxes[order[-1]]
    inner = pieces.boxes[order[1:-1]]
    size = float(np.max(inner[:, 3] - inner[:, 1])) * 0.7  # of figures, or of capitals
    foot = float(np.max(inner[:, 3]))
    if not all(_is_dash(box, foot, size) for box in (left, right)):
        return None
    x0, y0 = (int(value) for value in inner[:, :2].min(axis=0))
    x1, y1 = (int(value) for value in inner[:, 2:].max(axis=0))
    if min(x0 - int(left[2]), int(right[0]) - x1) < APART * size:
        return None
    own = TextLine(order[1:-1], x0, y0, x1, y1, foot, 0.0, size)
    return BetweenDashes(own, left, right)


def _is_dash(box: NDArray[np.int32], foot: float, size: float) -> bool:
    width, height = float(box[2] - box[0]), float(box[3] - box[1])
    rise = (foot - float(box[1] + box[3]) / 2) / size
    return width >= FLAT * height and height <= THIN * size and width <= LONGEST * size and LOWEST < rise < HIGHEST


def with_dashes(line: TextLine, found: BetweenDashes, inner: ReadLine) -> ReadLine:
    """The whole ``line``, of which what is between its dashes was read."""

    def dash(box: NDArray[np.int32]) -> ReadWord:
        return ReadWord((Symbol("–", float(box[0]), float(box[2]), SURE),), SURE)

    return ReadLine(line, (dash(found.left), *inner.words, dash(found.right)))
