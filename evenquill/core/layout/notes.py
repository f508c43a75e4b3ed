"""Footnotes: the small lines at the foot of a page that begin with a mark which stands raised in the text above."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from evenquill.core.model import Marks
from evenquill.core.reading.evidence import Line

SMALL = 0.96
"""Size of a note over that of the text, at most."""

LONE, NEXT_LINE = 0.75, 1.6
"""Size of a mark over that of the text, at most, and ems to the line above it, where it has come to stand alone."""

_MARK = re.compile(r"^(\d{1,3}|[*†‡§¶]{1,3}|[a-z])$")


class FootArea(NamedTuple):
    """Notes of a page, each with its mark and its lines in order."""

    notes: tuple[tuple[str, tuple[Line, ...]], ...]


def find_notes(lines: list[Line], text_size: float, last: int = 0) -> FootArea:
    """The notes among the lines of a page; ``text_size`` is the size of running text in the document.

    ``last`` is the number of the last note before: the next number needs no raised mark in the text to be that of a note, if it
    stands there as a word.
    """
    upright = sorted((line for line in lines if not line.angle), key=lambda line: line.baseline)
    marks = {mark for line in upright for mark in _raised_marks(line)}
    marks |= _plain_marks(upright, text_size, last)
    if not marks:
        return FootArea(())
    start = None
    for i in range(len(upright) - 1, -1, -1):
        if upright[i].size > SMALL * text_size:
            break
        if _note_mark(upright[i]) in marks:
            start = i
    if start is None:
        return FootArea(())
    notes: list[tuple[str, list[Line]]] = []
    for line in upright[start:]:
        mark = _note_mark(line)
        if mark in marks and mark not in {known for known, _ in notes}:
            notes.append((mark, [line]))
        else:
            notes[-1][1].append(line)
    return FootArea(tuple((mark, tuple(group)) for mark, group in notes))


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
        if word.marks & Marks.SUPER and _MARK.match(word.text):
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
                x0=last.words[-1].x1, x1=last.words[-1].x1 + lone.box.width, marks=int(Marks.SUPER), glued=True
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
    if first.marks & Marks.SUPER and _MARK.match(first.text):
        return first.text
    text = first.text.rstrip(".)")
    if len(line.words) > 1 and _MARK.match(text) and not text.isalpha():
        return text
    return ""
