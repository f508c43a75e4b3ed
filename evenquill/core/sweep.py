"""Small faults that are swept out of a whole document at once: each kind counted, shown by samples, and put right in one way."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterator
from enum import StrEnum
from typing import NamedTuple

from evenquill.core.find import Hit, hit_at, places_of
from evenquill.core.model import Document, Role, TextBlock
from evenquill.core.model.inline import OBJECT, plain


class SweepKind(StrEnum):
    SPACES = "spaces"
    ENDS = "ends"
    BEFORE_SIGNS = "before signs"
    QUOTES = "quotes"
    DASHES = "dashes"
    TABS = "tabs"
    BREAKS = "breaks"
    WORDS = "words"
    EMPTY_ROWS = "empty rows"


TITLES = {
    SweepKind.SPACES: "several spaces in a row",
    SweepKind.ENDS: "spaces at the beginning or the end",
    SweepKind.BEFORE_SIGNS: "spaces before signs",
    SweepKind.QUOTES: "straight quotes among curly ones",
    SweepKind.DASHES: "dashes of another length than most",
    SweepKind.TABS: "tabs at the beginning or the end",
    SweepKind.BREAKS: "line breaks at the beginning or the end",
    SweepKind.WORDS: "words that stand twice",
    SweepKind.EMPTY_ROWS: "empty rows",
}
"""What each kind is called."""

ASK = frozenset({SweepKind.WORDS})
"""Kinds of which some may be meant: they are not swept unless that is asked for."""

QUOTES = {
    "en": "“”",
    "de": "„“",
    "nl": "“”",
    "fr": "«»",
    "it": "«»",
    "es": "«»",
    "pt": "«»",
    "ru": "«»",
    "uk": "«»",
    "pl": "„”",
    "cs": "„“",
    "sk": "„“",
    "da": "»«",
    "sv": "””",
    "fi": "””",
    "hu": "„”",
    "ro": "„”",
}
"""Opening and closing quotes by language (Unicode CLDR)."""

SPACED = {"fr": ",.)]"}
"""Signs before which no space stands, in languages where one does before others."""

UNSPACED = ",.;:!?)]"

TWICE_RIGHT = {
    "en": {"that", "had", "is", "in"},
    "de": {"die", "der", "das", "den", "dem", "sie"},
    "nl": {"die", "dat"},
    "fr": {"nous", "vous"},
}
"""Words that may stand twice in a row."""

_DASH = re.compile(r"(?<=[^\W\d_]) ([-–—]) (?=[^\W\d_])")


class _Manner(NamedTuple):
    """How the document as a whole writes: its language, its dash between spaces (empty where it has one kind), whether it has curly
    quotes."""

    language: str
    dash: str
    curly: bool


_Fault = tuple[int, int, str]
"""Where a fault begins and ends, and what is right."""


def faults(document: Document, kinds: frozenset[SweepKind] = frozenset(SweepKind)) -> Iterator[tuple[SweepKind, Hit]]:
    """The faults of some kinds, in the order of the text. Of empty rows the hit has no characters; code and verse are left alone."""
    manner = _manner(document)
    for place in places_of(document):
        text = plain(place.content)
        block = place.block
        if block is not None and block.role in (Role.CODE, Role.VERSE, Role.EQUATION):
            continue
        if SweepKind.EMPTY_ROWS in kinds and is_empty_row(block):
            yield SweepKind.EMPTY_ROWS, hit_at(place, text, 0, 0, "")
            continue
        for kind, find in _FIND.items():
            if kind in kinds:
                for start, end, right in find(text, manner):
                    yield kind, hit_at(place, text, start, end, right)


def is_empty_row(block: TextBlock | None) -> bool:
    """Whether a row has nothing in it and stands for nothing."""
    return block is not None and block.role is not Role.CELL and not block.text.strip()


def _manner(document: Document) -> _Manner:
    dashes: Counter[str] = Counter()
    curly = straight = 0
    for place in places_of(document):
        text = plain(place.content)
        dashes.update(_DASH.findall(text))
        curly += sum(text.count(c) for c in "“”„«»’")
        straight += text.count('"') + text.count("'")
    dash = dashes.most_common(1)[0][0] if len(dashes) > 1 else ""
    return _Manner(document.language[:2], dash, curly > straight)


def _spaces(text: str, manner: _Manner) -> Iterator[_Fault]:
    for match in re.finditer(r"(?<=\S)  +(?=\S)", text):
        yield match.start(), match.end(), " "


def _ends(text: str, manner: _Manner) -> Iterator[_Fault]:
    for match in re.finditer(r"\A +(?=\S)|(?<=\S) +\Z", text):
        yield match.start(), match.end(), ""


def _before_signs(text: str, manner: _Manner) -> Iterator[_Fault]:
    signs = re.escape(SPACED.get(manner.language, UNSPACED))
    # Not before three dots, a figure (.5), or a sign that begins something (:-, ?!).
    for match in re.finditer(rf"(?<=[\w)\]”»]) +(?=[{signs}](?:\s|\Z))", text):
        yield match.start(), match.end(), ""


def _quotes(text: str, manner: _Manner) -> Iterator[_Fault]:
    if not manner.curly:
        return
    opening, closing = tuple(QUOTES.get(manner.language, QUOTES["en"]))
    for match in re.finditer(r"(?<=[^\W\d_])'(?=[^\W\d_])", text):
        yield match.start(), match.end(), "’"
    places = [match.start() for match in re.finditer('"', text)]
    for n, at in enumerate(places):
        # Only whole pairs: what the odd one was meant for, a clerk has to say. Inches are none.
        if n % 2 == 0 and n + 1 < len(places) and not text[max(at - 1, 0) : at].isdigit():
            yield at, at + 1, opening
        elif n % 2 == 1 and not text[max(places[n - 1] - 1, 0) : places[n - 1]].isdigit():
            yield at, at + 1, closing


def _dashes(text: str, manner: _Manner) -> Iterator[_Fault]:
    if manner.dash:
        for match in _DASH.finditer(text):
            if match[1] != manner.dash:
                yield match.start(1), match.end(1), manner.dash


def _tabs(text: str, manner: _Manner) -> Iterator[_Fault]:
    for match in re.finditer(r"\A\t+(?=[^\t])|(?<=[^\t])\t+\Z", text):
        yield match.start(), match.end(), ""


def _breaks(text: str, manner: _Manner) -> Iterator[_Fault]:
    for match in re.finditer(r"\A\n+(?=[^\n])|(?<=[^\n])\n+\Z", text):
        yield match.start(), match.end(), ""


def _words(text: str, manner: _Manner) -> Iterator[_Fault]:
    right = TWICE_RIGHT.get(manner.language, set())
    for match in re.finditer(r"(?<![\w-])([^\W\d_]{2,})[ \n](?i:\1)(?![\w-])", text):
        if match[1].lower() not in right and OBJECT not in match[0]:
            yield match.end(1), match.end(), ""


_FIND: dict[SweepKind, Callable[[str, _Manner], Iterator[_Fault]]] = {
    SweepKind.SPACES: _spaces,
    SweepKind.ENDS: _ends,
    SweepKind.BEFORE_SIGNS: _before_signs,
    SweepKind.QUOTES: _quotes,
    SweepKind.DASHES: _dashes,
    SweepKind.TABS: _tabs,
    SweepKind.BREAKS: _breaks,
    SweepKind.WORDS: _words,
}
