"""Words of the text that name a captioned figure or table lead to its caption."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Sequence

from msgspec.structs import replace

from evenquill.core.model import Block, Role, Run, TextBlock
from evenquill.core.model.text import joined
from evenquill.core.rebuild.captions import LABEL

NAMING = frozenset({Role.PARAGRAPH, Role.LIST_ITEM, Role.NOTE, Role.QUOTE})
"""Kinds of text in which something is referred to."""

Label = tuple[str, str]
"""What a caption is called: the first three letters of its word, which are those of the word's short form, and its number."""


def with_caption_links(blocks: Sequence[Block]) -> list[Block]:
    """The blocks with each name of a captioned figure or table made a link to its caption, where only one is called so."""
    captions = [
        (label, block.id)
        for block in blocks
        if isinstance(block, TextBlock) and block.role is Role.CAPTION and (label := _label_of(block.text)) is not None
    ]
    called = Counter(label for label, _ in captions)
    leads = {label: block for label, block in captions if called[label] == 1}
    if not leads:
        return list(blocks)
    return [
        _linked(block, leads) if isinstance(block, TextBlock) and block.role in NAMING and not block.aside else block
        for block in blocks
    ]


def _label_of(caption: str) -> Label | None:
    match = LABEL.match(caption)
    return _label(match) if match else None


def _label(match: re.Match[str]) -> Label:
    return match["word"][:3].casefold(), match["number"].casefold()


def _linked(block: TextBlock, leads: dict[Label, str]) -> TextBlock:
    runs = block.runs
    for match in LABEL.finditer(block.text):
        target = leads.get(_label(match))
        if target is not None:
            runs = joined(_with_link(runs, match.start(), match.end(), f"#block={target}"))
    return block if runs is block.runs else replace(block, runs=runs)


def _with_link(runs: Sequence[Run], start: int, end: int, address: str) -> Iterator[Run]:
    """Runs with the characters from ``start`` up to ``end`` made a link; what is one already, or a note's mark, is left."""
    at = 0
    for run in runs:
        low, high = max(start - at, 0), min(end - at, len(run.text))
        at += len(run.text)
        if low >= high or run.link or run.note is not None:
            yield run
            continue
        for text, link in ((run.text[:low], None), (run.text[low:high], address), (run.text[high:], None)):
            if text:
                yield replace(run, text=text, link=link)
