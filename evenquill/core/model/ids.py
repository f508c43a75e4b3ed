"""Ids of blocks, rows, cells, sections and running parts: given once from a counter of the document, never derived from a place, never
given again."""

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
        return cls(max(map(number_of, ids_in(document)), default=0) + 1)

    def new(self) -> str:
        self.next += 1
        return f"{PREFIX}{self.next - 1}"


def number_of(name: str) -> int:
    """The number in an id that came from a counter, 0 for any other."""
    digits = name.removeprefix(PREFIX)
    return int(digits) if digits != name and digits.isdecimal() else 0


def ids_in(document: Document) -> Iterable[str]:
    """All ids that a document holds, those of its blocks first."""
    for block in document.blocks:
        yield from names_in(block)
    for section in document.sections:
        yield section.id
    for part in document.running:
        yield part.id


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
    """The document with other ids, also where links, marks of notes and names of sections refer to them; ids that ``names`` lacks stay."""
    return replace(
        document,
        blocks=tuple(renamed_block(block, names) for block in document.blocks),
        sections=tuple(
            replace(
                section,
                id=names.get(section.id, section.id),
                running=names.get(section.running, section.running),
            )
            for section in document.sections
        ),
        running=tuple(replace(part, id=names.get(part.id, part.id)) for part in document.running),
    )


def renamed_block(block: Block, names: Mapping[str, str]) -> Block:
    """A block with other ids, its own and those that it refers to."""
    own, section = names.get(block.id, block.id), names.get(block.section, block.section)
    same = own == block.id and section == block.section
    if isinstance(block, TextBlock):
        content = tuple(_referring(item, names) for item in block.content)
        if same and all(new is old for new, old in zip(content, block.content, strict=True)):
            return block
        return replace(block, id=own, section=section, content=content)
    if isinstance(block, TableBlock):
        rows = tuple(names.get(row, row) for row in block.row_ids)
        cells = tuple(_renamed_cell(cell, names) for cell in block.cells)
        return replace(block, id=own, section=section, row_ids=rows, cells=cells)
    return block if same else replace(block, id=own, section=section)


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
    return renamed(document, {name: ids.new() for name in ids_in(document)})
