"""What rows of pieces are like: columns that keep their edges, or prose, code, lists."""

from __future__ import annotations

import itertools
import re
import statistics
from collections.abc import Sequence

from evenquill.core.evidence import Line, PageEvidence, PageKind
from evenquill.core.layout.flow import LEADER_DOTS
from evenquill.core.layout.tables.pieces import is_number
from evenquill.core.model.numerals import roman_value

CODE = 0.5
"""Share of rows in a fixed width that makes them code, where that of the page's letters is not as high."""

CONTENTS, PAGED, FALLS = 5, 0.8, 0.05
"""Rows of a contents list without dots, at least; share of them that end with the number of a page; and share of these that may be
lower than the one before."""

LONGEST_NUMBER = 4
"""Figures of a page number, at most."""

BULLETS, ITEMS = frozenset("•◦▪‣∙·*●○■□–—"), 0.3
"""Signs that begin items of lists, and share of rows that begin with one, from which they are a list."""

_DOTS = re.compile(r"^[.…·]+$")

LONG = 45
"""Characters; pieces as long are prose."""

ACROSS = 0.3
"""Share of rows that may have a piece over several columns."""

NUMBERS = 0.75
"""Share of a column's cells that are numbers, to call it a column of them."""

IN_LINE, SAME_EDGE = 0.6, 1.5
"""Share of a column's pieces that share their left or right edge or their middle, and points within which they do."""


def in_columns(rows: Sequence[Sequence[Line]], stretches: Sequence[tuple[float, float]]) -> list[list[Line]]:
    """The pieces of each column; those that span several are in none."""
    return [
        [line for row in rows for line in row if x0 - 1 < line.box.x0 and line.box.x1 < x1 + 1] for x0, x1 in stretches
    ]


def runs_across(rows: Sequence[Sequence[Line]], stretches: Sequence[tuple[float, float]]) -> bool:
    """Whether many rows have a piece that lies over several columns, as those of text around a table do."""
    across = [
        row
        for row in rows
        if any(sum(x0 < line.box.x1 and line.box.x0 < x1 for x0, x1 in stretches) > 1 for line in row)
    ]
    return len(across) > max(ACROSS * len(rows), 1)


def is_prose(rows: Sequence[Sequence[Line]], stretches: Sequence[tuple[float, float]]) -> bool:
    """Whether most columns are of pieces as long as lines of text."""
    lengths = [statistics.median(len(line.text) for line in own) for own in in_columns(rows, stretches) if own]
    return sum(length >= LONG for length in lengths) > 0.5 * len(lengths)


def is_numeric(pieces: Sequence[Line]) -> bool:
    """Whether most of a column, without what names it, is numbers."""
    body = pieces[1:] if len(pieces) > 1 else pieces
    return bool(body) and sum(is_number(line.text) for line in body) >= NUMBERS * len(body)


def in_line(pieces: Sequence[Line]) -> bool:
    """Whether most pieces of a column keep one edge, or one middle."""
    if len(pieces) < 2:
        return True
    return any(
        _most_alike(values) >= IN_LINE * len(values)
        for values in (
            [line.box.x0 for line in pieces],
            [line.box.x1 for line in pieces],
            [line.box.center_x for line in pieces],
        )
    )


def _most_alike(values: Sequence[float]) -> int:
    return max(sum(abs(value - other) < SAME_EDGE for other in values) for value in values)


def are_columns(
    rows: Sequence[Sequence[Line]], stretches: Sequence[tuple[float, float]], page: PageEvidence, *, typewritten: bool
) -> bool:
    """Whether rows of pieces stand in columns as those of a table do: all of these but one keep an edge, most are short, few pieces lie
    over several, and it is neither code nor a list, be it one of contents."""
    columns = in_columns(rows, stretches)
    return (
        len(stretches) > 1
        and not is_prose(rows, stretches)
        and not runs_across(rows, stretches)
        and sum(map(in_line, columns)) >= len(columns) - 1
        and sum(row[0].text[0] in BULLETS and len(row[0].words[0].text) == 1 for row in rows) <= ITEMS * len(rows)
        and not is_code(rows, page, typewritten=typewritten)
        and sum(map(has_leader, rows)) <= ITEMS * len(rows)
        and not _is_contents([row for row in rows if len(row) > 1])
    )


def is_code(rows: Sequence[Sequence[Line]], page: PageEvidence, *, typewritten: bool) -> bool:
    """Whether most rows are in a fixed width where the text is not: that of the document, or of a scanned page."""
    if typewritten or (page.kind is PageKind.SCANNED and page.fixed_width_share() > CODE):
        return False
    return sum(page.fixed_width_share(row) == 1 for row in rows) >= CODE * len(rows)


def has_leader(row: Sequence[Line]) -> bool:
    """Whether a row of dots leads the eye along a row."""
    return sum(len(word.text) for line in row for word in line.words if _DOTS.match(word.text)) >= LEADER_DOTS


def _is_contents(several: Sequence[Sequence[Line]]) -> bool:
    """Whether enough rows for a contents list, and the first of them, end with numbers of pages."""
    return len(several) >= CONTENTS and ends_with_pages(several)


def ends_with_pages(several: Sequence[Sequence[Line]]) -> bool:
    """Whether rows, the first of them too, end with numbers of pages, which do not fall."""
    numbers = [_page_number(row[-1].text) for row in several]
    known = [number for number in numbers if number]
    falls = sum(after < before for before, after in itertools.pairwise(known))
    return bool(numbers and numbers[0]) and len(known) >= PAGED * len(several) and falls <= FALLS * len(known)


def _page_number(text: str) -> int:
    """The number of a page, 0 where a text is none."""
    return int(text) if text.isascii() and text.isdecimal() and len(text) <= LONGEST_NUMBER else roman_value(text)
