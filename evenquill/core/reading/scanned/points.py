"""Points that the recogniser overlooked: between two digits a dot on the baseline is one; behind a word it may be one, or dirt."""

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

LESS_SURE = 0.9
"""Factor of confidence for a word that was given a point by its looks."""


def with_points(line: ReadLine, pieces: Pieces) -> ReadLine:
    """The line with points between digits where there is one to be seen."""
    boxes = pieces.boxes[line.line.pieces].astype(np.float64)
    middle = (boxes[:, 0] + boxes[:, 2]) / 2
    size = np.maximum(boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1])
    rise = line.line.a + line.line.b * middle - (boxes[:, 1] + boxes[:, 3]) / 2
    points = boxes[(size < LARGEST * line.line.x_height) & (np.abs(rise) < ON_BASE * line.line.x_height)]
    if not len(points):
        return line
    return line._replace(words=tuple(_with_points(word, points) for word in line.words))


def with_unread_signs(line: ReadLine, pieces: Pieces) -> ReadLine:
    """The line with what is to be seen close behind words that end without a sign, and was not read."""
    here = line.line
    if not line.words or here.raised or here.sign:
        return line
    boxes = pieces.boxes[here.pieces].astype(np.float64)
    size = here.x_height
    top = here.a + here.b * boxes[:, 0] - boxes[:, 1]
    small = (boxes[:, 2] - boxes[:, 0] < LARGEST * size) & (top < LOW * size) & (top > 0)
    low = boxes[small]
    if not len(low):
        return line
    ends = [*(word.x0 for word in line.words[1:]), float("inf")]
    words = []
    for word, end in zip(line.words, ends, strict=True):
        behind = low[(low[:, 0] >= word.x1 - 1) & (low[:, 0] - word.x1 < BEHIND * size) & (low[:, 2] <= end)]
        if len(behind) and word.symbols[-1].text.isalnum():
            x0, _, _, y1 = behind[0]
            tail = y1 - (here.a + here.b * x0)
            word = word._replace(unread="," if tail > TAIL * size else ".")
        words.append(word)
    return line._replace(words=tuple(words))


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
