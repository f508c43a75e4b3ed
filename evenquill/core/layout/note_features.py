"""What is measured of the lines of a page, to tell footnotes from text.

The mark that a line begins with, the same mark in the text above, size, a rule, a gap, the place on the page: each is evidence, none is a
condition.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator, Sequence, Set
from typing import NamedTuple

from evenquill.core.evidence import Line, Rule
from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.model import Box, Marks
from evenquill.core.model.text import NOTE_SIGNS, ends_broken, ends_sentence

SUPER = int(Marks.SUPER)

ALIKE = 0.04
"""Share by which sizes of lines of one kind may differ."""

IN_MARGIN = 0.1
"""Share of the lines of a column that may stand in the margin left of it."""

FAR = 20.0
"""Ems beyond which a distance tells no more."""

NOTE_FEATURES = (
    "size", "size_over_above", "mark", "raised", "called_raised", "called_as_sign", "called_as_word", "is_next", "is_again",
    "rule_above", "rule_of_zone", "rule_width", "gap", "gap_over_usual", "gap_over_below", "from_bottom", "below",
    "alike_below", "marks_below", "alike_above", "marks_above", "inset", "width", "last_width", "digits", "starts_lower",
    "above_ends_sentence", "open_size", "open_broken", "columns", "lines", "tagged", "called_below", "largest_below",
)  # fmt: skip
"""What is measured of a line: see ``note_features``."""

_MARK = re.compile(rf"^(\d{{1,3}}|[{NOTE_SIGNS}#]{{1,4}}|[a-z])$")
_SIGN_AT_END = re.compile(rf"([{NOTE_SIGNS}]{{1,4}})\W{{0,3}}$")
_SIGN_AT_START = re.compile(rf"[{NOTE_SIGNS}]{{1,4}}(?=\w)")


class NotesBefore(NamedTuple):
    """What is known of the pages before: the number of their last note, and, where that was not at its end, the size of its type.

    ``broken`` says that it ended within a word.
    """

    number: int = 0
    open_size: float = 0.0
    broken: bool = False

    def and_then(self, notes: Sequence[tuple[str, Sequence[Line]]], carried: Sequence[Line]) -> NotesBefore:
        """The same after a page with its notes, each with its mark, and with what carries on the last one of the page before."""
        number = max((int(mark) for mark, _ in notes if mark.isdigit()), default=self.number)
        last = notes[-1][1] if notes else carried
        if not last or ends_sentence(last[-1].text):
            return NotesBefore(number)
        return NotesBefore(number, last[-1].size, ends_broken(last[-1].text))


class Call(NamedTuple):
    """A mark in a text that may call a note; ``weight`` says how much it looks like that: raised, a sign, or a word."""

    mark: str
    weight: int


RAISED, SIGN, WORD = 3, 2, 1


def calls_of(line: Line) -> Iterator[Call]:
    """The marks in a line that may call notes; fonts without all superior figures set the first ones of a number on the line."""
    for before, word in itertools.pairwise(line.words):
        text = word.text.strip("()[],.;:")
        if word.marks & SUPER and _MARK.match(text):
            if word.glued and text.isdigit() and before.text.isdigit():
                yield Call(before.text + text, RAISED)
            yield Call(text, RAISED)
        elif text.isdigit() and len(text) <= 3:
            yield Call(text, WORD)
    for n, word in enumerate(line.words):
        sign = _SIGN_AT_END.search(word.text)
        if sign is not None and (n or sign.start()) and not word.marks & SUPER:
            yield Call(sign.group(1), SIGN)


def note_mark(line: Line) -> str:
    """The mark that a line of a note begins with, or nothing."""
    first = line.words[0]
    if first.marks & SUPER and _MARK.match(first.text):
        return first.text
    text = first.text.rstrip(".)")
    if len(line.words) > 1 and _MARK.match(text) and not text.isalpha():
        return text
    # A sign is often set close to the first word.
    sign = _SIGN_AT_START.match(first.text)
    return sign.group() if sign else ""


def is_raised(line: Line) -> bool:
    return bool(line.words[0].marks & SUPER)


def note_features(
    columns: Sequence[Sequence[Line]],
    text_size: float,
    before: NotesBefore,
    rules: Sequence[Rule],
    tagged: Set[int],
) -> list[list[tuple[float, ...]]]:
    """NOTE_FEATURES of the lines of each column of a page, from top to bottom."""
    every = [line for column in columns for line in column]
    page = _Page(every, [rule.box for rule in rules if rule.horizontal], max(text_size, 1.0), before, tagged)
    return [_of_column(column, page, len(columns)) for column in columns]


class _Page:
    """What is known of a page as a whole: ``calls`` has for each mark its best weight and the height of the first one."""

    def __init__(
        self, lines: Sequence[Line], rules: Sequence[Box], size: float, before: NotesBefore, tagged: Set[int]
    ) -> None:
        self.lines, self.rules, self.size, self.before, self.tagged = lines, rules, size, before, tagged
        self.top = min(line.box.y0 for line in lines)
        self.bottom = max(line.box.y1 for line in lines)
        self.calls: dict[str, list[tuple[float, int, int]]] = {}
        for line in lines:
            for call in calls_of(line):
                self.calls.setdefault(call.mark, []).append((line.baseline, call.weight, id(line)))
        steps = sorted(
            below.baseline - above.baseline
            for above, below in itertools.pairwise(lines)
            if 0.7 * size < below.baseline - above.baseline < 3 * size
        )
        self.step = steps[len(steps) // 2] if steps else 1.2 * size

    def called(self, line: Line, mark: str, weight: int) -> float:
        """1 where a text above or in another column has a mark of this weight, 0 where none has."""
        found = self.calls.get(mark, ()) if mark else ()
        return float(any(own == weight and other != id(line) for _, own, other in found))


def _of_column(column: Sequence[Line], page: _Page, columns: int) -> list[tuple[float, ...]]:
    marks = [note_mark(line) for line in column]
    starts = sorted(line.box.x0 for line in column)
    left, right = starts[int(IN_MARGIN * len(starts))], max(line.box.x1 for line in column)
    width = max(right - left, 1.0)
    size = page.size
    called = [bool(page.calls.get(mark)) if mark else False for mark in marks]
    out: list[tuple[float, ...]] = []
    count = len(column)
    numbers = [int(mark) if mark.isdigit() else 0 for mark in marks]
    for n, line in enumerate(column):
        mark, number = marks[n], numbers[n]
        above = column[n - 1] if n else _nearest_above(line, page.lines)
        below = column[n + 1 :]
        gap = line.baseline - above.baseline if above is not None else UNMEASURED
        next_gap = below[0].baseline - line.baseline if below else UNMEASURED
        alike = [abs(other.size - line.size) < ALIKE * line.size for other in below]
        run = _run_above(column, n)
        start = column[n - run]
        over = column[n - run - 1] if n - run else _nearest_above(start, page.lines)
        rule = rule_between(above, line, page.rules)
        zone_rule = rule_between(over, start, page.rules)
        earlier = [k for k in numbers[:n] if k]
        lines_of_mark = page.calls.get(mark, ()) if mark else ()
        out.append((
            line.size / size,
            line.size / max(above.size, 0.1) if above is not None else UNMEASURED,
            float(0 if not mark else 1 if mark.isdigit() else 2 if not mark.isalpha() else 3),
            float(is_raised(line)),
            page.called(line, mark, RAISED), page.called(line, mark, SIGN), page.called(line, mark, WORD),
            float(bool(number) and number == page.before.number + 1),
            float(bool(number) and number - 1 in earlier),
            float(rule is not None), float(zone_rule is not None),
            (zone_rule.width / width if zone_rule is not None else UNMEASURED),
            min(gap / size, FAR) if gap != UNMEASURED else UNMEASURED,
            min(gap / page.step, FAR) if gap != UNMEASURED else UNMEASURED,
            min(gap / max(next_gap, 1.0), FAR) if UNMEASURED not in (gap, next_gap) else UNMEASURED,
            (page.bottom - line.baseline) / max(page.bottom - page.top, 1.0),
            float(min(len(below), 30)),
            sum(alike) / len(alike) if alike else 1.0,
            sum(bool(other) for other in marks[n + 1 :]) / max(count - n - 1, 1),
            float(min(run, 10)),
            float(sum(bool(marks[k]) and called[k] for k in range(n - run, n))),
            max(-FAR, min(FAR, (line.box.x0 - left) / size)),
            line.box.width / width,
            above.box.width / width if above is not None else UNMEASURED,
            sum(map(str.isdigit, line.text)) / max(len(line.text), 1),
            float(line.text[:1].islower()),
            float(ends_sentence(above.text)) if above is not None else UNMEASURED,
            line.size / page.before.open_size if page.before.open_size else UNMEASURED,
            float(page.before.broken), float(columns), float(min(count, 60)),
            float(line.tag in page.tagged),
            float(any(height > line.baseline for height, _, _ in lines_of_mark)),
            max((other.size for other in below), default=line.size) / size,
        ))  # fmt: skip
    return out


def _run_above(column: Sequence[Line], n: int) -> int:
    """How many lines directly above a line are of its size, without a wide gap between."""
    run = 0
    while n - run > 0:
        line, above = column[n - run], column[n - run - 1]
        if abs(above.size - line.size) >= ALIKE * line.size or line.baseline - above.baseline > 2.2 * line.size:
            break
        run += 1
    return run


def _nearest_above(line: Line, lines: Sequence[Line]) -> Line | None:
    over = [other for other in lines if other.baseline < line.baseline - 1 and other.box.overlap_x(line.box) > 0]
    return max(over, key=lambda other: other.baseline, default=None)


def rule_between(above: Line | None, line: Line, rules: Sequence[Box]) -> Box | None:
    """The rule that stands between a line and the one above it, over this one."""
    top = above.baseline if above is not None else line.box.y0 - 3 * line.size
    found = [rule for rule in rules if top - 1 < rule.center_y < line.box.center_y and rule.overlap_x(line.box) > 0]
    return max(found, key=lambda rule: rule.center_y, default=None)
