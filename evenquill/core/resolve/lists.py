"""Lists: which one each item belongs to, and what is used on each of its levels."""

from __future__ import annotations

from dataclasses import dataclass, field

from evenquill.core.model import Block, Numbering, Role, TextBlock

LEVELS = 9
"""Levels of a list, as many as formats of word processors have."""

STEP = 18.0
"""Points by which each level of a list is set further in."""


@dataclass(slots=True)
class ListDefinition:
    """One list: its number (from 1) and what is used on each of its levels."""

    number: int
    levels: dict[int, Numbering] = field(default_factory=dict)


def lists_of(blocks: tuple[Block, ...]) -> tuple[list[ListDefinition], dict[str, int]]:
    """The lists of a document, and the list's number for each item by block id.

    Nested levels share their parent's list, so that their numbers begin anew under each item as they should.
    """
    lists: list[ListDefinition] = []
    numbers: dict[str, int] = {}
    open_at: dict[int, ListDefinition] = {}
    for block in blocks:
        if not isinstance(block, TextBlock) or block.role is not Role.LIST_ITEM or block.excluded:
            continue
        numbering = block.numbering or Numbering()
        depth = min(max(block.level, 0), LEVELS - 1)
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
        numbers[block.id] = used.number
    return lists, numbers


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
