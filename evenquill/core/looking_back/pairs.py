"""Words of the document where they stand in the source and where they stand in the result."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from evenquill.core.model import Box, Document, TableBlock, TextBlock, WordSpot, texts_of

REACH = 0.62
"""Ems from the middle of a line up to which its letters reach."""


class WordPair(NamedTuple):
    """A word of a text in both."""

    text: str
    source: WordSpot
    result: WordSpot


class TextPair(NamedTuple):
    """A text of the document (a row, or a paragraph of a cell), its words that were found in both, and the row's id."""

    block: TextBlock
    row: str
    in_table: bool
    words: tuple[WordPair, ...]


def text_pairs(document: Document, result: Document) -> Iterator[TextPair]:
    """The texts of a document with their words in the ``result``, which is the same one with its places on the pages that were set."""
    found = {text.id: text for text in result.texts}
    for block in document.blocks:
        if block.excluded:
            continue
        for text in texts_of(block):
            other = found.get(text.id)
            if other is None:
                continue
            there = {word.start: word for word in other.words}
            words = tuple(
                WordPair(text.text[word.start : word.end], word, there[word.start])
                for word in text.words
                if word.start in there and there[word.start].end == word.end
            )
            yield TextPair(text, block.id, isinstance(block, TableBlock), words)


def line_box(box: Box, size: float) -> Box:
    """A word's box as high as letters of a size can be: boxes of readers differ by what typefaces say of themselves."""
    middle = box.center_y
    return Box(box.x0, middle - REACH * size, box.x1, middle + REACH * size)
