"""Words broken at a line's end whose joining is in doubt: a hyphen that may belong to the word, or may not."""

from __future__ import annotations

from collections.abc import Iterator

from evenquill.core.model import Spot
from evenquill.core.queries.lexicon import Words
from evenquill.core.queries.query import Kind, Query
from evenquill.core.queries.tokens import Token
from evenquill.core.queries.view import View
from evenquill.core.queries.word_query import query_on

KIND = Kind("hyphen", "hyphen in doubt", "hyphens in doubt", 30)
KINDS = (KIND,)

LOST, LEFT_IN = 0.4, 0.5
"""Likelihoods of a hyphen lost, and of one left in that only broke the line."""

NEAR = 2
"""Letters by which the place of the break, told from the widths of the halves, may be off."""

SHORTEST = 2


def find(view: View) -> Iterator[Query]:
    for row in view.rows:
        for token in row:
            halves = _halves(token)
            if halves is None:
                continue
            words = view.words_of(token)
            core = token.core
            if not words.has_list or view.vouchers.counts[core] > 1:
                continue
            if "-" in core:
                joined = core.replace("-", "", 1)
                if core.count("-") == 1 and _known(joined, words) and not _known_whole(core, words):
                    yield _query(token, LEFT_IN, "a line ended here; the word is usually written without", joined)
            elif core.isalpha() and not _known(core, words):
                parted = _parted(core, token, halves, words)
                if parted:
                    yield _query(token, LOST, "a line ended here, and the joined word is not in the word list", parted)


def _query(token: Token, likelihood: float, reason: str, core: str) -> Query:
    return query_on(token, KIND, likelihood, reason, (token.text.replace(token.core, core, 1),))


def _halves(token: Token) -> tuple[Spot, Spot] | None:
    """The two spots of a word that was broken over a line's end."""
    if not token.broken:
        return None
    first, second = token.spots
    return (first, second) if second.box.y0 > first.box.y0 else None


def _known(word: str, words: Words) -> bool:
    return words.knows(word) or words.knows(word.lower())


def _known_whole(core: str, words: Words) -> bool:
    """Whether the language has the hyphenated word, and not only its parts."""
    return words.frequency(core) > words.frequency(core.replace("-", "")) or core in words.listed


def _parted(core: str, token: Token, halves: tuple[Spot, Spot], words: Words) -> str:
    """The word with a hyphen at its break, where both halves are words."""
    first, second = (half.box.width for half in halves)
    about = round(len(core) * first / max(first + second, 1.0))
    places = sorted(
        range(max(about - NEAR, SHORTEST), min(about + NEAR, len(core) - SHORTEST) + 1), key=lambda n: abs(n - about)
    )
    for place in places:
        if _known(core[:place], words) and _known(core[place:], words):
            return f"{core[:place]}-{core[place:]}"
    return ""
