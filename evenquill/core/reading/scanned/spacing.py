"""Spaces put right by the gaps that are seen: the recogniser forgets narrow ones and sees some where there are none.

In type of one width a space is a whole place left free; else a gap is a space that is nearer to the page's spaces than to the gaps
within its words.
"""

from __future__ import annotations

import itertools
import math
from bisect import bisect_left, bisect_right
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol

USUAL_SPACE, USUAL_GAP = 0.62, 0.16
"""X-heights between words and between letters where the page has too few to measure."""

FEWEST = 12
"""Spaces on a page from which their usual width is taken."""

TOUCHING = 0.1
"""X-heights: letters nearer than this are parts of one word whatever was read."""

EVEN = 0.07
"""Usual deviation of letter distances from whole places, as a share of one, up to which type has one width."""


class _Join(NamedTuple):
    """Between two neighbouring characters: the gap seen, in x-heights, and whether a space was read."""

    gap: float
    spaced: bool


def space_limit(lines: list[ReadLine], pieces: Pieces) -> float:
    """Half way between the page's spaces and the gaps within its words, in x-heights."""
    every = [join for line in lines for join in _joins(line, _gaps(line, pieces))]
    spaces = np.array([join.gap for join in every if join.spaced and join.gap > 0])
    within = np.array([join.gap for join in every if not join.spaced])
    space = float(np.median(spaces)) if len(spaces) >= FEWEST else USUAL_SPACE
    gap = float(np.percentile(within, 75)) if len(within) >= FEWEST else USUAL_GAP
    return 0.5 * (space + gap)


def missed_spaces(line: ReadLine, pieces: Pieces, limit: float) -> list[float]:
    """Middles, in pixels, of the gaps of a line that are spaces, but were read as none."""
    symbols = [(symbol, n) for n, word in enumerate(line.words) for symbol in word.symbols]
    pitch = pitch_of(line)
    missed = []
    for left, right in _gaps(line, pieces):
        middle = (left + right) / 2
        if (right - left) / line.line.x_height <= limit:
            continue
        if any(_parts(a, b, middle) for (a, n), (b, m) in itertools.pairwise(symbols) if n != m):
            continue
        if pitch and not _is_place(symbols, middle, pitch):
            continue
        missed.append(float(middle))
    return missed


def _parts(before: Symbol, here: Symbol, middle: float) -> bool:
    """Whether a space that was read between two characters is the gap at ``middle``."""
    return (before.x0 + before.x1) / 2 < middle < (here.x0 + here.x1) / 2


def _is_place(symbols: list[tuple[Symbol, int]], middle: float, pitch: float) -> bool:
    """In type of one width: whether a whole place is free there."""
    middles = [(symbol.x0 + symbol.x1) / 2 for symbol, _ in symbols]
    before = max((x for x in middles if x < middle), default=middle)
    after = min((x for x in middles if x > middle), default=middle)
    return after - before > 1.65 * pitch


def with_seen_spaces(line: ReadLine, pieces: Pieces, limit: float = math.inf) -> ReadLine:
    """The line with words joined whose letters touch, and parted where a gap is wider than ``limit``."""
    joins = _joins(line, _gaps(line, pieces))
    symbols = [(symbol, word.confidence) for word in line.words for symbol in word.symbols]
    if not symbols:
        return line
    pitch = pitch_of(line)
    groups: list[list[tuple[Symbol, float]]] = [[symbols[0]]]
    for (before, _), here, join in zip(symbols, symbols[1:], joins, strict=False):
        step = ((here[0].x0 + here[0].x1) - (before.x0 + before.x1)) / 2
        touching = step < 1.35 * pitch if pitch else 0 < join.gap < TOUCHING
        if (join.spaced and not touching) or join.gap > limit:
            groups.append([])
        groups[-1].append(here)
    words = tuple(
        ReadWord(tuple(symbol for symbol, _ in group), min(confidence for _, confidence in group)) for group in groups
    )
    return line._replace(words=words)


def pitch_of(line: ReadLine) -> float:
    """The width of a place, in pixels, where all characters of the line have one; else 0."""
    middles = [(symbol.x0 + symbol.x1) / 2 for word in line.words for symbol in word.symbols]
    steps = np.diff(middles)
    steps = steps[steps > 0.3 * line.line.x_height]
    if len(steps) < 8:
        return 0.0
    low = float(np.median(steps))
    near = steps[steps < 1.5 * low]
    if not len(near):
        return 0.0
    pitch = float(np.median(near))
    for _ in range(3):
        places = np.maximum(np.round(steps / pitch), 1)
        pitch = float(np.sum(steps * places) / np.sum(places * places))
    rest = np.abs(steps / pitch - np.round(steps / pitch))
    return pitch if float(np.median(rest)) < EVEN and float(np.mean(rest < 0.2)) > 0.88 else 0.0


def _gaps(line: ReadLine, pieces: Pieces) -> NDArray[np.float64]:
    """Free stretches between the line's pieces (n, 2: left, right), seen from above."""
    boxes = pieces.boxes[line.line.pieces]
    order = np.argsort(boxes[:, 0])
    left, right = boxes[order, 0], np.maximum.accumulate(boxes[order, 2])
    free = left[1:] > right[:-1]
    return np.stack([right[:-1][free], left[1:][free]], axis=1).astype(np.float64)


def _joins(line: ReadLine, gaps: NDArray[np.float64]) -> list[_Join]:
    symbols = [(symbol, n) for n, word in enumerate(line.words) for symbol in word.symbols]
    lefts, rights = gaps[:, 0].tolist(), gaps[:, 1].tolist()
    out = []
    for (a, n), (b, m) in itertools.pairwise(symbols):
        start, end = (a.x0 + a.x1) / 2, (b.x0 + b.x1) / 2
        inside = range(bisect_right(rights, start), bisect_left(lefts, end))
        widest = max((rights[k] - lefts[k] for k in inside), default=0.0)
        out.append(_Join(widest / line.line.x_height, n != m))
    return out
