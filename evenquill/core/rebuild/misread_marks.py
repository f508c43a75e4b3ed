"""Numbers before items of scanned pages that were misread, known by those before and behind them: ``i, ii, iu, iv``.

The marks that begin at one place are counted through by the way that costs least (Viterbi 1967): each is the next number of its list,
begins a list, or is something else; what was read speaks for what looks like it.
"""

from __future__ import annotations

import math
import re
from collections import Counter
from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from evenquill.core.evidence import Line, PageEvidence, Word
from evenquill.core.model import NumberFormat, OtherReading
from evenquill.core.model.geometry import WHOLE_WORD
from evenquill.core.model.numerals import written
from evenquill.core.rebuild.marks import BULLETS, readings

LONGEST = 7
"""Characters of a mark, at most."""

GAP, SAME_PLACE = 0.7, 0.5
"""Ems behind a mark, at least, and ems by which the left edges of marks of one list differ at most."""

FIGURES_AND_SIGN = re.compile(r"\(?\d{1,2}[.,:;)]")
"""What is a number of a list though no more than a space is behind it."""

ROMAN_ONES = {
    "l": "I",
    "1": "I",
    "|": "I",
    "!": "I",
    "H": "II",
    "U": "II",
    "M": "III",
    "u": "ii",
    "n": "ii",
    "m": "iii",
}
"""What roman ones are read as."""

LOOK_ALIKE = (
    "iIl1|!ìíîïjtfrLJ", ".,:;·'", "([{CG<€", ")]}J>", "cC¢©eGoO0Q", "sS5$§8", "zZ27", "bB86h", "aàáâä@4qdo", "gq9y", "vVyYuU", "xX%*",
    "eEFf", "nhmr", "kKx",
)  # fmt: skip
"""Signs that are read for one another."""

FEWEST = 2
"""Marks of a document that were read as numbers of one kind, at least: fewer may be words."""

NEXT, FIRST, ANEW, OTHER, BULLET = 0.0, 0.8, 1.5, 1.4, 1.2
"""What it costs that a mark is the next number, the first of a list, a later number without the one before it, no number of these lists,
or a bullet among numbers."""

LOOKS_LIKE, UNLIKE, ONE_LEFT_OUT, POINT_LEFT_OUT, AS_ONES, BELIEVED = 0.25, 0.8, 0.5, 0.3, 0.2, 0.4
"""What it costs that a sign was read for one that it looks like, or for any other one; that a roman one, or a point or bracket, is there
too much or not at all; that roman ones were read as other letters; and that what was read is another number."""

MOST = 1.3
"""What is less like a number than this is none."""

MARGIN = 0.25
"""By how much what a mark is put right to must cost less than leaving it."""

SURENESS, AS_READ = 0.6, 0.5
"""Confidence in a mark that was put right, so that it is asked about, and share of belief in what was read."""

ROMAN = (NumberFormat.LOWER_ROMAN, NumberFormat.UPPER_ROMAN)

MOST_COUNTED = 99
"""The highest number that is looked for."""


class Kind(NamedTuple):
    """How a list counts, and what stands around its numbers."""

    format: NumberFormat
    pattern: str


class _Mark(NamedTuple):
    """The first word of a line, if much paper is behind it, or it is figures with a sign, which typewriters set before a single space."""

    line: int
    word: Word


def with_marks_put_right(pages: Sequence[PageEvidence]) -> list[PageEvidence]:
    """The pages, on scanned ones with numbers before items put right where those around tell what they must be."""
    columns = {page.number: _columns(page.lines) for page in pages if page.cleaned is not None}
    seen = Counter(
        kind
        for of_page in columns.values()
        for column in of_page
        for mark in column
        for kind, _ in _numbers(mark.word.text)
    )
    kinds = [kind for kind, times in seen.items() if times >= FEWEST]
    return [_put_right(page, columns[page.number], kinds) if page.number in columns else page for page in pages]


def counted(marks: Sequence[str], kinds: Sequence[Kind]) -> list[str]:
    """What the marks that stand below one another say, if they are numbers of lists of some ``kinds``; those that are none as they were
    read."""
    costs = _costs(marks, kinds)
    best, path = _cheapest(costs, marks)
    out = list(marks)
    for n, place in enumerate(path):
        if place is None:
            continue
        kind, value = kinds[place[0]], place[1] + 1
        text = kind.pattern.replace("%", written(value, kind.format))
        if text != marks[n] and _cheapest(costs, marks, no_number=n)[0] - best >= MARGIN:
            out[n] = text
    return out


def _put_right(page: PageEvidence, columns: Sequence[Sequence[_Mark]], kinds: Sequence[Kind]) -> PageEvidence:
    lines = list(page.lines)
    for column in columns:
        read = [mark.word.text for mark in column]
        if len(column) < FEWEST or not any(kind in kinds for text in read for kind, _ in _numbers(text)):
            continue
        for mark, text in zip(column, counted(read, kinds), strict=True):
            if text != mark.word.text:
                others = lines[mark.line].words[1:]
                lines[mark.line] = lines[mark.line]._replace(words=(put_right(mark.word, text), *others))
    return replace(page, lines=tuple(lines))


def put_right(word: Word, text: str) -> Word:
    """A word that says something else, so that the clerk is asked about it."""
    other = OtherReading(WHOLE_WORD, word.text, AS_READ)
    return word._replace(text=text, confidence=min(word.confidence, SURENESS), others=(other,))


def _columns(lines: Sequence[Line]) -> list[list[_Mark]]:
    """Marks that begin at one place, from top to bottom."""
    columns: list[list[_Mark]] = []
    for n, line in enumerate(lines):
        first = line.words[0]
        apart = len(line.words) == 1 or line.words[1].x0 - first.x1 > GAP * line.size
        if len(first.text) > LONGEST or not (apart or FIGURES_AND_SIGN.fullmatch(first.text)):
            continue
        for column in columns:
            if abs(column[-1].word.x0 - first.x0) < SAME_PLACE * line.size:
                column.append(_Mark(n, first))
                break
        else:
            columns.append([_Mark(n, first)])
    return columns


def _numbers(text: str) -> list[tuple[Kind, int]]:
    """The kinds and numbers that a mark was read as; numbers and letters without a point or bracket are none, nor are those of several
    levels."""
    ways = (text, as_roman(text), text[:-1] + "." if text.endswith(",") else text)
    return [
        (Kind(number.format, number.pattern), number.value)
        for number in next(filter(None, map(readings, ways)), [])
        if number.pattern != "%" and not number.above
    ]


def as_roman(text: str) -> str:
    """A mark with what is often read for the roman one, and for several of them that touch, as ones."""
    for looks, means in ROMAN_ONES.items():
        text = text.replace(looks, means)
    return text


def _costs(marks: Sequence[str], kinds: Sequence[Kind]) -> NDArray[np.float64]:
    """What it costs that each mark is a number of each kind: (marks, kinds, values from 1)."""
    highest = max((value for text in marks for kind, value in _numbers(text) if kind in kinds), default=0)
    values = min(highest + len(marks), MOST_COUNTED)
    out = np.full((len(marks), len(kinds), values), math.inf)
    for n, text in enumerate(marks):
        own = {(kind.format, kind.pattern): value for kind, value in _numbers(text)}
        for k, kind in enumerate(kinds):
            # Figures and letters that were read are believed: columns of figures are no lists.
            known = None if kind.format in ROMAN else own.get((kind.format, kind.pattern))
            for value in range(1, values + 1) if known is None else (known,) if known <= values else ():
                out[n, k, value - 1] = _misread(text, kind.pattern.replace("%", written(value, kind.format)))
    return out


def _cheapest(
    costs: NDArray[np.float64], marks: Sequence[str], *, no_number: int | None = None
) -> tuple[float, list[tuple[int, int] | None]]:
    """The cheapest way through the marks: what it costs, and the kind and value (from 0) of each mark, None for no number. One may be
    said to be ``no_number``."""
    _, kinds, values = costs.shape
    reached = np.full(kinds * values + 1, math.inf)  # by the number that came last; at the end: none yet
    reached[-1] = 0.0
    steps: list[tuple[NDArray[np.float64], NDArray[np.bool_]]] = []
    for n, text in enumerate(marks):
        passed = reached + (BULLET if text in BULLETS else OTHER)
        numbered = np.full_like(reached, math.inf)
        if n != no_number:
            following = np.full((kinds, values), math.inf)
            following[:, 1:] = reached[:-1].reshape(kinds, values)[:, :-1] + NEXT
            anew = np.where(costs[n] == 0, reached.min() + ANEW, math.inf)
            anew[:, 0] = min(reached.min() + FIRST, reached[-1])
            numbered[:-1] = (np.minimum(following, anew) + costs[n]).ravel()
        steps.append((reached, numbered <= passed))
        reached = np.minimum(numbered, passed)
    best = float(reached.min())
    at = int(reached.argmin())
    path: list[tuple[int, int] | None] = []
    for n in range(len(marks) - 1, -1, -1):
        before, is_number = steps[n]
        if not is_number[at]:
            path.append(None)
            continue
        kind, value = divmod(at, values)
        path.append((kind, value))
        after_last = before[at - 1] + NEXT if value else math.inf
        begun = min(float(before.min()) + FIRST, float(before[-1])) if value == 0 else float(before.min()) + ANEW
        if after_last <= begun:
            at -= 1
        else:
            from_none = value == 0 and before[-1] <= before.min() + FIRST
            at = len(before) - 1 if from_none else int(before.argmin())
    return best, path[::-1]


@lru_cache(maxsize=65536)
def _misread(read: str, expected: str) -> float:
    """What it costs that a mark was ``read`` where another stands."""
    if read == expected:
        return 0.0
    numbers = readings(read)
    if any(number.above for number in numbers):
        return math.inf
    as_ones = as_roman(read)
    cost = _distance(read, expected)
    if as_ones != read:
        cost = min(cost, AS_ONES + _distance(as_ones, expected))
    return cost + (BELIEVED if numbers else 0.0) if cost <= MOST else math.inf


def _distance(read: str, expected: str) -> float:
    """The distance of two marks by what signs look like (Levenshtein 1966, weighted)."""
    row = [0.0]
    for sign in expected:
        row.append(row[-1] + _left_out(sign))
    for sign in read:
        above, row = row, [row[0] + _left_out(sign)]
        for n, other in enumerate(expected):
            row.append(
                min(above[n] + _mistaken(sign, other), above[n + 1] + _left_out(sign), row[n] + _left_out(other))
            )
    return row[-1]


def _left_out(sign: str) -> float:
    if sign in LOOK_ALIKE[0]:
        return ONE_LEFT_OUT
    return UNLIKE if sign.isalnum() else POINT_LEFT_OUT


def _mistaken(sign: str, other: str) -> float:
    if sign == other:
        return 0.0
    alike = sign.lower() == other.lower() or any(sign in signs and other in signs for signs in LOOK_ALIKE)
    return LOOKS_LIKE if alike else UNLIKE
