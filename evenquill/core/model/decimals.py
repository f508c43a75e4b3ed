"""Numbers of a column of a table set with their decimal signs below each other.

Cells whose texts are aligned by decimals stand so among those of their column: the longest decimals end at the right side of the cell, all
others as far before it as they are shorter.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.model.blocks import Role, TableBlock, TextBlock
from evenquill.core.model.inline import Tab
from evenquill.core.model.styles import Align

FIGURE_WIDTH, SIGN_WIDTH = 0.5, 0.25
"""Widths of a figure and of a point or comma in ems, as most typefaces have them."""

GROUP = 3
"""Figures between the signs that part thousands."""

_SIGN = re.compile(r"(?<=\d)[.,](?=\d)|^[.,](?=\d)")


class DecimalPart(NamedTuple):
    """What stands behind the whole part of a number, its decimal sign with it, and the longest of these in its column."""

    own: str
    longest: str
    sign: str

    @property
    def figures_missing(self) -> int:
        """How many figures more the longest one has."""
        return _figures(self.longest) - _figures(self.own)

    @property
    def width(self) -> float:
        """Ems that the longest one is wide."""
        return _width(self.longest)

    @property
    def missing(self) -> float:
        """Ems by which the longest one is wider."""
        return _width(self.longest) - _width(self.own)


def decimal_sign(texts: Iterable[str]) -> str:
    """The sign before the decimals of a column's numbers, "" where they have none.

    A sign that comes twice in a number parts thousands, and so does the first one of a number with both. One that has three figures
    behind it wherever it stands can be either, and is taken to part thousands.
    """
    last: dict[str, list[int]] = defaultdict(list)
    parting: set[str] = set()
    for text in texts:
        found = list(_SIGN.finditer(text))
        parting |= {one.group() for one in found[:-1]}
        if found:
            behind = re.match(r"\d*", text[found[-1].end() :])
            last[found[-1].group()].append(len(behind.group()) if behind else 0)
    signs = [sign for sign, lengths in last.items() if sign not in parting and set(lengths) != {GROUP}]
    return max(signs, key=lambda sign: len(last[sign]), default="")


def decimals_of(text: str, sign: str) -> str:
    """A number from its decimal sign on, "" where it has none."""
    found = [one.start() for one in _SIGN.finditer(text) if one.group() == sign]
    return text[found[-1] :] if found else ""


def decimal_place(text: str, sign: str) -> float:
    """Where the decimal sign of a number stands, or would stand behind it, as a share of its width."""
    return 1.0 - _width(decimals_of(text, sign)) / max(_width(text), SIGN_WIDTH)


def decimal_parts(table: TableBlock) -> dict[str, DecimalPart]:
    """The decimals of the texts of a table that are aligned by these, by their ids."""
    columns: dict[int, list[TextBlock]] = defaultdict(list)
    for cell in table.cells:
        columns[cell.column + cell.columns - 1] += [text for text in cell.texts if text.align is Align.DECIMAL]
    parts: dict[str, DecimalPart] = {}
    for texts in columns.values():
        sign = decimal_sign(text.text for text in texts)
        own = [decimals_of(text.text, sign) for text in texts]
        longest = max(own, key=_width, default="")
        parts |= {text.id: DecimalPart(one, longest, sign) for text, one in zip(texts, own, strict=True)}
    return parts


def with_stops_as_read(text: TextBlock) -> TextBlock:
    """A text with decimal tab stops as files have it: in a cell its alignment says so, in a row they are stops at the right."""
    if all(stop.align is not Align.DECIMAL for stop in text.tabs):
        return text
    tabs = [n for n, item in enumerate(text.content) if isinstance(item, Tab)]
    if text.role is Role.CELL and tabs in ([], [0]):
        return replace(text, align=Align.DECIMAL, tabs=(), content=text.content[len(tabs) :])
    stops = (replace(stop, align=Align.RIGHT) if stop.align is Align.DECIMAL else stop for stop in text.tabs)
    return replace(text, tabs=tuple(stops))


def _figures(text: str) -> int:
    return sum(map(str.isdigit, text))


def _width(text: str) -> float:
    """Ems of a number; what is neither a sign nor a space is as wide as a figure."""
    return sum(SIGN_WIDTH if letter in ".,’' " or letter.isspace() else FIGURE_WIDTH for letter in text)
