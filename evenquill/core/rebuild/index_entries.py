"""Entries of the index of a book: words, and behind commas the numbers of pages, in the order of the alphabet."""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence

from evenquill.core.layout.flow import FlowLine
from evenquill.core.rebuild.structure.line_facts import had_room

FEWEST, SHARE, SORTED = 6, 0.5, 0.75
"""Lines that end in numbers of pages, their share of all lines, and the share of entries that do not come before the one above, from which
lines are an index."""

FARTHEST = 3
"""Lines on end without a number, at most: an entry and those below it that it heads, or a letter of the alphabet."""

SAME_EDGE = 0.5
"""Ems within which lines begin at one edge."""

_PAGES = re.compile(r",\s*\d{1,4}(?:\s?[-–]\s?\d{1,4})?(?:nn?|ff?)?$")


def index_lines(lines: Sequence[FlowLine], margin: float) -> dict[int, bool]:
    """Of the lines of a column that are in an index, by their ids, whether one begins an entry. ``margin`` is where lines end."""
    ends = [bool(_PAGES.search(line.text)) for line in lines]
    if sum(ends) < FEWEST:
        return {}
    out: dict[int, bool] = {}
    start = 0
    while start < len(lines):
        if not ends[start]:
            start += 1
            continue
        end = last = start + 1
        while end < len(lines) and end - last < FARTHEST and not lines[end].tabbed:
            end += 1
            if ends[end - 1]:
                last = end
        if start and not ends[start - 1] and not had_room(lines[start - 1], lines[start], margin):
            start -= 1  # the first entry has two lines
        starts = [n == start or _begins(lines[n - 1], lines[n], margin, ended=ends[n - 1]) for n in range(start, last)]
        if _is_index(lines[start:last], ends[start:last], starts):
            out |= {id(line): begins for line, begins in zip(lines[start:last], starts, strict=True)}
        start = last
    return out


def _begins(above: FlowLine, line: FlowLine, margin: float, *, ended: bool) -> bool:
    """Whether a line begins an entry: the one above ``ended`` in numbers and this one is no more of them; else that one has room left."""
    return not line.text[:1].isdigit() if ended else had_room(above, line, margin)


def _is_index(lines: Sequence[FlowLine], ends: Sequence[bool], starts: Sequence[bool]) -> bool:
    if sum(ends) < max(FEWEST, SHARE * len(lines)):
        return False
    left = min(line.x0 for line in lines)
    outer = [
        line.text.casefold() for line, begins in zip(lines, starts, strict=True) if begins and _is_outer(line, left)
    ]
    rises = [a[:1] <= b[:1] for a, b in itertools.pairwise(outer)]
    return bool(rises) and sum(rises) >= SORTED * len(rises)


def _is_outer(line: FlowLine, left: float) -> bool:
    return line.x0 - left < SAME_EDGE * line.size
