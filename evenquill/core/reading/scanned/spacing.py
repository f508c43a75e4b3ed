"""Spaces put right by the gaps that are seen: the recogniser forgets narrow ones and sees some where there are none.

In type of one width a space is a whole place left free; else a gap is a space that is nearer to the page's spaces than to the gaps
within its words.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from evenquill.core.reading.scanned.alignment import Column
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol

USUAL_SPACE, USUAL_GAP = 0.62, 0.16
"""X-heights between words and between letters where the page has too few to measure."""

FEWEST = 12
"""Spaces on a page from which their usual width is taken."""

FEWEST_GAPS, LETTERSPACED, OVER_GAPS = 6, 0.5, 1.8
"""Gaps within words from which a line tells that it is letterspaced; their usual width over the width half way to a space from which it is;
and a space over that usual width, at least."""

TOUCHING = 0.1
"""X-heights: letters nearer than this are parts of one word whatever was read."""

A_PLACE_FREE, NO_PLACE_FREE = 1.65, 1.35
"""Places from letter to letter, in type of one width, from which one is free between them, and below which none is."""

EVEN = 0.07
"""Usual deviation of letter distances from whole places, as a share of one, up to which type has one width."""


MOST_EVEN, FEWEST_STEPS = 0.88, 3
"""Share of letter distances that must be near whole places, and distances from which a line tells whether it has the pitch of another."""

CLOSING = frozenset(".,)]}’”")
"""Signs that no space stands before in any language, however wide the gap."""


SURE, WHOLE_SPACE, BESIDE_SIGN = 0.75, 0.9, 1.3
"""Confidence of a word whose small letters only a gap parts that is as wide as this share of the page's spaces; and the same share for
a gap beside a sign, around which there is more room."""

ROOM_BESIDE_ONE = 0.12
"""X-heights of room that a one has on each side: it is narrow, and as wide as other figures."""


class _Join(NamedTuple):
    """Between two neighbouring characters: the gap seen, in x-heights, and whether a space was read."""

    gap: float
    spaced: bool


class Spaces(NamedTuple):
    """Of a page, in x-heights: the usual space, and the width half way between it and the gaps within words."""

    usual: float
    limit: float


def spaces_of(lines: Sequence[ReadLine]) -> Spaces:
    """How wide the page's spaces are."""
    every = [join for line in lines for join in _joins(line)]
    spaces = np.array([join.gap for join in every if join.spaced and join.gap > 0])
    within = np.array([join.gap for join in every if not join.spaced])
    space = float(np.median(spaces)) if len(spaces) >= FEWEST else USUAL_SPACE
    gap = float(np.percentile(within, 75)) if len(within) >= FEWEST else USUAL_GAP
    return Spaces(space, 0.5 * (space + gap))


def missed_spaces(line: ReadLine, spaces: Spaces, columns: Sequence[Column]) -> list[float]:
    """Middles, in pixels, of the gaps within words of a line that are as wide as spaces; ``columns`` are the ends of its ink.

    Characters may be placed wrongly where letters touch, so that only what is free of ink counts.
    """
    pitch = pitch_of(line)
    least = _least_in_letterspaced(line, spaces)
    missed = []
    for word in line.words:
        for before, here in itertools.pairwise(word.symbols):
            widest = max(_widest(before, here, word.confidence, spaces), least) * line.line.x_height
            if here.text in CLOSING or here.x0 - before.x1 <= widest:
                continue
            if pitch and here.middle - before.middle <= A_PLACE_FREE * pitch:
                continue
            left, right = _gap_between(columns, before.middle, here.middle)
            if right - left > widest:
                missed.append((left + right) / 2)
    return missed


def _least_in_letterspaced(line: ReadLine, spaces: Spaces) -> float:
    """The least width of a space, in x-heights, in a letterspaced line, as titles are; 0 in any other."""
    pairs = [pair for word in line.words for pair in itertools.pairwise(word.symbols)]
    gaps = [max(here.x0 - before.x1, 0.0) for before, here in pairs if before.text.isalnum() and here.text.isalnum()]
    usual = float(np.median(gaps)) / line.line.x_height if len(gaps) >= FEWEST_GAPS else 0.0
    return OVER_GAPS * usual if usual > LETTERSPACED * spaces.limit else 0.0


def beside_capitals_or_figures(line: ReadLine, places: Sequence[float]) -> list[float]:
    """Those of the places, in pixels, that do not stand between two small letters: there only a gap shows a space."""
    pairs = [pair for word in line.words for pair in itertools.pairwise(word.symbols)]
    return [
        place
        for place in places
        if any(
            before.middle < place < here.middle and not (before.text.islower() and here.text.islower())
            for before, here in pairs
        )
    ]


def _widest(before: Symbol, here: Symbol, confidence: float, spaces: Spaces) -> float:
    """The widest gap, in x-heights, that may be between two characters of a word.

    The recogniser knows words better than numbers and codes: of small letters that it is sure of, only a whole space parts two, and
    the same goes for the signs of an address, around which type of one width leaves much room.
    """
    in_word = confidence > SURE and before.text.islower() and here.text.islower()
    if not (before.text.isalnum() and here.text.isalnum()):
        return max(BESIDE_SIGN * spaces.usual, spaces.limit)
    if in_word:
        return max(WHOLE_SPACE * spaces.usual, spaces.limit)
    return spaces.limit + ROOM_BESIDE_ONE * (before.text + here.text).count("1")


def _gap_between(columns: Sequence[Column], start: float, end: float) -> Column:
    """The widest place free of ink between two places of a line."""
    near = [column for column in columns if column[1] > start and column[0] < end]
    gaps = [(one[1], other[0]) for one, other in itertools.pairwise(near)]
    return max(gaps, key=lambda gap: gap[1] - gap[0], default=(start, start))


def with_seen_spaces(line: ReadLine) -> ReadLine:
    """The line with words joined whose letters touch."""
    joins = _joins(line)
    symbols = [(symbol, word) for word in line.words for symbol in word.symbols]
    if not symbols:
        return line
    pitch = pitch_of(line)
    groups: list[list[tuple[Symbol, ReadWord]]] = [[symbols[0]]]
    for (before, _), here, join in zip(symbols, symbols[1:], joins, strict=False):
        touching = here[0].middle - before.middle < NO_PLACE_FREE * pitch if pitch else 0 < join.gap < TOUCHING
        if join.spaced and not touching:
            groups.append([])
        groups[-1].append(here)
    return line._replace(words=tuple(map(_of_parts, groups)))


def parted_at(line: ReadLine, places: Sequence[float]) -> ReadLine:
    """The line with its words parted at places between their characters, in pixels."""
    words: list[ReadWord] = []
    for word in line.words:
        groups: list[list[tuple[Symbol, ReadWord]]] = [[(word.symbols[0], word)]]
        for before, here in itertools.pairwise(word.symbols):
            if any(before.middle < place < here.middle for place in places):
                groups.append([])
            groups[-1].append((here, word))
        words += map(_of_parts, groups)
    return line._replace(words=tuple(words))


def _of_parts(group: list[tuple[Symbol, ReadWord]]) -> ReadWord:
    """The word of these characters; the word itself where they are all of it."""
    first = group[0][1]
    if len(group) == len(first.symbols) and all(word is first for _, word in group):
        return first
    return ReadWord(tuple(symbol for symbol, _ in group), min(word.confidence for _, word in group))


def pitch_of(line: ReadLine) -> float:
    """The width of a place, in pixels, where all characters of the line have one; else 0."""
    middles = [symbol.middle for word in line.words for symbol in word.symbols]
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
    return pitch if float(np.median(rest)) < EVEN and float(np.mean(rest < 0.2)) > MOST_EVEN else 0.0


def has_pitch(line: ReadLine, pitch: float) -> bool:
    """Whether the characters of a short line stand whole places of this width apart."""
    middles = [symbol.middle for word in line.words for symbol in word.symbols]
    steps = np.diff(middles) / pitch
    if len(steps) < FEWEST_STEPS:
        return False
    rest = np.abs(steps - np.maximum(np.round(steps), 1))
    return bool(np.median(rest) < EVEN and np.mean(rest < 0.2) > MOST_EVEN)


def _joins(line: ReadLine) -> list[_Join]:
    symbols = [(symbol, n) for n, word in enumerate(line.words) for symbol in word.symbols]
    return [
        _Join(max(here.x0 - before.x1, 0.0) / line.line.x_height, n != m)
        for (before, n), (here, m) in itertools.pairwise(symbols)
    ]
