"""Headings that are counted: ``Chapter I``, ``Chapter II``; ``A.``, ``B.``. What carries on a series is one of it, and has its level."""

from __future__ import annotations

import re
import statistics
from collections import Counter, defaultdict
from collections.abc import Callable, Hashable, Mapping, Sequence
from typing import NamedTuple

from evenquill.core.rebuild.drafts import AnyDraft, Draft

_COUNTED = re.compile(r"^(?:(§)\s*|([^\W\d_]{2,20})\.?\s+)?(\d{1,3}|[IVXLCl1|]{1,7}|[A-Z])([.:)]|(?=\s|$))")

_ONES = str.maketrans("l1|", "III")
"""What ones of roman numbers are read as."""

LABELS, MOST_LABEL_LINES = ("lines", "term", "pairs"), 3
"""Roles that a label with its title may seem to have, and their lines, at most."""

MAY_BE_HEADING = 0.05
"""Likelihood from which a line of its own may be a heading for what it has in common with others: a look, or a series of numbers."""

_ROMAN = {"I": 1, "V": 5, "X": 10, "L": 50, "C": 100}


class Place(NamedTuple):
    """Where a text stands in a series: the word or sign that names what is counted, in small letters; the sort of number; the number by
    each way that it may be read; and the sign behind it."""

    word: str
    sort: str
    values: tuple[int, ...]
    sign: str


def place_of(text: str) -> Place | None:
    """The place of a text in a series, None for one that is not counted; a number needs a word or a sign behind it."""
    match = _COUNTED.match(text)
    if match is None:
        return None
    word, number, sign = (match.group(1) or match.group(2) or "").casefold(), match.group(3), match.group(4)
    if not word and not sign:
        return None
    if number.isdigit():
        return Place(word, "1", (int(number),), sign)
    if not word and not number.isupper():
        return None
    number = number.translate(_ONES)
    letters = (ord(number) - 64,) if len(number) == 1 else ()
    return Place(word, "A", (*letters, *_roman(number)), sign)


def _roman(text: str) -> tuple[int, ...]:
    if any(c not in _ROMAN for c in text):
        return ()
    values = [_ROMAN[c] for c in text]
    return (sum(-v if any(v < w for w in values[n + 1 :]) else v for n, v in enumerate(values)),)


def with_carried_on(drafts: Sequence[AnyDraft], look_of: Callable[[Draft], Hashable], usual: Hashable) -> None:
    """Makes headings of what carries on the numbers of headings, looks as they do and not as the text."""
    last: dict[tuple[str, str, Hashable], tuple[int, ...]] = {}
    for draft in drafts:
        if not isinstance(draft, Draft):
            continue
        place = place_of(draft.lines[0].text)
        if place is None:
            continue
        look = look_of(draft)
        key = (place.word, place.sort, look)
        if draft.likely_role == "heading":
            last[key] = place.values
        elif look != usual and any(value - 1 in last.get(key, ()) for value in place.values):
            draft.likely_role, draft.of_roles, draft.marker = "heading", (), ""
            last[key] = place.values


def with_counted_labels(drafts: Sequence[AnyDraft], look_of: Callable[[Draft], Hashable], usual: Hashable) -> None:
    """Makes headings of lines of their own that count what a word names, ``Article 1``, ``Article 2``, and look alike and not as the text:
    each of them says little, all together do."""
    series: defaultdict[tuple[str, str, Hashable], list[tuple[tuple[int, ...], Draft]]] = defaultdict(list)
    for draft in drafts:
        if not isinstance(draft, Draft) or draft.likely_role not in LABELS or len(draft.lines) > MOST_LABEL_LINES:
            continue
        place, look = place_of(draft.lines[0].text), look_of(draft)
        if place is None or not place.word or look == usual:
            continue
        own = series[place.word, place.sort, look]
        if not own or any(value - 1 in own[-1][0] for value in place.values):
            own.append((place.values, draft))
    for own in series.values():
        labels = [draft for _, draft in own]
        if len(labels) > 1 and statistics.mean(draft.chance_of("heading") for draft in labels) >= MAY_BE_HEADING:
            for draft in labels:
                draft.likely_role, draft.of_roles, draft.marker = "heading", (), ""


def levels_by_series(texts: Sequence[str], levels: Sequence[int]) -> list[int]:
    """The levels of headings, those of one series all the same: the one that most of it have."""
    votes: Mapping[tuple[str, str], Counter[int]] = defaultdict(Counter)
    places = [place_of(text) for text in texts]
    for place, level in zip(places, levels, strict=True):
        if place is not None and place.word:
            votes[place.word, place.sort][level] += 1
    out = []
    for place, level in zip(places, levels, strict=True):
        if place is not None and place.word:
            own = votes[place.word, place.sort]
            level = max(own, key=lambda one: (own[one], -one))
        out.append(level)
    return out
