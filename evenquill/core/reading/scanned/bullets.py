"""Bullets before lines of text: discs, squares and rings by their shape; dashes, stars and others by standing alike before several of
them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.text_line import TextLine, line_of

BULLET = "•"
BULLET_REACH = 5.0
"""X-heights between a bullet and its text, at most."""

SMALLEST_BULLET, LARGEST_BULLET = 0.33, 1.6
"""X-heights."""

SMALLEST_REPEATED = 0.14
"""X-heights of a mark that stands before several lines, at least: a raised dot is as small as a full stop."""

BULLET_GAP = 1.2
"""X-heights after a ring from which it is no letter; spaces are narrower."""

SOLID = 0.68
"""Share of its box that a filled disc or square covers; letters cover less."""

LETTER_SIZE, LETTER_MIDDLE, BLURRED = 0.25, 0.12, 0.8
"""X-heights by which a piece may differ in size from a small letter, and in the height of its middle, to be one: bullets of that size stand
higher; the share of its box that a blurred letter covers, at most."""

RING_SIZE = 0.18
"""X-heights by which a ring is larger or smaller than the letter o, at least."""

MARK_GAP = 0.8
"""X-heights behind a mark that stands before several lines, at least; few spaces are as wide."""

HIGHEST_MARK = 1.3
"""X-heights: capitals and figures are higher than marks of lists."""

SAME_PLACE, SAME_SIZE = 0.4, 0.25
"""X-heights by which the middles of marks of one list differ at most, and their sides."""

SAME_SHAPE, SHAPE = 0.7, 12
"""Share of the ink of two marks laid over each other that both have, at least, if they are alike; sides of the grid for it."""

SAME_GAP, SAME_RISE = 0.3, 0.2
"""X-heights by which marks of one list differ at most in their distance from the text behind them, and above its baseline: specks stand
anywhere."""

FLAT = 0.4
"""Height over width of a dash, at most."""

HANGS = 0.45
"""X-heights above the baseline of the foot of a star."""


def _is_bullet(pieces: Pieces, piece: int, line: TextLine, gap: float) -> bool:
    """Whether a piece is a disc, square or ring of the size and at the height of a bullet, ``gap`` pixels before the line."""
    x0, y0, x1, y1 = (float(v) for v in pieces.boxes[piece])
    width, height = x1 - x0, y1 - y0
    size = height / line.x_height
    if not SMALLEST_BULLET < size < LARGEST_BULLET or not 0.75 < width / height < 1.34:
        return False
    middle = (line.baseline((x0 + x1) / 2) - (y0 + y1) / 2) / line.x_height
    filled = float(pieces.areas[piece]) / (width * height)
    if not 0.15 < middle < 0.95:
        return False
    is_apart = gap > BULLET_GAP * line.x_height
    like_letter = abs(size - 1.0) < LETTER_SIZE and abs(middle - 0.5) < LETTER_MIDDLE
    if filled >= (BLURRED if like_letter and not is_apart else SOLID):
        return True
    # A ring, or a disc that was printed badly, could be a letter: only the gap after it tells.
    return is_apart and filled > 0.2 and abs(size - 1.0) > RING_SIZE


def bullet_parted(pieces: Pieces, line: TextLine) -> list[TextLine]:
    """A line whose first piece is a bullet, cut after it."""
    if line.sign or len(line.pieces) < 3:
        return [line]
    boxes = pieces.boxes
    order = line.pieces[np.argsort(boxes[line.pieces, 0], kind="stable")]
    first, rest = order[:1], order[1:]
    gap = float(boxes[rest, 0].min() - boxes[first[0], 2])
    if gap < 0.4 * line.x_height or not _is_bullet(pieces, int(first[0]), line, gap):
        return [line]
    return [_signed(boxes, int(first[0]), line), line_of(boxes, rest)]


def repeated_parted(pieces: Pieces, lines: Sequence[TextLine]) -> list[TextLine]:
    """The lines, those cut behind their first piece that begin with one mark at one place, and whose text begins at one place behind it."""
    boxes = pieces.boxes
    marks: dict[int, _Mark] = {}
    for n, line in enumerate(lines):
        if line.sign or len(line.pieces) < 3:
            continue
        order = line.pieces[np.argsort(boxes[line.pieces, 0], kind="stable")]
        rest = line_of(boxes, order[1:])
        if rest.x0 - boxes[order[0], 2] > MARK_GAP * line.x_height and _may_be_mark(boxes[order[0]], rest):
            marks[n] = _Mark(int(order[0]), rest)
    out: list[TextLine] = []
    for n, line in enumerate(lines):
        mark = marks.get(n)
        if mark is not None and any(
            other is not mark
            and abs(other.line.x0 - mark.line.x0) < SAME_PLACE * line.x_height
            and _are_alike(pieces, mark, other)
            for other in marks.values()
        ):
            out += [_signed_as_seen(boxes, mark), mark.line]
        else:
            out.append(line)
    return out


def bullets_beside(pieces: Pieces, left_over: Sequence[int], lines: Sequence[TextLine]) -> list[TextLine]:
    """Bullets that stand too far from their line to be reached by its letters: what has the shape of one, and what stands before several
    lines in the same shape and place."""
    found: list[TextLine] = []
    marks: list[_Mark] = []
    with_letters = [line for line in lines if not line.sign]
    starts = np.array([line.x0 for line in with_letters], np.float64)
    ends = np.array([line.x1 for line in with_letters], np.float64)
    reaches = BULLET_REACH * np.array([line.x_height for line in with_letters], np.float64)
    tops, bottoms = (np.array([getattr(line, side) for line in with_letters]) for side in ("y0", "y1"))
    for piece in left_over:
        x0, y0, x1, y1 = (float(value) for value in pieces.boxes[piece])
        level = (bottoms + reaches > y0) & (tops - reaches < y1)
        near = level & (starts > x1) & (starts - x1 < reaches)
        beside = [with_letters[n] for n in np.flatnonzero(near)]
        by_shape = [line for line in beside if _is_bullet(pieces, piece, line, line.x0 - x1)]
        if by_shape:
            found.append(_signed(pieces.boxes, piece, min(by_shape, key=lambda line: line.x0)))
            continue
        at_height = [line for line in beside if _may_be_mark(pieces.boxes[piece], line)]
        if at_height:
            line = min(at_height, key=lambda line: line.x0)
            before = (tops < y1) & (bottoms > y0) & (ends <= x0) & (x0 - ends < line.x0 - x1)
            if not before.any():
                marks.append(_Mark(piece, line))
    return [*found, *_repeated(pieces, marks)]


class _Mark(NamedTuple):
    """A piece of ink alone before a line."""

    piece: int
    line: TextLine

    def place(self, boxes: NDArray[np.int32]) -> tuple[float, float]:
        """How far before the text, and how far above its baseline, the middle is, in pixels."""
        x0, y0, x1, y1 = (float(v) for v in boxes[self.piece])
        x, y = (x0 + x1) / 2, (y0 + y1) / 2
        return self.line.x0 - x, self.line.baseline(x) - y


def _may_be_mark(box: NDArray[np.int32], line: TextLine) -> bool:
    """Whether a piece is as large as marks are and stands as high as they do; figures and capitals are higher."""
    x0, y0, x1, y1 = (float(v) for v in box)
    width, height = (x1 - x0) / line.x_height, (y1 - y0) / line.x_height
    middle = (line.baseline((x0 + x1) / 2) - (y0 + y1) / 2) / line.x_height
    return (
        max(width, height) > SMALLEST_REPEATED
        and width < LARGEST_BULLET
        and height < HIGHEST_MARK
        and 0.1 < middle < 1.5
        and line.x0 - x1 > MARK_GAP * line.x_height
    )


def _repeated(pieces: Pieces, marks: Sequence[_Mark]) -> list[TextLine]:
    """The marks that stand before several lines at one place and have one shape."""
    found = []
    for mark in marks:
        same = [other for other in marks if other is not mark and _are_alike(pieces, mark, other)]
        if same:
            found.append(_signed_as_seen(pieces.boxes, mark))
    return found


def _signed_as_seen(boxes: NDArray[np.int32], mark: _Mark) -> TextLine:
    return _signed(boxes, mark.piece, mark.line)._replace(sign=_sign_of(boxes[mark.piece], mark.line))


def _are_alike(pieces: Pieces, one: _Mark, other: _Mark) -> bool:
    boxes = pieces.boxes[[one.piece, other.piece]].astype(np.float64)
    size = one.line.x_height
    middles = boxes[:, [0, 1]] + boxes[:, [2, 3]]
    sides = boxes[:, [2, 3]] - boxes[:, [0, 1]]
    if (
        abs(middles[0, 0] - middles[1, 0]) > SAME_PLACE * 2 * size
        or np.abs(sides[0] - sides[1]).max() > SAME_SIZE * size
    ):
        return False
    (gap, rise), (other_gap, other_rise) = (mark.place(pieces.boxes) for mark in (one, other))
    if abs(gap - other_gap) > SAME_GAP * size or abs(rise - other_rise) > SAME_RISE * size:
        return False
    shapes = [_shape(pieces, mark.piece) for mark in (one, other)]
    both, either = np.minimum(*shapes).sum(), np.maximum(*shapes).sum()
    return bool(both > SAME_SHAPE * either)


def _shape(pieces: Pieces, piece: int) -> NDArray[np.float32]:
    """How dark each part of a piece is, in a grid of one size."""
    x0, y0, x1, y1 = (int(v) for v in pieces.boxes[piece])
    ink = pieces.mask_of(np.array([piece], np.int64), x0, y0, x1, y1).astype(np.float32)
    return np.asarray(cv2.resize(ink, (SHAPE, SHAPE), interpolation=cv2.INTER_AREA), np.float32)


def _sign_of(box: NDArray[np.int32], line: TextLine) -> str:
    """What a mark of no known shape is called: a dash, a star that hangs, or a bullet."""
    x0, y0, x1, y1 = (float(v) for v in box)
    if max(x1 - x0, y1 - y0) < SMALLEST_BULLET * line.x_height:
        return BULLET
    if y1 - y0 < FLAT * (x1 - x0):
        return "–"
    above = (line.baseline((x0 + x1) / 2) - y1) / line.x_height
    return "*" if above > HANGS else BULLET


def _signed(boxes: NDArray[np.int32], piece: int, line: TextLine) -> TextLine:
    x0, y0, x1, y1 = (int(v) for v in boxes[piece])
    return TextLine(np.array([piece], np.int64), x0, y0, x1, y1, line.a, line.b, line.x_height, BULLET)
