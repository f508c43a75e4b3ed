"""Links: those that lead nowhere, or to what is not safe, taken out, and what the others within the document lead to."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec.structs import replace

from evenquill.core.model import Block, BlockLink, Link, PageLink, TextBlock, texts_of, with_changed
from evenquill.core.model.inline import is_safe_link


def without_dead_links(blocks: Sequence[Block]) -> list[Block]:
    """The blocks without links to those that are not written (a caption that is set aside leads nowhere), and without unsafe ones."""
    dead = linked_blocks(blocks) - {block.id for block in blocks}

    def is_dead(link: Link | None) -> bool:
        return link.block in dead if isinstance(link, BlockLink) else not is_safe_link(link)

    out = []
    for block in blocks:
        for text in texts_of(block):
            if any(is_dead(item.link) for item in text.content):
                content = tuple(replace(item, link=None) if is_dead(item.link) else item for item in text.content)
                block = with_changed(block, replace(text, content=content))
        out.append(block)
    return out


def linked_blocks(blocks: Sequence[Block]) -> set[str]:
    """The blocks that links lead to."""
    return {link.block for link in _links(blocks) if isinstance(link, BlockLink)}


def page_anchors(blocks: Sequence[Block]) -> dict[str, int]:
    """By block id the pages of the source that links lead to: each to the first block that came from it."""
    pages = {link.page for link in _links(blocks) if isinstance(link, PageLink)}
    anchors: dict[str, int] = {}
    for block in blocks:
        page = block.spots[0].page if block.spots else 0
        if page in pages:
            anchors[block.id] = page
            pages.discard(page)
    return anchors


def linked_to(entry: TextBlock, target: str) -> TextBlock:
    """An entry of a contents list with all of its content a link."""
    return replace(entry, content=tuple(replace(item, link=BlockLink(target)) for item in entry.content))


def _links(blocks: Sequence[Block]) -> Iterator[Link]:
    for block in blocks:
        for text in texts_of(block):
            for item in text.content:
                if item.link is not None:
                    yield item.link
