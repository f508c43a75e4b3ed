"""Rows near the top and the bottom edge of a page that stand apart from its text: what may be a running head or foot."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Sequence
from itertools import groupby, takewhile
from typing import NamedTuple

from evenquill.core.evidence import Line, PageEvidence, Type
from evenquill.core.layout.rows import rows_of
from evenquill.core.model import Marks
from evenquill.core.model.equation import text_of
from evenquill.core.model.numerals import roman_value

BAND = 0.2
"""Share of the page's height, at top and bottom, in which running heads stand."""

MOST_ROWS, DEEPEST = 4, 12
"""Rows of a running head at the most, and where other pages say the same: blocks of several lines beside each other, each with a height
of its own."""

SAID_AGAIN = 0.5
"""Share of the other pages that say the same as a row."""

SAME_HEIGHT = 4.0
"""Points by which a running head may move from page to page; half as much again where it says the same."""

MOST_PIECES = 3
"""Pieces of a running head: left, middle and right."""

CENTRED = 0.06
"""Share of the text's width by which the rooms beside a centred piece may differ."""

OFF_MIDDLE = 0.01
"""Share of half the page's width by which a piece in the middle of the page may be beside it."""

TABLE_ROWS, TABLE_COLUMNS, SAME_EDGE = 5, 3, 1.5
"""Rows and pieces in each of them from which rows in line with each other are a table, and points within which they are in line."""

_DIGITS = re.compile(r"\d+")


class Piece(NamedTuple):
    """A part of a row with nothing but white beside it; ``stop`` is 0 at the left edge of the text, 1 in its middle, 2 at the right."""

    text: str
    stop: int


class EdgeRow(NamedTuple):
    """A row of page ``page``: indices of its lines, its pieces from the left, look, height on the page and right end in points.

    ``keys`` are the texts of its pieces with numbers masked, so that page numbers do not hide what repeats; the row of a table has one
    for all its cells.
    """

    page: int
    indices: tuple[int, ...]
    pieces: tuple[Piece, ...]
    keys: tuple[str, ...]
    type: Type
    y: float
    head: bool
    gap: float
    right: float

    @property
    def place(self) -> tuple[int, tuple[int, ...]]:
        """Which row of the document it is: its page and its lines."""
        return self.page, self.indices

    @property
    def text(self) -> str:
        return "\t".join(piece.text for piece in self.pieces)


def edge_rows(pages: Sequence[PageEvidence]) -> list[EdgeRow]:
    """The rows of each page from the outermost in, heads first; each with the free height between it and what is further in. They are no
    more than MOST_ROWS, but for those that go on with what other pages say in the same place."""
    rows = [row for page in pages for row in _edge_rows_of(page)]
    alike = pages_alike(rows)
    least = max(SAID_AGAIN * (len(pages) - 1), 1)
    pages_that_say: dict[tuple[bool, str], set[int]] = defaultdict(set)
    for row in rows:
        pages_that_say[row.head, row.text].add(row.page)
    out: list[EdgeRow] = []
    for _, side in groupby(rows, key=lambda row: (row.page, row.head)):
        own = list(side)
        # What differs from its neighbours in numbers alone is counted, as items and rows of tables are; unless other pages say the very
        # same.
        counted = Counter(row.keys for row in own)
        runs_on = (
            len(alike[id(row)]) >= least and (counted[row.keys] == 1 or len(pages_that_say[row.head, row.text]) > least)
            for row in own
        )
        out += own[: max(MOST_ROWS, sum(1 for _ in takewhile(bool, runs_on)))]
    return out


def pages_alike(rows: Sequence[EdgeRow]) -> dict[int, frozenset[int]]:
    """For each row, by id, the other pages on which one of its pieces says the same, numbers aside, at its height."""
    by_key: dict[tuple[bool, str], list[EdgeRow]] = defaultdict(list)
    for row in rows:
        for key in set(row.keys):
            by_key[row.head, key].append(row)
    return {
        id(row): max((_pages_with(by_key[row.head, key], row) for key in set(row.keys)), key=len, default=frozenset())
        for row in rows
    }


def _pages_with(group: Sequence[EdgeRow], row: EdgeRow) -> frozenset[int]:
    """Other pages on which one of the rows stands as high as another row."""
    return frozenset(
        other.page for other in group if other.page != row.page and abs(other.y - row.y) <= 1.5 * SAME_HEIGHT
    )


def _edge_rows_of(page: PageEvidence) -> list[EdgeRow]:
    """Up to DEEPEST rows of each edge of a page."""
    rows = _rows(page)
    left = min((line.box.x0 for line in page.lines), default=0.0)
    right = max((line.box.x1 for line in page.lines), default=page.width)
    out: list[EdgeRow] = []
    for head, sequence in ((True, rows), (False, rows[::-1])):
        for n, row in enumerate(sequence[:DEEPEST]):
            members = [page.lines[i] for i in row]
            edge = max(line.box.y1 for line in members) if head else min(line.box.y0 for line in members)
            if (edge > BAND * page.height) if head else (edge < (1 - BAND) * page.height):
                break
            if not head and members[0].words[0].marks & Marks.SUPER:
                break  # a note
            if _begins_table(page, sequence[n : n + TABLE_ROWS]):
                break
            gap = _gap(page, sequence, n, edge, head=head)
            out.append(_edge_row(page, row, (left, right), gap, head=head))
    return out


def _begins_table(page: PageEvidence, rows: Sequence[Sequence[int]]) -> bool:
    """Whether rows, from one at the edge in, are of a table: each piece of the first one is in line with one of each other row."""
    if len(rows) < TABLE_ROWS or len(rows[0]) < TABLE_COLUMNS:
        return False
    boxes = [[page.lines[i].box for i in row] for row in rows]
    return all(
        len(own) == len(boxes[0])
        and all(box.out_of_line(other) <= SAME_EDGE for box, other in zip(boxes[0], own, strict=True))
        for own in boxes[1:]
    )


def _rows(page: PageEvidence) -> list[list[int]]:
    """Indices of the upright lines of a page, row by row, each from the left."""
    place = {id(line): i for i, line in enumerate(page.lines)}
    return [[place[id(line)] for line in row] for row in rows_of(line for line in page.lines if not line.angle)]


def _gap(page: PageEvidence, sequence: list[list[int]], n: int, edge: float, *, head: bool) -> float:
    if n + 1 == len(sequence):
        return page.height
    following = [page.lines[i].box for i in sequence[n + 1]]
    return min(box.y0 for box in following) - edge if head else edge - max(box.y1 for box in following)


def _edge_row(page: PageEvidence, row: list[int], edges: tuple[float, float], gap: float, *, head: bool) -> EdgeRow:
    lines = [page.lines[i] for i in row]
    stops = [_stop(line, *edges, page.width / 2) for line in lines] if len(lines) != MOST_PIECES else [0, 1, 2]
    texts = [_text(line, page) for line in lines]
    pieces = tuple(Piece(text, stop) for text, stop in zip(texts, stops, strict=True))
    keys = tuple(map(_masked, texts))
    if len(keys) > MOST_PIECES:
        keys = ("\t".join(keys),)
    first = lines[0]
    look, right = page.types[first.words[0].type], max(line.box.x1 for line in lines)
    return EdgeRow(page.number, tuple(row), pieces, keys, look, first.box.center_y, head, gap, right)


def _text(line: Line, page: PageEvidence) -> str:
    """What a line says; of equations the characters alone, since running heads and feet are plain text."""
    words = (
        word if word.equation is None else word._replace(text=text_of(page.equations[word.equation].tree))
        for word in line.words
    )
    return line._replace(words=tuple(words)).text


def _stop(line: Line, left: float, right: float, middle: float) -> int:
    """Where a piece stands between the edges of the text; the middle of the page is one too, for text that is set in as a whole."""
    room_left, room_right = line.box.x0 - left, right - line.box.x1
    slack = CENTRED * (right - left)
    centred = abs(room_left - room_right) < slack or abs(line.box.center_x - middle) < OFF_MIDDLE * middle
    if centred and room_left > slack:
        return 1
    return 0 if room_left <= room_right else 2


def _masked(text: str) -> str:
    if roman_value(text.strip()):
        return "#"
    return _DIGITS.sub("#", text).casefold()
