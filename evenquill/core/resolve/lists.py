"""Lists: which one each item belongs to, and what is used on each of its levels."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from evenquill.core.model import Block, Numbering, TableBlock, TextBlock
from evenquill.core.model.blocks import DEEPEST_LIST

LEVELS = DEEPEST_LIST + 1
"""Levels of a list, as many as formats of word processors have."""

STEP = 18.0
"""Points by which each level of a list is set further in."""


@dataclass(slots=True)
class ListDefinition:
    """One list: its number (from 1) and what is used on each of its levels."""

    number: int
    levels: dict[int, Numbering] = field(default_factory=dict)


def items_by_flow(blocks: Sequence[Block]) -> Iterator[list[TextBlock]]:
    """The items of the text in order, and those of each cell of a table, where lists begin and end within the cell."""
    shown = [block for block in blocks if not block.excluded]
    yield [block for block in shown if isinstance(block, TextBlock) and block.is_item]
    for block in shown:
        if isinstance(block, TableBlock):
            for cell in block.cells:
                items = [text for text in cell.texts if text.is_item]
                if items:
                    yield items


def lists_of(blocks: tuple[Block, ...]) -> tuple[list[ListDefinition], dict[str, int]]:
    """The lists of a document, and the list's number for each item by block id.

    Nested levels share their parent's list, so that their numbers begin anew under each item as they should. Bullets of cells may be one
    list, numbers begin anew in each cell.
    """
    lists: list[ListDefinition] = []
    numbers: dict[str, int] = {}
    open_at: dict[int, ListDefinition] = {}
    for n, items in enumerate(items_by_flow(blocks)):
        open_at = {depth: used for depth, used in open_at.items() if n > 1 and not used.levels[depth].ordered}
        for item in items:
            numbers[item.id] = _list_of(item, lists, open_at)
    return lists, numbers


def _list_of(item: TextBlock, lists: list[ListDefinition], open_at: dict[int, ListDefinition]) -> int:
    """The number of the list that an item belongs to, which may begin with it; ``open_at`` are those that can go on, by their depth."""
    numbering = item.numbering or Numbering()
    depth = min(max(item.level, 0), LEVELS - 1)
    used = open_at.get(depth)
    if used is None or not _goes_on(used, depth, numbering):
        parent = open_at.get(depth - 1) if depth else None
        if parent is not None and _fits(parent, depth, numbering):
            used = parent
        else:
            used = ListDefinition(len(lists) + 1)
            lists.append(used)
        used.levels.setdefault(depth, numbering)
        open_at[depth] = used
    for deeper in [d for d in open_at if d > depth]:
        del open_at[deeper]
    return used.number


def _goes_on(used: ListDefinition, depth: int, numbering: Numbering) -> bool:
    return _same_kind(used.levels[depth], numbering) and (numbering.start is None or not numbering.ordered)


def _fits(parent: ListDefinition, depth: int, numbering: Numbering) -> bool:
    """Whether a level of the parent's list can hold the item: still free, or of its kind and beginning at the same number."""
    held = parent.levels.get(depth)
    if held is None:
        return True
    return _same_kind(held, numbering) and numbering.start in (None, held.start or 1)


def _same_kind(a: Numbering, b: Numbering) -> bool:
    return a.format is b.format and a.pattern == b.pattern
