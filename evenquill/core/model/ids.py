"""Ids of blocks, rows and cells: given once from a counter of the document, never derived from a place, never given again."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from msgspec.structs import replace

from evenquill.core.model.blocks import Block, Cell, TableBlock, TextBlock
from evenquill.core.model.document import Document
from evenquill.core.model.inline import BlockLink, Inline, NoteRef

PREFIX = "b"


class Ids:
    """The counter of a document; ``next`` is the number of the next id."""

    def __init__(self, next: int) -> None:
        self.next = next

    @classmethod
    def above(cls, document: Document) -> Ids:
        """A counter above all ids of a document: for documents without a history."""
        numbers = [number_of(name) for block in document.blocks for name in names_in(block)]
        return cls(max(numbers, default=0) + 1)

    def new(self) -> str:
        self.next += 1
        return f"{PREFIX}{self.next - 1}"


def number_of(name: str) -> int:
    """The number in an id that came from a counter, 0 for any other."""
    digits = name.removeprefix(PREFIX)
    return int(digits) if digits != name and digits.isdecimal() else 0


def names_in(block: Block) -> Iterable[str]:
    """All ids that a block holds: its own, those of its rows, cells and their texts."""
    yield block.id
    if isinstance(block, TableBlock):
        yield from block.row_ids
        for cell in block.cells:
            yield cell.id
            for text in cell.texts:
                yield text.id


def renamed(document: Document, names: Mapping[str, str]) -> Document:
    """The document with other ids, also where links and marks of notes lead to them; ids that ``names`` lacks stay."""
    return replace(document, blocks=tuple(renamed_block(block, names) for block in document.blocks))


def renamed_block(block: Block, names: Mapping[str, str]) -> Block:
    """A block with other ids, its own and those that it refers to."""
    own = names.get(block.id, block.id)
    if isinstance(block, TextBlock):
        content = tuple(_referring(item, names) for item in block.content)
        if own == block.id and all(new is old for new, old in zip(content, block.content, strict=True)):
            return block
        return replace(block, id=own, content=content)
    if isinstance(block, TableBlock):
        rows = tuple(names.get(row, row) for row in block.row_ids)
        return replace(block, id=own, row_ids=rows, cells=tuple(_renamed_cell(cell, names) for cell in block.cells))
    return block if own == block.id else replace(block, id=own)


def _renamed_cell(cell: Cell, names: Mapping[str, str]) -> Cell:
    texts = [renamed_block(text, names) for text in cell.texts]
    return replace(
        cell, id=names.get(cell.id, cell.id), texts=tuple(text for text in texts if isinstance(text, TextBlock))
    )


def _referring(item: Inline, names: Mapping[str, str]) -> Inline:
    if isinstance(item, NoteRef) and item.note in names:
        return replace(item, note=names[item.note])
    if isinstance(item.link, BlockLink) and item.link.block in names:
        return replace(item, link=BlockLink(names[item.link.block]))
    return item


def numbered(document: Document, ids: Ids) -> Document:
    """The document with all its ids from a counter, in the order of its blocks."""
    names = {name: ids.new() for block in document.blocks for name in names_in(block)}
    return renamed(document, names)
