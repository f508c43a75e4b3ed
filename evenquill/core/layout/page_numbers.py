"""Printed page numbers: which of the numbers in heads and feet they are."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from evenquill.core.layout.edge_rows import EdgeRow
from evenquill.core.model import NumberFormat
from evenquill.core.model.numerals import roman_value, written

FEWEST = 2
"""Pages that must agree on how far printed numbers are ahead of places in the file."""

PAGE_NUMBER = "\ufffc"
"""Stands in the text of a running head or foot for the page's own number; no source has this character."""

LONGEST_ALONE = 8
"""Characters of a row that is a page number and nothing else: ``- iv -``."""

_TOKEN = re.compile(r"(?<![\w.,])(\d{1,5}|[ivxlcIVXLC]{1,7})(?![\w]|[.,]\d)")


_ONE = re.compile(r"(?<![\w.,'’])[Ilı|](?![\w.,'’])")
"""What a figure one that stands by itself is read as on scans."""


class PageNumber(NamedTuple):
    """A printed page number, and how it was read if otherwise."""

    value: int
    format: NumberFormat
    read: str = ""

    @property
    def label(self) -> str:
        return written(self.value, self.format)


def page_numbers(rows: Iterable[EdgeRow]) -> dict[int, PageNumber]:
    """The number printed on each page that has one, by page: that which runs on from page to page."""
    by_page: dict[int, list[PageNumber]] = {}
    alone: dict[int, list[PageNumber]] = {}
    for row in rows:
        candidates = _candidates(row)
        by_page.setdefault(row.page, []).extend(candidates)
        if len(row.pieces) == 1 and len(row.text) <= LONGEST_ALONE:
            alone.setdefault(row.page, []).extend(candidates)
    votes: Counter[tuple[NumberFormat, int]] = Counter()
    for page, candidates in by_page.items():
        votes.update({(number.format, number.value - page) for number in candidates})
    found: dict[int, PageNumber] = {}
    for page, candidates in by_page.items():
        best = _likeliest(candidates, page, votes, alone.get(page, ()))
        if best is not None and (votes[best.format, best.value - page] >= FEWEST or best in alone.get(page, ())):
            found[page] = best
    return found


def _likeliest(
    candidates: Sequence[PageNumber], page: int, votes: Counter[tuple[NumberFormat, int]], alone: Sequence[PageNumber]
) -> PageNumber | None:
    """The number that runs on over most pages; of several one that stands alone, and that of the page's place."""

    def worth(number: PageNumber) -> tuple[int, bool, bool]:
        return votes[number.format, number.value - page], number in alone, number.value == page

    return max(candidates, key=worth, default=None)


def _candidates(row: EdgeRow) -> list[PageNumber]:
    out = []
    for piece in row.pieces:
        for match in _TOKEN.finditer(piece.text):
            token = match[1]
            if token.isdigit():
                out.append(PageNumber(int(token), NumberFormat.DECIMAL))
            elif roman_value(token) and token == piece.text.strip(" -–—·|"):
                form = NumberFormat.LOWER_ROMAN if token.islower() else NumberFormat.UPPER_ROMAN
                out.append(PageNumber(roman_value(token), form))
        out += [PageNumber(1, NumberFormat.DECIMAL, match[0]) for match in _ONE.finditer(piece.text)]
    return out


def with_field(text: str, number: PageNumber | None) -> str:
    """A text of a page with PAGE_NUMBER in the place of the page's own number."""
    if number is None:
        return text
    printed = re.escape(number.read or number.label)
    return re.sub(rf"(?<![\w.,]){printed}(?![\w]|[.,]\d)", PAGE_NUMBER, text, count=1)
