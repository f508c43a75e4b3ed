"""A document whose pages come to stand in other places of the source."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec.structs import replace

from evenquill.core.model.blocks import Block, TableBlock, TextBlock
from evenquill.core.model.document import Document
from evenquill.core.model.geometry import Spot
from evenquill.core.model.inline import Inline, PageLink


def with_pages_moved(document: Document, moved: Mapping[int, int]) -> Document:
    """The document with other numbers for pages, wherever it speaks of them; ``moved`` are new numbers by old ones."""
    keys = tuple(replace(key, page=moved.get(key.page, key.page)) for key in document.settled.kept)
    remarks = tuple(
        remark if remark.page is None else replace(remark, page=moved.get(remark.page, remark.page))
        for remark in document.remarks
    )
    return replace(
        document,
        blocks=tuple(_moved(block, moved) for block in document.blocks),
        settled=replace(document.settled, kept=keys),
        remarks=remarks,
    )


def _moved(block: Block, moved: Mapping[int, int]) -> Block:
    spots = tuple(Spot(moved.get(spot.page, spot.page), spot.box) for spot in block.spots)
    if isinstance(block, TextBlock):
        words = tuple(word._replace(page=moved.get(word.page, word.page)) for word in block.words)
        content = tuple(_leading(item, moved) for item in block.content)
        return replace(block, spots=spots, words=words, content=content)
    if isinstance(block, TableBlock):
        cells = []
        for cell in block.cells:
            texts = [_moved(text, moved) for text in cell.texts]
            cells.append(replace(cell, texts=tuple(text for text in texts if isinstance(text, TextBlock))))
        return replace(block, spots=spots, cells=tuple(cells))
    return replace(block, spots=spots)


def _leading(item: Inline, moved: Mapping[int, int]) -> Inline:
    if isinstance(item.link, PageLink) and item.link.page in moved:
        return replace(item, link=PageLink(moved[item.link.page]))
    return item
