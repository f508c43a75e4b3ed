"""Lists as real numbering (ECMA-376 part 1, 17.9): which ``w:num`` each item belongs to, and the definitions."""

from __future__ import annotations

from dataclasses import dataclass, field

from evenquill.core.model import Block, NumberFormat, Numbering, Role, TextBlock
from evenquill.core.writers.docx.xml import Element, child, twips

LEVELS = 9
STEP = 18.0
"""Points by which each level of a list is set further in."""

FORMATS = {
    NumberFormat.BULLET: "bullet",
    NumberFormat.DECIMAL: "decimal",
    NumberFormat.LOWER_LETTER: "lowerLetter",
    NumberFormat.UPPER_LETTER: "upperLetter",
    NumberFormat.LOWER_ROMAN: "lowerRoman",
    NumberFormat.UPPER_ROMAN: "upperRoman",
}


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


def write_numbering(root: Element, lists: list[ListDefinition]) -> None:
    """Adds definitions to ``w:numbering``: all abstract ones first, as the schema wants."""
    for definition in lists:
        abstract = child(root, "abstractNum", abstractNumId=definition.number)
        child(abstract, "multiLevelType", val="hybridMultilevel")
        for depth in range(LEVELS):
            _write_level(abstract, depth, definition.levels.get(depth) or _usual(depth))
    for definition in lists:
        number = child(root, "num", numId=definition.number)
        child(number, "abstractNumId", val=definition.number)


def _usual(depth: int) -> Numbering:
    """For levels not in use."""
    return Numbering(NumberFormat.BULLET, ("•", "◦", "▪")[depth % 3])


def _write_level(abstract: Element, depth: int, numbering: Numbering) -> None:
    level = child(abstract, "lvl", ilvl=depth)
    child(level, "start", val=numbering.start if numbering.start is not None else 1)
    child(level, "numFmt", val=FORMATS[numbering.format])
    child(level, "lvlText", val=_level_text(numbering, depth))
    child(level, "lvlJc", val="left")
    paragraph = child(level, "pPr")
    child(paragraph, "ind", left=twips(STEP * (depth + 1)), hanging=twips(STEP))


def _level_text(numbering: Numbering, depth: int) -> str:
    """The pattern with the level of each number in it: the last is its own, those before it are of the levels above."""
    if not numbering.ordered:
        return numbering.pattern
    first, *rest = numbering.pattern.split("%")
    return first + "".join(f"%{depth + 1 - len(rest) + n}{text}" for n, text in enumerate(rest, 1))
