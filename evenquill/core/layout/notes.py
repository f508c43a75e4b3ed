"""Footnotes: the small lines at the foot of a page that begin with a mark which stands raised in the text above."""

from __future__ import annotations

import re
from typing import NamedTuple

from evenquill.core.model import Marks
from evenquill.core.reading.evidence import Line

SMALL = 0.96
"""Size of a note over that of the text, at most."""

_MARK = re.compile(r"^(\d{1,3}|[*†‡§¶]{1,3}|[a-z])$")


class FootArea(NamedTuple):
    """Notes of a page, each with its mark and its lines in order."""

    notes: tuple[tuple[str, tuple[Line, ...]], ...]


def find_notes(lines: list[Line], text_size: float) -> FootArea:
    """The notes among the lines of a page; ``text_size`` is the size of running text in the document."""
    upright = sorted((line for line in lines if not line.angle), key=lambda line: line.baseline)
    raised = {
        word.text
        for line in upright
        for i, word in enumerate(line.words)
        if i > 0 and word.marks & Marks.SUPER and _MARK.match(word.text)
    }
    if not raised:
        return FootArea(())
    start = None
    for i in range(len(upright) - 1, -1, -1):
        if upright[i].size > SMALL * text_size:
            break
        if _note_mark(upright[i]) in raised:
            start = i
    if start is None:
        return FootArea(())
    notes: list[tuple[str, list[Line]]] = []
    for line in upright[start:]:
        mark = _note_mark(line)
        if mark in raised and mark not in {known for known, _ in notes}:
            notes.append((mark, [line]))
        else:
            notes[-1][1].append(line)
    return FootArea(tuple((mark, tuple(group)) for mark, group in notes))


def _note_mark(line: Line) -> str:
    """The mark that a note line begins with, or nothing."""
    first = line.words[0]
    if first.marks & Marks.SUPER and _MARK.match(first.text):
        return first.text
    text = first.text.rstrip(".)")
    if len(line.words) > 1 and _MARK.match(text) and not text.isalpha():
        return text
    return ""
