"""Words that are probably wrong, by how they were read and by what their language and their document say."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from evenquill.core.queries.counted import counted_texts
from evenquill.core.queries.fragments import with_fragments_joined
from evenquill.core.queries.lexicon import Words
from evenquill.core.queries.likelihood import likelihoods, reason
from evenquill.core.queries.query import Kind, Query
from evenquill.core.queries.tokens import Token
from evenquill.core.queries.view import View
from evenquill.core.queries.word_measures import Beside, measures
from evenquill.core.queries.word_query import query_on
from evenquill.core.queries.word_widths import widths_off

KIND = Kind("word", "uncertain word", "uncertain words", 10)
LISTED = Kind(
    "listed", "word that the office always writes otherwise", "words that the office always writes otherwise", 12
)
KINDS = (KIND, LISTED)

ASKED = 0.04
"""Likelihood from which a word is asked about: of those that are as likely as that, one in twenty-five is wrong."""

AS_LISTED = 0.97
"""Likelihood of a word that the office's list says stands for another."""


def find(view: View) -> Iterator[Query]:
    doubtful: list[tuple[Token, tuple[float, ...]]] = []
    counted = counted_texts(view.blocks)
    for row in view.rows:
        for token, beside in with_neighbours(row, view.words_of(row[0]) if row else Words(())):
            instead = view.office.right_for(token.core)
            if instead is not None:
                text = token.text.replace(token.core, instead)
                yield query_on(token, LISTED, AS_LISTED, "the office’s word list says so", (text,))
            elif token.recognised and token.core not in view.listed and token.block.id not in counted:
                doubtful.append((token, measures(token, beside, view.words_of(token), view.vouchers)))
    for (token, values), wrong in zip(doubtful, likelihoods([values for _, values in doubtful]), strict=True):
        if wrong >= ASKED:
            yield query_on(token, KIND, wrong, reason(token, values, view.words_of(token)), view.answers(token))


def with_neighbours(row: Sequence[Token], lexicon: Words) -> Iterator[tuple[Token, Beside]]:
    """Each word of a row, fragments of one joined, with what the row says of it."""
    whole = list(with_fragments_joined(row, lexicon))
    for n, (token, width) in enumerate(zip(whole, widths_off(whole), strict=True)):
        yield token, Beside(whole[n - 1].text if n else "", whole[n + 1].text if n + 1 < len(whole) else "", width)
