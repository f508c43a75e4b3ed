"""Numbers before items of scanned pages that were misread, known by those before and behind them: ``i, ii, iu, iv``."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from msgspec.structs import replace
from rapidfuzz import fuzz

from evenquill.core.evidence import Line, PageEvidence, Word
from evenquill.core.model import NumberFormat, OtherReading
from evenquill.core.model.geometry import WHOLE_WORD
from evenquill.core.model.numerals import written
from evenquill.core.rebuild.marks import Number, readings

LONGEST = 7
"""Characters of a mark, at most."""

GAP, SAME_PLACE = 0.7, 0.5
"""Ems behind a mark, at least, and ems by which the left edges of marks of one list differ at most."""

ALIKE = 40.0
"""How alike (of 100) what was read is to what must stand there, at least."""

SURENESS, AS_READ = 0.6, 0.5
"""Confidence in a mark that was put right, so that it is asked about, and share of belief in what was read."""


class _Mark(NamedTuple):
    """The first word of a line, if much paper is behind it."""

    line: int
    word: Word


def with_marks_put_right(pages: Sequence[PageEvidence]) -> list[PageEvidence]:
    """The pages, on scanned ones with numbers before items put right where those around tell what they must be."""
    return [page if page.cleaned is None else _put_right(page) for page in pages]


def _put_right(page: PageEvidence) -> PageEvidence:
    lines = list(page.lines)
    for column in _columns(lines):
        read = [readings(one.word.text) for one in column]
        for n, mark in enumerate(column):
            # What can be read as a number of the same kind is believed: columns of figures are no lists.
            known = {
                text
                for text, kind in _expected(read, n)
                if all(own.format is not kind for own in read[n]) and fuzz.ratio(text, mark.word.text) >= ALIKE
            }
            if len(known) == 1:
                line = lines[mark.line]
                right = mark.word._replace(
                    text=known.pop(),
                    confidence=min(mark.word.confidence, SURENESS),
                    others=(OtherReading(WHOLE_WORD, mark.word.text, AS_READ),),
                )
                lines[mark.line] = line._replace(words=(right, *line.words[1:]))
    return replace(page, lines=tuple(lines))


def _columns(lines: Sequence[Line]) -> list[list[_Mark]]:
    """Marks that begin at one place, from top to bottom."""
    columns: list[list[_Mark]] = []
    for n, line in enumerate(lines):
        first = line.words[0]
        alone = len(line.words) == 1
        if len(first.text) > LONGEST or not (alone or line.words[1].x0 - first.x1 > GAP * line.size):
            continue
        for column in columns:
            if abs(column[-1].word.x0 - first.x0) < SAME_PLACE * line.size:
                column.append(_Mark(n, first))
                break
        else:
            columns.append([_Mark(n, first)])
    return columns


def _expected(read: Sequence[list[Number]], n: int) -> set[tuple[str, NumberFormat]]:
    """What the mark at a place must say by the two before it, the two behind it, or the ones around it, and how it counts."""
    out = set()
    for first, second in ((n - 1, n + 1), (n - 2, n - 1), (n + 1, n + 2)):
        if first < 0 or second >= len(read):
            continue
        for one in read[first]:
            value = one.value + n - first
            if value > 0 and not one.above and any(other.follows(one, second - first) for other in read[second]):
                out.add((one.pattern.replace("%", written(value, one.format)), one.format))
    return out
