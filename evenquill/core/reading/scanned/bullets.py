"""Bullets before lines of text: discs, squares, rings and arrows by their shape; dashes, stars and others by standing alike before several
of them."""

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

BETWEEN_WORDS = 1.6
"""The gap before what looks like a letter over the gap behind it, up to which it is a word of one letter in a line with wide spaces."""

RING_SIZE = 0.18
"""X-heights by which a ring is larger or smaller than the letter o, at least."""

MARK_GAP = 0.8
"""X-heights behind a mark that stands before several lines, at least; few spaces are as wide."""

ARROW, ARROW_HIGH, ARROW_GAP = (0.8, 2.6), (0.5, 1.3), 0.3
"""X-heights that an arrow is long, and high, and that are behind it, at least."""

SHAFT, HEAD = 0.45, 0.8
"""Share of an arrow's height that its left half takes, at most, and its right one, at least."""

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

DASH, DASH_MIDDLE, DASH_FLAT, DASH_FILLED = (0.5, 2.4), (0.3, 0.75), 0.34, 0.6
"""X-heights that a dash alone before a line is long, and that its middle is above the baseline; its height over its width, at most; and the
share of its box that it covers, at least."""

SMALLEST_ALONE = 0.42
"""X-heights of a bullet that no other stands above or below, at least: dirt is smaller, and nowhere twice."""

LETTER_HEIGHTS = (0.7, 1.7)
"""X-heights of what may be the first letter of a line, and a word."""

BEGINS, NEXT_LINE = 0.5, 4.0
"""X-heights within which two lines begin at one place; and from a line to the one above or below it, at most."""

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
    if filled >= (BLURRED if not is_apart and _is_like_letter(pieces.boxes[piece], line) else SOLID):
        return True
    # A ring, or a disc that was printed badly, could be a letter: only the gap after it tells.
    return is_apart and filled > 0.2 and abs(size - 1.0) > RING_SIZE


def _is_arrow(pieces: Pieces, piece: int, line: TextLine, gap: float) -> bool:
    """Whether a piece is an arrow to the right of the size and at the height of a bullet, ``gap`` pixels before the line."""
    x0, y0, x1, y1 = (int(v) for v in pieces.boxes[piece])
    middle = (line.baseline((x0 + x1) / 2) - (y0 + y1) / 2) / line.x_height
    if not (
        ARROW[0] < (x1 - x0) / line.x_height < ARROW[1]
        and ARROW_HIGH[0] < (y1 - y0) / line.x_height < ARROW_HIGH[1]
        and 0.15 < middle < 0.95
        and gap > ARROW_GAP * line.x_height
    ):
        return False
    ink = pieces.mask_of(np.array([piece], np.int64), x0, y0, x1, y1) > 0
    left, right = (np.flatnonzero(half.any(axis=1)) for half in np.array_split(ink, 2, axis=1))
    return bool(np.ptp(left) < SHAFT * (y1 - y0) and np.ptp(right) + 1 > HEAD * (y1 - y0))


def _is_like_letter(box: NDArray[np.int32], line: TextLine) -> bool:
    """Whether a piece is as high as small letters of the line, and stands as they do."""
    x0, y0, x1, y1 = (float(v) for v in box)
    middle = (line.baseline((x0 + x1) / 2) - (y0 + y1) / 2) / line.x_height
    return abs((y1 - y0) / line.x_height - 1.0) < LETTER_SIZE and abs(middle - 0.5) < LETTER_MIDDLE


def _is_dash(pieces: Pieces, piece: int, line: TextLine) -> bool:
    """Whether a piece is a dash before the line: flat and straight, as long and as high up as dashes of its size; dirt hardly ever is."""
    x0, y0, x1, y1 = (float(v) for v in pieces.boxes[piece])
    width, height = x1 - x0, y1 - y0
    middle = (line.baseline((x0 + x1) / 2) - (y0 + y1) / 2) / line.x_height
    return (
        DASH[0] * line.x_height < width < DASH[1] * line.x_height
        and height < DASH_FLAT * width
        and float(pieces.areas[piece]) > DASH_FILLED * width * height
        and DASH_MIDDLE[0] < middle < DASH_MIDDLE[1]
        and line.x0 - x1 > MARK_GAP * line.x_height
    )


def bullet_parted(pieces: Pieces, line: TextLine) -> list[TextLine]:
    """A line whose first piece is a bullet, cut after it."""
    if line.sign or len(line.pieces) < 3:
        return [line]
    boxes = pieces.boxes
    order = line.pieces[np.argsort(boxes[line.pieces, 0], kind="stable")]
    first, rest = order[:1], order[1:]
    gap = float(boxes[rest, 0].min() - boxes[first[0], 2])
    is_bullet = gap >= 0.4 * line.x_height and _is_bullet(pieces, int(first[0]), line, gap)
    if not is_bullet and not _is_arrow(pieces, int(first[0]), line, gap):
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
        level_before = (tops < y1) & (bottoms > y0) & (ends <= x0)
        gap_before = float((x0 - ends[level_before]).min(initial=np.inf))
        by_shape = [
            line
            for line in beside
            if _is_arrow(pieces, piece, line, line.x0 - x1)
            or (
                _is_bullet(pieces, piece, line, line.x0 - x1)
                and not (gap_before < BETWEEN_WORDS * (line.x0 - x1) and _is_like_letter(pieces.boxes[piece], line))
            )
        ]
        if by_shape:
            found.append(_signed(pieces.boxes, piece, min(by_shape, key=lambda line: line.x0)))
            continue
        dashed = [line for line in beside if _is_dash(pieces, piece, line)]
        if dashed:
            found.append(_signed_as_seen(pieces.boxes, _Mark(piece, min(dashed, key=lambda line: line.x0))))
            continue
        at_height = [line for line in beside if _may_be_mark(pieces.boxes[piece], line)]
        if at_height:
            line = min(at_height, key=lambda line: line.x0)
            if gap_before >= line.x0 - x1:
                marks.append(_Mark(piece, line))
    return [*found, *_repeated(pieces, marks)]


def told_by_lines(pieces: Pieces, lines: Sequence[TextLine]) -> list[TextLine]:
    """The lines without what only looks like a bullet: dirt, which is small and alone; and a first word of one letter, which begins where
    the lines above and below do, while no line without a bullet begins where the next word does."""
    texts = [line for line in lines if not line.sign]
    bullets = [line for line in lines if line.sign == BULLET]
    beside = [_text_beside(bullet, texts) for bullet in bullets]
    of_bullets = {id(text) for text in beside if text is not None}
    by_itself = [line for line in texts if id(line) not in of_bullets]
    starts = np.array([line.x0 for line in by_itself], np.float64)
    feet = np.array([line.y1 for line in by_itself], np.float64)
    gone: set[int] = set()
    joined: list[TextLine] = []
    for bullet, text in zip(bullets, beside, strict=True):
        size = bullet.x_height
        width, height = (bullet.x1 - bullet.x0) / size, (bullet.y1 - bullet.y0) / size
        alone = not any(other is not bullet and abs(other.x0 - bullet.x0) < SAME_PLACE * size for other in bullets)
        if alone and max(width, height) < SMALLEST_ALONE:
            gone.add(id(bullet))
        elif text is not None and id(text) not in gone and LETTER_HEIGHTS[0] < height < LETTER_HEIGHTS[1]:
            off = feet - text.y1
            here = (np.abs(starts - bullet.x0) < BEGINS * size) & (np.abs(off) < NEXT_LINE * size)
            there = np.abs(starts - text.x0) < BEGINS * size
            if (off[here] < 0).any() and (off[here] > 0).any() and not there.any():
                gone |= {id(bullet), id(text)}
                joined.append(line_of(pieces.boxes, np.concatenate([bullet.pieces, text.pieces])))
    return [*(line for line in lines if id(line) not in gone), *joined]


def _text_beside(bullet: TextLine, texts: Sequence[TextLine]) -> TextLine | None:
    """The text that a bullet stands before."""
    middle = (bullet.y0 + bullet.y1) / 2
    beside = [line for line in texts if line.x0 >= bullet.x1 and line.y0 < middle < line.y1]
    return min(beside, key=lambda line: line.x0, default=None)


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
    if (sides[:, 1] < FLAT * sides[:, 0]).all():
        return True  # of a dash three pixels thick one more changes most of its shape
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
