"""A query: one doubt about one spot, with evidence and possible answers."""

from __future__ import annotations

import zlib
from enum import StrEnum

import msgspec

from evenquill.core.edits import Operation
from evenquill.core.edits.names import doubt_name
from evenquill.core.model import Spot


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
        """Tells the query from all others of its document as long as its text stays where it is."""
        place = f"{self.block}-{self.start}" if self.block else f"p{self.page}-{zlib.crc32(self.text.encode()):x}"
        return f"{self.kind}-{place}".replace(" ", "-")

    @property
    def name(self) -> str:
        """Names what is doubted, wherever in its row it stands: so it is remembered that it was kept."""
        return doubt_name(self.kind, self.page, self.text)
