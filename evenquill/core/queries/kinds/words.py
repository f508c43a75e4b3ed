"""Words that are probably wrong, by how they were read and by what their language and their document say."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from evenquill.core.queries.fragments import with_fragments_joined
from evenquill.core.queries.lexicon import Words
from evenquill.core.queries.likelihood import Beside, likelihood, measures, reason
from evenquill.core.queries.query import Kind, Query
from evenquill.core.queries.tokens import Token
from evenquill.core.queries.view import View
from evenquill.core.queries.word_query import query_on

KIND = Kind("word", "uncertain word", "uncertain words", 10)
LISTED = Kind(
    "listed", "word that the office always writes otherwise", "words that the office always writes otherwise", 12
)
KINDS = (KIND, LISTED)

ASKED = 0.015
"""Likelihood from which a word is asked about: so low, nearly three words are asked about for nothing for each that is wrong."""

AS_LISTED = 0.97
"""Likelihood of a word that the office's list says stands for another."""


def find(view: View) -> Iterator[Query]:
    for row in view.rows:
        for token, beside in with_neighbours(row, view.words_of(row[0]) if row else Words(())):
            instead = view.office.right_for(token.core)
            if instead is not None:
                text = token.text.replace(token.core, instead)
                yield query_on(token, LISTED, AS_LISTED, "the office’s word list says so", (text,))
            elif token.recognised and token.core not in view.listed:
                words = view.words_of(token)
                values = measures(token, beside, words, view.vouchers)
                wrong = likelihood(values)
                if wrong >= ASKED:
                    why = reason(token, values, words)
                    yield query_on(token, KIND, wrong, why, view.answers(token))


def with_neighbours(row: Sequence[Token], lexicon: Words) -> Iterator[tuple[Token, Beside]]:
    """Each word of a row, fragments of one joined, with the texts of its neighbours."""
    whole = list(with_fragments_joined(row, lexicon))
    for n, token in enumerate(whole):
        yield token, Beside(whole[n - 1].text if n else "", whole[n + 1].text if n + 1 < len(whole) else "")
