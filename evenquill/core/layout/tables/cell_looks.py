"""How a table's cells look on the page: which of their sides have a line (many tables have lines only below their header, or only
between columns), and what they are filled with."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from evenquill.core.evidence import PageEvidence
from evenquill.core.layout.tables.edges import Edge, edges_of
from evenquill.core.layout.tables.placed import PlacedTable
from evenquill.core.model import Box
from evenquill.core.model.sides import Sides

DRAWN = 0.5
"""Share of a side along which a line must be: those below headings of groups are often shorter than their columns."""

BESIDE = 0.5
"""Share of the lower row, or narrower column, on either side of a boundary within which a line is that boundary's."""

FARTHEST = 14.0
"""Points from a boundary at which a line is still its own: where there is no text beside it nothing tells it more exactly."""

NEARLY_ALL = 0.9
"""Share of the sides from which a table has lines between all of its cells: some are too pale to be seen on scans."""


FILLED = 0.7
"""Share of a cell that the rectangle covers which fills it: the sides of some cells are known by their text alone."""

MARGIN = 12.0
"""Points by which what fills cells reaches beyond the table at most; what reaches farther is the ground of more than the table."""


def drawn_sides(page: PageEvidence, table: PlacedTable) -> list[Sides]:
    """For each cell of a table its sides that have a line."""
    lines = edges_of(replace(page, boxes=page.outlines))
    level = _grid(lines.level, _row_boundaries(table), table.edges)
    upright = _grid(lines.upright, table.edges, _row_boundaries(table)).T
    if level.size + upright.size == 0 or (level.sum() + upright.sum()) >= NEARLY_ALL * (level.size + upright.size):
        return [Sides.ALL] * len(table.cells)
    out = []
    for cell in table.cells:
        rows, columns = slice(cell.row, cell.bottom), slice(cell.column, cell.right)
        seen = (
            (Sides.TOP, level[cell.row, columns]),
            (Sides.BOTTOM, level[cell.bottom, columns]),
            (Sides.LEFT, upright[rows, cell.column]),
            (Sides.RIGHT, upright[rows, cell.right]),
        )
        out.append(Sides(sum(side for side, drawn in seen if drawn.mean() >= DRAWN)))
    return out


def fills(page: PageEvidence, table: PlacedTable) -> list[str]:
    """For each cell of a table the colour (``rrggbb``) that it is filled with, nothing for none."""
    own = [fill for fill in page.fills if table.box.holds(fill.box, MARGIN)]
    out = []
    for cell in table.cells:
        area = max(cell.box.width * cell.box.height, 1.0)
        over: dict[str, float] = {}
        for fill in own:  # what is drawn later lies over what was drawn before
            shared = _shared(fill.box, cell.box)
            over = {color: covered * (1 - shared / area) for color, covered in over.items()}
            over[fill.color] = over.get(fill.color, 0.0) + shared
        color = max(over, key=lambda color: over[color], default="")
        out.append(color if over.get(color, 0.0) >= FILLED * area else "")
    return out


def _shared(one: Box, two: Box) -> float:
    """The area that two boxes share."""
    return max(one.overlap_x(two), 0.0) * max(one.overlap_y(two), 0.0)


def _row_boundaries(table: PlacedTable) -> tuple[float, ...]:
    """The heights between the rows of a table, its upper and its lower end. One that all cells go over is between its neighbours."""
    starts: dict[int, float] = {}
    ends: dict[int, float] = {}
    for cell in table.cells:
        starts[cell.row] = min(starts.get(cell.row, cell.box.y0), cell.box.y0)
        ends[cell.bottom] = max(ends.get(cell.bottom, cell.box.y1), cell.box.y1)
    known = sorted(starts.keys() | ends.keys())
    heights = [(starts.get(n, ends.get(n, 0.0)) + ends.get(n, starts.get(n, 0.0))) / 2 for n in known]
    return tuple(float(height) for height in np.interp(range(table.rows + 1), known, heights))


def _grid(lines: Sequence[Edge], across: Sequence[float], along: Sequence[float]) -> NDArray[np.bool_]:
    """Whether a line is drawn at each of the places ``across`` its direction (rows), between each two of the places ``along`` it."""
    drawn = np.zeros((len(across), len(along) - 1))
    for line in lines:
        n = min(range(len(across)), key=lambda n: abs(across[n] - line.at))
        beside = min(abs(across[n] - across[other]) for other in (n - 1, n + 1) if 0 <= other < len(across))
        if abs(across[n] - line.at) > min(BESIDE * beside, FARTHEST):
            continue
        for m, (start, end) in enumerate(itertools.pairwise(along)):
            drawn[n, m] += max(min(line.end, end) - max(line.start, start), 0.0) / max(end - start, 1.0)
    return drawn >= DRAWN
