"""Points that the recogniser overlooked: between two digits a dot on the baseline is one, and one that was read as a letter; behind a word
it may be one, or dirt.
"""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol

LARGEST = 0.42
"""X-heights: what is larger in either direction is no point."""

ON_BASE = 0.3
"""X-heights by which the middle of a point may be off the baseline."""

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


def with_points(line: ReadLine, pieces: Pieces) -> ReadLine:
    """The line with points between digits, and at the ends of words, where there is one to be seen."""
    boxes = pieces.boxes[line.line.pieces].astype(np.float64)
    middle = (boxes[:, 0] + boxes[:, 2]) / 2
    size = np.maximum(boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1])
    rise = line.line.a + line.line.b * middle - (boxes[:, 1] + boxes[:, 3]) / 2
    points = boxes[(size < LARGEST * line.line.x_height) & (np.abs(rise) < ON_BASE * line.line.x_height)]
    if not len(points):
        return line
    return line._replace(
        words=tuple(_ending_in_point(_with_points(word, points), boxes, points) for word in line.words)
    )


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


def _with_points(word: ReadWord, points: NDArray[np.float64]) -> ReadWord:
    symbols: list[Symbol] = list(word.symbols[:1])
    for before, here in itertools.pairwise(word.symbols):
        if before.text.isdigit() and here.text.isdigit():
            left, right = before.middle, here.middle
            between = points[(points[:, 0] > left) & (points[:, 2] < right)]
            if len(between) == 1:
                symbols.append(Symbol(".", float(between[0, 0]), float(between[0, 2]), word.confidence * LESS_SURE))
        symbols.append(here)
    if len(symbols) == len(word.symbols):
        return word
    return ReadWord(tuple(symbols), word.confidence * LESS_SURE)
