"""Numbers of sections of scanned pages that were misread, known by those before them: ``$ 1``, ``$ 2`` for ``§ 1``, ``§ 2``; ``I.``,
``ll.`` for ``I.``, ``II.``."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from msgspec.structs import replace

from evenquill.core.evidence import PageEvidence
from evenquill.core.model import NumberFormat
from evenquill.core.model.numerals import roman_value, written
from evenquill.core.rebuild.misread_marks import as_roman, put_right

SIGN, READ_FOR_IT = "§", ("§", "$")
"""The sign of a section, and what it is read as."""

FEWEST = 2
"""Sections that are counted on, at least: one alone may be a price."""

_SECTION = re.compile(r"^(\d{1,3})[.:]?$")
_ROMAN = re.compile(r"^([IVXLCl1|!]{1,7})\.$")

_Place = tuple[int, int]
"""A page and a line of it, by their places."""


def with_sections_put_right(pages: Sequence[PageEvidence]) -> list[PageEvidence]:
    """The pages, on scanned ones with the numbers of sections put right that those before them tell."""
    said = _signs(pages) | _romans(pages)
    return [page if page.cleaned is None else _put_right(page, n, said) for n, page in enumerate(pages)]


def _put_right(page: PageEvidence, place: int, said: Mapping[_Place, str]) -> PageEvidence:
    lines = [
        line._replace(words=(put_right(line.words[0], said[place, n]), *line.words[1:])) if (place, n) in said else line
        for n, line in enumerate(page.lines)
    ]
    return replace(page, lines=tuple(lines))


def _signs(pages: Sequence[PageEvidence]) -> dict[_Place, str]:
    """Where the sign of a section was read as another, before numbers that are counted."""
    run: list[_Place] = []
    found: set[_Place] = set()
    last = 0
    for n, page in enumerate(pages):
        for k, line in enumerate(page.lines):
            words = line.words
            number = _SECTION.match(words[1].text) if len(words) > 1 and words[0].text in READ_FOR_IT else None
            if number is None:
                continue
            value = int(number.group(1))
            run = [*run, (n, k)] if value == last + 1 else [(n, k)]
            last = value
            if len(run) >= FEWEST:
                found.update(run)
    return {place: SIGN for place in found if pages[place[0]].lines[place[1]].words[0].text != SIGN}


def _romans(pages: Sequence[PageEvidence]) -> dict[_Place, str]:
    """Where a roman number, the next one of those before it, was read as other letters."""
    found: dict[_Place, str] = {}
    last = 0
    for n, page in enumerate(pages):
        for k, line in enumerate(page.lines):
            first = line.words[0].text
            match = _ROMAN.match(first) if len(line.words) > 1 else None
            if match is None or match.group(1).isdecimal():
                continue
            value = roman_value(as_roman(match.group(1)))
            if roman_value(match.group(1)):
                last = value
            elif value and value == last + 1:
                found[n, k] = written(value, NumberFormat.UPPER_ROMAN) + "."
                last = value
    return found
