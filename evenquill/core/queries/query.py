"""A query: one doubt about one spot, with evidence and possible answers."""

from __future__ import annotations

import zlib
from enum import StrEnum

import msgspec

from evenquill.core.edits import Operation
from evenquill.core.model import DoubtKey, Spot

LONGEST_KEY = 80
"""Characters of what was read that are enough to know it again."""


class Typing(StrEnum):
    """What an answer that the clerk types stands for."""

    WORD = "word"
    DESCRIPTION = "description"
    NOTHING = "nothing"


class Kind(msgspec.Struct, frozen=True):
    """A kind of doubt: its short name, and its wording for one and for several.

    ``order`` sorts the kinds in lists. ``kept`` says that the doubt is kept as it is unless the clerk says otherwise: it is shown, and
    counts neither as open nor as settled.
    """

    name: str
    one: str
    several: str
    order: int
    kept: bool = False


class Fix(msgspec.Struct, frozen=True):
    """An answer that is more than another word: what it is called, and the operation that does it."""

    label: str
    operation: Operation


class Query(msgspec.Struct, frozen=True):
    """A doubt about the characters from ``start`` up to ``end`` of a block's text, about a whole block where both are 0, or about a page
    (0 for the document) where ``block`` is empty.

    ``likelihood`` (0 to 1) is how likely the text is wrong; ``answers`` are readings in place of it, the likeliest first, ``fixes`` other
    answers; ``reason`` says to the clerk what speaks against it; ``context`` is the text around it.
    """

    kind: str
    page: int
    text: str
    likelihood: float
    reason: str
    block: str = ""
    start: int = 0
    end: int = 0
    spots: tuple[Spot, ...] = ()
    context: str = ""
    answers: tuple[str, ...] = ()
    fixes: tuple[Fix, ...] = ()
    typing: Typing = Typing.NOTHING
    keep: str = "keep"
    confidence: float = 1.0

    @property
    def id(self) -> str:
        """Tells the query from all others of its document, as long as its word says what it says: by the place of the word on the source,
        which edits before it do not move; by its place in the text where it has none."""
        place = f"{tuple(self.spots[0])}" if self.spots else str(self.start)
        told_by = zlib.crc32(f"{place} {self.text}".encode())
        return f"{self.kind}-{self.block or f'p{self.page}'}-{told_by:x}".replace(" ", "-")

    @property
    def key(self) -> DoubtKey:
        """By this it is remembered that the doubt was kept."""
        box = self.spots[0].box if self.end and self.spots else None
        return DoubtKey(self.kind, self.page, self.text[:LONGEST_KEY], self.block, box)
