"""Which typeface stands for one of a name that says nothing: the one that ships whose letters are as wide as those on the page, so that
lines and pages end alike."""

from __future__ import annotations

import json
import statistics
from collections import defaultdict
from collections.abc import Iterator, Mapping
from functools import cache
from pathlib import Path
from typing import NamedTuple

from evenquill.core.model import Document, Family, Marks, StandIn, TextBlock, texts_of
from evenquill.core.model.inline import lettering_of
from evenquill.core.typefaces import FAMILY_OF_SHIPPED, USUAL, is_known

FEWEST_WORDS, MOST_WORDS = 12, 400
"""Words that tell how wide the letters of a typeface are, and those that are measured, at most."""

LEAST_LETTERS = 3
"""Letters of a word that is measured."""

NOTICED = 0.01
"""Share by which letters must be nearer in width to be worth another typeface than the usual one of the family."""


class _Word(NamedTuple):
    """The letters of a word, and how wide it is on the page, in ems."""

    letters: str
    width: float


@cache
def _letter_widths() -> dict[str, dict[str, float]]:
    """Ems of letters by typeface, the same letters for each, as ``bench/letter_widths.py`` measured them."""
    table: dict[str, dict[str, float]] = json.loads(
        (Path(__file__).parent / "fitted" / "letter_widths.json").read_text()
    )
    return table


def measured_stand_ins(document: Document) -> tuple[StandIn, ...]:
    """What stands for the typefaces of a document of which nobody knows one with letters as wide."""
    found = []
    for (name, family), words in _words_by_typeface(document).items():
        if len(words) < FEWEST_WORDS:
            continue
        misses = {
            face: abs(statistics.median(_ratio(word, _letter_widths()[face]) for word in words) - 1.0)
            for face, own in FAMILY_OF_SHIPPED.items()
            if own is family
        }
        nearest = min(misses, key=lambda face: misses[face])
        if misses[nearest] < misses[USUAL[family][0]] - NOTICED:
            found.append(StandIn(name, nearest))
    return tuple(found)


def _ratio(word: _Word, widths: Mapping[str, float]) -> float:
    """How wide a word is over what it would be with letters of these widths."""
    return word.width / sum(widths[letter] for letter in word.letters)


def _words_by_typeface(document: Document) -> Mapping[tuple[str, Family], list[_Word]]:
    """Words of each typeface without a known likeness, by its name and family."""
    unknown = {
        style.id: style
        for style in document.resolved_styles.values()
        if style.font and not (style.bold or style.italic or is_known(style.font))
    }
    words: dict[tuple[str, Family], list[_Word]] = defaultdict(list)
    for block in document.blocks if unknown else ():
        for text in texts_of(block):
            style = unknown.get(text.style)
            if style is not None:
                own = words[style.font, style.family]
                if len(own) < MOST_WORDS and _is_plain(text):
                    own += _words(text, style.size)
    return words


def _is_plain(text: TextBlock) -> bool:
    """Whether all of a text looks as its style says."""
    return all(
        not item.marks & (Marks.BOLD | Marks.ITALIC | Marks.SMALL_CAPITALS)
        and not (lettering_of(item).font or lettering_of(item).size)
        for item in text.content
    )


def _words(text: TextBlock, size: float) -> Iterator[_Word]:
    """The words of a text that came with the file and have letters of the table alone."""
    whole, known = text.text, next(iter(_letter_widths().values()))
    for word in text.words:
        letters = whole[word.start : word.end]
        if len(letters) >= LEAST_LETTERS and word.confidence == 1.0 and all(letter in known for letter in letters):
            yield _Word(letters, word.box.width / size)
