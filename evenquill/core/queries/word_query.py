"""A query on a word, of whatever kind."""

from __future__ import annotations

from evenquill.core.queries.query import Kind, Query, Typing
from evenquill.core.queries.tokens import Token


def query_on(
    token: Token, kind: Kind, likelihood: float, reason: str, answers: tuple[str, ...], keep: str = "keep"
) -> Query:
    return Query(
        kind=kind.name,
        page=token.page,
        text=token.text,
        likelihood=round(likelihood, 3),
        reason=reason,
        block=token.block.id,
        start=token.start,
        end=token.end,
        spots=token.spots,
        context=token.context,
        answers=answers,
        typing=Typing.WORD,
        keep=keep,
        confidence=round(token.confidence, 3),
    )
