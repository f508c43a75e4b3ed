"""Words of the text that name a captioned figure or table lead to its caption."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

from msgspec.structs import replace

from evenquill.core.model import Block, BlockLink, Inline, Link, NoteRef, Role, TextBlock
from evenquill.core.model.inline import joined
from evenquill.core.model.labels import label_of, labels_in

NAMING = frozenset({Role.PARAGRAPH, Role.LIST_ITEM, Role.NOTE, Role.ENDNOTE, Role.QUOTE, Role.DEFINITION})
"""Kinds of text in which something is referred to."""


def with_caption_links(blocks: Sequence[Block]) -> list[Block]:
    """The blocks with each name of a captioned figure or table made a link to its caption, where only one is called so."""
    captions = [
        (label.name, block.id)
        for block in blocks
        if isinstance(block, TextBlock) and block.role is Role.CAPTION and (label := label_of(block.text)) is not None
    ]
    called = Counter(name for name, _ in captions)
    leads = {name: block for name, block in captions if called[name] == 1}
    if not leads:
        return list(blocks)
    return [
        _linked(block, leads) if isinstance(block, TextBlock) and block.role in NAMING and not block.excluded else block
        for block in blocks
    ]


def _linked(block: TextBlock, leads: dict[tuple[str, str], str]) -> TextBlock:
    runs = block.content
    for label in labels_in(block.text):
        target = leads.get(label.name)
        if target is not None:
            runs = joined(_with_link(runs, label.start, label.end, BlockLink(target)))
    return block if runs is block.content else replace(block, content=runs)


def _with_link(runs: Sequence[Inline], start: int, end: int, target: Link) -> Iterator[Inline]:
    """Runs with the characters from ``start`` up to ``end`` made a link; what is one already, or a note's mark, is left."""
    at = 0
    for run in runs:
        low, high = max(start - at, 0), min(end - at, len(run.text))
        at += len(run.text)
        if low >= high or run.link is not None or isinstance(run, NoteRef):
            yield run
            continue
        for text, link in ((run.text[:low], None), (run.text[low:high], target), (run.text[high:], None)):
            if text:
                yield replace(run.like(text), link=link)
