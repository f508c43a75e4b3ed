"""Equations as words of the lines that they stand in."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from evenquill.core.evidence import FoundEquation, Line, Word
from evenquill.core.model.inline import OBJECT

FIRST_PLACE = 0xF0000
"""The first of the characters for private use that stand for the equations of a page while its lines are put together."""

MOST = 2000
"""Equations of a page; what has more is no page of text."""

_PLACE = re.compile(f"([{chr(FIRST_PLACE)}-{chr(FIRST_PLACE + MOST)}])")


def stands_in(character: str) -> bool:
    """Whether a character stands for an equation."""
    return FIRST_PLACE <= ord(character) < FIRST_PLACE + MOST


def with_equations(lines: Sequence[Line], equations: Sequence[FoundEquation]) -> tuple[Line, ...]:
    """The lines with the characters that stood for equations as words of their own; lines reach over the whole height of those in them."""
    return tuple(_with_words(line, equations) for line in lines) if equations else tuple(lines)


def _with_words(line: Line, equations: Sequence[FoundEquation]) -> Line:
    if not any(_PLACE.search(word.text) for word in line.words):
        return line
    words = tuple(part for word in line.words for part in _parted(word, equations))
    boxes = [equations[word.equation].box for word in words if word.equation is not None]
    top, bottom = min(box.y0 for box in boxes), max(box.y1 for box in boxes)
    box = line.box._replace(y0=min(line.box.y0, top), y1=max(line.box.y1, bottom))
    return line._replace(words=words, box=boxes[0] if len(words) == 1 else box)


def _parted(word: Word, equations: Sequence[FoundEquation]) -> Iterator[Word]:
    """A word, or the text and the equations that it consists of, each glued to the one before."""
    glued = word.glued
    pieces = [piece for piece in _PLACE.split(word.text) if piece]
    left = word.x0
    for n, piece in enumerate(pieces):
        if _PLACE.fullmatch(piece):
            place = ord(piece) - FIRST_PLACE
            box = equations[place].box
            left = box.x1
            found = equations[place]
            yield word._replace(
                text=OBJECT,
                x0=box.x0,
                x1=box.x1,
                glued=glued,
                equation=place,
                marks=0,
                confidence=found.confidence,
                others=found.others,
            )
        else:
            after = next(
                (equations[ord(p) - FIRST_PLACE].box.x0 for p in pieces[n + 1 :] if _PLACE.fullmatch(p)), word.x1
            )
            # Other readings are of characters of the whole word, whose places are others now.
            yield word._replace(text=piece, others=(), x0=round(left, 2), x1=round(max(after, left), 2), glued=glued)
        glued = True
