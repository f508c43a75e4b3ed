"""Footnotes: the small lines at the foot of a page that begin with a mark which stands raised in the text above."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator, Sequence, Set
from typing import NamedTuple

from evenquill.core.evidence import Line, Rule
from evenquill.core.model import Marks
from evenquill.core.model.text import ends_broken, ends_sentence

SMALL = 0.96
"""Size of a note over that of the text, at most."""

LONE, NEXT_LINE = 0.75, 1.6
"""Size of a mark over that of the text, at most, and ems to the line above it, where it has come to stand alone."""

SAME_SIZE = 0.04
"""Share by which sizes of the parts of a note may differ."""

LONGEST_SEPARATOR, PARTED = 0.5, 1.8
"""Share of the text's width that a rule above notes fills at most, and ems from the last line of the text to the first of the notes."""

SUPER = int(Marks.SUPER)

_MARK = re.compile(r"^(\d{1,3}|[*†‡§¶]{1,3}|[a-z])$")


class FootArea(NamedTuple):
    """Notes of a page, each with its mark and its lines in order.

    ``carried`` are the lines that carry on the last note of the page before; they stand above the others.
    """

    notes: tuple[tuple[str, tuple[Line, ...]], ...]
    carried: tuple[Line, ...] = ()


class NotesBefore(NamedTuple):
    """What is known of the pages before: the number of their last note, and, where that was not at its end, the size of its type.

    ``broken`` says that it ended within a word.
    """

    number: int = 0
    open_size: float = 0.0
    broken: bool = False

    def and_then(self, area: FootArea) -> NotesBefore:
        """The same after another page with its notes."""
        number = max((int(mark) for mark, _ in area.notes if mark.isdigit()), default=self.number)
        last = area.notes[-1][1] if area.notes else area.carried
        if not last or ends_sentence(last[-1].text):
            return NotesBefore(number)
        return NotesBefore(number, last[-1].size, ends_broken(last[-1].text))


NOTHING_BEFORE = NotesBefore()


def find_notes(
    lines: list[Line],
    text_size: float,
    before: NotesBefore = NOTHING_BEFORE,
    rules: Sequence[Rule] = (),
    tagged: Set[int] = frozenset(),
) -> FootArea:
    """The notes among the lines of a page; ``text_size`` is the size of running text in the document, ``tagged`` are the places of
    the page's tags that are those of notes, which need not be small.

    The number after that of the last note ``before`` needs no raised mark in the text to be that of a note, if it stands there as a
    word.
    """
    upright = sorted((line for line in lines if not line.angle), key=lambda line: line.baseline)
    marks = {mark for line in upright for mark in _raised_marks(line)}
    marks |= _plain_marks(upright, text_size, before.number)
    marks |= {mark for line in upright if line.tag in tagged and (mark := _note_mark(line))}
    start = _first_note(upright, marks, text_size, tagged)
    carried = _carried(upright[:start], text_size, before, rules)
    notes: list[tuple[str, list[Line]]] = []
    for line in upright[start:]:
        mark = _note_mark(line)
        if mark in marks and mark not in {known for known, _ in notes}:
            notes.append((mark, [line]))
        else:
            notes[-1][1].append(line)
    return FootArea(tuple((mark, tuple(group)) for mark, group in notes), carried)


def _first_note(upright: Sequence[Line], marks: set[str], text_size: float, tagged: Set[int]) -> int:
    """Where the notes begin among the lines of a page from top to bottom; behind them where there are none."""
    start = len(upright)
    for i in range(len(upright) - 1, -1, -1):
        if upright[i].size > SMALL * text_size and upright[i].tag not in tagged:
            break
        if _note_mark(upright[i]) in marks:
            start = i
    return start


def _carried(above: Sequence[Line], text_size: float, before: NotesBefore, rules: Sequence[Rule]) -> tuple[Line, ...]:
    """The lines that carry on an open note: the last ones above the page's own notes, in its type, parted from the text.

    A short rule parts them, or a gap; a gap alone only where the note broke off within a word or goes on in small letters.
    """
    if not before.open_size:
        return ()
    start = len(above)
    while start and above[start - 1].size <= SMALL * text_size and _is_alike(above[start - 1].size, before.open_size):
        start -= 1
    if start in (0, len(above)):
        return ()
    first, text = above[start], above[start - 1]
    width = max(line.box.x1 for line in above) - min(line.box.x0 for line in above)
    ruled = any(
        rule.horizontal and text.baseline < rule.box.y0 < first.baseline and rule.box.width < LONGEST_SEPARATOR * width
        for rule in rules
    )
    gap = first.baseline - text.baseline > PARTED * first.size
    goes_on = before.broken or first.text[:1].islower()
    return tuple(above[start:]) if ruled or (gap and goes_on) else ()


def _is_alike(size: float, other: float) -> bool:
    return abs(size - other) < SAME_SIZE * other


def _plain_marks(lines: Sequence[Line], text_size: float, last: int) -> set[str]:
    """Numbers that carry on those of notes, begin a small line at the foot, and stand as words in the text."""
    small = [line for line in lines if line.size <= SMALL * text_size]
    begun = {mark for line in small if (mark := _note_mark(line)).isdigit()}
    words = {word.text.strip(".,;:!?)") for line in lines if line.size > SMALL * text_size for word in line.words[1:]}
    found: set[str] = set()
    for number in (last + 1, 1):  # many begin anew with each chapter
        while str(number) in begun and str(number) in words:
            found.add(str(number))
            number += 1
    return found


def _raised_marks(line: Line) -> Iterator[str]:
    """The marks that stand raised within a line; fonts without all superior figures set the first ones of a number on the line."""
    for before, word in itertools.pairwise(line.words):
        if word.marks & SUPER and _MARK.match(word.text):
            yield word.text
            if word.glued and word.text.isdigit() and before.text.isdigit():
                yield before.text + word.text


def with_lone_marks(lines: list[Line], text_size: float) -> list[Line]:
    """The lines with each mark that has come to stand alone in a line put at the end of the line above it."""
    out = list(lines)
    for lone in lines:
        if len(lone.words) != 1 or lone.angle or lone.size > LONE * text_size or not _MARK.match(lone.text):
            continue
        if any(line is not lone and _begins_beside(lone, line, text_size) for line in out):
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


def _begins_beside(mark: Line, line: Line, text_size: float) -> bool:
    """Whether a line begins right behind a mark: a note, then."""
    return 0 <= line.box.x0 - mark.box.x1 < 2 * text_size and line.box.overlap_y(mark.box) > 0 and not line.angle


def _note_mark(line: Line) -> str:
    """The mark that a note line begins with, or nothing."""
    first = line.words[0]
    if first.marks & SUPER and _MARK.match(first.text):
        return first.text
    text = first.text.rstrip(".)")
    if len(line.words) > 1 and _MARK.match(text) and not text.isalpha():
        return text
    return ""
