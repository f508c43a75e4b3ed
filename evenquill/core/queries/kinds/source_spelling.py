"""Words misspelt in the source itself: read surely, known to no list, and one slip of the hand away from a common word.

They are kept as they stand unless the clerk says otherwise: the source shows it so.
"""

from __future__ import annotations

from collections.abc import Iterator

from evenquill.core.queries.answers import LOOK_ALIKE, run_together
from evenquill.core.queries.query import Kind, Query
from evenquill.core.queries.tokens import Token
from evenquill.core.queries.view import View
from evenquill.core.queries.word_query import query_on

KIND = Kind("source", "so in the source", "so in the source", 60, kept=True)
KINDS = (KIND,)

SURE = 0.93
"""Confidence of a recognised word from which its picture says what was read."""

SHORTEST, COMMON, RARER = 6, 3.8, 1.5
"""Letters of the word, Zipf frequency of the word that was meant, and by how much the slip is rarer."""

MISSPELT = 0.35


def find(view: View) -> Iterator[Query]:
    for row in view.rows:
        for token in row:
            core = token.core
            if len(core) < SHORTEST or not core.isalpha() or not core.islower() or view.vouchers.counts[core] > 1:
                continue
            if token.recognised and token.confidence < SURE:
                continue
            words = view.words_of(token)
            if not words.has_list or words.knows(core):
                continue
            if len(run_together(core, words)) > 1:
                continue
            usual = max(COMMON, words.frequency(core) + RARER)  # frequent slips are in the frequency lists too
            meant = [
                near for near in words.slips(core) if _is_no_look_alike(core, near) and words.frequency(near) >= usual
            ]
            if meant:
                answers = tuple(token.text.replace(core, word) for word in meant)
                yield query_on(token, KIND, MISSPELT, _why(token), answers, keep="keep as in the source")


def _is_no_look_alike(written: str, meant: str) -> bool:
    """Whether no look-alike explains the difference: the recogniser may have misread it then."""
    return not any(written.replace(read, look, 1) == meant for read, look in LOOK_ALIKE)


def _why(token: Token) -> str:
    why = "not in the word list"
    return f"{why}, and surely read · reader {round(100 * token.confidence)} %" if token.recognised else why
