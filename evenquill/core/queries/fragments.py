"""Words that fell apart: two neighbours of which one is no word, and which together are one."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from evenquill.core.queries.lexicon import Words
from evenquill.core.queries.tokens import Token

SHORTEST = 4
"""Letters of a word that may have fallen apart; shorter ones come about by chance."""


def with_fragments_joined(row: Sequence[Token], lexicon: Words) -> Iterator[Token]:
    """The words of a row, fragments of one word as one token with the space still in its text."""
    n = 0
    while n < len(row):
        if n + 1 < len(row) and _are_fragments(row[n], row[n + 1], lexicon):
            yield _joined(row[n], row[n + 1])
            n += 2
        else:
            yield row[n]
            n += 1


def _are_fragments(one: Token, other: Token, lexicon: Words) -> bool:
    if not (one.recognised or other.recognised) or not lexicon.has_list:
        return False
    if one.block.text[one.end : other.start] != " " or not (one.core.isalpha() and other.core.islower()):
        return False
    if one.text.endswith(one.core) and other.text.startswith(other.core):
        whole = one.core + other.core
        if len(whole) >= SHORTEST and not (lexicon.knows(one.core) and lexicon.knows(other.core)):
            return lexicon.knows(whole)
    return False


def _joined(one: Token, other: Token) -> Token:
    return one._replace(
        text=one.block.text[one.start : other.end],
        core=one.core + other.core,
        spots=(*one.spots, *other.spots),
        confidence=min(one.confidence, other.confidence),
        others=(),
        recognised=True,
        rival="",
    )
