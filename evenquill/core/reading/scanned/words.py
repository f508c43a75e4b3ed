"""What was recognised: characters, words, lines of words."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from evenquill.core.reading.scanned.text_line import TextLine

NOISE = 0.45
"""Confidence below which words say nothing: what is no text at all reaches 0.4."""


class Symbol(NamedTuple):
    """A character: its ends in pixels, how sure it is (0 to 1), and other readings with their share of belief."""

    text: str
    x0: float
    x1: float
    confidence: float
    others: tuple[tuple[str, float], ...] = ()

    @property
    def middle(self) -> float:
        return (self.x0 + self.x1) / 2


class ReadWord(NamedTuple):
    """A word as read: its characters, and how sure it is as a whole (0 to 1).

    ``unread`` is the sign that the small ink behind the word may be, of which nothing was read; ``rival`` what another reading of the
    same spot says, where it says something else.
    """

    symbols: tuple[Symbol, ...]
    confidence: float
    unread: str = ""
    rival: str = ""

    @property
    def text(self) -> str:
        return "".join(symbol.text for symbol in self.symbols)

    @property
    def x0(self) -> float:
        return self.symbols[0].x0

    @property
    def x1(self) -> float:
        return self.symbols[-1].x1


class ReadLine(NamedTuple):
    """A line and its words, whose ends are in pixels of the page; ``twice`` if this is the surer of two readings."""

    line: TextLine
    words: tuple[ReadWord, ...]
    twice: bool = False

    @property
    def text(self) -> str:
        return " ".join(word.text for word in self.words)

    @property
    def confidence(self) -> float:
        """Mean over its characters, 0 where there are none."""
        return mean_confidence((self,))

    @property
    def sense(self) -> float:
        """How much is read how surely: the letters and figures of its words, each by the confidence in its word beyond that in noise.

        Single ones do not count: any speck may look like one.
        """
        letters = [(sum(map(str.isalnum, word.text)), word.confidence) for word in self.words]
        return sum(count * max(confidence - NOISE, 0.0) for count, confidence in letters if count > 1)


def mean_confidence(lines: Iterable[ReadLine]) -> float:
    """Mean over the characters of lines, 0 where there are none."""
    words = [word for line in lines for word in line.words]
    letters = sum(len(word.symbols) for word in words)
    return sum(word.confidence * len(word.symbols) for word in words) / letters if letters else 0.0
