"""Columns and reading order of the pieces of a page.

A gutter is looked for at each left edge that several lines share: the stretch of the page where nothing crosses it. It
parts columns only if both sides read as prose, so that tables and pairs of label and value stay rows. What stands
above the stretch, left and right of it and below it is then ordered in the same way (recursive cuts, Nagy and Seth 1984,
with gutters found as empty rectangles, after Breuel 2002).
"""

from __future__ import annotations

import statistics
from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import Line, PlacedPicture, Rule
from evenquill.core.layout.tables.placed import PlacedTable
from evenquill.core.model import Box, union

GUTTER = 0.8
"""Ems: the narrowest gutter; wider than a justified space."""

BESIDE = 3.0
"""Line heights from a gutter within which lines begin or end that stand beside it."""

FEWEST_LINES = 3
"""Lines on either side of a gutter."""

FEWEST_KNOWN, SAME_PLACE = 2, 2.0
"""The same where other pages have a gutter, and points by which columns may stand elsewhere than there."""

PROSE_CHARACTERS = 14
"""Characters in a line of prose on average; cells of tables have fewer."""

PROSE_FILL = 0.6
"""Share of the column's width that most lines of prose fill."""


UNLIKE = 1.35
"""Width of a column over that of its neighbour, at most, in text that runs through both."""


class Item(NamedTuple):
    """A line, picture or table with its box."""

    box: Box
    content: Line | PlacedPicture | PlacedTable


class Gutter(NamedTuple):
    left: float
    right: float
    top: float
    bottom: float
    lines: int


class Band(NamedTuple):
    """A column's items, and how many columns stand side by side there, itself counted; ``alone`` if nothing at all stands beside it."""

    items: list[Item]
    beside: int
    alone: bool = True


def in_columns(items: list[Item], rules: tuple[Rule, ...], known: Sequence[float] = ()) -> list[Band]:
    """The items as columns in reading order; a page without columns is one.

    ``known`` are left edges of columns on other pages: where a text ends, its last columns have few lines.
    """
    gutter = _best_gutter(items, rules) or _known_gutter(items, known)
    if gutter is None:
        return [Band(items, 1)] if items else []
    above = [item for item in items if item.box.center_y < gutter.top]
    below = [item for item in items if item.box.center_y > gutter.bottom]
    beside = [item for item in items if gutter.top <= item.box.center_y <= gutter.bottom]
    left = in_columns([item for item in beside if item.box.center_x < gutter.right], rules, known)
    right = in_columns([item for item in beside if item.box.center_x >= gutter.right], rules, known)
    count = sum(max((band.beside for band in side), default=1) for side in (left, right))
    middle = [band._replace(beside=count, alone=False) for band in (*left, *right)]
    return [*in_columns(above, rules, known), *middle, *in_columns(below, rules, known)]


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


def _best_gutter(items: list[Item], rules: tuple[Rule, ...]) -> Gutter | None:
    lines = [item for item in items if isinstance(item.content, Line)]
    if len(lines) < 2 * FEWEST_LINES:
        return None
    size = statistics.median(item.content.size for item in lines if isinstance(item.content, Line))
    best: Gutter | None = None
    by_height = _ByHeight(items)
    for edge in _shared_left_edges(lines):
        for gutter in _stretches(by_height, edge, GUTTER * size):
            if (best is None or gutter.lines > best.lines) and _parts_prose(gutter, by_height, rules):
                best = gutter
    return best


def _known_gutter(items: list[Item], known: Sequence[float]) -> Gutter | None:
    """A gutter where other pages have one, with few lines beside it."""
    lines = [item for item in items if isinstance(item.content, Line)]
    best: Gutter | None = None
    by_height = _ByHeight(items)
    for place in known:
        edges = [item.box.x0 for item in lines if abs(item.box.x0 - place) < SAME_PLACE]
        if not edges:
            continue
        size = statistics.median(item.content.size for item in lines if isinstance(item.content, Line))
        for gutter in _stretches(by_height, min(edges), GUTTER * size, FEWEST_KNOWN):
            beside = [item for item in lines if gutter.top <= item.box.center_y <= gutter.bottom]
            sides = [[i for i in beside if (i.box.center_x >= gutter.right) is right] for right in (False, True)]
            wordy = all(
                statistics.mean(len(i.content.text) for i in side if isinstance(i.content, Line)) >= PROSE_CHARACTERS
                for side in sides
            )
            if wordy and (best is None or gutter.lines > best.lines):
                best = gutter
    return best


def _shared_left_edges(lines: list[Item]) -> list[float]:
    """Left edges, to the point, at which at least FEWEST_LINES lines begin; the leftmost is no gutter."""
    counts: dict[int, int] = {}
    for item in lines:
        counts[round(item.box.x0)] = counts.get(round(item.box.x0), 0) + 1
    edges = sorted(x for x in counts if counts[x] + counts.get(x - 1, 0) + counts.get(x + 1, 0) >= FEWEST_LINES)
    leftmost = min(item.box.x0 for item in lines)
    return [min(item.box.x0 for item in lines if abs(item.box.x0 - x) < 1.0) for x in edges if x > leftmost + 5]


class _ByHeight:
    """The items of a page, of which those between two heights are quickly found."""

    def __init__(self, items: list[Item]) -> None:
        self.items = items
        self._order = sorted(range(len(items)), key=lambda n: items[n].box.center_y)
        self._heights = [items[n].box.center_y for n in self._order]

    def between(self, top: float, bottom: float) -> list[Item]:
        """Those whose middles lie between two heights, or at one, in the order of the page."""
        found = self._order[bisect_left(self._heights, top) : bisect_right(self._heights, bottom)]
        return [self.items[n] for n in sorted(found)]


def _stretches(by_height: _ByHeight, edge: float, width: float, fewest: int = FEWEST_LINES) -> list[Gutter]:
    """Where nothing crosses the strip of ``width`` left of ``edge``, with lines on both sides."""
    items = by_height.items
    crossing = sorted(
        (item.box for item in items if item.box.x0 < edge - 0.5 and item.box.x1 > edge - width),
        key=lambda box: box.y0,
    )
    top = min(item.box.y0 for item in items)
    bottom = max(item.box.y1 for item in items)
    stretches = []
    start = top
    for box in [*crossing, Box(0, bottom, 0, bottom)]:
        if box.y0 > start:
            inside = by_height.between(start, box.y0)
            # What stands alone above the columns is the end of the text before them.
            tops = [
                min((i.box.y0 for i in inside if (i.box.center_x >= edge) is right), default=0.0)
                for right in (False, True)
            ]
            start = max(start, max(tops) - 1.0) if tops[0] < tops[1] else start
            inside = [item for item in inside if item.box.center_y >= start]
            counts = [0, 0]
            for item in inside:
                if isinstance(item.content, Line):
                    counts[item.box.center_x >= edge] += 1
            if min(counts) >= fewest:
                stretches.append(Gutter(edge - width, edge, start, box.y0, min(counts)))
        start = max(start, box.y1)
    return stretches


def _parts_prose(gutter: Gutter, by_height: _ByHeight, rules: tuple[Rule, ...]) -> bool:
    inside = by_height.between(gutter.top, gutter.bottom)
    sides: tuple[list[Item], list[Item]] = ([], [])
    for item in inside:
        sides[item.box.center_x >= gutter.right].append(item)
    if not all(_is_prose(_nearest(side, gutter)) for side in sides):
        return False
    left, right = (union(item.box for item in side) for side in sides)
    if left.overlap_y(right) < 0.4 * min(left.height, right.height):
        return False
    crossing = [
        rule
        for rule in rules
        if rule.horizontal
        and rule.box.x0 < gutter.left
        and rule.box.x1 > gutter.right
        and gutter.top + 2 < rule.box.center_y < gutter.bottom - 2
    ]
    return len(crossing) < 2


def _nearest(side: list[Item], gutter: Gutter) -> list[Item]:
    """Of several columns on one side of a gutter the one next to it: what stands over or under its widest line."""
    lines = [item for item in side if isinstance(item.content, Line)]
    if not lines:
        return []
    if lines[0].box.center_x >= gutter.right:
        beside = [item for item in lines if item.box.x0 - gutter.right < BESIDE * item.content.box.height]
    else:
        end = max(item.box.x1 for item in lines)
        beside = [item for item in lines if end - item.box.x1 < BESIDE * item.content.box.height]
    widest = max(beside, key=lambda item: item.box.width, default=lines[0]).box
    return [item for item in lines if item.box.overlap_x(widest) > 0.5 * item.box.width]


def _is_prose(side: list[Item]) -> bool:
    lines = [item.content for item in side if isinstance(item.content, Line)]
    if len(lines) < FEWEST_LINES:
        return False
    width = max(line.box.x1 for line in lines) - min(line.box.x0 for line in lines)
    size = statistics.median(line.size for line in lines)
    if width < 8 * size:
        return False
    if statistics.mean(len(line.text) for line in lines) < PROSE_CHARACTERS:
        return False
    full = sum(line.box.width > PROSE_FILL * width for line in lines)
    return full >= 0.5 * len(lines)
