"""Cutting and joining text blocks, with the words' places on the source kept."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.model.blocks import TextBlock
from evenquill.core.model.geometry import Box, Spot, WordSpot, union
from evenquill.core.model.text import cut, joined, plain, stripped


def cut_block(block: TextBlock, start: int, end: int | None = None, *, spaced: bool = False) -> TextBlock:
    """The block with the characters from ``start`` to ``end`` only; without white space at either end, but where ``spaced``.

    Word spots and spots are those of the characters kept; a block without word spots keeps its spots.
    """
    runs = cut(block.runs, start, end)
    text = plain(runs)
    lead = 0 if spaced else len(text) - len(text.lstrip())
    kept = joined(runs) if spaced else stripped(runs)
    length = len(plain(kept))
    words = tuple(
        word._replace(start=max(word.start - start - lead, 0), end=min(word.end - start - lead, length))
        for word in block.words
        if word.end > start + lead and word.start < start + lead + length
    )
    return replace(block, runs=kept, words=words, spots=spots_of_words(words) if block.words else block.spots)


def join_blocks(first: TextBlock, second: TextBlock, parting: str) -> TextBlock:
    """The first block with the second one's text at its end, ``parting`` between them."""
    shift = len(first.text) + len(parting)
    between = (first.runs[-1].like(parting),) if parting and first.runs and first.runs[-1].note is None else ()
    if parting and not between:
        from_second = second.runs[0].like(parting) if second.runs else None
        between = (from_second,) if from_second is not None else ()
    moved = tuple(word._replace(start=word.start + shift, end=word.end + shift) for word in second.words)
    words = (*first.words, *moved)
    spots = (*first.spots, *second.spots)
    return replace(
        first,
        runs=joined((*first.runs, *between, *second.runs)),
        words=words,
        spots=spots_of_words(words) if first.words and second.words else spots,
    )


def spots_of_words(words: tuple[WordSpot, ...]) -> tuple[Spot, ...]:
    """Word boxes gathered into spots; a new one begins where the page changes or the text jumps up."""
    groups: list[tuple[int, list[Box]]] = []
    for word in words:
        if groups and groups[-1][0] == word.page and word.box.y1 > groups[-1][1][-1].y0:
            groups[-1][1].append(word.box)
        else:
            groups.append((word.page, [word.box]))
    return tuple(Spot(page, union(boxes)) for page, boxes in groups)
