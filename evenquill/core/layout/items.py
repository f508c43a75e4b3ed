"""What stands on a page, by its boxes: lines, pictures and tables, quickly found by their height."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import Line, PlacedPicture
from evenquill.core.layout.tables.placed import PlacedTable
from evenquill.core.model import Box


class Item(NamedTuple):
    """A line, picture or table with its box."""

    box: Box
    content: Line | PlacedPicture | PlacedTable


class ByHeight:
    """The items of a page, of which those between two heights are quickly found."""

    def __init__(self, items: Sequence[Item]) -> None:
        self.items = items
        self._order = sorted(range(len(items)), key=lambda n: items[n].box.center_y)
        self._heights = [items[n].box.center_y for n in self._order]

    def between(self, top: float, bottom: float) -> list[Item]:
        """Those whose middles lie between two heights, or at one, in the order of the page."""
        found = self._order[bisect_left(self._heights, top) : bisect_right(self._heights, bottom)]
        return [self.items[n] for n in sorted(found)]
