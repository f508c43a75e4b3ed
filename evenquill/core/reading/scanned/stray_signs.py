"""Signs that dirt was read as: beside lines, at their ends, and alone."""

from __future__ import annotations

from evenquill.core.reading.scanned.alignment import NARROW, THIN
from evenquill.core.reading.scanned.words import ReadLine, ReadWord

STRAY = frozenset(".,'`‘’_~:;^|°\"“”=")
STRAY_GAP, STRAY_INSIDE, STRAY_BEHIND = 0.35, 0.24, 0.85
"""X-heights between a line and a sign that does not belong to it: read as a word, as part of the first one, or as part of the last
one, where a colon of a typewriter stands 0.7 away."""

MANY_SPECKS = 60
"""Specks that were taken off a page from which others may stand where a stop would."""

DASHES = frozenset("-–—•")
LONE_SIGN = 0.75
"""Page's x-heights: a lone sign that is smaller in both directions is dirt, unless it is a dash or a bullet."""


def without_stray_signs(line: ReadLine, *, dirty: bool) -> ReadLine:
    """The line without stray signs at its ends: what dirt beside it was read as, on ``dirty`` pages a stop before its first letter too."""
    words = list(line.words)
    gap = STRAY_GAP * line.line.x_height
    while len(words) > 1 and words[1].x0 - words[0].x1 > gap and _is_stray(words[0], line.line.x_height):
        words.pop(0)
    first = words[0].symbols if words else ()
    inside = (
        0.0 if dirty and first and first[0].text in ".," and first[1:2] and first[1].text.islower() else STRAY_INSIDE
    )
    if len(first) > 1 and first[0].text in STRAY and first[1].x0 - first[0].x1 > inside * line.line.x_height:
        words[0] = words[0]._replace(symbols=first[1:])
    while len(words) > 1 and words[-1].x0 - words[-2].x1 > gap and _is_stray(words[-1], line.line.x_height):
        words.pop()
    last = words[-1].symbols if words else ()
    if len(last) > 1 and last[-1].text in STRAY and last[-1].x0 - last[-2].x1 > STRAY_BEHIND * line.line.x_height:
        words[-1] = words[-1]._replace(symbols=last[:-1])
    return line._replace(words=tuple(words))


def _is_stray(word: ReadWord, x_height: float) -> bool:
    """Whether a word that stands apart is dirt: signs that dirt is read as, or a broad sign whose ink is a dot."""
    text = word.text
    tiny = len(text) == 1 and not text.isalnum() and text not in NARROW and text not in DASHES
    return set(text) <= STRAY or (tiny and word.x1 - word.x0 < THIN * x_height)


def without_lone_dirt(line: ReadLine, x_height: float) -> ReadLine:
    """The line, empty where all that was read is one sign and its ink is smaller than any letter of the page."""
    symbols = [symbol.text for word in line.words for symbol in word.symbols]
    largest = max(line.line.x1 - line.line.x0, line.line.y1 - line.line.y0)
    if len(symbols) != 1 or symbols[0].isalnum() or symbols[0] in DASHES or largest > LONE_SIGN * x_height:
        return line
    return line._replace(words=())
