"""Pieces of lines in tables: what stands on one baseline, and lines parted between columns."""

from __future__ import annotations

import itertools
import re
from bisect import bisect_right
from collections.abc import Iterator, Sequence

from evenquill.core.evidence import Line, Type, Word
from evenquill.core.model import Family

PIECE_GAP = 0.55
"""Ems: wider than spaces are, but for those of justified text."""

WIDE_SPACE = 1.0
"""Ems: wider than a space of letters that are all of one width, which is 0.6."""

_NUMBER = re.compile(r"^[(+\-−–±]?[\d.,:  /%°]*\d[\d.,:  /%°)*]*\s?[\w%°£$€]{0,3}$|^[-–—.]+$")

_THOUSANDS = re.compile(r"^[+\-−–]?\d{1,3}(?:\s\d{3})*$")
_HUNDREDS = re.compile(r"^\d{3}(?:\s\d{3})*[.,]\d+\s?[%£$€]?$")


def is_number(text: str) -> bool:
    """Whether what stands in a cell is a number, maybe with its unit, or a dash in the place of one."""
    return bool(_NUMBER.match(text))


def is_rest_of_number(above: str, below: str) -> bool:
    """Whether a number goes on in the next line of its cell: it is broken at the space between its thousands. Whole numbers may as well
    stand below each other, so that only decimals tell."""
    return bool(_THOUSANDS.match(above) and _HUNDREDS.match(below))


def parted(line: Line, edges: Sequence[float]) -> Iterator[tuple[int, Line]]:
    """A level line in parts, each with the number of the column that its words stand in, by the left ``edges`` of columns.

    Words that nothing parts stay together where the first one is.
    """
    groups: list[tuple[int, list[int]]] = []
    for n, word in enumerate(line.words):
        column = max(bisect_right(edges, (word.x0 + word.x1) / 2) - 1, 0)
        if groups and (column == groups[-1][0] or (word.glued and n)):
            groups[-1][1].append(n)
        else:
            groups.append((column, [n]))
    if len(groups) == 1:
        yield groups[0][0], line
        return
    for column, members in groups:
        words = line.words[members[0] : members[-1] + 1]
        box = line.box._replace(x0=words[0].x0, x1=words[-1].x1)
        yield column, line._replace(box=box, words=words)


def in_pieces(line: Line, types: Sequence[Type]) -> list[Line]:
    """A level line in the pieces that gaps wider than spaces part; ``types`` are those of its page."""

    def is_wide(before: Word, after: Word) -> bool:
        of_one_width = types[before.type].family is types[after.type].family is Family.MONO
        return after.x0 - before.x1 > (WIDE_SPACE if of_one_width else PIECE_GAP) * line.size

    cuts = [(before.x1 + after.x0) / 2 for before, after in itertools.pairwise(line.words) if is_wide(before, after)]
    return [part for _, part in parted(line, [line.box.x0, *cuts])] if cuts else [line]
