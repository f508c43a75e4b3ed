"""Corrections carried over to a new reading of some pages.

Pages that were not read again keep their rows as they were corrected. On the others each corrected word is looked for at its
place on the page: where the new reading says what the old one said, it is corrected in the same way; where it says something
else, the correction is listed, for the clerk to decide.
"""

from __future__ import annotations

import difflib
from collections.abc import Iterable
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.edits.words import with_text
from evenquill.core.model import Block, Box, Document, Remark, RemarkKind, TableBlock, WordSpot, texts_of, with_changed

SAME_PLACE = 0.5
"""Share of a word's area that it must have in common with one of the new reading to be the same."""


class Correction(NamedTuple):
    """At a place on a page ``read`` was made ``made``."""

    page: int
    box: Box
    read: str
    made: str


def carried_over(pristine: Document, corrected: Document, fresh: Document, again: frozenset[int]) -> Document:
    """``fresh`` with the corrections that made ``corrected`` of ``pristine``; ``again`` are the pages that were read again.

    What could not be carried over is said in remarks.
    """
    kept = [block for block in corrected.blocks if _page(block) not in again]
    new = [block for block in fresh.blocks if _page(block) in again]
    lost: list[Remark] = []
    corrections = list(_corrections(pristine, corrected, again))
    for correction in corrections:
        new, outcome = _applied(new, correction)
        if outcome is not None:
            lost.append(outcome)
    blocks = _merged(kept, new)
    named = {style.name for style in fresh.styles}
    styles = (*fresh.styles, *(style for style in corrected.styles if style.name not in named))
    return replace(
        fresh,
        blocks=tuple(_with_own_ids(blocks)),
        styles=styles,
        remarks=(*fresh.remarks, *lost),
        settled=corrected.settled,
    )


def _page(block: Block) -> int:
    return block.spots[0].page if block.spots else 0


def _corrections(pristine: Document, corrected: Document, again: frozenset[int]) -> Iterable[Correction]:
    """Words of pages to be read again that were changed by hand."""
    before = {text.id: text for text in pristine.texts}
    for block in corrected.texts:
        old = before.get(block.id)
        if old is None or old.text == block.text:
            continue
        for word in old.words:
            if word.page not in again:
                continue
            read = old.text[word.start : word.end]
            start, end = _moved(old.text, block.text, word.start, word.end)
            made = block.text[start:end]
            if made.strip() != read:
                yield Correction(word.page, word.box, read, made.strip())


def _moved(before: str, after: str, start: int, end: int) -> tuple[int, int]:
    """Where a range of a text is after an edit."""
    new_start, new_end = None, 0
    for kind, a0, a1, b0, b1 in difflib.SequenceMatcher(None, before, after, autojunk=False).get_opcodes():
        if a1 <= start and not (a0 == a1 == start):
            continue
        if a0 >= end:
            break
        low = b0 + max(start - a0, 0) if kind == "equal" else b0
        high = b0 + min(end, a1) - a0 if kind == "equal" else b1
        new_start = low if new_start is None else new_start
        new_end = high
    return (new_start, new_end) if new_start is not None else (0, 0)


def _applied(blocks: list[Block], correction: Correction) -> tuple[list[Block], Remark | None]:
    for n, block in enumerate(blocks):
        for text in texts_of(block):
            for word in text.words:
                if word.page != correction.page or not _is_there(word, correction.box):
                    continue
                says = text.text[word.start : word.end]
                if says == correction.made:
                    return blocks, None
                if says != correction.read:
                    return blocks, _not_carried(correction, says)
                made = with_changed(block, with_text(text, word.start, word.end, correction.made))
                return [*blocks[:n], made, *blocks[n + 1 :]], None
    return blocks, _not_carried(correction, "")


def _is_there(word: WordSpot, box: Box) -> bool:
    width, height = word.box.overlap_x(box), word.box.overlap_y(box)
    return width > 0 and height > 0 and width * height > SAME_PLACE * box.width * box.height


def _not_carried(correction: Correction, says: str) -> Remark:
    now = f"now it says “{says}”" if says else "that word is no longer there"
    sentence = f"Page {correction.page}: “{correction.read}” had been corrected to “{correction.made}”; after reading again {now}."
    return Remark(RemarkKind.NOT_CARRIED_OVER, sentence, correction.page)


def _merged(kept: list[Block], new: list[Block]) -> list[Block]:
    """Rows kept and new by their pages; rows without a page stay behind the row that they stood behind."""
    out: list[Block] = []
    waiting = list(new)
    page = 0
    for block in kept:
        page = max(page, _page(block))
        while waiting and _page(waiting[0]) < page:
            out.append(waiting.pop(0))
        out.append(block)
    return [*out, *waiting]


def _with_own_ids(blocks: list[Block]) -> Iterable[Block]:
    """Rows of two readings may have the same names: later ones get others."""
    used: set[str] = set()
    last = 0
    for block in blocks:
        name = block.id
        while name in used:
            last += 1
            name = f"r{last}"
        used.add(name)
        yield block if name == block.id else _renamed(block, name)


def _renamed(block: Block, name: str) -> Block:
    """The block under another name, the texts of its cells named after it."""
    if not isinstance(block, TableBlock):
        return replace(block, id=name)
    cells = tuple(
        replace(
            cell,
            texts=tuple(replace(text, id=f"{name}{text.id.removeprefix(block.id)}") for text in cell.texts),
        )
        for cell in block.cells
    )
    return replace(block, id=name, cells=cells)
