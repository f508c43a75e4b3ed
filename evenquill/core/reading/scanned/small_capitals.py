"""Small capitals on a scan: words that are read in capitals, of which all letters but the first are lower than the first."""

from __future__ import annotations

import statistics
import unicodedata
from typing import NamedTuple

from evenquill.core.reading.scanned.heights import InkUnder
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.words import ReadLine, ReadWord

LOWEST, HIGHEST = 0.62, 0.9
"""Height of small capitals over that of the capitals beside them: 0.7 to 0.85 as they are set, and what measuring errs by."""

EVEN = 0.12
"""Share by which the heights of small capitals of one word differ at most."""

ALONE = 1.3
"""Width of a piece of ink over that of the letter on it, up to which the letter touches no other."""

FEWEST = 3
"""Letters behind the first whose heights must be known in one word of a line."""


class SmallCapitals(NamedTuple):
    """How a line is set in small capitals: height of its capitals in pixels, height of the small ones over that, and for each word how
    many of its letters are capitals."""

    height: float
    ratio: float
    capitals: tuple[int, ...]


def small_capitals_of(line: ReadLine, pieces: Pieces) -> SmallCapitals | None:
    """How a line is set in small capitals; None where it is not."""
    if not any(_may_be_small(word) for word in line.words):
        return None
    under = InkUnder(line.line.pieces, pieces)
    measured = [_heights(word, line, under, pieces) for word in line.words]
    found = [_of_word(word, own) for word, own in zip(line.words, measured, strict=True)]
    sure = [one for one in found if one is not None]
    if not sure:
        return None
    height, small = (float(statistics.median(one[n] for one in sure)) for n in range(2))
    ratio = small / height
    capitals = []
    for word, heights in zip(line.words, measured, strict=True):
        rest = [value for value in heights[1:] if value is not None]
        low = not rest or statistics.median(rest) < (height + small) / 2
        if not low and _may_be_small(word):
            return None  # a long word wholly in capitals among them: what is low may be chance
        first_low = heights[0] is not None and heights[0] < (height + small) / 2
        capitals.append((0 if first_low else 1) if low and word.text.isupper() else len(word.symbols))
    return SmallCapitals(height, ratio, tuple(capitals))


def _may_be_small(word: ReadWord) -> bool:
    return len(word.symbols) > FEWEST and word.text.isupper()


def _heights(word: ReadWord, line: ReadLine, under: InkUnder, pieces: Pieces) -> list[float | None]:
    """Heights above the baseline of a word's letters; None where they touch others, or bear an accent."""
    out: list[float | None] = []
    for symbol in word.symbols:
        own = under(symbol)
        plain = symbol.text.isalpha() and not unicodedata.decomposition(symbol.text[:1])
        alone = own is not None and pieces.width(own) <= ALONE * max(symbol.x1 - symbol.x0, 1.0)
        out.append(
            line.line.baseline(symbol.middle) - float(pieces.boxes[own, 1])
            if own is not None and plain and alone
            else None
        )
    return out


def _of_word(word: ReadWord, heights: list[float | None]) -> tuple[float, float] | None:
    """Heights of a word's first letter and of those behind it, if these are small capitals."""
    first, rest = heights[0], [value for value in heights[1:] if value is not None]
    if not _may_be_small(word) or first is None or len(rest) < FEWEST:
        return None
    small = statistics.median(rest)
    even = all(abs(value / small - 1) <= EVEN for value in rest)
    return (first, small) if even and LOWEST <= small / first <= HIGHEST else None
