"""Text put together from pieces of several blocks, so that the three sides of a merge can be compared paragraph by paragraph."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable

from evenquill.core.model import TextBlock
from evenquill.core.model.cutting import cut_block, join_blocks, parting_between
from evenquill.core.rebase.words import WordKey

Target = Callable[[WordKey], str | None]
"""The block of the result that a word belongs to, None where that is not known."""


def pieces_by_target(blocks: Iterable[TextBlock], target: Target) -> dict[str, TextBlock]:
    """For each block of the result the text of it that these blocks have, in their order.

    A word whose place is not known goes with the word before it, at the beginning with the one behind.
    """
    pieces: dict[str, list[TextBlock]] = defaultdict(list)
    for block in blocks:
        for wanted, start, end in _stretches(block, target):
            pieces[wanted].append(block if (start, end) == (0, len(block.text)) else cut_block(block, start, end))
    return {wanted: _joined(parts) for wanted, parts in pieces.items()}


def _stretches(block: TextBlock, target: Target) -> list[tuple[str, int, int]]:
    """Parts of a block from a place to a place, each with the block of the result that it belongs to."""
    words = sorted(enumerate(block.words), key=lambda one: one[1].start)
    wanted = [target((block.id, number)) for number, _ in words]
    known = next((name for name in wanted if name is not None), None)
    if known is None:
        return []
    parts: list[tuple[str, int, int]] = []
    current, begun = known, 0
    for name, (_, word) in zip(wanted, words, strict=True):
        if name is not None and name != current:
            parts.append((current, begun, word.start))
            current, begun = name, word.start
    parts.append((current, begun, len(block.text)))
    return parts


def _joined(parts: list[TextBlock]) -> TextBlock:
    first, *rest = parts
    for part in rest:
        first = join_blocks(first, part, parting_between(first, part))
    return first
