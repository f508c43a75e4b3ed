"""Lines that do not run from left to right: Hebrew and Arabic from right to left, Japanese and Chinese from top to bottom.

Letters are gathered from left to right whatever they say. Here such lines are put into the order in which they are read.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Sequence

from evenquill.core.evidence import Line, Word
from evenquill.core.model import union

RIGHT_TO_LEFT = frozenset({"R", "AL"})

_ANY_RIGHT_TO_LEFT = re.compile("[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufeff]")
"""The blocks of letters that are written from right to left: Hebrew, Arabic and their neighbours. Next to no page has any."""

MOST = 0.5
"""Share of a page's letters from which it is of one direction."""

BELOW, SAME_COLUMN = 1.6, 0.35
"""Ems from one character of a column to the next at most, and by which their middles may differ."""

FEWEST = 3
"""Characters of a column."""

DOWNWARDS = 270
"""Angle of lines that are read downwards."""


def is_right_to_left(text: str) -> bool:
    """Whether most letters of a text are written from right to left."""
    if not _ANY_RIGHT_TO_LEFT.search(text):
        return False
    letters = [c for c in text if c.isalpha()]
    against = sum(unicodedata.bidirectional(c) in RIGHT_TO_LEFT for c in letters)
    return against > MOST * len(letters)


def has_right_to_left(texts: Iterable[str]) -> bool:
    """Whether any letter of these is written from right to left."""
    return bool(_ANY_RIGHT_TO_LEFT.search("".join(texts)))


def in_reading_order(lines: Sequence[Line]) -> tuple[Line, ...]:
    """The lines with words and letters in the order in which they are read; other lines as they are."""
    return tuple(_read_backwards(line) if is_right_to_left(line.text) else line for line in lines)


def _read_backwards(line: Line) -> Line:
    """A line whose words stand from right to left; numbers and Latin words keep the order of their letters."""
    words = [word._replace(text=word.text[::-1]) if is_right_to_left(word.text) else word for word in line.words]
    joined: list[Word] = []
    # Glued to the word before becomes glued to the word after, since the order is turned.
    for n in range(len(words) - 1, -1, -1):
        glued = n + 1 < len(words) and words[n + 1].glued
        joined.append(words[n]._replace(glued=glued))
    return line._replace(words=tuple(joined))


def with_columns_joined(lines: Sequence[Line]) -> tuple[tuple[Line, ...], bool]:
    """The lines with characters that stand one below the other put together, and whether most of the page's letters stand so.

    A column is given as a line turned by a quarter clockwise, which is read downwards and followed by the one to its left.
    """
    single = [line for line in lines if len(line.words) == 1 and _is_wide(line.words[0].text) and not line.angle]
    columns = [column for column in _columns(single) if len(column) >= FEWEST]
    if not columns:
        return tuple(lines), False
    taken = {id(line) for column in columns for line in column}
    others = [line for line in lines if id(line) not in taken]
    letters = sum(len(line.text) for line in others)
    return (*others, *map(_as_line, columns)), len(taken) > MOST * (letters + len(taken))


def _is_wide(text: str) -> bool:
    """Whether a text is one character as wide as it is high."""
    return len(text) == 1 and unicodedata.east_asian_width(text) in "WF"


def _columns(lines: Sequence[Line]) -> list[list[Line]]:
    """Characters gathered into columns, each from top to bottom."""
    columns: list[list[Line]] = []
    for line in sorted(lines, key=lambda line: line.baseline):
        for column in columns:
            last = column[-1]
            beside = abs(last.box.center_x - line.box.center_x)
            if beside < SAME_COLUMN * last.size and 0 < line.baseline - last.baseline < BELOW * last.size:
                column.append(line)
                break
        else:
            columns.append([line])
    return columns


def _as_line(column: Sequence[Line]) -> Line:
    box = union(line.box for line in column)
    text = "".join(line.text for line in column)
    word = column[0].words[0]._replace(text=text, x0=box.y0, x1=box.y1, glued=False)
    return Line(box, -box.x0, column[0].size, (word,), DOWNWARDS)
