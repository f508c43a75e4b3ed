"""A query: one doubt about one spot, with evidence and possible answers."""

from __future__ import annotations

from enum import StrEnum

import msgspec

from evenquill.core.model import Spot


class QueryKind(StrEnum):
    """What a query doubts."""

    WORD = "word"
    NUMBER = "number"


class Query(msgspec.Struct, frozen=True):
    """A doubt about the characters from ``start`` up to ``end`` of a block's text.

    ``likelihood`` (0 to 1) is how likely the text is wrong; ``answers`` are readings in place of it, the likeliest first; ``reason``
    says to the clerk what speaks against it; ``context`` is the text around it.
    """

    kind: QueryKind
    block: str
    start: int
    end: int
    spots: tuple[Spot, ...]
    text: str
    context: str
    likelihood: float
    reason: str
    answers: tuple[str, ...] = ()
    confidence: float = 1.0

    @property
    def id(self) -> str:
        """Names the query within its document as long as its text stays where it is."""
        return f"{self.kind.value}-{self.block}-{self.start}"
