"""Running heads and feet: rows near the edge of pages that repeat, or that stand where such rows do and name the page.

All pages are looked at, once. What repeats (with numbers masked) at one height of several pages is furniture. A row that differs
from page to page is one if it stands in the same place and look as those and holds the page's number, or says what a heading says.
"""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from evenquill.core.evidence import OUTSIDE, PageEvidence, Type
from evenquill.core.layout.edge_rows import EdgeRow, Piece, edge_rows
from evenquill.core.layout.page_numbers import PageNumber, page_numbers, with_field
from evenquill.core.layout.tables import ruled_tables
from evenquill.core.model.text import letters_of

SAME_HEIGHT = 4.0
"""Points by which a running head may move from page to page."""

SAME_SIZE = 0.6
"""Points by which the type of running heads in one place may differ."""

LONGEST_TITLE, LONGEST_HEAD, SHORTEST_NAME = 110, 160, 6
"""Characters of a line that may be a title, of a running head that may name one, and letters of it that are enough to tell."""

MOST_PAGES, FAR = 0.4, 1.2
"""Share of the pages that have furniture in a place, and ems of free height, from which whatever stands there is furniture."""

LONE_FOOT, LONE_GAP, SMALLER = 0.9, 1.5, 0.93
"""On a document of one page: share of the height below which a foot stands, ems of free height above it, and its size over that of the
text, at most."""

Rows = tuple[tuple[Piece, ...], ...]
"""The rows of a running head or foot from top to bottom; PAGE_NUMBER in a text stands for the page number."""


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
    rows = [row for page in by_number.values() for row in edge_rows(page)]
    if len(by_number) == 1:
        found = [row for page in by_number.values() for row in _lone_feet(rows, page)]
    else:
        repeated = _repeated(rows, by_number)
        found = [*repeated, *_in_their_place(rows, repeated, by_number)]
        found += _names_of_sections(rows, found, by_number)
    found += _outside_of_tags(rows, found, by_number)
    found = _without_headings_of_tables(found, by_number)
    found = [row for row in found if not _is_heading(row, by_number[row.page])]
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


def _on_page(page: PageEvidence, rows: Sequence[EdgeRow], number: PageNumber | None) -> PageFurniture:
    sides: list[Rows] = []
    types: list[Type | None] = []
    for head in (True, False):
        side = [row for row in rows if row.head is head]
        sides.append(tuple(tuple(Piece(with_field(p.text, number), p.stop) for p in row.pieces) for row in side))
        types.append(side[0].type if side else None)
    return PageFurniture(page.number, sides[0], sides[1], types[0], types[1], number, not page.lines)


def _repeated(rows: list[EdgeRow], pages: dict[int, PageEvidence]) -> list[EdgeRow]:
    """Rows that stand at one height of several pages, and of which a piece says the same there, numbers aside."""
    groups: dict[tuple[bool, str], list[EdgeRow]] = defaultdict(list)
    for row in rows:
        for key in set(row.keys):
            groups[row.head, key].append(row)
    found: list[list[EdgeRow]] = []
    for group in groups.values():
        heights = Counter(round(row.y / SAME_HEIGHT) for row in group)
        common = heights.most_common(1)[0][0]
        near = [row for row in group if abs(row.y - common * SAME_HEIGHT) <= 1.5 * SAME_HEIGHT]
        if len({row.page for row in near}) >= 2:
            found.append(near)
    # Pages on which nothing else stands prove nothing: what repeats on them may be all that they have to say.
    every = {row.place: row for near in found for row in near}
    taken = Counter(row.page for row in every.values() for _ in row.indices)
    with_text = {number for number, page in pages.items() if len(page.lines) > taken[number]}
    fewest = 2 if len(pages) <= 6 else 3
    kept = [near for near in found if len({row.page for row in near} & with_text) >= min(fewest, len(near))]
    return list({row.place: row for near in kept for row in near}.values())


def _names_of_sections(
    rows: Sequence[EdgeRow], found: Sequence[EdgeRow], pages: dict[int, PageEvidence]
) -> list[EdgeRow]:
    """Rows in small type far above or below the text that say a title of the document, on however few pages they stand."""
    known = {row.place for row in found}
    usual = {number: _usual_size(page) for number, page in pages.items()}
    small = [
        row
        for row in rows
        if row.place not in known and row.type.size <= SMALLER * usual[row.page] and row.gap >= FAR * row.type.size
    ]
    titles = set(_titles(pages.values(), usual)) if small else set()
    return [
        row
        for row in small
        if any(
            len(letters_of(piece.text)) >= SHORTEST_NAME and letters_of(piece.text) in titles for piece in row.pieces
        )
    ]


def _without_headings_of_tables(found: Sequence[EdgeRow], pages: dict[int, PageEvidence]) -> list[EdgeRow]:
    """The rows without those in a ruled table that has others too: what names its columns is said again on each page."""
    of_page: dict[int, list[EdgeRow]] = defaultdict(list)
    for row in found:
        of_page[row.page].append(row)
    out: list[EdgeRow] = []
    for number, rows in of_page.items():
        page = pages[number]
        between = [row for row in rows if _is_between_rules(row, page)]
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


def _is_between_rules(row: EdgeRow, page: PageEvidence) -> bool:
    heights = [rule.box.center_y for rule in page.rules] + [y for box in page.boxes for y in (box.y0, box.y1)]
    return bool(heights) and min(heights) < row.y < max(heights)


def _outside_of_tags(
    rows: Sequence[EdgeRow], found: Sequence[EdgeRow], pages: dict[int, PageEvidence]
) -> list[EdgeRow]:
    """Rows no larger than the text that belong to none of a page's tags, or to one that says so: the file itself says that they run."""
    known = {row.place for row in found}
    out = []
    for row in rows:
        page = pages[row.page]
        if not page.tags or row.place in known or row.type.size > _usual_size(page):
            continue
        own = {page.lines[i].tag for i in row.indices}
        if (
            all(tag == OUTSIDE or (tag >= 0 and page.tags[tag].kind == "Artifact") for tag in own)
            and len(row.text) <= LONGEST_HEAD
        ):
            out.append(row)
    return out


class _Place(NamedTuple):
    """Where furniture stands: on which side, how high, and in which type; on how many pages."""

    head: bool
    y: float
    size: float
    font: str
    pages: int

    def holds(self, row: EdgeRow) -> bool:
        return (
            row.head is self.head
            and abs(row.y - self.y) <= SAME_HEIGHT
            and abs(row.type.size - self.size) <= SAME_SIZE
            and row.type.font == self.font
        )


def _in_their_place(
    rows: Sequence[EdgeRow], repeated: Sequence[EdgeRow], pages: dict[int, PageEvidence]
) -> list[EdgeRow]:
    """Rows that stand where others repeat, and hold the page's number or the title of something."""
    if not repeated:
        return []
    places = _places(repeated)
    known = {row.place for row in repeated}
    others = [row for row in rows if row.place not in known and any(p.holds(row) for p in places)]
    if not others:
        return []
    numbers = page_numbers([*repeated, *others])
    titles = _titles(pages.values(), {row.page: row.type.size for row in repeated})
    found = []
    for row in others:
        number = numbers.get(row.page)
        numbered = number is not None and any(with_field(p.text, number) != p.text for p in row.pieces)
        named = any(_begins_one_of(letters_of(p.text), titles) for p in row.pieces)
        usual = row.gap >= FAR * row.type.size and any(
            p.holds(row) and p.pages >= MOST_PAGES * len(pages) for p in places
        )
        if len(row.text) <= LONGEST_HEAD and (numbered or named or usual):
            found.append(row)
    return found


def _places(rows: Sequence[EdgeRow]) -> list[_Place]:
    places: list[_Place] = []
    for row in rows:
        for n, place in enumerate(places):
            if place.holds(row):
                places[n] = place._replace(pages=place.pages + 1)
                break
        else:
            places.append(_Place(row.head, row.y, row.type.size, row.type.font, 1))
    return places


def _titles(pages: Iterable[PageEvidence], sizes: dict[int, float]) -> list[str]:
    """Texts of lines that are set larger or bolder than the running heads, letters alone, sorted: what a running head may repeat."""
    usual = min(sizes.values(), default=0.0)
    found = {
        letters_of(line.text)
        for page in pages
        for line in page.lines
        if len(line.text) <= LONGEST_TITLE
        and (line.size > usual + SAME_SIZE or all(page.types[word.type].bold for word in line.words))
    }
    return sorted(found)


def _begins_one_of(text: str, titles: Sequence[str]) -> bool:
    """Whether a title begins with the text: running heads are cut short."""
    at = bisect_left(titles, text)
    return len(text) >= SHORTEST_NAME and at < len(titles) and titles[at].startswith(text)


def _lone_feet(rows: Sequence[EdgeRow], page: PageEvidence) -> list[EdgeRow]:
    """Rows at the foot of the only page that are set smaller than its text and stand far below it."""
    feet = [row for row in rows if not row.head]
    usual = _usual_size(page)
    out: list[EdgeRow] = []
    for n, row in enumerate(feet, 1):
        if row.y < LONE_FOOT * page.height or row.type.size > SMALLER * usual:
            break
        if row.gap >= LONE_GAP * usual and row.gap < page.height:
            out = feet[:n]
    return out


def _usual_size(page: PageEvidence) -> float:
    """The type size of most words of a page."""
    words: Counter[float] = Counter()
    for line in page.lines:
        words[line.size] += len(line.words)
    return words.most_common(1)[0][0] if words else 0.0
