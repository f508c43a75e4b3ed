"""The straight edges of a page, drawn as rules or as sides of boxes: pieces of one edge joined, and those that touch taken together."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

import numpy as np

from evenquill.core.evidence import PageEvidence, Rule
from evenquill.core.model import Box
from evenquill.core.union_find import UnionFind

TOUCH = 2.5
"""Points within which edges meet, and between which parallel ones are one: double rules, sides of shaded cells that leave a gap."""

SMALLEST_BOX = 9.0
"""Points: the least width and height of a box whose sides can be those of cells; boxes to tick are smaller."""

BETWEEN_CELLS = 6.0
"""Points that cells with lines or shades of their own may leave between each other, as those of browsers' tables do."""

FACING = 0.5
"""Share of the smaller box's side that two boxes must have beside each other for them to be neighbours."""

MOST_EDGES = 400
"""More in one direction than this is graph paper and no table."""


class Edge(NamedTuple):
    """A straight stretch: where it stands across, and from where to where it runs, in points."""

    at: float
    start: float
    end: float


class Edges(NamedTuple):
    """Edges that run from left to right, and from top to bottom."""

    level: tuple[Edge, ...]
    upright: tuple[Edge, ...]


def edges_of(page: PageEvidence) -> Edges:
    """All edges of a page, each once."""
    level = [Edge(rule.box.center_y, rule.box.x0, rule.box.x1) for rule in page.rules if rule.horizontal]
    upright = [Edge(rule.box.center_x, rule.box.y0, rule.box.y1) for rule in page.rules if not rule.horizontal]
    for box in _closed_up(_cells([box for box in page.boxes if min(box.width, box.height) >= SMALLEST_BOX])):
        level += (Edge(box.y0, box.x0, box.x1), Edge(box.y1, box.x0, box.x1))
        upright += (Edge(box.x0, box.y0, box.y1), Edge(box.x1, box.y0, box.y1))
    return Edges(_joined(level), _joined(upright))


def _cells(boxes: Sequence[Box]) -> list[Box]:
    """Boxes that may be cells: none that lies over a part of a larger one, and over more beside it, as grounds of a design do."""
    if not 2 <= len(boxes) <= MOST_EDGES:
        return list(boxes)
    sides = np.array(boxes, np.float64)
    starts, ends = sides[:, :2], sides[:, 2:]
    shared = np.minimum(ends[:, None], ends) - np.maximum(starts[:, None], starts)
    stands_out = (starts[:, None] < starts - SMALLEST_BOX) | (ends[:, None] > ends + SMALLEST_BOX)
    areas = (ends - starts).prod(axis=1)
    designs = (shared.min(axis=2) >= SMALLEST_BOX) & stands_out.any(axis=2) & (areas > areas[:, None])
    return [box for box, design in zip(boxes, designs.any(axis=1), strict=True) if not design]


def _closed_up(boxes: Sequence[Box]) -> list[Box]:
    """Boxes, those that are neighbours grown to the middle between them."""
    sides = np.array(boxes, np.float64).reshape(-1, 4)
    if not 2 <= len(sides) <= MOST_EDGES:
        return list(boxes)
    grown = sides.copy()
    for start, end, low, high in ((0, 2, 1, 3), (1, 3, 0, 2)):
        gaps = sides[None, :, start] - sides[:, None, end]
        shared = np.minimum(sides[:, None, high], sides[None, :, high]) - np.maximum(
            sides[:, None, low], sides[None, :, low]
        )
        lengths = sides[:, high] - sides[:, low]
        facing = (gaps > 0) & (gaps <= BETWEEN_CELLS) & (shared >= FACING * np.minimum(lengths[:, None], lengths[None]))
        nearest = np.where(facing, gaps, np.inf)
        after, before = nearest.min(axis=1), nearest.min(axis=0)
        grown[:, end] += np.where(np.isfinite(after), after / 2, 0.0)
        grown[:, start] -= np.where(np.isfinite(before), before / 2, 0.0)
    return [Box(*map(float, box)) for box in grown]


def joined_rules(rules: Iterable[Rule]) -> list[Rule]:
    """Rules, those whole that are drawn in level pieces, as below the cells of a row."""
    rules = list(rules)
    level = _joined(Edge(rule.box.center_y, rule.box.x0, rule.box.x1) for rule in rules if rule.horizontal)
    return [
        *(Rule(Box(edge.start, edge.at, edge.end, edge.at)) for edge in level),
        *(rule for rule in rules if not rule.horizontal),
    ]


def _joined(edges: Iterable[Edge]) -> tuple[Edge, ...]:
    """Pieces of one edge made one, from the first to the last."""
    out: list[Edge] = []
    for group in _in_line(sorted(edges)):
        current: Edge | None = None
        for edge in sorted(group, key=lambda edge: edge.start):
            if current is not None and edge.start <= current.end + TOUCH:
                current = current._replace(end=max(current.end, edge.end))
                continue
            if current is not None:
                out.append(current)
            current = edge
        if current is not None:
            out.append(current)
    return tuple(out) if len(out) <= MOST_EDGES else ()


def _in_line(edges: Sequence[Edge]) -> Iterable[list[Edge]]:
    """Edges in order of where they stand, those that all but coincide together."""
    group: list[Edge] = []
    for edge in edges:
        if group and edge.at - group[0].at > TOUCH:
            yield group
            group = []
        group.append(edge)
    if group:
        yield group


def connected(edges: Edges) -> list[Edges]:
    """Edges that hang together, each group by itself."""
    nodes = [*((True, edge) for edge in edges.level), *((False, edge) for edge in edges.upright)]
    found: UnionFind[int] = UnionFind()
    for n, (level, edge) in enumerate(nodes):
        for k in range(n):
            other_level, other = nodes[k]
            if level is not other_level and meet(edge, other):
                found.join(n, k)
    groups: dict[int, tuple[list[Edge], list[Edge]]] = {}
    for n, (level, edge) in enumerate(nodes):
        groups.setdefault(found.root(n), ([], []))[0 if level else 1].append(edge)
    return [Edges(tuple(level), tuple(upright)) for level, upright in groups.values()]


def meet(edge: Edge, across: Edge) -> bool:
    """Whether two edges at right angles touch or cross."""
    return edge.start - TOUCH <= across.at <= edge.end + TOUCH and across.start - TOUCH <= edge.at <= across.end + TOUCH


def places(edges: Iterable[Edge]) -> list[float]:
    """Where edges stand, those that all but coincide as one."""
    groups = _in_line(sorted(edges))
    return [sum(edge.at for edge in group) / len(group) for group in groups]


def covers(edges: Iterable[Edge], at: float, start: float, end: float, share: float) -> bool:
    """Whether edges that stand at a place cover a share of the way from ``start`` to ``end``."""
    length = sum(max(min(edge.end, end) - max(edge.start, start), 0.0) for edge in edges if abs(edge.at - at) <= TOUCH)
    return length >= share * (end - start)
