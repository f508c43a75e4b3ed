"""Numbering of paragraphs (ISO/IEC 29500-1, 17.9), as the marks of items."""

from __future__ import annotations

import re
from collections import defaultdict
from typing import NamedTuple

from evenquill.core.docx_reading.names import Element, W, value, whole
from evenquill.core.model import NumberFormat, Numbering
from evenquill.core.model.numerals import written

FORMATS = {
    "bullet": NumberFormat.BULLET, "decimal": NumberFormat.DECIMAL, "lowerLetter": NumberFormat.LOWER_LETTER,
    "upperLetter": NumberFormat.UPPER_LETTER, "lowerRoman": NumberFormat.LOWER_ROMAN, "upperRoman": NumberFormat.UPPER_ROMAN,
    "decimalZero": NumberFormat.DECIMAL,
}  # fmt: skip
"""Others (ordinals, words, numbers of other scripts) are counted in plain figures."""

BULLETS = {"\uf0b7": "•", "\uf0a7": "▪", "\uf0d8": "➢", "\uf0fc": "✓", "\uf0a8": "□", "\uf076": "❖", "o": "◦", "·": "•"}
"""What signs of symbol fonts, which stand for bullets, show."""

_LEVEL = re.compile(r"%(\d)")


class _Level(NamedTuple):
    format: NumberFormat
    text: str
    start: int


class Counted(NamedTuple):
    """How a paragraph is numbered: as the mark of an item, and as text, for kinds of rows that have no mark of their own."""

    numbering: Numbering
    label: str


class NumberingSheet:
    """The numberings of a file, which count as paragraphs are read in order."""

    def __init__(self, root: Element | None) -> None:
        self._levels: dict[int, dict[int, _Level]] = {}
        self._list_of: dict[int, int] = {}
        """By the number of a numbering that of the list that it counts in: several may go on from one another."""
        self._counts: dict[int, dict[int, int]] = defaultdict(dict)
        if root is not None:
            self._read(root)

    def _read(self, root: Element) -> None:
        abstract = {whole(one.get(f"{W}abstractNumId")): one for one in root.iter(f"{W}abstractNum")}
        for one in root.iter(f"{W}num"):
            own = whole(one.get(f"{W}numId"))
            base = whole(value(one, "abstractNumId"), -1)
            levels = {}
            overrides = list(one.iter(f"{W}lvlOverride"))
            for level in (*(abstract[base].iterfind(f"{W}lvl") if base in abstract else ()), *one.iter(f"{W}lvl")):
                levels[whole(level.get(f"{W}ilvl"))] = _level(level)
            for override in overrides:
                at, start = whole(override.get(f"{W}ilvl")), value(override, "startOverride")
                if start is not None and at in levels:
                    levels[at] = levels[at]._replace(start=whole(start, 1))
            self._levels[own] = levels
            self._list_of[own] = own if overrides else -base - 1

    def counted(self, number: int, level: int) -> Counted | None:
        """The next paragraph of a numbering at a level; None where there is no such numbering."""
        levels = self._levels.get(number)
        if not levels or level not in levels:
            return None
        own = levels[level]
        counts = self._counts[self._list_of[number]]
        begins = level not in counts
        counts[level] = own.start if begins else counts[level] + 1
        for deeper in [one for one in counts if one > level]:
            del counts[deeper]
        if own.format is NumberFormat.BULLET:
            sign = BULLETS.get(own.text, own.text) or "•"
            return Counted(Numbering(NumberFormat.BULLET, sign), sign)
        pattern = _LEVEL.sub("%", own.text) if "%" in own.text else "%."
        numbering = Numbering(own.format, pattern, own.start if begins else None)
        return Counted(numbering, _LEVEL.sub(lambda found: self._shown(levels, counts, int(found[1]) - 1), own.text))

    def _shown(self, levels: dict[int, _Level], counts: dict[int, int], level: int) -> str:
        known = levels.get(level)
        if known is None or known.format is NumberFormat.BULLET:
            return ""
        return written(counts.get(level, known.start), known.format)


def _level(element: Element) -> _Level:
    form = FORMATS.get(value(element, "numFmt") or "decimal", NumberFormat.DECIMAL)
    return _Level(form, value(element, "lvlText") or "", whole(value(element, "start"), 1))
