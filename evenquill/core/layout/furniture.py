"""Running heads and feet: rows near the edge of pages that a model takes for them, all evidence weighed together.

All pages are looked at, once. What runs is contiguous from the edge: rows count up to the last one with which all together are probable.
"""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from itertools import accumulate, groupby, takewhile, zip_longest
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.evidence import PageEvidence, Type
from evenquill.core.fitted.trees import trees_of
from evenquill.core.layout.contents import FEWEST, LedEntry, led_entries
from evenquill.core.layout.edge_features import EDGE_FEATURES, SAME_SIZE, edge_features, is_between_rules
from evenquill.core.layout.edge_rows import SAME_HEIGHT, EdgeRow, Piece, edge_rows
from evenquill.core.layout.page_numbers import PageNumber, page_numbers, with_field
from evenquill.core.layout.tables import ruled_tables
from evenquill.core.model.text import letters_and_digits_of, letters_of

Rows = tuple[tuple[Piece, ...], ...]
"""The rows of a running head or foot from top to bottom; PAGE_NUMBER in a text stands for the page number."""


SHORTEST_TITLE = 6
"""Letters of a text from which it is not said twice at one edge of a page by chance."""

SEVERAL = 3
"""Pages from which what runs has been said before, or will be again."""

MOST_PAGES, SURE = 0.5, 2.0
"""Share of the other pages that say the same in a place, and the odds (logarithm) of what does so to run, at least."""

MANY_PAGES, FAR = 0.4, 1.2
"""Share of the pages on which something runs in a place, and ems of free height, from which whatever stands there runs."""

APART, PARTED = 0.6, 0.35
"""Ems of free height between the text and what most pages say, from which that runs whatever else; and between it and what runs by all
measures together, at least."""

WIDER, WIDE_ENOUGH = 0.15, 1.0
"""Ems by which that height is more than between the lines of the text, at least, and from which it is enough."""

MOST_LINES = 400
"""Lines of a page by which the height between them is told."""


SAME_RIGHT = 2.0
"""Points within which entries of a contents list end alike."""

_LAST_NUMBER = re.compile(r"\s(\d{1,4})$")

_GAP, _RULE, _REPEATED = map(EDGE_FEATURES.index, ("gap", "rule_inward", "repeated"))


class PageFurniture(NamedTuple):
    """What runs at the head and foot of one page. ``blank`` pages have no text at all and tell nothing."""

    page: int
    head: Rows
    foot: Rows
    head_type: Type | None
    foot_type: Type | None
    number: PageNumber | None
    blank: bool


class Furniture(NamedTuple):
    """``lines`` are the indices of furniture lines by page number; ``pages`` what runs on each page, in order."""

    lines: dict[int, frozenset[int]]
    pages: tuple[PageFurniture, ...]


def find_furniture(pages: Iterable[PageEvidence]) -> Furniture:
    """Looks through all pages."""
    by_number = {page.number: page for page in pages}
    rows = edge_rows(tuple(by_number.values()))
    found = list(_running(rows, by_number))
    found = _of_pages_with_text([*found, *_in_their_place(rows, found, by_number)], by_number)
    found = _without_headings_of_tables(found, by_number)
    found.sort(key=lambda row: (row.page, row.y))
    numbers = page_numbers(found)
    lines: dict[int, set[int]] = defaultdict(set)
    by_page: dict[int, list[EdgeRow]] = defaultdict(list)
    for row in found:
        lines[row.page].update(row.indices)
        by_page[row.page].append(row)
    return Furniture(
        {page: frozenset(indices) for page, indices in lines.items()},
        tuple(_on_page(page, by_page[number], numbers.get(number)) for number, page in sorted(by_number.items())),
    )


def _running(rows: Sequence[EdgeRow], pages: dict[int, PageEvidence]) -> Iterator[EdgeRow]:
    """On each side of each page the rows from the edge up to where the odds of all together are best, and better than even."""
    if not rows:
        return
    measures = np.array(edge_features(rows, pages), np.float32).reshape(-1, len(EDGE_FEATURES))
    chances = trees_of("edges").log_probabilities(measures)
    odds = chances[:, 1] - chances[:, 0]
    of = {name: measures[:, place] for place, name in enumerate(EDGE_FEATURES)}
    # What most pages say at one height is certain, if it stands apart and may not be the header of a table; so are trusted tags.
    apart = np.array([_stands_apart(rows, n, pages) for n in range(len(rows))])
    repeated = (of["repeated"] >= MOST_PAGES) & (of["between_rules"] == 0) & apart
    outside = (of["outside_of_tags"] == 1) & (of["size"] <= 1)
    odds = np.where(repeated | outside, np.maximum(odds, SURE), odds)
    inside = (of["outside_of_tags"] == 0.5) & (of["repeated"] == 0)
    odds = np.where(inside, np.minimum(odds, -SURE), odds)
    # What runs is said on other pages too, or stands where something else does, or has their number: once in several pages is text.
    signs = ("repeated", "repeated_parity", "same_place", "titled", "number", "rule_inward", "rule_outward")
    once = (of["pages"] >= SEVERAL) & (sum(of[name] for name in signs) == 0)
    odds = np.where(once, np.minimum(odds, -SURE), odds)
    certain = outside | repeated | ((of["number"] == 1) & (odds >= SURE))
    may_end = _rows_that_may_be_last(rows, measures, certain, {n: _line_gap(page) for n, page in pages.items()})
    for (number, _), side in groupby(range(len(rows)), key=lambda n: (rows[n].page, rows[n].head)):
        # Nothing runs between a heading of the text and the text.
        may_run = _rows_that_may_run(_without_contents(list(side), rows, of["number"] > 0, pages[number]), rows)
        places = list(takewhile(lambda n: not _is_heading(rows[n], pages[rows[n].page]), may_run))
        if not places:
            continue
        sums = list(accumulate(float(odds[n]) for n in places))
        # What the text follows at the distance of its lines is a line of it.
        parted = [k for k, n in enumerate(places) if n in may_end]
        best = max(parted, key=sums.__getitem__, default=-1)
        if best >= 0 and sums[best] > 0:
            yield from (rows[n] for n in places[: best + 1])


def _rows_that_may_run(places: Iterable[int], rows: Sequence[EdgeRow]) -> Iterator[int]:
    """The rows from the edge of a page up to one that says what one nearer to the edge does, a title below the running head that repeats
    it; or up to one that, numbers aside, says what the next one does: a row of a table or list."""
    said: set[str] = set()
    side = list(places)
    for n, following in zip_longest(side, side[1:]):
        own = {letters_and_digits_of(piece.text) for piece in rows[n].pieces}
        own = {text for text in own if len(text) >= SHORTEST_TITLE}
        if said & own or (following is not None and _are_counted(rows[n].text, rows[following].text)):
            return
        said |= own
        yield n


def _without_contents(
    side: Sequence[int], rows: Sequence[EdgeRow], numbered: NDArray[np.bool_], page: PageEvidence
) -> Sequence[int]:
    """The rows of one edge of a page, from the outermost in, up to the first that is an entry of a contents list.

    Dots lead from an entry to a number. Those of chapters, to which no dots lead, end where such entries do, in the order of their
    numbers. What has the ``numbered`` page's own number is none.
    """
    entries = led_entries(page)
    return list(takewhile(lambda n: numbered[n] or not _is_entry(rows[n], entries), side))


def _is_entry(row: EdgeRow, entries: Sequence[LedEntry]) -> bool:
    """Whether a row is one of the entries to which dots lead, or ends like several of them, with a number that is in order there."""
    alike = [entry for entry in entries if abs(entry.right - row.right) <= SAME_RIGHT]
    if any(abs(entry.y - row.y) <= SAME_HEIGHT / 2 for entry in alike):
        return True
    number = _LAST_NUMBER.search(row.text)
    if number is None or len(alike) < FEWEST:
        return False
    above = [entry for entry in alike if entry.y < row.y][-1:]
    below = [entry for entry in alike if entry.y > row.y][:1]
    own = int(number[1])
    return all(entry.number <= own for entry in above) and all(entry.number >= own for entry in below)


def _rows_that_may_be_last(
    rows: Sequence[EdgeRow],
    measures: NDArray[np.float32],
    certain: NDArray[np.bool_],
    line_gaps: Mapping[int, float],
) -> set[int]:
    """The places of the rows behind which the text may begin: the ``certain`` ones, those that are parted from it, and those that say what
    such a one does on another page, as many pages do: on a full page the text may come close."""
    parted = {n for n in range(len(rows)) if certain[n] or _is_parted(measures[n], line_gaps[rows[n].page])}
    said = {(rows[n].head, piece.text) for n in parted for piece in rows[n].pieces if letters_of(piece.text)}
    return parted | {
        n
        for n, row in enumerate(rows)
        if measures[n][_REPEATED] >= MOST_PAGES and any((row.head, piece.text) in said for piece in row.pieces)
    }


def _are_counted(text: str, following: str) -> bool:
    """Whether two texts differ in their numbers alone."""
    letters = letters_of(text)
    numbered = any(map(str.isdigit, text)) and any(map(str.isdigit, following))
    return numbered and bool(letters) and letters == letters_of(following)


def _is_parted(measures: NDArray[np.float32], line_gap: float) -> bool:
    """Whether a row is parted from what is further in, by more than lines are (``line_gap``, in ems), or by a rule."""
    least = max(PARTED, min(line_gap + WIDER, WIDE_ENOUGH))
    return bool(measures[_GAP] >= least or measures[_RULE] > 0)


def _line_gap(page: PageEvidence) -> float:
    """Ems of free height that there usually is between a line and the next one below it."""
    lines = [line for line in page.lines if not line.angle][:MOST_LINES]
    if len(lines) < 2:
        return 0.0
    x0, y0, x1, y1 = np.array([line.box for line in lines], np.float32).T
    over = (x0[:, None] < x1) & (x0 < x1[:, None]) & (y0 > y0[:, None])
    nearest = np.where(over, y0 - y1[:, None], np.inf).min(axis=1)
    sizes = np.array([max(line.size, 1.0) for line in lines], np.float32)
    gaps = (nearest / sizes)[np.isfinite(nearest)]
    return float(np.median(gaps)) if len(gaps) else 0.0


def _stands_apart(rows: Sequence[EdgeRow], n: int, pages: dict[int, PageEvidence]) -> bool:
    """Whether there is free height between a row, with those further in that may run with it, and the text."""
    row = rows[n]
    side = takewhile(lambda other: (other.page, other.head) == (row.page, row.head), rows[n:])
    return any(APART * other.type.size <= other.gap < pages[row.page].height for other in side)


def _in_their_place(rows: Sequence[EdgeRow], found: Sequence[EdgeRow], pages: dict[int, PageEvidence]) -> list[EdgeRow]:
    """Other rows that stand apart where something runs on many pages, at one height and in one type: heads that name the section."""
    known = {row.place for row in found}
    return [
        row
        for row in rows
        if row.place not in known
        and row.gap >= FAR * row.type.size
        and len({other.page for other in found if _same_place(row, other)}) >= MANY_PAGES * len(pages)
        and not _is_heading(row, pages[row.page])
    ]


def _same_place(row: EdgeRow, other: EdgeRow) -> bool:
    return (
        row.head is other.head
        and abs(row.y - other.y) <= SAME_HEIGHT
        and abs(row.type.size - other.type.size) <= SAME_SIZE
        and row.type.font == other.type.font
    )


def _of_pages_with_text(found: Sequence[EdgeRow], pages: dict[int, PageEvidence]) -> list[EdgeRow]:
    """The rows without those of pages on which nothing else stands, unless what they say runs on pages with text too: it may be all that
    such a page has to say."""
    taken: Counter[int] = Counter()
    for row in found:
        taken[row.page] += len(row.indices)
    with_text = {number for number, page in pages.items() if len(page.lines) > taken[number] or page.pictures}
    known = {(row.head, key) for row in found if row.page in with_text for key in row.keys}
    return [row for row in found if row.page in with_text or any((row.head, key) in known for key in row.keys)]


def _on_page(page: PageEvidence, rows: Sequence[EdgeRow], number: PageNumber | None) -> PageFurniture:
    sides: list[Rows] = []
    types: list[Type | None] = []
    for head in (True, False):
        side = [row for row in rows if row.head is head]
        sides.append(tuple(tuple(Piece(with_field(p.text, number), p.stop) for p in row.pieces) for row in side))
        types.append(side[0].type if side else None)
    return PageFurniture(page.number, sides[0], sides[1], types[0], types[1], number, not page.lines)


def _without_headings_of_tables(found: Sequence[EdgeRow], pages: dict[int, PageEvidence]) -> list[EdgeRow]:
    """The rows without those in a ruled table that has others too: what names its columns is said again on each page."""
    of_page: dict[int, list[EdgeRow]] = defaultdict(list)
    for row in found:
        of_page[row.page].append(row)
    out: list[EdgeRow] = []
    for number, rows in of_page.items():
        page = pages[number]
        between = [row for row in rows if is_between_rules(row, page)]
        running = {index for row in rows for index in row.indices}
        headings: set[int] = set()
        for table in ruled_tables(page, page.lines)[0] if between else ():
            inside = {n for n, line in enumerate(page.lines) if table.box.holds_middle(line.box)}
            if not inside <= running:
                headings |= inside
        out += [row for row in rows if not headings.intersection(row.indices)]
    return out


def _is_heading(row: EdgeRow, page: PageEvidence) -> bool:
    """Whether the file's own tags say of a row that it is a heading: then it is one of each page that it stands on."""
    tags = [page.tags[page.lines[n].tag] if page.tags and page.lines[n].tag >= 0 else None for n in row.indices]
    return all(tag is not None and (tag.heading_level > 0 or tag.kind == "H") for tag in tags)
