"""Footnotes: first the zone at the foot of a column that they stand in, then its entries, each matched with the mark that calls it."""

from __future__ import annotations

import itertools
import re
from collections.abc import Sequence, Set
from typing import NamedTuple

import numpy as np

from evenquill.core.evidence import Line, Rule
from evenquill.core.fitted.trees import trees_of
from evenquill.core.layout.columns import in_columns
from evenquill.core.layout.items import Item
from evenquill.core.layout.note_features import (
    SUPER,
    Call,
    NotesBefore,
    calls_of,
    is_raised,
    note_features,
    note_mark,
    rule_between,
)
from evenquill.core.model.text import NOTE_SIGNS, ends_sentence

LONE, NEXT_LINE = 0.75, 1.6
"""Size of a mark over that of the text, at most, and ems to the line above it, where it has come to stand alone."""

SURE = 6.0
"""Odds (logarithm) of what a trusted tag says."""

LARGEST = 1.06
"""Size of a note over that of the text, at most."""

SMALLER = 0.97
"""Size of a note without a mark over that of the text, at most."""

MISREAD = frozenset("'\"*°^`´’‘”“?|")
"""What a mark is often read as that is too small to be read."""

SHORT = 2.0
"""Ems by which the last line of a note ends before the edge, at least, if another one without a mark begins behind it."""

ALIGNED = 0.6
"""Ems by which the marks of notes may stand apart."""

_LONE_MARK = re.compile(rf"^(\d{{1,3}}|[{NOTE_SIGNS}]{{1,3}}|[a-z])$")


class FootArea(NamedTuple):
    """Notes of a page, each with its mark and its lines in order.

    ``carried`` are the lines that carry on the last note of the page before; they stand above the others.
    """

    notes: tuple[tuple[str, tuple[Line, ...]], ...]
    carried: tuple[Line, ...] = ()


NOTHING_BEFORE = NotesBefore()


def find_notes(
    lines: list[Line],
    text_size: float,
    before: NotesBefore = NOTHING_BEFORE,
    rules: Sequence[Rule] = (),
    tagged: Set[int] = frozenset(),
) -> FootArea:
    """The notes among the lines of a page; ``text_size`` is the size of running text in the document, ``tagged`` are the places of
    the page's tags that are those of notes."""
    columns = note_columns(lines, text_size, before, rules, tagged)
    if not columns:
        return FootArea(())
    zones = _zones(columns, text_size, before, rules, tagged)
    in_zones = {id(line) for zone in zones for line in zone}
    if not in_zones:
        return FootArea(())
    text = [line for column in columns for line in column if id(line) not in in_zones]
    calls = [call for line in text for call in calls_of(line)]
    return _entries([line for zone in zones for line in zone], calls, before)


def note_columns(
    lines: list[Line], text_size: float, before: NotesBefore, rules: Sequence[Rule], tagged: Set[int]
) -> list[list[Line]]:
    """The upright lines by column, from top to bottom; none where no line can be that of a note."""
    upright = sorted((line for line in lines if not line.angle), key=lambda line: line.baseline)
    may_begin = any(line.tag in tagged or (note_mark(line) and line.size <= LARGEST * text_size) for line in upright)
    if not upright or not (may_begin or before.open_size or _is_small_below_rule(upright, text_size, rules)):
        return []
    bands = in_columns([Item(line.box, line) for line in upright], tuple(rules))
    return [
        sorted((item.content for item in band.items if isinstance(item.content, Line)), key=lambda line: line.baseline)
        for band in bands
    ]


def _is_small_below_rule(lines: Sequence[Line], text_size: float, rules: Sequence[Rule]) -> bool:
    """Whether all that stands below a level rule is smaller than the text, as notes are whose marks nobody could read."""
    for rule in rules:
        below = [line for line in lines if line.baseline > rule.box.y1 and line.box.overlap_x(rule.box) > 0]
        if rule.horizontal and below and max(line.size for line in below) < SMALLER * text_size:
            return True
    return False


def _zones(
    columns: Sequence[Sequence[Line]], text_size: float, before: NotesBefore, rules: Sequence[Rule], tagged: Set[int]
) -> list[Sequence[Line]]:
    """For each column the lines at its foot that are notes: up to where the odds of all together are best, and better than even."""
    measures = note_features(columns, text_size, before, rules, tagged)
    chances = trees_of("notes").log_probabilities(np.array([row for own in measures for row in own], np.float32))
    odds = chances[:, 1] - chances[:, 0]
    zones: list[Sequence[Line]] = [()] * len(columns)
    end = len(odds)
    text: list[Line] = []
    for place in range(len(columns) - 1, -1, -1):
        column = columns[place]
        own = [
            SURE if line.tag in tagged else float(value)
            for line, value in zip(column, odds[end - len(column) : end], strict=True)
        ]
        end -= len(column)
        start = len(column)
        # Nothing stands below a note but notes.
        if not any(other.baseline > column[-1].baseline and other.box.overlap_x(column[-1].box) > 0 for other in text):
            sums = [*itertools.accumulate(reversed(own))][::-1]
            best = max(range(len(column)), key=lambda n: sums[n])
            start = best if sums[best] > 0 else start
            while start < len(column) and not (
                note_mark(column[start])
                or column[start].tag in tagged
                or before.open_size
                or (own[start] > 0 and _begins_below_rule(column, start, rules))
            ):
                start += 1
        zones[place] = column[start:]
        text += column[:start]
    return zones


def _begins_below_rule(column: Sequence[Line], n: int, rules: Sequence[Rule]) -> bool:
    """Whether a rule stands directly above a line of a column, which is alone in its row."""
    line = column[n]
    if any(other is not line and abs(other.baseline - line.baseline) < line.size / 2 for other in column):
        return False
    return rule_between(column[n - 1] if n else None, line, [rule.box for rule in rules if rule.horizontal]) is not None


def _entries(zone: Sequence[Line], calls: Sequence[Call], before: NotesBefore) -> FootArea:
    """The lines of a zone as notes: those that begin one are matched with marks of the text in order."""
    marks = [note_mark(line) for line in zone]
    begins = _matched(marks, [is_raised(line) for line in zone], calls)
    known = [zone[n].words[0].x0 for n in begins]
    for n, mark in enumerate(marks):
        # A number that carries on the others begins a note, whatever has become of the mark that calls it.
        if not mark or n in begins:
            continue
        earlier = max((k for k in begins if k < n), default=None)
        expected = int(marks[earlier]) + 1 if earlier is not None and marks[earlier].isdigit() else before.number + 1
        follows = mark.isdigit() and int(mark) == expected
        aligned = any(abs(zone[n].words[0].x0 - x) < ALIGNED * zone[n].size for x in known) or not known
        if aligned and (follows or is_raised(zone[n])):
            begins.add(n)
    notes: list[tuple[str, list[Line]]] = []
    carried: list[Line] = []
    right = max(line.box.x1 for line in zone)
    for n, line in enumerate(zone):
        if n in begins:
            notes.append((marks[n], [line]))
        elif not (marks[n] or before.open_size) and (not n or _is_unmarked(line, zone[n - 1], right, bool(begins))):
            notes.append(("", [line]))
        else:
            (notes[-1][1] if notes else carried).append(line)
    # Without a note that goes on, what stands above the first one is text.
    return FootArea(tuple((mark, tuple(group)) for mark, group in notes), tuple(carried) if before.open_size else ())


def _is_unmarked(line: Line, above: Line, right: float, others_marked: bool) -> bool:
    """Whether a line begins a note that has no mark, or one that nobody could read: the line above it ends a sentence before the edge, and
    it begins with a sign where other notes have marks."""
    ends = ends_sentence(above.text) and above.box.x1 < right - SHORT * above.size
    return ends and (not others_marked or line.text[0] in MISREAD)


def _matched(marks: Sequence[str], raised: Sequence[bool], calls: Sequence[Call]) -> set[int]:
    """Places of the lines that begin notes: the best matching in order of the marks that lines begin with and those in the text (an
    alignment of two sequences, Needleman and Wunsch 1970)."""
    rows, columns = len(marks), len(calls)
    best = [[0.0] * (columns + 1) for _ in range(rows + 1)]
    for n in range(rows - 1, -1, -1):
        for k in range(columns - 1, -1, -1):
            best[n][k] = max(best[n + 1][k], best[n][k + 1])
            if marks[n] and marks[n] == calls[k].mark:
                best[n][k] = max(best[n][k], best[n + 1][k + 1] + calls[k].weight + raised[n])
    found: set[int] = set()
    n = k = 0
    while n < rows and k < columns:
        if marks[n] and marks[n] == calls[k].mark and best[n][k] == best[n + 1][k + 1] + calls[k].weight + raised[n]:
            found.add(n)
            n, k = n + 1, k + 1
        elif best[n][k] == best[n + 1][k]:
            n += 1
        else:
            k += 1
    return found


BESIDE_NOTE, BESIDE_CODE, LEVEL = 2.0, 8.0, 0.08
"""Ems from a mark to its note, and from the number of a line of code to a line that is set in, whose baselines differ by no more."""


def with_lone_marks(lines: list[Line], text_size: float) -> list[Line]:
    """The lines with each mark that has come to stand alone in a line put at the end of the line above it."""
    out = list(lines)
    for lone in lines:
        if len(lone.words) != 1 or lone.angle or lone.size > LONE * text_size or not _LONE_MARK.match(lone.text):
            continue
        if any(line is not lone and _begins_beside(lone, line, text_size) for line in out):
            continue
        if any(_counts_on(lone, line, text_size) for line in lines):
            continue
        above = [
            line
            for line in out
            if line is not lone
            and not line.angle
            and 0 < lone.baseline - line.baseline < NEXT_LINE * text_size
            and line.box.x0 - 2 * text_size < lone.box.x0 < line.box.x1
        ]
        if above:
            last = max(above, key=lambda line: line.baseline)
            mark = lone.words[0]._replace(
                x0=last.words[-1].x1, x1=last.words[-1].x1 + lone.box.width, marks=SUPER, glued=True
            )
            at = next(i for i, line in enumerate(out) if line is last)
            out[at] = last._replace(words=(*last.words, mark))
            out = [line for line in out if line is not lone]
    return out


def _counts_on(mark: Line, line: Line, text_size: float) -> bool:
    """Whether a mark is the number of an empty line of code: the next after, or before, one that ends at its edge in the next line."""
    first = line.words[0]
    return (
        mark.text.isdecimal()
        and first.text.isdecimal()
        and abs(int(mark.text) - int(first.text)) == 1
        and abs(first.x1 - mark.words[0].x1) < LEVEL * text_size
        and abs(line.baseline - mark.baseline) < NEXT_LINE * text_size
    )


def _begins_beside(mark: Line, line: Line, text_size: float) -> bool:
    """Whether a line begins right behind a mark: a note, then; or on its baseline, which no raised mark shares: code whose lines have
    numbers."""
    if line.angle or line.box.x0 < mark.box.x1:
        return False
    gap = (line.box.x0 - mark.box.x1) / text_size
    return (gap < BESIDE_NOTE and line.box.overlap_y(mark.box) > 0) or (
        gap < BESIDE_CODE and abs(line.baseline - mark.baseline) < LEVEL * text_size
    )
