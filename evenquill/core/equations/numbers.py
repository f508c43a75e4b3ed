"""What numbers of equations look like, and where a text refers to one."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator
from typing import NamedTuple

NUMBER = re.compile(r"[(\[](?:[A-Z]\.?)?\d+(?:[.\-–]\d+)*[a-z′']?[)\]]")
"""A number in brackets, maybe with a letter or the numbers of chapters before it, and a letter or a prime behind it."""

_NAMED = re.compile(
    r"\b(?:equations?|eqs?\.|eqn\.|gleichung(?:en)?|gl\.|équations?|éq\.|ecuaci(?:ón|ones)|ecs?\.|equazion[ei]|vergelijking(?:en)?|"
    r"formulas?|formel|formule)\s*",
    re.IGNORECASE,
)
"""The word for an equation, in languages that can be read."""

_AND = re.compile(r"\s*(?:,|;|–|-|&|to|and|or|und|bis|oder|et|ou|à|y|o|e|en|of|a)\s*", re.IGNORECASE)
"""What stands between numbers that are referred to together."""

_BARE = re.compile(r"(?:[A-Z]\.?)?\d+(?:[.\-–]\d+)*[a-z′']?\b")


class Reference(NamedTuple):
    """``number`` as equations have it, in brackets; the characters of the text that say it; whether they call it an equation."""

    number: str
    start: int
    end: int
    named: bool


def references_in(text: str) -> list[Reference]:
    """Numbers in a text that may be those of equations, in order: ones behind the word for equations, and others in brackets.

    What counts the parts of a sentence, "(1) the depth, (2) the width", is no reference, nor is the number that a text begins with.
    """
    named = list(_behind_words(text))
    taken = {reference.end for reference in named}
    bare = [
        Reference(found[0], found.start(), found.end(), False)
        for found in NUMBER.finditer(text)
        if found.end() not in taken and text[: found.start()].strip()
    ]
    counted = _counted(text, [found for found in NUMBER.finditer(text) if found.end() not in taken])
    return sorted([*named, *(one for one in bare if one.start not in counted)], key=lambda reference: reference.start)


def _behind_words(text: str) -> Iterator[Reference]:
    for word in _NAMED.finditer(text):
        start, at = word.start(), word.end()
        while (found := NUMBER.match(text, at) or _BARE.match(text, at)) is not None:
            number = found[0] if found[0][0] in "([" else f"({found[0]})"
            yield Reference(number, start, found.end(), True)
            more = _AND.match(text, found.end())
            if more is None:
                break
            start = at = more.end()


def _counted(text: str, found: list[re.Match[str]]) -> set[int]:
    """Where numbers begin that count parts of the text: each one more than the one before it, with more than a word like "and" between."""
    out: set[int] = set()
    for before, after in itertools.pairwise(found):
        low, high = before[0][1:-1], after[0][1:-1]
        together = _AND.fullmatch(text, before.end(), after.start()) is not None
        if low.isdecimal() and high.isdecimal() and int(high) == int(low) + 1 and not together:
            out |= {before.start(), after.start()}
    return out
