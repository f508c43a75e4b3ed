"""Small capitals told from capitals: what is set in smaller ones beside a large first letter is in small letters, marked as set so."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Mapping, Sequence

from msgspec.structs import replace

from evenquill.core.evidence import Line, PageEvidence, Type, Word
from evenquill.core.font_names import is_called_small_capitals
from evenquill.core.layout.flow import SHIFTED, SMALL_CAPITALS

SMALLEST, LARGEST = 0.6, 0.9
"""Size of small capitals over that of the capitals beside them: 0.7 to 0.85 where programs make them from these."""

FEWEST = 2
"""Letters of a word behind its first one that are small capitals, from which they are taken for such: a smaller letter alone may be part of
a sign."""


def with_small_capitals(pages: Iterable[PageEvidence]) -> list[PageEvidence]:
    """The pages with small capitals as small letters of the size of those beside them, bearing the mark of small capitals."""
    return [_with_small_capitals(page) for page in pages]


def _with_small_capitals(page: PageEvidence) -> PageEvidence:
    called = {n for n, look in enumerate(page.types) if look.face and is_called_small_capitals(look.face)}
    sizes = {round(look.size, 2) for look in page.types}
    if len(sizes) < 2 and not called:
        return page
    return replace(page, lines=tuple(_in_small_capitals(line, page.types, called) for line in page.lines))


def _in_small_capitals(line: Line, types: Sequence[Type], called: set[int]) -> Line:
    stands = {
        small.type: large.type
        for large, small in itertools.pairwise(line.words)
        if small.glued and len(small.text) >= FEWEST and _is_small_beside(large, small, types, called)
    }
    if not stands and not any(word.type in called for word in line.words):
        return line
    return line._replace(words=tuple(_in_small_letters(word, stands, called) for word in line.words))


def _is_small_beside(large: Word, small: Word, types: Sequence[Type], called: set[int]) -> bool:
    """Whether a part of a word is in smaller capitals than the capital before it, and alike else."""
    one, other = types[large.type], types[small.type]
    return (
        large.text[-1:].isupper()
        and (small.text.isupper() or small.type in called)
        and not (large.marks | small.marks) & SHIFTED
        and SMALLEST <= other.size / max(one.size, 0.1) <= LARGEST
        and one._replace(size=other.size) == other
    )


def _in_small_letters(word: Word, stands: Mapping[int, int], called: set[int]) -> Word:
    """A word with its small capitals as small letters: those of a smaller type are of the larger one that it stands for, to which figures
    belong too; those of a font for them are small letters already, but for some that are in no order."""
    if word.marks & SHIFTED or word.type not in stands:
        in_small = word.type in called and any(map(str.islower, word.text))
        return word._replace(marks=word.marks | SMALL_CAPITALS) if in_small else word
    if word.type not in called and any(map(str.islower, word.text)):
        return word
    marks = word.marks | SMALL_CAPITALS if any(map(str.isalpha, word.text)) else word.marks
    return word._replace(text=word.text.lower(), type=stands[word.type], marks=marks)
