"""A part of a document: the rows of some pages of its source, or some of its rows. The rest is set aside, so that nothing of it is lost."""

from __future__ import annotations

import re
from collections.abc import Set

from msgspec.structs import replace

from evenquill.core.model import NOTES, Block, Document, NoteRef, TableBlock, TextBlock, texts_of
from evenquill.core.resolve.list_labels import item_numbers

_RANGE = re.compile(r"(\d{1,6})(?:\s*[-–]\s*(\d{1,6}))?")


class WrongPages(ValueError):
    """Pages that are not there, or not said so that they are understood; its text is a sentence."""


def pages_named(text: str, count: int) -> frozenset[int]:
    """The pages, from 1, that a text such as ``1-3, 7`` names, of a document of so many. Raises WrongPages."""
    pages: set[int] = set()
    for part in filter(None, re.split(r"[,;\s]*[,;][,;\s]*", text.strip())):
        match = _RANGE.fullmatch(part)
        if match is None:
            raise WrongPages(f"“{part}” is no page. Pages are named as in 1-3, 7.")
        first, last = int(match[1]), int(match[2] or match[1])
        if not 1 <= first <= last <= count:
            raise WrongPages(f"There are no pages {part}: the document has {count}.")
        pages.update(range(first, last + 1))
    if not pages:
        raise WrongPages("No page was named.")
    return frozenset(pages)


def of_pages(document: Document, pages: Set[int]) -> Document:
    """The document with only those rows that begin on some of its pages, and all of a table that stands on one of them. A row that came
    from no page goes with the one before it."""
    kept: set[str] = set()
    goes = False
    for block in document.blocks:
        on = {spot.page for spot in block.spots}
        if isinstance(block, TableBlock) and on:
            goes = not on.isdisjoint(pages)
        elif on:
            goes = min(on) in pages
        if goes:
            kept.add(block.id)
    return of_rows(document, kept)


def of_rows(document: Document, rows: Set[str]) -> Document:
    """The document with only some of its rows, and the notes that these call. Items of lists keep their numbers."""
    called = {
        item.note
        for block in document.blocks
        if block.id in rows
        for text in texts_of(block)
        for item in text.content
        if isinstance(item, NoteRef)
    }
    blocks = [
        block
        if block.id in rows or (isinstance(block, TextBlock) and block.role in NOTES and block.id in called)
        else replace(block, excluded=True)
        for block in document.blocks
    ]
    return replace(document, blocks=_with_their_numbers(document, blocks))


def _with_their_numbers(document: Document, blocks: list[Block]) -> tuple[Block, ...]:
    """The rows with the first of the items that follow some which are left out beginning at the number that it had."""
    numbers = item_numbers(document.blocks)
    while True:
        now = item_numbers(blocks)
        wrong = next(
            (n for n, block in enumerate(blocks) if now.get(block.id, 0) != numbers.get(block.id) and block.id in now),
            None,
        )
        if wrong is None:
            return tuple(blocks)
        block = blocks[wrong]
        assert isinstance(block, TextBlock)
        assert block.numbering is not None
        blocks[wrong] = replace(block, numbering=replace(block.numbering, start=numbers[block.id]))
