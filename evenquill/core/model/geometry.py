"""Boxes and spots: where on which page a thing came from.

Coordinates are PDF points, origin at the top left of the page as it is looked at (after its rotation).
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple


class Box(NamedTuple):
    """A rectangle: left, top, right, bottom, in points."""

    x0: float
    y0: float
    x1: float
    y1: float

    @property
    def width(self) -> float:
        return self.x1 - self.x0

    @property
    def height(self) -> float:
        return self.y1 - self.y0

    @property
    def center_x(self) -> float:
        return (self.x0 + self.x1) / 2

    @property
    def center_y(self) -> float:
        return (self.y0 + self.y1) / 2

    def out_of_line(self, other: Box, shift: float = 0.0) -> float:
        """Points by which it misses to begin, end or have its middle where another box does, ``shift`` points further right."""
        away = self.x0 - other.x0, self.x1 - other.x1, self.center_x - other.center_x
        return min(abs(one - shift) for one in away)

    def overlap_x(self, other: Box) -> float:
        """Width shared with the other box; negative is the gap between them."""
        return min(self.x1, other.x1) - max(self.x0, other.x0)

    def overlap_y(self, other: Box) -> float:
        """Height shared with the other box; negative is the gap between them."""
        return min(self.y1, other.y1) - max(self.y0, other.y0)

    def holds(self, other: Box, slack: float = 0.0) -> bool:
        """Whether the other box lies within this one, give or take ``slack`` points."""
        return (
            self.x0 - slack <= other.x0
            and self.y0 - slack <= other.y0
            and self.x1 + slack >= other.x1
            and self.y1 + slack >= other.y1
        )

    def holds_middle(self, other: Box) -> bool:
        """Whether the middle of the other box lies within this one."""
        return self.x0 <= other.center_x <= self.x1 and self.y0 <= other.center_y <= self.y1

    def rounded(self) -> Box:
        """The box to a hundredth of a point, which is finer than any printer and short to store."""
        return Box(round(self.x0, 2), round(self.y0, 2), round(self.x1, 2), round(self.y1, 2))


def union(boxes: Iterable[Box]) -> Box:
    """The smallest box around all; raises ValueError for none."""
    columns = tuple(zip(*boxes, strict=True))
    if not columns:
        raise ValueError("no boxes")
    return Box(min(columns[0]), min(columns[1]), max(columns[2]), max(columns[3]))


class Spot(NamedTuple):
    """A place on the source: page (from 1) and box."""

    page: int
    box: Box


WHOLE_WORD = -1


class OtherReading(NamedTuple):
    """Another reading of the character at ``place`` (from 0) of a word, or of the whole word where ``place`` is WHOLE_WORD, with its share
    of the belief in the one chosen (0 to 1). A place behind the last character is for a sign that is to be seen and was not read."""

    place: int
    text: str
    share: float


def spots_by_page(spots: Iterable[Spot]) -> tuple[Spot, ...]:
    """One spot for each page that has some: the box around all of them there."""
    boxes: dict[int, list[Box]] = {}
    for spot in spots:
        boxes.setdefault(spot.page, []).append(spot.box)
    return tuple(Spot(page, union(boxes[page])) for page in sorted(boxes))


class WordSpot(NamedTuple):
    """Where a word of a block stood: its character range in the block's text, and its spot.

    ``confidence`` (0 to 1) is how sure the recogniser was, 1 where nothing was recognised or the clerk has changed the word;
    ``others`` are its other readings of single characters.
    """

    start: int
    end: int
    page: int
    box: Box
    confidence: float = 1.0
    others: tuple[OtherReading, ...] = ()

    def changed(self, start: int, end: int) -> WordSpot:
        """The spot of a word that the clerk has changed."""
        return WordSpot(start, end, self.page, self.box)
