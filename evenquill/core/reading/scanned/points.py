"""Decimal points that the recogniser overlooked: a dot on the baseline between two digits is there to be seen."""

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
