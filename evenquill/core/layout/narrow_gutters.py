"""Narrow gutters between columns: a gap that many lines below each other have at one place parts them, however little wider it is than a
space. Readers take level text for one line unless a wide gap parts it."""

from __future__ import annotations

import itertools
import statistics
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.layout.rows import rows_of
from evenquill.core.layout.tables.pieces import parted

GAP = 0.7
"""Ems: the least width of a gap that may be a gutter."""

SAME_START = 1.0
"""Points within which words begin at one place."""

FEWEST, FEWEST_GAPS = 5, 2
"""Lines that must have the gap, or begin where it ends, and those that must have it: so many in a row have wide spaces at one place by
chance in no text."""

MOST_CROSSING = 2
"""Rows below each other that may cross a gutter between lines that keep to it."""

AROUND, CLOSE, FEWEST_BESIDE = 8, 3, 5
"""Rows above and below a line that are looked at, those that are close, and how many must have two columns where it has one."""

NARROWEST = 6.0
"""Ems: the least width of what stands at the sides of a gutter, in most lines; marks of lists are narrower."""


class _Gap(NamedTuple):
    """Where the word behind a gap begins, the place of its row, how wide the line is at the left and the right of it, in ems, and the
    size of the line in points."""

    start: float
    row: int
    left: float
    right: float
    size: float


def with_narrow_gutters(pages: Iterable[PageEvidence]) -> list[PageEvidence]:
    """The pages with lines parted that run over a narrow gutter."""
    return [_with_narrow_gutters(page) for page in pages]


def _with_narrow_gutters(page: PageEvidence) -> PageEvidence:
    level = [line for line in page.lines if not line.angle]
    if not any(len(line.words) > 1 for line in level):
        return page
    rows = rows_of(level)
    cuts: dict[int, list[float]] = {}
    for line, place in (*_shared_gaps(rows), *_other_columns(rows)):
        cuts.setdefault(id(line), []).append(place)
    if not cuts:
        return page
    return replace(page, lines=tuple(part for line in page.lines for part in _cut(line, cuts.get(id(line), ()))))


def _shared_gaps(rows: Sequence[Sequence[Line]]) -> Iterator[tuple[Line, float]]:
    """The lines that run over a gap that many lines below each other have at one place, with that place."""
    gaps = sorted(gap for n, row in enumerate(rows) for line in row for gap in _gaps(line, n))
    for group in _at_one_place(gaps):
        if len(group) < FEWEST_GAPS:
            continue
        start = statistics.median(gap.start for gap in group)
        size = statistics.median(gap.size for gap in group)
        for run in _free_runs(rows, group, start, size):
            for line in itertools.chain.from_iterable(rows[run[0] : run[1]]):
                if _may_be_cut(line, start, size):
                    yield line, start


def _other_columns(rows: Sequence[Sequence[Line]]) -> Iterator[tuple[Line, float]]:
    """The lines that go on in another column, with the place where that begins."""
    starts = Counter(round(line.words[0].x0) for row in rows for line in row)
    for n, row in enumerate(rows):
        for line in row:
            # Few words begin where other lines do: only these are looked at.
            words = [k for k, word in enumerate(line.words) if k and _count_near(starts, word.x0) >= FEWEST_BESIDE]
            if words:
                near = [(m - n, rows[m]) for m in range(max(n - AROUND, 0), min(n + AROUND + 1, len(rows))) if m != n]
                place = _column_within(line, words, near)
                if place is not None:
                    yield line, place


def _count_near(starts: Mapping[int, int], x: float) -> int:
    """How many lines begin within SAME_START of a place, or a little further from it."""
    place = round(x)
    return sum(starts.get(place + step, 0) for step in (-1, 0, 1))


def _column_within(line: Line, places: Sequence[int], near: Sequence[tuple[int, Sequence[Line]]]) -> float | None:
    """Where a line goes on that another column begins within: lines around it begin where one of its words does, and others where it
    does itself and end before that word. ``places`` are those of the words that are looked at, ``near`` the rows around the line with
    how far below it they are.

    There must be such lines closely above and below it; on one side they are enough where the letters change at the word.
    """
    for k in places:
        before, word = line.words[k - 1], line.words[k]
        right = [far for far, row in near if any(abs(other.words[0].x0 - word.x0) <= SAME_START for other in row)]
        left = [
            far
            for far, row in near
            if any(abs(o.words[0].x0 - line.words[0].x0) <= SAME_START and o.words[-1].x1 < word.x0 for o in row)
        ]
        close = any(-CLOSE <= far < 0 for far in right), any(0 < far <= CLOSE for far in right)
        changes = any(close) and before.type != word.type
        if min(len(left), len(right)) >= FEWEST_BESIDE and (all(close) or changes):
            return word.x0
    return None


def _gaps(line: Line, row: int) -> list[_Gap]:
    size = max(line.size, 1.0)
    first, last = line.words[0].x0, line.words[-1].x1
    return [
        _Gap(word.x0, row, (before.x1 - first) / size, (last - word.x0) / size, size)
        for before, word in itertools.pairwise(line.words)
        if word.x0 - before.x1 >= GAP * size
    ]


def _at_one_place(gaps: Sequence[_Gap]) -> list[list[_Gap]]:
    groups: list[list[_Gap]] = []
    for gap in gaps:
        if groups and gap.start - groups[-1][-1].start <= SAME_START:
            groups[-1].append(gap)
        else:
            groups.append([gap])
    return groups


def _free_runs(
    rows: Sequence[Sequence[Line]], group: Sequence[_Gap], start: float, size: float
) -> list[tuple[int, int]]:
    """The stretches of rows, from one and before another, in which enough lines have the gap and few things cross it: words too long for
    their column, or headings over both columns."""
    by_row = {gap.row: gap for gap in group}
    begins = [any(abs(line.words[0].x0 - start) <= SAME_START for line in row) for row in rows]
    free: list[tuple[int, int]] = []
    begin = 0
    for n in range(len(rows) + 1):
        if n < len(rows) and all(_begins_word(line, start) or not _crosses(line, start, size) for line in rows[n]):
            continue
        if n > begin:
            free.append((begin, n))
        begin = n + 1
    runs: list[tuple[int, int]] = []
    for begin, end in free:
        if runs and begin - runs[-1][1] <= MOST_CROSSING and any(begins[begin:end]) and any(begins[slice(*runs[-1])]):
            runs[-1] = runs[-1][0], end
        else:
            runs.append((begin, end))
    return [run for run in runs if _is_gutter([by_row[n] for n in range(*run) if n in by_row], begins[slice(*run)])]


def _is_gutter(gaps: Sequence[_Gap], begins: Sequence[bool]) -> bool:
    return len(gaps) >= FEWEST_GAPS and len(gaps) + sum(begins) >= FEWEST and _is_wide(gaps)


def _is_wide(gaps: Sequence[_Gap]) -> bool:
    sides = statistics.median(gap.left for gap in gaps), statistics.median(gap.right for gap in gaps)
    return min(sides) >= NARROWEST


def _crosses(line: Line, start: float, size: float) -> bool:
    return any(word.x0 < start - SAME_START and word.x1 > start - (GAP - 0.1) * size for word in line.words)


def _begins_word(line: Line, start: float) -> bool:
    """Whether a word of a line begins in a place, whatever ends there: words may be too long for their column."""
    return any(abs(word.x0 - start) <= SAME_START for word in line.words)


def _may_be_cut(line: Line, start: float, size: float) -> bool:
    """Whether a line stands at both sides of a gutter and has an end of a word there."""
    middle = start - GAP * size / 2
    if _begins_word(line, start):
        return line.words[0].x0 < middle
    return line.words[0].x1 <= middle <= line.words[-1].x0 and not _crosses(line, start, size)


def _cut(line: Line, cuts: Sequence[float]) -> list[Line]:
    return [part for _, part in parted(line, [line.box.x0, *sorted(cuts)])] if cuts else [line]
