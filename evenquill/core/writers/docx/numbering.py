"""Lists as real numbering (ECMA-376 part 1, 17.9)."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model import NumberFormat, Numbering
from evenquill.core.resolve.lists import LEVELS, STEP, ListDefinition
from evenquill.core.writers.docx.xml import Element, child, twips

FORMATS = {
    NumberFormat.BULLET: "bullet",
    NumberFormat.DECIMAL: "decimal",
    NumberFormat.LOWER_LETTER: "lowerLetter",
    NumberFormat.UPPER_LETTER: "upperLetter",
    NumberFormat.LOWER_ROMAN: "lowerRoman",
    NumberFormat.UPPER_ROMAN: "upperRoman",
}


def write_numbering(root: Element, lists: Sequence[ListDefinition]) -> None:
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
