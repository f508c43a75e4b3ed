"""A document -> the tree that writers turn into their formats. They decide nothing; everything that has to be worked out is in it."""

from __future__ import annotations

from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.model import Block, Document, ResolvedStyle, TextBlock
from evenquill.core.resolve.captions import CaptionNumber, caption_numbers
from evenquill.core.resolve.contents import ContentsList, contents_of
from evenquill.core.resolve.links import linked_blocks, linked_to, page_anchors, without_dead_links
from evenquill.core.resolve.lists import ListDefinition, lists_of
from evenquill.core.resolve.notes import Note, notes_of
from evenquill.core.resolve.sections import ResolvedSection, resolved_sections


class Resolved(NamedTuple):
    """A document as it is to be written, blocks that are set aside left out.

    ``sections`` hold the blocks in order, notes apart: ``notes`` by block id. ``lists`` are the lists, ``list_of`` says which one an item
    belongs to. ``captions`` are numbers that are counted, ``contents_begin`` and ``contents_end`` name the first and the last entries of
    contents lists. ``block_targets`` are blocks, ``page_targets`` pages by block, that links lead to.
    """

    document: Document
    sections: tuple[ResolvedSection, ...]
    notes: dict[str, Note]
    lists: tuple[ListDefinition, ...]
    list_of: dict[str, int]
    captions: dict[str, CaptionNumber]
    contents_begin: dict[str, ContentsList]
    contents_end: frozenset[str]
    block_targets: frozenset[str]
    page_targets: dict[str, int]

    @property
    def blocks(self) -> list[Block]:
        """The blocks of all sections, notes apart."""
        return [block for section in self.sections for block in section.blocks]

    @property
    def block_of_page(self) -> dict[int, str]:
        """The block (id) with which each page begins that links lead to."""
        return {page: block for block, page in self.page_targets.items()}

    def is_target(self, block: Block) -> bool:
        """Whether links lead to a block, or to the page that begins with it."""
        return block.id in self.block_targets or block.id in self.page_targets

    def style(self, block: TextBlock) -> ResolvedStyle:
        """The style that a text block has."""
        return self.document.style(block.style)


def resolve(document: Document) -> Resolved:
    """Works out what writers need."""
    written = without_dead_links([block for block in document.blocks if not block.excluded])
    lists, list_of = lists_of(document.blocks)
    notes = notes_of(written)
    captions = caption_numbers(written)
    contents = contents_of(written, captions)
    anchors = page_anchors([block for block in written if block.id not in notes])
    body = [
        linked_to(block, contents.targets[block.id])
        if isinstance(block, TextBlock) and block.id in contents.targets
        else block
        for block in written
        if block.id not in notes
    ]
    sections = resolved_sections(document, body)
    return Resolved(
        document,
        tuple(_without_break_at_start(section, n) for n, section in enumerate(sections)),
        notes,
        tuple(lists),
        list_of,
        captions,
        contents.begins,
        contents.ends,
        frozenset(contents.targets.values()) | linked_blocks(written),
        anchors,
    )


def _without_break_at_start(section: ResolvedSection, place: int) -> ResolvedSection:
    """A section that is not the first begins a new page by itself where its first block wants one."""
    blocks: list[Block] = list(section.blocks)
    if place and blocks and blocks[0].page_break:
        blocks[0] = replace(blocks[0], page_break=False)
    return section._replace(blocks=blocks)
