"""Columns and reading order of the pieces of a page.

What stands above the stretch of a gutter, left and right of it and below it is ordered likewise (recursive cuts, Nagy and Seth 1984).
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence
from itertools import takewhile
from typing import NamedTuple

from evenquill.core.evidence import OVER_TEXT, Line, PlacedPicture, Rule
from evenquill.core.layout.blocks_beside import gutter_between_blocks
from evenquill.core.layout.gutters import Gutter, gutters_in, probabilities
from evenquill.core.layout.items import Item
from evenquill.core.layout.panels import gutter_beside_panel
from evenquill.core.layout.tables.edges import joined_rules
from evenquill.core.model import Box, union

UNLIKE = 1.35
"""Width of a column over that of its neighbour, at most, in text that runs through both."""

NEARER = 1.3
"""White above lines that begin the text below columns, over the white below them, at least."""

MOST_ABOVE = 3
"""Lines that may stand above the last of several columns, set to the right."""

FLUSH, INDENTED = 2.0, 2.5
"""Points within which lines end alike; ems by which a line begins further in than any first line of a paragraph."""

MARK = re.compile(r"[(\[]?(?:\d{1,3}|[^\W\d_]|[ivxlc]{1,6}|[IVXLC]{1,6})[.):\]]|[^\w\s]")
"""The mark of an item alone: a number or a letter with its sign, or a bullet."""

Judge = Callable[[Sequence[Gutter], Sequence[Item]], Sequence[float]]
"""Says of gutters among items how likely it is that each parts columns."""


class Band(NamedTuple):
    """A column's items, and how many columns stand side by side there, itself counted; ``alone`` if nothing at all stands beside it."""

    items: list[Item]
    beside: int
    alone: bool = True


def in_columns(
    items: list[Item], rules: Sequence[Rule], known: Sequence[float] | None = None, boxes: Sequence[Box] = ()
) -> list[Band]:
    """The items as columns in reading order, about equally wide where they stand side by side; a page without columns is one.

    ``known`` are left edges of columns on other pages, None where they are not known; ``boxes`` are grounds and frames. What has come over
    the text (stamps, handwriting, watermarks) parts and joins nothing: it goes to the column that it is nearest to.
    """
    over = [item for item in items if _is_over_text(item)]
    rest = [item for item in items if not _is_over_text(item)] or over
    whole = joined_rules(rules)
    parted = columns_by(rest, lambda gutters, own: probabilities(gutters, own, whole, known), known, boxes)
    bands = with_like_widths(parted)
    boxes = [union(item.box for item in band.items) for band in bands]
    for item in over if rest is not over else ():
        nearest = min(range(len(bands)), key=lambda n: _distance(boxes[n], item.box))
        bands[nearest] = bands[nearest]._replace(items=[*bands[nearest].items, item])
    return bands


def _is_over_text(item: Item) -> bool:
    return isinstance(item.content, PlacedPicture) and item.content.kind in OVER_TEXT


def _distance(one: Box, other: Box) -> float:
    """From a box to the middle of another, in points."""
    x, y = other.center_x, other.center_y
    return math.hypot(max(one.x0 - x, x - one.x1, 0.0), max(one.y0 - y, y - one.y1, 0.0))


def columns_by(
    items: list[Item], judge: Judge, known: Sequence[float] | None = None, boxes: Sequence[Box] = ()
) -> list[Band]:
    """The items as columns in reading order: first beside panels, then where the judge says so, at the gutter with most lines beside it,
    at last between blocks that are no rows."""
    gutter = (
        gutter_beside_panel(items, boxes, sure=True)
        or _judged(items, judge, known)
        or gutter_beside_panel(items, boxes, sure=False)
        or gutter_between_blocks(items)
    )
    if gutter is None:
        return [Band(items, 1)] if items else []
    above = [item for item in items if item.box.center_y < gutter.top]
    below = [item for item in items if item.box.center_y > gutter.bottom]
    beside = [item for item in items if gutter.top <= item.box.center_y <= gutter.bottom]
    at_left = [item for item in beside if item.box.center_x < gutter.right]
    at_right = [item for item in beside if item.box.center_x >= gutter.right]
    if not at_left or not at_right:
        return [Band(items, 1)]
    left, right = columns_by(at_left, judge, known, boxes), columns_by(at_right, judge, known, boxes)
    count = sum(max((band.beside for band in side), default=1) for side in (left, right))
    middle = [band._replace(beside=count, alone=False) for band in (*left, *right)]
    return [*columns_by(above, judge, known, boxes), *middle, *columns_by(below, judge, known, boxes)]


def _judged(items: list[Item], judge: Judge, known: Sequence[float] | None) -> Gutter | None:
    """The gutter with most lines beside it that the judge says parts columns."""
    gutters = gutters_in(items, known)
    judged = [gutter for gutter, own in zip(gutters, judge(gutters, items), strict=True) if own >= 0.5]
    gutter = next((gutter for gutter in judged if not _is_behind_marks(gutter, judged, items)), None)
    return None if gutter is None else _without_text_around(gutter, items)


def _without_text_around(gutter: Gutter, items: Sequence[Item]) -> Gutter:
    """The gutter without what stands above and below both columns."""
    return _without_lines_above(_without_text_below(gutter, items), items)


def _without_lines_above(gutter: Gutter, items: Sequence[Item]) -> Gutter:
    """The gutter without lines at its right that stand above all at its left, end where the column does and begin further in: a date, or
    who wrote it, set to the right above the columns."""
    beside = [item for item in items if gutter.top <= item.box.center_y <= gutter.bottom]
    right = sorted((item for item in beside if item.box.center_x >= gutter.right), key=lambda item: item.box.y0)
    start_of_left = min((item.box.y0 for item in beside if item.box.center_x < gutter.right), default=gutter.top)
    left_edge = min((item.box.x0 for item in right), default=gutter.right)
    end = max((item.box.x1 for item in right), default=gutter.right)
    above = list(takewhile(lambda item: _is_set_to_the_right(item, left_edge, end, start_of_left), right))
    if not above or len(above) > MOST_ABOVE or len(above) == len(right):
        return gutter
    return gutter._replace(top=(above[-1].box.center_y + min(start_of_left, right[len(above)].box.y0)) / 2)


def _is_set_to_the_right(item: Item, left: float, right: float, bottom: float) -> bool:
    """Whether a line above a height ends where its column does, and begins further in than that."""
    line, box = item.content, item.box
    return (
        isinstance(line, Line)
        and box.center_y < bottom
        and abs(right - box.x1) <= FLUSH
        and box.x0 - left > INDENTED * line.size
    )


def _without_text_below(gutter: Gutter, items: Sequence[Item]) -> Gutter:
    """The gutter without what stands at its left below all that is at its right, if it is nearer to what goes across below than to the
    columns: a heading of the text that follows."""
    across = min((item.box.y0 for item in items if item.box.center_y > gutter.bottom), default=None)
    beside = [item.box for item in items if gutter.top <= item.box.center_y <= gutter.bottom]
    reach = end_of_right = max((box.y1 for box in beside if box.center_x >= gutter.right), default=gutter.bottom)
    widest, end = 0.0, gutter.bottom
    for box in sorted((box for box in beside if box.center_x < gutter.right), key=lambda box: box.y0):
        if box.y0 >= end_of_right and box.y0 - reach > widest:
            widest, end = box.y0 - reach, (reach + box.y0) / 2
        reach = max(reach, box.y1)
    is_nearer = across is not None and widest > NEARER * max(across - reach, 0.0)
    return gutter._replace(bottom=end) if is_nearer else gutter


def _is_behind_marks(gutter: Gutter, judged: Sequence[Gutter], items: Sequence[Item]) -> bool:
    """Whether nothing but marks of items stands between a gutter and the one before it: what they are the marks of stands behind it."""
    before = max(
        (one.right for one in judged if one.right <= gutter.left and _are_level(one, gutter)), default=-math.inf
    )
    beside = [
        item.content
        for item in items
        if gutter.top <= item.box.center_y <= gutter.bottom
        and before <= item.box.x0
        and item.box.center_x < gutter.left
    ]
    return bool(beside) and all(isinstance(one, Line) and MARK.fullmatch(one.text) for one in beside)


def _are_level(one: Gutter, two: Gutter) -> bool:
    """Whether most of the lower of two gutters stands beside the other."""
    shared = min(one.bottom, two.bottom) - max(one.top, two.top)
    return shared > 0.5 * min(one.bottom - one.top, two.bottom - two.top)


def with_like_widths(bands: list[Band]) -> list[Band]:
    """The columns, those of a band that are not about equally wide counted as one: text beside them is no column of theirs."""
    out: list[Band] = []
    start = 0
    while start < len(bands):
        group = bands[start : start + bands[start].beside]
        widths = [union(item.box for item in band.items).width for band in group]
        alike = len(group) == group[0].beside and max(widths) <= UNLIKE * min(widths)
        out += group if alike else [band._replace(beside=1) for band in group]
        start += len(group)
    return out
