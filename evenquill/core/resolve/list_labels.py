"""The labels of list items: bullets, and numbers as they are counted."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from evenquill.core.model import Block, Numbering, TextBlock
from evenquill.core.model.numerals import written
from evenquill.core.resolve.lists import items_by_flow


def list_labels(blocks: Sequence[Block]) -> dict[str, str]:
    """By block id what stands before each item of a list: its bullet, or its number in its pattern."""
    return {
        block.id: _label(numbering, block.level, counted) if numbering.ordered else numbering.pattern
        for block, numbering, counted in _counted(blocks)
    }


def item_numbers(blocks: Sequence[Block]) -> dict[str, int]:
    """By block id the number of each item that has one."""
    return {block.id: counted[block.level][0] for block, numbering, counted in _counted(blocks) if numbering.ordered}


def _counted(blocks: Sequence[Block]) -> Iterator[tuple[TextBlock, Numbering, dict[int, tuple[int, Numbering]]]]:
    """The items of lists with the numbers that they and those above them have then, by level."""
    for items in items_by_flow(blocks):
        counted: dict[int, tuple[int, Numbering]] = {}
        for item in items:
            numbering = item.numbering or Numbering()
            for deeper in [level for level in counted if level > item.level]:
                del counted[deeper]
            if numbering.ordered:
                before = counted.get(item.level)
                number = numbering.start if numbering.start is not None else before[0] + 1 if before else 1
                counted[item.level] = (number, numbering)
            yield item, numbering, counted


def _label(numbering: Numbering, level: int, counted: dict[int, tuple[int, Numbering]]) -> str:
    """The pattern with the numbers of the item and of the levels above it; the last place is the item's own."""
    pieces = numbering.pattern.split("%")
    levels = [depth for depth in sorted(counted) if depth <= level][-(len(pieces) - 1) :] if len(pieces) > 1 else []
    numbers = [written(counted[depth][0], counted[depth][1].format) for depth in levels]
    numbers = ["?"] * (len(pieces) - 1 - len(numbers)) + numbers
    return pieces[0] + "".join(number + piece for number, piece in zip(numbers, pieces[1:], strict=True))
