"""Running heads and feet: lines that stand in one place near the edge of several pages and say the same.

Digits are masked, so that page numbers do not hide what repeats. All pages are looked at, once.
"""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Iterable
from typing import NamedTuple

from evenquill.core.reading.evidence import Line, PageEvidence, Type

BAND = 0.16
"""Share of the page's height, at top and bottom, in which running heads stand."""

MOST_ROWS = 3
"""Rows of a running head at the most."""

APART = 0.6
"""Ems of free height between a running head and the text."""

SAME_HEIGHT = 4.0
"""Points by which a running head may move from page to page."""

_DIGITS = re.compile(r"\d+")


class RunningText(NamedTuple):
    """What a running head says: pieces with their left and right end, look, and place on the page's width (0 to 1).

    ``{page}`` in a text stands for the page number.
    """

    pieces: tuple[tuple[str, float], ...]
    type: Type
    page: int


class Furniture(NamedTuple):
    """``lines`` are the indices of furniture lines by page number; ``other`` those that head and foot do not say."""

    lines: dict[int, frozenset[int]]
    head: RunningText | None
    foot: RunningText | None
    first_page_plain: bool
    first_number: int
    other: dict[int, tuple[int, ...]]


class _Row(NamedTuple):
    page: int
    indices: tuple[int, ...]
    key: str
    y: float
    head: bool


def find_furniture(pages: Iterable[PageEvidence]) -> Furniture:
    """Looks through all pages; a document of one page has none."""
    by_number = {page.number: page for page in pages}
    rows = [row for page in by_number.values() for row in _edge_rows(page)]
    repeated = _repeated(rows, by_number)
    lines: dict[int, set[int]] = defaultdict(set)
    for row in repeated:
        lines[row.page].update(row.indices)
    offset = _number_offset(repeated, by_number)
    head, head_texts = _running(repeated, by_number, offset, head=True)
    foot, foot_texts = _running(repeated, by_number, offset, head=False)
    seen = head_texts | foot_texts
    other: dict[int, list[int]] = defaultdict(list)
    for row in repeated:
        text = _with_number(_text(row, by_number), row.page, offset)
        if text not in seen:
            seen.add(text)
            other[row.page].extend(row.indices)
    first = min(by_number, default=1)
    return Furniture(
        lines={page: frozenset(indices) for page, indices in lines.items()},
        head=head,
        foot=foot,
        first_page_plain=bool(repeated) and first not in lines,
        first_number=first + offset if offset is not None else 1,
        other={page: tuple(indices) for page, indices in other.items()},
    )


def _edge_rows(page: PageEvidence) -> list[_Row]:
    """The rows near the top and bottom edge that stand apart from the text, outermost first."""
    order = sorted((i for i, line in enumerate(page.lines) if not line.angle), key=lambda i: page.lines[i].box.center_y)
    rows: list[list[int]] = []
    for i in order:
        line = page.lines[i]
        if rows and abs(page.lines[rows[-1][0]].baseline - line.baseline) < 0.5 * line.size:
            rows[-1].append(i)
        else:
            rows.append([i])
    found: list[tuple[bool, int, tuple[int, ...], list[Line], bool]] = []
    for head, sequence in ((True, rows), (False, rows[::-1])):
        for n, row in enumerate(sequence[: MOST_ROWS + 1]):
            members = [page.lines[i] for i in row]
            edge = max(line.box.y1 for line in members) if head else min(line.box.y0 for line in members)
            if (edge > BAND * page.height) if head else (edge < (1 - BAND) * page.height):
                break
            if n + 1 < len(sequence):
                following = [page.lines[i] for i in sequence[n + 1]]
                gap = (
                    min(line.box.y0 for line in following) - edge
                    if head
                    else edge - max(line.box.y1 for line in following)
                )
                apart = gap >= APART * max(line.size for line in members)
            else:
                apart = True
            members.sort(key=lambda line: line.box.x0)
            found.append((head, n, tuple(sorted(row, key=lambda i: page.lines[i].box.x0)), members, apart))
    out: list[_Row] = []
    for head in (True, False):
        side = [entry for entry in found if entry[0] is head]
        # Rows count up to the last one that stands apart from what follows it.
        last = max((n for _, n, _, _, apart in side if apart), default=-1)
        for _, n, indices, members, _ in side:
            if n <= last:
                key = _DIGITS.sub("#", "\t".join(line.text for line in members)).casefold()
                out.append(_Row(page.number, indices, key, members[0].box.center_y, head))
    return out


def _repeated(rows: list[_Row], pages: dict[int, PageEvidence]) -> list[_Row]:
    """Rows that stand at one height of several pages with one text, digits aside."""
    groups: dict[tuple[bool, str], list[_Row]] = defaultdict(list)
    for row in rows:
        groups[row.head, row.key].append(row)
    found: list[list[_Row]] = []
    for group in groups.values():
        heights = Counter(round(row.y / SAME_HEIGHT) for row in group)
        common = heights.most_common(1)[0][0]
        near = [row for row in group if abs(row.y - common * SAME_HEIGHT) <= 1.5 * SAME_HEIGHT]
        if len({row.page for row in near}) >= 2:
            found.append(near)
    # Pages on which nothing else stands prove nothing: what repeats on them may be all that they have to say.
    taken = Counter(row.page for near in found for row in near for _ in row.indices)
    with_text = {number for number, page in pages.items() if len(page.lines) > taken[number]}
    fewest = 2 if len(pages) <= 6 else 3
    out = [
        row for near in found if len({row.page for row in near} & with_text) >= min(fewest, len(near)) for row in near
    ]
    return sorted(out, key=lambda row: (row.page, row.y))


def _number_offset(rows: list[_Row], pages: dict[int, PageEvidence]) -> int | None:
    """Printed page number less place in the file, where most numbered rows agree on it."""
    offsets: Counter[int] = Counter()
    numbered = 0
    for row in rows:
        numbers = {int(n) for n in _DIGITS.findall(_text(row, pages)) if len(n) < 6}
        if numbers:
            numbered += 1
            offsets.update({number - row.page for number in numbers})
    if not offsets:
        return None
    offset, votes = offsets.most_common(1)[0]
    return offset if votes >= 2 and votes >= 0.6 * numbered / 2 else None


def _text(row: _Row, pages: dict[int, PageEvidence]) -> str:
    return "\t".join(pages[row.page].lines[i].text for i in row.indices)


def _running(
    rows: list[_Row], pages: dict[int, PageEvidence], offset: int | None, *, head: bool
) -> tuple[RunningText | None, set[str]]:
    """The commonest running text on this side, and the texts of the rows that it says."""
    side = [row for row in rows if row.head is head]
    if not side:
        return None, set()
    signatures: dict[int, list[_Row]] = defaultdict(list)
    for row in side:
        signatures[row.page].append(row)
    counts = Counter(tuple(row.key for row in page_rows) for page_rows in signatures.values())
    common = counts.most_common(1)[0][0]
    chosen = next(page_rows for page_rows in signatures.values() if tuple(row.key for row in page_rows) == common)
    pieces: list[tuple[str, float]] = []
    page = pages[chosen[0].page]
    first: Line | None = None
    for row in chosen:
        for i in row.indices:
            line = page.lines[i]
            first = first or line
            pieces.append((_with_number(line.text, row.page, offset), line.box.center_x / page.width))
    assert first is not None
    said = {_with_number(_text(row, pages), row.page, offset) for row in chosen}
    return RunningText(tuple(pieces), page.types[first.words[0].type], page.number), said


def _with_number(text: str, page: int, offset: int | None) -> str:
    if offset is None:
        return text
    return re.sub(rf"(?<!\d){page + offset}(?!\d)", "{page}", text, count=1)
