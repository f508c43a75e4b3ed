"""Points and colons that the recogniser overlooked: between two digits a dot on the baseline is a point, and one that was read as a letter,
two dots over each other are a colon; behind a word a dot may be a point, or dirt.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.model.decimals import GROUP, decimal_sign
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.raster import Pixels
from evenquill.core.reading.scanned.text_line import TextLine
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol

LARGEST = 0.42
"""X-heights: what is larger in either direction is no point."""

ON_BASE = 0.3
"""X-heights by which the middle of a point may be off the baseline."""

UPPER = 0.4, 1.2
"""X-heights above the baseline between which the middle of the upper dot of a colon is."""

ROOM = 0.25, 0.85
"""X-heights between two figures that have a point or a colon between them; others stand closer, words further apart."""

UPPER_DOT, BETWEEN, TALLEST = (0.55, 1.15), (0.38, 0.55), 1.6
"""X-heights above the baseline where the upper dot of a colon is darkest, where it is bright between both, and up to which figures
reach."""

FAINTEST, CLEAR, LIKE = 0.3, 0.6, 0.65
"""Darkness of a dot between paper (0) and the ink beside it (1), at least; share of it that what is around the dot has, at most; and
that the other dot of a colon has, at least."""

NARROW = 3
"""Pixels of a gap in which a dot reaches from end to end."""

FIGURES = "0123456789"
"""The digits of numbers."""

OTHER = {".": ",", ",": "."}
"""Of point and comma, which one parts thousands where the other stands before decimals."""

_DECIMALS = re.compile(r"[+\-−–]?\d+[.,]\d\d")
_LAST_GROUP = re.compile(r"(?P<sign>[.,])(?P<figures>\d*)$")
_FIRST_GROUP = re.compile(r"(?P<figures>\d*)(?P<sign>[.,])\d")

PAPER = 85
"""Percentile of the brightness around figures that is that of their paper."""

LOW, BEHIND, TAIL = 0.5, 0.4, 0.14
"""X-heights above the baseline below which the top of a stop or comma is; behind a word within which it stands; and below the baseline
to which the tail of a comma reaches."""

DESCENDING = frozenset("gjpqyçßJQ3456789ąęşţ")
"""Characters that go below the baseline, in some faces."""

FOOTED = frozenset("il1IL")
"""Characters whose own foot reaches far out, in some faces."""

ROMAN = frozenset("ivxlIVXL1")
"""Letters of Roman numbers before items, and what their i is taken for."""

TOUCHING_TAIL, DEEPEST, FOOT, REACHES = 0.1, 0.5, 0.32, 0.26
"""X-heights: how far below the baseline the tail of a comma that touches its letter begins and is looked for, the height of a stop, and
how far beyond the rest of its letter a foot reaches that is one."""

LESS_SURE = 0.9
"""Factor of confidence for a word that was given a point by its looks."""


class _Dots(NamedTuple):
    """What may be points in a line: its small pieces (boxes (n, 4)) on the baseline, those where the upper dot of a colon is, and the
    picture as it was lit (grey), which shows dots too faint or too small to be ink. ``decimal`` is the sign before decimals on this
    page, "" where it has none."""

    line: TextLine
    low: NDArray[np.float64]
    high: NDArray[np.float64]
    picture: Pixels
    decimal: str

    def between(self, left: Sequence[Symbol], right: Sequence[Symbol]) -> Symbol | None:
        """The point or colon between two digits, the last and the first of two parts of a number, None where there is none."""
        before, here = left[-1], right[0]
        if not (before.text.isdigit() and here.text.isdigit()):
            return None
        sure = min(before.confidence, here.confidence) * LESS_SURE
        low, high = (one[(one[:, 0] > before.middle) & (one[:, 2] < here.middle)] for one in (self.low, self.high))
        if len(low) == 1:
            x0, x1 = float(low[0, 0]), float(low[0, 2])
            over = len(high) == 1 and min(high[0, 2], x1) > max(high[0, 0], x0)
            return Symbol(":" if over else ".", x0, x1, sure)
        sign = "" if len(low) else self._faint_sign(before.x1, here.x0)
        if sign == ".":
            sign = _sign_of_number("".join(one.text for one in left), "".join(one.text for one in right), self.decimal)
        return Symbol(sign, before.x1, here.x0, sure) if sign else None

    def _faint_sign(self, left: float, right: float) -> str:
        """The sign that is faintly seen in a gap that has room for it; nothing where none is."""
        size = self.line.x_height
        if not ROOM[0] * size <= right - left <= ROOM[1] * size:
            return ""
        x0, x1 = math.ceil(left) + 1, math.floor(right) - 1
        base = self.line.baseline((left + right) / 2)
        top = round(base - TALLEST * size)
        strip = self.picture[max(top, 0) : round(base + ON_BASE * size) + 1, int(left - size) : int(right + size) + 1]
        gap = self.picture[max(top, 0) : round(base + ON_BASE * size) + 1, x0:x1].astype(np.float64)
        if x1 - x0 < 1 or not gap.size:
            return ""
        paper, ink = float(np.percentile(strip, PAPER)), float(strip.min())
        dark = (paper - gap.min(axis=1)) / max(paper - ink, 1.0)
        rise = (base - (max(top, 0) + np.arange(len(dark)) + 0.5)) / size
        low = dark[rise < LOW].max(initial=0.0)
        high = dark[(rise >= UPPER_DOT[0]) & (rise < UPPER_DOT[1])].max(initial=0.0)
        between = dark[(rise >= BETWEEN[0]) & (rise < BETWEEN[1])].max(initial=0.0)
        above = dark[rise >= UPPER_DOT[1]].max(initial=0.0)
        if low < FAINTEST or max(between, above) > CLEAR * low or _is_at_an_end(gap[rise < LOW]):
            return ""
        return ":" if high > LIKE * low else "." if high < CLEAR * low else ""


def _sign_of_number(left: str, right: str, decimal: str) -> str:
    """Which sign a dot is that is faintly seen between two parts of a number, a point or a comma; nothing where there is none: from one
    sign to the next there are three digits. ``decimal`` is the sign before decimals on the page, "" where that is not known."""
    before, after = _LAST_GROUP.search(left), _FIRST_GROUP.match(right)
    if any(group is not None and len(group.group("figures")) != GROUP for group in (before, after)):
        return ""
    if after is not None:
        return OTHER[after.group("sign")]
    parts_thousands = len(right) - len(right.lstrip(FIGURES)) == GROUP
    if before is not None:
        return before.group("sign") if parts_thousands else OTHER[before.group("sign")]
    if not decimal:
        return "."
    return OTHER[decimal] if parts_thousands else decimal


def _is_at_an_end(gap: NDArray[np.float64]) -> bool:
    """Whether what is dark in a gap (rows, columns of grey) is beside a figure, and so belongs to that, where there is room to tell."""
    columns = gap.min(axis=0)
    return len(columns) > NARROW and int(columns.argmin()) in (0, len(columns) - 1)


def decimal_of(lines: Iterable[ReadLine]) -> str:
    """The sign that most numbers with two decimals have before them, "" where there are none."""
    return decimal_sign(word.text for line in lines for word in line.words if _DECIMALS.fullmatch(word.text))


def with_points(line: ReadLine, pieces: Pieces, picture: Pixels, decimal: str = "") -> ReadLine:
    """The line with points and colons between digits, and points at the ends of words, where there is one to be seen in its ink or in the
    grey ``picture``; ``decimal`` is the sign before decimals on the page."""
    boxes = pieces.boxes[line.line.pieces].astype(np.float64)
    dots = _dots(line.line, boxes, picture, decimal)
    words = tuple(_with_points(word, dots) for word in line.words)
    if len(dots.low):
        words = tuple(_ending_in_point(word, boxes, dots.low) for word in words)
    return line._replace(words=_joined_by_signs(words, dots))


def _dots(line: TextLine, boxes: NDArray[np.float64], picture: Pixels, decimal: str) -> _Dots:
    middle = (boxes[:, 0] + boxes[:, 2]) / 2
    small = np.maximum(boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1]) < LARGEST * line.x_height
    rise = (line.a + line.b * middle - (boxes[:, 1] + boxes[:, 3]) / 2) / line.x_height
    low, high = small & (np.abs(rise) < ON_BASE), small & (rise > UPPER[0]) & (rise < UPPER[1])
    return _Dots(line, boxes[low], boxes[high], picture, decimal)


def _joined_by_signs(words: tuple[ReadWord, ...], dots: _Dots) -> tuple[ReadWord, ...]:
    """The words, those made one that have a colon or a point between them: hours and minutes that were read as two numbers."""
    out = list(words[:1])
    for word in words[1:]:
        is_near = word.x0 - out[-1].x1 <= ROOM[1] * dots.line.x_height
        sign = dots.between(out[-1].symbols, word.symbols) if is_near else None
        if sign is not None:
            confidence = min(out[-1].confidence, word.confidence) * LESS_SURE
            out[-1] = word._replace(symbols=(*out[-1].symbols, sign, *word.symbols), confidence=confidence)
        else:
            out.append(word)
    return tuple(out)


def _ending_in_point(word: ReadWord, boxes: NDArray[np.float64], points: NDArray[np.float64]) -> ReadWord:
    """The Roman number with a point for its last letter, if a point is all the ink (boxes (n, 4)) that there is of that: ``i.`` read as
    ``ii``. Where letters of a longer word touch, those after them may be laid on the wrong ink."""
    last = word.symbols[-1]
    if len(word.symbols) < 2 or not ROMAN.issuperset(word.text):
        return word

    def of_last(some: NDArray[np.float64]) -> NDArray[np.bool_]:
        return np.asarray((some[:, 0] >= last.x0 - 1) & (some[:, 2] <= last.x1 + 1))

    behind = boxes[:, 2] > last.x0
    own = of_last(boxes)
    if own.sum() != 1 or of_last(points).sum() != 1 or (behind & ~own & (boxes[:, 0] < last.x1)).any():
        return word
    point = Symbol(".", last.x0, last.x1, word.confidence * LESS_SURE)
    return word._replace(symbols=(*word.symbols[:-1], point), confidence=word.confidence * LESS_SURE)


def with_unread_signs(line: ReadLine, pieces: Pieces) -> ReadLine:
    """The line with what is to be seen at the end of words that end without a sign, and was not read."""
    here = line.line
    if not line.words or here.raised or here.sign:
        return line
    boxes = pieces.boxes[here.pieces].astype(np.float64)
    size = here.x_height
    top = here.a + here.b * boxes[:, 0] - boxes[:, 1]
    small = (boxes[:, 2] - boxes[:, 0] < LARGEST * size) & (top < LOW * size) & (top > 0)
    low = boxes[small]
    ends = [*(word.x0 for word in line.words[1:]), float("inf")]
    words = []
    for word, end in zip(line.words, ends, strict=True):
        if word.symbols[-1].text.isalnum():
            word = word._replace(unread=_free_sign(word, end, low, line) or _touching_sign(word, end, line, pieces))
        words.append(word)
    return line._replace(words=tuple(words))


def _free_sign(word: ReadWord, end: float, low: NDArray[np.float64], line: ReadLine) -> str:
    """The sign that low, small pieces of ink (boxes (n, 4)) close behind a word are, or under the last of its letters, which then
    has none of its own; nothing where there are none. The next word begins at ``end``."""
    here = line.line
    last = word.symbols[-1]
    behind = low[(low[:, 0] >= word.x1 - 1) & (low[:, 0] - word.x1 < BEHIND * here.x_height) & (low[:, 2] <= end)]
    if not len(behind):
        behind = low[(np.abs(low[:, 0] - last.x0) < 1.5) & (np.abs(low[:, 2] - last.x1) < 1.5)]
    if not len(behind):
        return ""
    x0, _, _, y1 = behind[0]
    return "," if y1 - here.baseline(float(x0)) > TAIL * here.x_height else "."


def _touching_sign(word: ReadWord, end: float, line: ReadLine, pieces: Pieces) -> str:
    """The sign that has run into the last letter of a word: a tail below the baseline, or a foot that reaches far out; nothing where
    there is neither."""
    here, last = line.line, word.symbols[-1]
    if last.text in DESCENDING:
        return ""
    size, base = here.x_height, here.baseline(word.x1)
    x0, x1 = int(last.middle), int(min(word.x1 + BEHIND * size, end - 1)) + 1
    y0, y1 = int(base - size), int(base + size * DEEPEST) + 1
    own = pieces.mask_of(here.pieces, x0, max(y0, 0), x1, y1) > 0
    if not own.any():
        return ""
    floor = base - max(y0, 0)
    if own[round(floor + TOUCHING_TAIL * size) + 1 :].any():
        return ","
    if last.text in FOOTED:
        return ""
    foot, waist = own[int(floor - FOOT * size) :].any(axis=0), own[: int(floor - FOOT * size)].any(axis=0)
    if not foot.any() or not waist.any():
        return ""
    return "." if np.flatnonzero(foot)[-1] - np.flatnonzero(waist)[-1] > REACHES * size else ""


def _with_points(word: ReadWord, dots: _Dots) -> ReadWord:
    symbols: list[Symbol] = list(word.symbols[:1])
    for n, here in enumerate(word.symbols[1:], 1):
        sign = dots.between(symbols, word.symbols[n:])
        symbols += [here] if sign is None else [sign, here]
    if len(symbols) == len(word.symbols):
        return word
    return ReadWord(tuple(symbols), word.confidence * LESS_SURE)
