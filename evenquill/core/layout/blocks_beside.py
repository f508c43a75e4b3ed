"""Blocks of a few lines beside each other, such as who writes and when at the head of a letter, told by the distances of their lines.

Rows of a table and pairs of labels and values are level. Where the lines of two blocks stand at different distances, they are no rows, and
each block is read for itself, however short it is and at whichever edge its lines stand.
"""

from __future__ import annotations

import itertools
import statistics
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from evenquill.core.evidence import Line
from evenquill.core.layout.gutters import Gutter, are_rows
from evenquill.core.layout.items import Item
from evenquill.core.model import Box, union

FEWEST = 3
"""Lines of a block from which the distance between them is no chance."""

EVEN = 0.06
"""Share by which the distances of lines of one block may differ from the usual one."""

UNLIKE = 0.08
"""Share by which the distances of lines of two blocks differ, at least."""

FARTHEST = 1.8
"""Ems from a line of a block to the next, at most: further apart are the rows of a table that has several lines in other cells."""

SAME_SIZE = 0.05
"""Share by which the sizes of lines of one block may differ."""

APART = 1.5
"""Ems of white between two blocks, at least."""

BESIDE = 0.6
"""Share of the lower block that stands beside the other, at least."""

MOST_LINES = 400
"""Lines of a column that are looked at."""


class _Block(NamedTuple):
    """Lines below each other at even distances, in points; ``baselines`` are where they stand."""

    box: Box
    distance: float
    size: float
    baselines: tuple[float, ...]


def gutter_between_blocks(items: Sequence[Item]) -> Gutter | None:
    """The strip between two blocks whose lines are at different distances, if nothing crosses it; the highest one on the page."""
    blocks = list(_blocks([item.content for item in items if isinstance(item.content, Line)][:MOST_LINES]))
    found = (
        _gutter(left, right, items)
        for left, right in itertools.permutations(blocks, 2)
        if abs(left.distance - right.distance) > UNLIKE * max(left.distance, right.distance)
        and not _are_rows(left, right)
    )
    return min((gutter for gutter in found if gutter is not None), key=lambda gutter: gutter.top, default=None)


def _are_rows(left: _Block, right: _Block) -> bool:
    few, many = sorted((left.baselines, right.baselines), key=len)
    return are_rows(few, many, min(left.size, right.size))


def _gutter(left: _Block, right: _Block, items: Sequence[Item]) -> Gutter | None:
    """The strip between two blocks, None where they are not beside each other or something crosses it."""
    lowest = min(left.box.height, right.box.height)
    if (
        right.box.x0 - left.box.x1 < APART * max(left.size, right.size)
        or left.box.overlap_y(right.box) < BESIDE * lowest
    ):
        return None
    top, bottom = min(left.box.y0, right.box.y0), max(left.box.y1, right.box.y1)
    beside = [item.box for item in items if top <= item.box.center_y <= bottom]
    start = max((box.x1 for box in beside if box.center_x < right.box.x0), default=left.box.x1)
    end = min((box.x0 for box in beside if box.center_x >= right.box.x0), default=right.box.x0)
    if end - start < APART * min(left.size, right.size):
        return None
    return Gutter(start, end, top, bottom, FEWEST)


def _blocks(lines: Sequence[Line]) -> Iterator[_Block]:
    """Blocks of lines below each other, at even distances and of one size."""
    for chain in _chains(sorted((line for line in lines if not line.angle), key=lambda line: line.baseline)):
        distances = [low.baseline - high.baseline for high, low in itertools.pairwise(chain)]
        start = 0
        while start + FEWEST <= len(chain):
            end = start + 1
            while end < len(chain) and _is_even(distances[start:end]):
                end += 1
            if end - start >= FEWEST:
                own = chain[start:end]
                yield _Block(
                    union(line.box for line in own),
                    statistics.mean(distances[start : end - 1]),
                    max(line.size for line in own),
                    tuple(line.baseline for line in own),
                )
            start = max(end - 1, start + 1)


def _is_even(distances: Sequence[float]) -> bool:
    usual = statistics.median(distances)
    return all(abs(distance - usual) <= EVEN * usual for distance in distances)


def _chains(lines: Sequence[Line]) -> Iterator[list[Line]]:
    """Lines in order, each with the nearest one below it, where that is near, of its size, and below no other one nearer to it."""
    below: dict[int, int] = {}
    above: dict[int, int] = {}
    for n, line in enumerate(lines):
        for k in range(n + 1, len(lines)):
            other = lines[k]
            if other.baseline - line.baseline > FARTHEST * line.size:
                break
            if other.baseline > line.baseline and other.box.overlap_x(line.box) > 0:
                if k not in above and abs(other.size - line.size) <= SAME_SIZE * line.size:
                    below[n], above[k] = k, n
                break
    for n in range(len(lines)):
        if n in below and n not in above:
            chain = [n]
            while chain[-1] in below:
                chain.append(below[chain[-1]])
            yield [lines[k] for k in chain]
