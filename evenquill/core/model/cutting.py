"""Cutting and joining text blocks, with the words' places on the source kept."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.model.blocks import TextBlock
from evenquill.core.model.geometry import Box, Spot, WordSpot, union
from evenquill.core.model.inline import Inline, Text, cut, joined, plain, stripped
from evenquill.core.model.sides import Sides
from evenquill.core.model.text import HYPHENS


def cut_block(block: TextBlock, start: int, end: int | None = None, *, spaced: bool = False) -> TextBlock:
    """The block with the characters from ``start`` to ``end`` only; without white space at either end, but where ``spaced``.

    Word spots and spots are those of the characters kept; a block without word spots keeps its spots. The line above goes with the
    first characters, the one below with the last.
    """
    runs = cut(block.content, start, end)
    text = plain(runs)
    lead = 0 if spaced else len(text) - len(text.lstrip())
    kept = joined(runs) if spaced else stripped(runs)
    length = len(plain(kept))
    words = tuple(
        word._replace(start=max(word.start - start - lead, 0), end=min(word.end - start - lead, length))
        for word in block.words
        if word.end > start + lead and word.start < start + lead + length
    )
    spots = spots_of_words(words) if block.words else block.spots
    above = block.sides & Sides.TOP if start <= 0 else Sides.NONE
    below = block.sides & Sides.BOTTOM if end is None or end >= len(block.text) else Sides.NONE
    return replace(block, content=kept, words=words, spots=spots, sides=above | below)


def join_blocks(first: TextBlock, second: TextBlock, parting: str) -> TextBlock:
    """The first block with the second one's text at its end, ``parting`` between them."""
    shift = len(first.text) + len(parting)
    between: tuple[Inline, ...] = ()
    if parting:
        texts = [item for item in (*first.content[-1:], *second.content[:1]) if isinstance(item, Text)]
        between = (texts[0].like(parting) if texts else Text(parting),)
    moved = tuple(word._replace(start=word.start + shift, end=word.end + shift) for word in second.words)
    words = (*first.words, *moved)
    spots = (*first.spots, *second.spots)
    return replace(
        first,
        content=joined((*first.content, *between, *second.content)),
        words=words,
        spots=spots_of_words(words) if first.words and second.words else spots,
        sides=first.sides & Sides.TOP | second.sides & Sides.BOTTOM,
    )


def parting_between(first: TextBlock, second: TextBlock) -> str:
    """What stands between two texts that become one: a space, or nothing after a broken word or the end of a line."""
    return "" if not first.text or not second.text or first.text[-1] in HYPHENS + "\n" else " "


def spots_of_words(words: tuple[WordSpot, ...]) -> tuple[Spot, ...]:
    """Word boxes gathered into spots; a new one begins where the page changes or the text jumps up."""
    groups: list[tuple[int, list[Box]]] = []
    for word in words:
        if groups and groups[-1][0] == word.page and word.box.y1 > groups[-1][1][-1].y0:
            groups[-1][1].append(word.box)
        else:
            groups.append((word.page, [word.box]))
    return tuple(Spot(page, union(boxes)) for page, boxes in groups)


def with_content(block: TextBlock, start: int, end: int, items: tuple[Inline, ...]) -> TextBlock:
    """The block with other content in the place of the characters from ``start`` up to ``end``.

    Words within them are those of the new content; words around them keep their places on the source.
    """
    content = joined((*cut(block.content, 0, start), *items, *cut(block.content, end)))
    new_end = start + len(plain(items))
    shift = new_end - end

    def moved(place: int) -> int:
        if place <= start:
            return place
        return place + shift if place >= end else new_end

    words = tuple(word._replace(start=moved(word.start), end=moved(word.end)) for word in block.words)
    return replace(block, content=content, words=tuple(word for word in words if word.start < word.end))
