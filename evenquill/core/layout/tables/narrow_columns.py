"""Columns with little more than a space between them: numbers that end at one place, and text behind them that begins at one.

In a column of text lines begin at one place and its words end anywhere; where the first words of most lines begin at many places, and end
at one, with the next words at one place behind them, there are two columns.
"""

from __future__ import annotations

import itertools
import statistics
from collections import Counter
from collections.abc import Iterable, Sequence

from evenquill.core.evidence import Line
from evenquill.core.layout.tables.pieces import parted

FEWEST, MOST = 4, 0.8
"""Lines, and their share of those that run over it, that are parted at one place, at least."""

SAME = 1.2
"""Points within which words end, or begin, at one place."""

LOOKED_AT = 3
"""Places of gaps that are looked at, the commonest first."""

UNLIKE = 3.0
"""Points by which the beginnings differ of words that end at one place, at least."""


def with_narrow_columns(lines: Sequence[Line], stretches: Iterable[tuple[float, float]]) -> list[Line]:
    """The lines of a table, parted where a narrow gap runs through one of the ``stretches`` that its columns take."""
    out = list(lines)
    for x0, x1 in stretches:
        own = [line for line in out if x0 - SAME <= line.box.x0 and line.box.x1 <= x1 + SAME]
        place = _shared_gap(own)
        if place is not None:
            inside = {id(line) for line in own}
            out = [
                part
                for line in out
                for part in ([piece for _, piece in parted(line, (x0, place))] if id(line) in inside else [line])
            ]
    return out


def _shared_gap(lines: Sequence[Line]) -> float | None:
    """The middle of the gap that most lines have at one place, None where there is none."""
    gaps = [(line.box.x0, before.x1, word.x0) for line in lines for before, word in itertools.pairwise(line.words)]
    common = Counter((round(end), round(start)) for _, end, start in gaps).most_common(LOOKED_AT)
    for end, start in (place for place, _ in common):
        same = [gap for gap in gaps if abs(gap[1] - end) <= SAME and abs(gap[2] - start) <= SAME]
        across = sum(line.box.x0 < end and start < line.box.x1 for line in lines)
        if len(same) >= max(FEWEST, MOST * across) and _differ([first for first, _, _ in same]):
            return (end + start) / 2
    return None


def _differ(starts: Sequence[float]) -> bool:
    """Whether most of what ends at one place begins elsewhere than the others."""
    middle = statistics.median(starts)
    return sum(abs(start - middle) for start in starts) / len(starts) > UNLIKE
