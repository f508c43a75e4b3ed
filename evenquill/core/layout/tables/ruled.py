"""Ruled tables: the cells that edges enclose.

Edges that hang together span a grid; where an edge between two places of the grid is missing, they are one cell.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from evenquill.core.evidence import Line
from evenquill.core.layout.rows import rows_of
from evenquill.core.layout.tables.aligned import side_by_side
from evenquill.core.layout.tables.edges import Edges, covers, places
from evenquill.core.layout.tables.pieces import parted
from evenquill.core.layout.tables.placed import PlacedCell, PlacedTable
from evenquill.core.model import Box
from evenquill.core.union_find import UnionFind

DRAWN = 0.6
"""Share of the side of a cell that must be drawn; scans break lines."""

NARROWEST, LOWEST = 5.0, 5.0
"""Points: less is no column or row but two lines side by side."""

BEYOND = 8.0
"""Points by which edges reach beyond the last ones across them where a table has no line at its side."""

PADDING = 3.0
"""Points between text and the side of its cell, about."""

FEWEST_PARTS = 3
"""Rows that are found where no line parts them, at least; two lines may be those of one cell."""

FEWEST_DRAWN, MOST_WRAPPED = 4, 0.5
"""Rows of a grid, and share of them that may have several lines, where its rows are drawn one by one."""

FILLED = 0.12
"""Share of the cells that have text, in a table; a chart's grid has none."""

WORDY = 40
"""Words in each cell on average from which a grid of one row is a frame about text."""


def grid_table(edges: Edges, lines: Sequence[Line]) -> PlacedTable | None:
    """The table that edges make, with the lines that stand in it; None where they make none.

    A frame around text, however it is divided, is none, nor is a grid that is next to empty.
    """
    xs = _with_ends(places(edges.upright), [edge.start for edge in edges.level], [edge.end for edge in edges.level])
    ys = _with_ends(places(edges.level), [edge.start for edge in edges.upright], [edge.end for edge in edges.upright])
    xs, ys = _apart(xs, NARROWEST), _apart(ys, LOWEST)
    if len(xs) < 3 or len(ys) < 2:
        return None
    box = Box(xs[0], ys[0], xs[-1], ys[-1])
    inside = [line for line in lines if box.holds_middle(line.box)]
    cells = _with_lines(_cells(edges, xs, ys), inside)
    filled = [cell for cell in cells if cell.lines]
    if len(filled) < max(2, FILLED * len(cells)) or len(cells) < 3:
        return None
    words = sum(len(line.words) for cell in filled for line in cell.lines)
    if len(ys) == 2 and words > WORDY * len(filled):
        return None
    return _with_parted_rows(PlacedTable(box, tuple(xs), tuple(cells)))


def _with_parted_rows(table: PlacedTable) -> PlacedTable:
    """The table with rows parted that have no line between them: many only have lines around their header and between their columns.
    Where most rows are drawn, one of several lines is wrapped, as a header is alone."""
    rows = [[cell for cell in table.cells if cell.row == row] for row in range(table.rows)]
    parts = [_parted_row(own) if all(cell.rows == 1 for cell in own) else [own] for own in rows]
    parted = [n for n, part in enumerate(parts) if len(part) > 1]
    header_alone = parted == [0] and len(rows) > 2
    if not parted or header_alone or (len(rows) >= FEWEST_DRAWN and len(parted) < MOST_WRAPPED * len(rows)):
        return table
    cells: list[PlacedCell] = []
    more = 0
    for row, own in enumerate(rows):
        tall = any(cell.row < row < cell.bottom for cell in table.cells)
        for n, part in enumerate([own] if tall else parts[row]):
            cells += [cell._replace(row=row + more + n) for cell in part]
        more += 0 if tall else len(parts[row]) - 1
    return table._replace(cells=tuple(cells))


def _parted_row(cells: list[PlacedCell]) -> list[list[PlacedCell]]:
    """The cells of a row in several, where they are: two columns at least have a line in each of them."""
    stretches = [(cell.box.x0, cell.box.x1 - PADDING) for cell in cells]
    lines = [(n, line) for n, cell in enumerate(cells) for line in cell.lines if not line.angle]
    if len({n for n, _ in lines}) < 2 or sum(len(cell.lines) for cell in cells) != len(lines):
        return [cells]
    column_of = {id(line): n for n, line in lines}
    pieces = [
        [PlacedCell(0, column_of[id(line)], 1, 1, line.box, (line,)) for line in together]
        for together in rows_of([line for _, line in lines])
    ]
    groups = side_by_side(pieces, stretches, ())
    whole = [n for n in range(len(cells)) if all(sum(piece.column == n for piece in group) == 1 for group in groups)]
    if len(groups) < FEWEST_PARTS or len(whole) < 2:
        return [cells]
    parts = []
    for group in groups:
        top, bottom = min(piece.box.y0 for piece in group), max(piece.box.y1 for piece in group)
        own = [tuple(line for piece in group if piece.column == n for line in piece.lines) for n in range(len(cells))]
        parts.append(
            [
                cell._replace(box=cell.box._replace(y0=top, y1=bottom), lines=lines)
                for cell, lines in zip(cells, own, strict=True)
            ]
        )
    return parts


def _with_ends(found: list[float], starts: list[float], ends: list[float]) -> list[float]:
    """The places of edges with those at the sides that are only shown by where the edges across them end."""
    if not starts:
        return found
    first, last = min(starts), max(ends)
    out = list(found)
    if not out or first < out[0] - BEYOND:
        out.insert(0, first)
    if last > out[-1] + BEYOND:
        out.append(last)
    return out


def _apart(values: list[float], least: float) -> list[float]:
    """The values without those that are too near to the one before."""
    out: list[float] = []
    for value in values:
        if not out or value - out[-1] >= least:
            out.append(value)
    return out


def _cells(edges: Edges, xs: Sequence[float], ys: Sequence[float]) -> list[PlacedCell]:
    """The cells of the grid, places without an edge between them as one."""
    columns, rows = len(xs) - 1, len(ys) - 1
    places = [(r, c) for r in range(rows) for c in range(columns)]
    cells: UnionFind[tuple[int, int]] = UnionFind()
    for r in range(rows):
        for c in range(columns):
            if c + 1 < columns and not covers(edges.upright, xs[c + 1], ys[r], ys[r + 1], DRAWN):
                cells.join((r, c + 1), (r, c))
            if r + 1 < rows and not covers(edges.level, ys[r + 1], xs[c], xs[c + 1], DRAWN):
                cells.join((r + 1, c), (r, c))
    groups: dict[tuple[int, int], list[tuple[int, int]]] = defaultdict(list)
    for place in places:
        groups[cells.root(place)].append(place)
    found = []
    for members in groups.values():
        top, left = min(r for r, _ in members), min(c for _, c in members)
        height, width = max(r for r, _ in members) - top + 1, max(c for _, c in members) - left + 1
        parts = [(top, left, height, width)] if height * width == len(members) else [(r, c, 1, 1) for r, c in members]
        found += [PlacedCell(r, c, h, w, Box(xs[c], ys[r], xs[c + w], ys[r + h])) for r, c, h, w in parts]
    return sorted(found)


def _with_lines(cells: list[PlacedCell], lines: Sequence[Line]) -> list[PlacedCell]:
    """The cells with the lines that stand in them; a line that runs through several is parted."""
    own: dict[int, list[Line]] = defaultdict(list)
    for line in lines:
        near = [n for n, cell in enumerate(cells) if cell.box.y0 <= line.box.center_y <= cell.box.y1]
        across = sorted(near, key=lambda n: cells[n].box.x0)
        if line.angle:
            inside = [n for n in across if cells[n].box.x0 <= line.box.center_x <= cells[n].box.x1]
            own[inside[0] if inside else across[0]].append(line)
            continue
        for n, part in parted(line, [cells[n].box.x0 for n in across]):
            own[across[n]].append(part)
    return [cell._replace(lines=tuple(own[n])) for n, cell in enumerate(cells)]
