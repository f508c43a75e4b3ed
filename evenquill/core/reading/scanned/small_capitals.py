"""Small capitals on a scan: words that are read in capitals, of which all letters but the first are lower than the first."""

from __future__ import annotations

import statistics
import unicodedata
from typing import NamedTuple

from evenquill.core.reading.scanned.heights import ONE_SHAPE, InkUnder
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.words import ReadLine, ReadWord

LOWEST, HIGHEST = 0.62, 0.9
"""Height of small capitals over that of the capitals beside them: 0.7 to 0.85 as they are set, and what measuring errs by."""

EVEN = 0.12
"""Share by which the heights of small capitals of one line differ at most."""

ALONE = 1.3
"""Width of a piece of ink over that of the letter on it, up to which the letter touches no other."""

FEWEST = 3
"""Letters behind the first ones of words whose heights must be known in a line; and those of its longest word, at least."""


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
    of_words = [
        own for word, own in zip(line.words, measured, strict=True) if _in_capitals(word) and len(word.symbols) > 1
    ]
    every = [value for own in of_words for value in own[1:] if value is not None]
    small = float(statistics.median(every)) if len(every) >= FEWEST else 0.0
    # Not every word begins with a capital.
    large = [own[0] for own in of_words if own[0] is not None and small <= HIGHEST * own[0]]
    if not small or not large or any(abs(value / small - 1) > EVEN for value in every):
        return None
    height = float(statistics.median(large))
    ratio = small / height
    if ratio < LOWEST:
        return None
    capitals = []
    for word, heights in zip(line.words, measured, strict=True):
        known = [value for value in heights[1:] if value is not None]
        low = not known or statistics.median(known) < (height + small) / 2
        if not low and _may_be_small(word):
            return None  # a long word wholly in capitals among them: what is low may be chance
        first_low = heights[0] is not None and heights[0] < (height + small) / 2
        capitals.append((0 if first_low else 1) if low and _in_capitals(word) else len(word.symbols))
    return SmallCapitals(height, ratio, tuple(capitals))


def _in_capitals(word: ReadWord) -> bool:
    """Whether a word may be in capitals: letters whose capital is the small one made larger are small ones by their height alone."""
    text = "".join(symbol.text.upper() if symbol.text in ONE_SHAPE else symbol.text for symbol in word.symbols)
    return text.isupper() and (word.text.isupper() or word.text[:1].isupper())


def _may_be_small(word: ReadWord) -> bool:
    return len(word.symbols) > FEWEST and _in_capitals(word)


def _heights(word: ReadWord, line: ReadLine, under: InkUnder, pieces: Pieces) -> list[float | None]:
    """Heights above the baseline of a word's letters; None where they bear an accent, or touch others that do, or the first one.

    Letters that touch are as high as their ink, which is that of the highest.
    """
    plain = [symbol.text.isalpha() and not unicodedata.decomposition(symbol.text[:1]) for symbol in word.symbols]
    owns = [under(symbol) for symbol in word.symbols]
    out: list[float | None] = []
    for n, (symbol, own) in enumerate(zip(word.symbols, owns, strict=True)):
        height = None
        if own is not None and plain[n]:
            x0, x1 = float(pieces.boxes[own, 0]), float(pieces.boxes[own, 2])
            alone = x1 - x0 <= ALONE * max(symbol.x1 - symbol.x0, 1.0)
            touched = [k for k, other in enumerate(word.symbols) if x0 < other.middle < x1]
            if alone or (0 not in touched and all(plain[k] for k in touched)):
                height = line.line.baseline(symbol.middle) - float(pieces.boxes[own, 1])
        out.append(height)
    return out
