"""The words of a document with what is known of how they were read."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from evenquill.core.edits.words import core_of
from evenquill.core.model import Document, OtherReading, Spot, TextBlock, WordSpot
from evenquill.core.model.geometry import WHOLE_WORD
from evenquill.core.model.inline import OBJECT

_TOKEN = re.compile(rf"[^\s{OBJECT}]+")

_SHOWN = str.maketrans({"\n": " ", "\t": " ", OBJECT: ""})

CONTEXT = 36
"""Characters to either side of a word that are shown with it."""


LONGEST = 120
"""Characters; nothing longer between two spaces is a word, and what a word may have been meant as takes long to find for such."""


class Token(NamedTuple):
    """A word between spaces: where it is in its block, and the evidence for it.

    ``core`` is the text without signs around it, from ``start`` + ``offset``. ``confidence`` is that of its least sure part;
    ``others`` are other readings of its characters, by place in ``text``; ``recognised`` is False for native text and for what the
    clerk has changed; ``rival`` is what a second reading of the word says, where it differs. ``broken`` says that it has two spots since
    it was broken over a line's end.
    """

    block: TextBlock
    text: str
    start: int
    core: str
    offset: int
    spots: tuple[Spot, ...]
    confidence: float
    others: tuple[OtherReading, ...]
    recognised: bool
    rival: str = ""
    broken: bool = False

    @property
    def fell_apart(self) -> bool:
        """Whether it is two fragments of one word (``fragments``)."""
        return " " in self.text

    @property
    def end(self) -> int:
        return self.start + len(self.text)

    @property
    def page(self) -> int:
        """The page that it stands on, 0 where that is not known."""
        spots = self.spots or self.block.spots
        return spots[0].page if spots else 0

    @property
    def context(self) -> str:
        text = self.block.text
        return text[max(self.start - CONTEXT, 0) : self.end + CONTEXT].translate(_SHOWN)


def tokens(document: Document) -> Iterator[Token]:
    """All words of the text that is not set aside, in order."""
    for block in document.written_texts:
        yield from tokens_of(block)


def tokens_of(block: TextBlock) -> Iterator[Token]:
    """The words of one row, in order, without what is too long to be one."""
    words = sorted(block.words, key=lambda word: word.start)
    first = 0
    for match in _TOKEN.finditer(block.text):
        start, end = match.span()
        if end - start > LONGEST:
            continue
        while first < len(words) and words[first].end <= start:
            first += 1
        own = []
        n = first
        while n < len(words) and words[n].start < end:
            own.append(words[n])
            n += 1
        yield _token(block, match.group(), start, own)


def _token(block: TextBlock, text: str, start: int, own: list[WordSpot]) -> Token:
    core = core_of(text)
    offset = text.find(core) if core else 0
    if len(own) == 1 and not own[0].others:  # as nearly all are
        (word,) = own
        spot = Spot(word.page, word.box)
        return Token(block, text, start, core, offset, (spot,), word.confidence, (), word.confidence < 1.0)
    rivals = tuple(other for word in own for other in word.others if other.place == WHOLE_WORD)
    others = tuple(
        other._replace(place=other.place + word.start - start)
        for word in own
        # Of a word broken over two lines each half counts its places from its own start.
        if word.end <= start + len(text)
        for other in word.others
        if other.place != WHOLE_WORD
        and 0 <= other.place + word.start - start < len(text) + (word.end == start + len(text))
    )
    spots = tuple(Spot(word.page, word.box) for word in own)
    confidence = min((word.confidence for word in own), default=1.0)
    rival = rivals[0].text if len(own) == 1 and rivals else ""
    # Both halves of a broken word stand for all of it.
    broken = len(own) == 2 and own[0].start == own[1].start
    return Token(block, text, start, core, offset, spots, confidence, others, confidence < 1.0, rival, broken)
