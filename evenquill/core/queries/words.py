"""Queries on words that are probably wrong, and on rows of digits with letters among them."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence

from evenquill.core.queries.answers import answers
from evenquill.core.queries.lexicon import Lexicon
from evenquill.core.queries.likelihood import Beside, Vouchers, likelihood, measures, reason
from evenquill.core.queries.query import Query, QueryKind
from evenquill.core.queries.shapes import spoiled_number
from evenquill.core.queries.tokens import Token

ASKED = 0.06
"""Likelihood from which a word is asked about: so low, two words are asked about for nothing for each that is wrong."""

SPOILED = 0.9
"""Likelihood of a row of digits with a letter in it, whatever the recogniser says; on native pages as well."""

NAMES = {"en": "English", "de": "German", "fr": "French", "es": "Spanish", "it": "Italian", "pt": "Portuguese", "nl": "Dutch",
         "sv": "Swedish", "fi": "Finnish", "da": "Danish", "nb": "Norwegian", "pl": "Polish", "cs": "Czech"}  # fmt: skip


def vouchers_of(words: Iterable[Token]) -> Vouchers:
    """What the document's words say of one another."""
    count: Counter[str] = Counter()
    surest: dict[str, float] = {}
    for token in words:
        count[token.core] += 1
        surest[token.core] = max(surest.get(token.core, 0.0), token.confidence)
    return Vouchers(count, surest)


def with_neighbours(words: Sequence[Token]) -> Iterator[tuple[Token, Beside]]:
    """Each word with the texts of its neighbours in its block."""
    for n, token in enumerate(words):
        before = words[n - 1].text if n and words[n - 1].block is token.block else ""
        after = words[n + 1].text if n + 1 < len(words) and words[n + 1].block is token.block else ""
        yield token, Beside(before, after)


def word_queries(words: Sequence[Token], lexicon: Lexicon) -> Iterator[Query]:
    """A query for each word that is probably wrong."""
    vouchers = vouchers_of(words)
    for token, beside in with_neighbours(words):
        if spoiled_number(token.core) is not None:
            yield _query(token, QueryKind.NUMBER, SPOILED, "a letter among digits", answers(token, lexicon, vouchers))
        elif token.recognised:
            values = measures(token, beside, lexicon, vouchers)
            wrong = likelihood(values)
            if wrong >= ASKED:
                why = reason(token, values, NAMES.get(lexicon.language, ""))
                yield _query(token, QueryKind.WORD, wrong, why, answers(token, lexicon, vouchers))


def _query(token: Token, kind: QueryKind, wrong: float, why: str, possible: tuple[str, ...]) -> Query:
    return Query(
        kind=kind,
        block=token.block.id,
        start=token.start,
        end=token.end,
        spots=token.spots,
        text=token.text,
        context=token.context,
        likelihood=round(wrong, 3),
        reason=why,
        answers=possible,
        confidence=round(token.confidence, 3),
    )
