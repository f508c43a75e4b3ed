"""Words of the text that name a captioned figure or table, or the number of an equation, lead to it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.equations.numbers import references_in
from evenquill.core.model import Block, BlockLink, Equation, Inline, Link, NoteRef, Role, TextBlock
from evenquill.core.model.inline import joined
from evenquill.core.model.labels import label_of, labels_in

NAMING = frozenset({Role.PARAGRAPH, Role.LIST_ITEM, Role.NOTE, Role.ENDNOTE, Role.QUOTE, Role.DEFINITION})
"""Kinds of text in which something is referred to."""

EQUATION = "equation"
"""What equations are called; their names are this and their number."""


class Name(NamedTuple):
    """What is called so, and the characters of the text that say it."""

    called: tuple[str, str]
    start: int
    end: int


def with_reference_links(blocks: Sequence[Block]) -> list[Block]:
    """The blocks with each name of a captioned figure or table, and each number of an equation, made a link to what alone is called so."""
    called = [name for block in blocks if isinstance(block, TextBlock) for name in _names_of(block)]
    often = Counter(name for name, _ in called)
    leads = {name: block for name, block in called if often[name] == 1}
    if not leads:
        return list(blocks)
    return [
        _linked(block, leads) if isinstance(block, TextBlock) and block.role in NAMING and not block.excluded else block
        for block in blocks
    ]


def _names_of(block: TextBlock) -> Iterator[tuple[tuple[str, str], str]]:
    """What a block is called where others refer to it, with its id."""
    if block.role is Role.CAPTION and (label := label_of(block.text)) is not None:
        yield label.name, block.id
    if block.role is Role.EQUATION:
        for item in block.content:
            if isinstance(item, Equation) and item.number:
                yield (EQUATION, item.number), block.id


def _names_in(text: str) -> Iterator[Name]:
    for label in labels_in(text):
        yield Name(label.name, label.start, label.end)
    for reference in references_in(text):
        yield Name((EQUATION, reference.number), reference.start, reference.end)


def _linked(block: TextBlock, leads: dict[tuple[str, str], str]) -> TextBlock:
    runs = block.content
    for name in _names_in(block.text):
        target = leads.get(name.called)
        if target is not None:
            runs = joined(_with_link(runs, name.start, name.end, BlockLink(target)))
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
