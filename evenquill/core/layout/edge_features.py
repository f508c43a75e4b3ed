"""What is measured of the rows near the edges of pages, to tell running heads and feet from text.

Repetition over pages and place, isolation, size, rules, numbers that go up with the pages: each is evidence, none is a condition.
"""

from __future__ import annotations

import re
from bisect import bisect_left
from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence

from evenquill.core.evidence import OUTSIDE, PageEvidence
from evenquill.core.layout.edge_rows import SAME_HEIGHT, EdgeRow, pages_alike
from evenquill.core.layout.page_numbers import LONGEST_ALONE, page_numbers, with_field
from evenquill.core.model.text import letters_of

SAME_SIZE = 0.6
"""Points by which the type of running heads in one place may differ."""

LONGEST_TITLE, SHORTEST_NAME = 110, 6
"""Characters of a line that may be a title, and letters of a running head that are enough to say that it names one."""

FAR = 20.0
"""Ems beyond which a distance tells no more."""

EDGE_FEATURES = (
    "row", "edge_distance", "gap", "gap_outward", "size", "bold", "italic", "same_font", "same_color", "rule_inward",
    "rule_outward", "characters", "pieces", "middle", "right", "digits", "number", "number_is_place", "number_alone",
    "count_of_pages", "repeated", "repeated_parity", "same_place", "titled", "outside_of_tags", "heading_tag",
    "pages", "lines", "first_page", "last_page", "head", "between_rules", "inner_size", "inner_same_size", "only_row",
    "ends_sentence", "starts_lower", "capitals", "width", "rows_beyond", "widest_gap",
    "rows_to_widest_gap", "numbered_of", "inner_repeated", "outer_repeated",
)  # fmt: skip

_OF_COUNT = re.compile(r"(?<!\d)(\d{1,5})\D{1,8}(\d{1,5})(?!\d)")
"""The number of a page and how many there are, as in ``3 / 12``."""


def edge_features(rows: Sequence[EdgeRow], pages: Mapping[int, PageEvidence]) -> list[tuple[float, ...]]:
    """The measures of each row; ``rows`` are those of all pages, from the outermost in."""
    usual = {number: _usual_size(page) for number, page in pages.items()}
    by_side: dict[tuple[int, bool], list[EdgeRow]] = defaultdict(list)
    for row in rows:
        by_side[row.page, row.head].append(row)
    numbers = page_numbers(rows)
    titles = _titles(pages, usual, rows)
    fonts: Counter[str] = Counter()
    colors: Counter[str | None] = Counter()
    for page in pages.values():
        for line in page.lines:
            type_ = page.types[line.words[0].type]
            fonts[type_.font] += len(line.words)
            colors[type_.color] += len(line.words)
    font = fonts.most_common(1)[0][0] if fonts else ""
    color = colors.most_common(1)[0][0] if colors else None
    places = _places(rows)
    alike = pages_alike(rows)
    others_at_most = max(len(pages) - 1, 1)
    out: list[tuple[float, ...]] = []
    for row in rows:
        page = pages[row.page]
        side = by_side[row.page, row.head]
        n = next(k for k, other in enumerate(side) if other is row)
        size = max(usual[row.page], 1.0)
        number = numbers.get(row.page)
        numbered = number is not None and any(with_field(p.text, number) != p.text for p in row.pieces)
        lines = [page.lines[i] for i in row.indices]
        tags = {line.tag for line in lines}
        top, bottom = min(line.box.y0 for line in lines), max(line.box.y1 for line in lines)
        inner = bottom + row.gap if row.head else top - row.gap
        last = side[n - 1] if n else None
        outer = abs(row.y - last.y) if last else (top if row.head else page.height - bottom)
        others = alike[id(row)]
        gaps = [min(other.gap / size, FAR) for other in side[n:]]
        parity = {p for p in others if (p - row.page) % 2 == 0}
        place = places[row.head, round(row.y / SAME_HEIGHT), round(row.type.size)]
        text = row.text
        match = _OF_COUNT.search(text)
        counts = match is not None and int(match[1]) <= int(match[2])
        following = side[n + 1] if n + 1 < len(side) else None
        out.append((
            float(n), (row.y if row.head else page.height - row.y) / max(page.height, 1.0),
            min(row.gap / size, FAR), min(outer / size, FAR), row.type.size / size, float(row.type.bold),
            float(row.type.italic), float(row.type.font == font), float(row.type.color == color),
            _rule_between(page, bottom, inner) if row.head else _rule_between(page, inner, top),
            _rule_between(page, top - outer, top) if row.head else _rule_between(page, bottom, bottom + outer),
            float(min(len(text), 160)), float(len(row.pieces)), float(any(p.stop == 1 for p in row.pieces)),
            float(any(p.stop == 2 for p in row.pieces)), sum(map(str.isdigit, text)) / max(len(text), 1),
            float(numbered), float(numbered and number is not None and number.value == row.page),
            float(numbered and len(text) <= LONGEST_ALONE),
            float(counts and match is not None and int(match[2]) == len(pages)),
            len(others) / others_at_most, len(parity) / max((len(pages) - 1) // 2, 1),
            len(place - {row.page}) / others_at_most,
            float(any(_begins_one_of(letters_of(p.text), titles) for p in row.pieces)),
            float(bool(page.tags)) * (1.0 if tags == {OUTSIDE} or all(t >= 0 and page.tags[t].kind == "Artifact" for t in tags) else 0.5),
            float(any(t >= 0 and page.tags[t].heading_level > 0 for t in tags)), float(min(len(pages), 12)),
            float(min(len(page.lines), 60)), float(row.page == min(pages)), float(row.page == max(pages)),
            float(row.head), float(is_between_rules(row, page)),
            following.type.size / size if following else 0.0,
            abs(following.type.size - row.type.size) / size if following else -1.0,
            float(len(page.lines) <= len(row.indices)), float(text.rstrip()[-1:] in ".!?:;,"),
            float(text[:1].islower()), float(text.isupper()),
            sum(line.box.width for line in lines) / max(page.width, 1.0), float(len(side)), max(gaps),
            float(gaps.index(max(gaps))), float(counts),
            len(alike[id(following)]) / others_at_most if following else -1.0,
            len(alike[id(last)]) / others_at_most if last else -1.0,
        ))  # fmt: skip
    return out


def is_between_rules(row: EdgeRow, page: PageEvidence) -> bool:
    """Whether something is drawn above a row and below it, as around the rows of a table."""
    heights = [rule.box.center_y for rule in page.rules] + [y for box in page.boxes for y in (box.y0, box.y1)]
    return bool(heights) and min(heights) < row.y < max(heights)


def _places(rows: Sequence[EdgeRow]) -> Mapping[tuple[bool, int, int], set[int]]:
    """Pages that have a row in a place: on one side, at one height, in type of one size."""
    out: dict[tuple[bool, int, int], set[int]] = defaultdict(set)
    for row in rows:
        for height in (-1, 0, 1):
            out[row.head, round(row.y / SAME_HEIGHT) + height, round(row.type.size)].add(row.page)
    return out


def _rule_between(page: PageEvidence, top: float, bottom: float) -> float:
    """The width of the widest horizontal rule between two heights, as a share of the page's."""
    widths = [rule.box.width for rule in page.rules if rule.horizontal and top - 1 <= rule.box.center_y <= bottom + 1]
    return max(widths, default=0.0) / max(page.width, 1.0)


def _titles(pages: Mapping[int, PageEvidence], usual: Mapping[int, float], rows: Sequence[EdgeRow]) -> list[str]:
    """Texts of lines away from the edges that are set larger or bolder than running heads are, letters alone, sorted."""
    at_edge = {(row.page, index) for row in rows for index in row.indices}
    found = {
        letters_of(line.text)
        for page in pages.values()
        for n, line in enumerate(page.lines)
        if len(line.text) <= LONGEST_TITLE
        and (page.number, n) not in at_edge
        and (
            line.size > usual[page.number] + SAME_SIZE
            or all(page.types[word.type].bold for word in line.words)
            or line.text.isupper()
        )
    }
    return sorted(found)


def _begins_one_of(text: str, titles: Sequence[str]) -> bool:
    """Whether a title begins with the text: running heads are cut short."""
    at = bisect_left(titles, text)
    return len(text) >= SHORTEST_NAME and at < len(titles) and titles[at].startswith(text)


def _usual_size(page: PageEvidence) -> float:
    """The type size of most words of a page."""
    words: Counter[float] = Counter()
    for line in page.lines:
        words[line.size] += len(line.words)
    return words.most_common(1)[0][0] if words else 0.0
