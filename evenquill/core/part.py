"""A part of a document: the rows of some pages of its source, or some of its rows. The rest is set aside, so that nothing of it is lost."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence, Set
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.model import NOTES, Block, Document, NoteRef, TableBlock, TextBlock, texts_of
from evenquill.core.resolve.list_labels import item_numbers

_RANGE = re.compile(r"(\d{1,6})(?:\s*[-–]\s*(\d{1,6}))?")


class Part(NamedTuple):
    """A part of a document: the rows that begin on some pages of its source, some of its rows; all of them where none are named."""

    pages: frozenset[int] = frozenset()
    rows: frozenset[str] = frozenset()


WHOLE = Part()


class WrongPages(ValueError):
    """Pages that are not there, or not said so that they are understood; its text is a sentence."""


class PageRange(NamedTuple):
    """Pages as they were named, the first and the last of them."""

    text: str
    first: int
    last: int


def page_ranges(text: str) -> list[PageRange]:
    """What a text such as ``1-3, 7`` names, of a document of any length. Raises WrongPages where it is not understood."""
    ranges = []
    for named in filter(None, re.split(r"[,;\s]*[,;][,;\s]*", text.strip())):
        match = _RANGE.fullmatch(named)
        if match is None:
            raise WrongPages(f"“{named}” is no page. Pages are named as in 1-3, 7.")
        ranges.append(PageRange(named, int(match[1]), int(match[2] or match[1])))
    if not ranges:
        raise WrongPages("No page was named.")
    return ranges


def pages_named(text: str, count: int) -> frozenset[int]:
    """The pages, from 1, that a text such as ``1-3, 7`` names, of a document of so many. Raises WrongPages."""
    pages: set[int] = set()
    for named in page_ranges(text):
        if not 1 <= named.first <= named.last <= count:
            raise WrongPages(f"There are no pages {named.text}: the document has {count}.")
        pages.update(range(named.first, named.last + 1))
    return frozenset(pages)


def part_of(document: Document, part: Part) -> Document:
    """The document with only a part of its rows."""
    if part.pages:
        document = of_pages(document, part.pages)
    return of_rows(document, part.rows) if part.rows else document


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
    """The document with only some of its rows, and the notes that these call; a note that only others call is left out with them. Items of
    lists keep their numbers."""
    calling: dict[str, bool] = {}
    for block in document.blocks:
        for text in texts_of(block):
            for item in text.content:
                if isinstance(item, NoteRef):
                    calling[item.note] = calling.get(item.note, False) or block.id in rows
    blocks = [block if _stays(block, rows, calling) else replace(block, excluded=True) for block in document.blocks]
    return replace(document, blocks=_with_their_numbers(blocks, item_numbers(document.blocks)))


def _stays(block: Block, rows: Set[str], calling: Mapping[str, bool]) -> bool:
    """Whether a row is of the part; ``calling`` says of notes that are called whether a row of it does."""
    if isinstance(block, TextBlock) and block.role in NOTES:
        return calling.get(block.id, block.id in rows)
    return block.id in rows


def _with_their_numbers(blocks: Sequence[Block], numbers: Mapping[str, int]) -> tuple[Block, ...]:
    """The rows with each item of a list that follows some which are left out beginning at the number that it had."""
    counted = item_numbers(blocks)
    shift: dict[int, int] = {}
    out = []
    for block in blocks:
        if isinstance(block, TextBlock) and block.id in counted and block.numbering is not None:
            shift = {level: by for level, by in shift.items() if level <= block.level}
            by = numbers[block.id] - counted[block.id]
            if block.numbering.start is None and by != shift.get(block.level, 0):
                block = replace(block, numbering=replace(block.numbering, start=numbers[block.id]))
            shift[block.level] = by
        out.append(block)
    return tuple(out)
