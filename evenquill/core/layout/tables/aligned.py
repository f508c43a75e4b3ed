"""Tables without lines between their columns: what stands in line over several rows.

Columns are stretches that pieces of several rows share (text-edge alignment, after Nurminen 2013); two stretches are two columns if
some row has a piece in each. A piece that lies over several columns spans them. Rows are baselines; a row that only carries on the
text above it belongs to the row before.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field

from evenquill.core.evidence import Line, Word
from evenquill.core.layout.rows import SAME_ROW, rows_of
from evenquill.core.layout.tables.narrow_columns import with_narrow_columns
from evenquill.core.layout.tables.pieces import is_number, parted
from evenquill.core.layout.tables.placed import PlacedCell, PlacedTable
from evenquill.core.model import Box, union

COLUMN_GAP = 0.4
"""Ems between columns, at least."""

SAME_EDGE = 2.5
"""Points within which edges or middles are in line."""

SAME_START = 1.0
"""Points within which words begin as columns do where the space between them is not much wider than others."""

STRAYS = 4
"""Rows that may have a piece beside its column, at most: headings of several lines."""

FEWEST_TOGETHER = 2
"""Rows that have a piece in each of two stretches, to make them two columns whatever lies over both."""

TIGHT = 1.4
"""Ems between baselines of lines of one cell, at most."""

LOOSER = 0.15
"""Ems by which rows stand further apart than the lines in their cells."""

OVERLAP = 0.2
"""Ems by which lines are taken to be lower than they are at top and bottom: descenders reach into the next line."""

FITS = 0.6
"""Ems that a word must have to spare, space and all, to be one that would have fitted."""


@dataclass(slots=True)
class _Stretch:
    """What may become a column: its ends, and the rows that have a piece there."""

    x0: float
    x1: float
    rows: set[int] = field(default_factory=set)

    def take(self, x0: float, x1: float, rows: set[int]) -> None:
        self.x0, self.x1 = min(self.x0, x0), max(self.x1, x1)
        self.rows |= rows


def column_stretches(rows: Sequence[Sequence[Line]]) -> list[tuple[float, float]]:
    """Left and right ends of the columns that rows of pieces share, from left to right.

    Pieces of the rows that have most come first, narrow ones before wide ones; one that lies over several stretches waits until all
    others have said which of them are columns.
    """
    pieces = sorted(
        ((-len(row), line.box.width, n, line) for n, row in enumerate(rows) for line in row),
        key=lambda piece: piece[:3],
    )
    sure = min(FEWEST_TOGETHER, max(len(rows) - 2, 1))
    stretches: list[_Stretch] = []
    waiting = [(n, line) for *_, n, line in pieces]
    for last in (False, True):
        again: list[tuple[int, Line]] = []
        for n, line in waiting:
            slack = COLUMN_GAP * line.size
            x0, x1 = line.box.x0, line.box.x1
            hit = [one for one in stretches if one.x0 - slack < x1 and x0 < one.x1 + slack]
            if len(hit) > 1 and not last:
                again.append((n, line))
                continue
            if any(len(a.rows & b.rows) >= sure for a, b in itertools.combinations(hit, 2)):
                continue
            whole = _Stretch(x0, x1, {n})
            for one in hit:
                whole.take(one.x0, one.x1, one.rows)
                stretches.remove(one)
            stretches.append(whole)
        waiting = again
    stretches.sort(key=lambda one: one.x0)
    return [(one.x0, one.x1) for one in _without_strays(stretches)]


def _without_strays(stretches: list[_Stretch]) -> list[_Stretch]:
    """A heading that stands beside its numbers, and not over them, is of their column: stretches next to each other of which no row has
    both, one of them in few rows."""
    out: list[_Stretch] = []
    for one in stretches:
        before = out[-1] if out else None
        if before is not None and not before.rows & one.rows and min(len(before.rows), len(one.rows)) <= STRAYS:
            before.take(one.x0, one.x1, one.rows)
        else:
            out.append(one)
    return out


def aligned_table(
    lines: Sequence[Line], bands: Sequence[float], known: Sequence[tuple[float, float]] = ()
) -> PlacedTable | None:
    """Lines of one region as a table, its rows parted at the heights of ``bands``; None where they have no columns. ``known`` are the
    left and right ends of its columns where they are known."""
    level = [line for line in lines if not line.angle]
    if known:
        rows = rows_of([part for line in level for part in parted_between(line, known)])
    else:
        rows = rows_of(with_narrow_columns(level, column_stretches(rows_of(level))))
    stretches = list(known) or column_stretches(rows)
    if len(stretches) < 2:
        return None
    middles = [(before[1] + after[0]) / 2 for before, after in itertools.pairwise(stretches)]
    left, right = stretches[0][0], stretches[-1][1]
    edges = (left, *middles, right)
    placed = [_placed(row, stretches, edges) for row in rows]
    groups = [
        [piece for row in own for piece in row]
        for _, own in itertools.groupby(placed, lambda row: _band(row[0], bands))
    ]
    cells: list[PlacedCell] = []
    tops = [min(line.box.y0 for piece in group for line in piece.lines) for group in groups]
    bottoms = [max(line.box.y1 for piece in group for line in piece.lines) for group in groups]
    for r, group in enumerate(groups):
        for column, end, content in _row_cells(group, len(stretches)):
            box = Box(edges[column], tops[r], edges[end], bottoms[r])
            cells.append(PlacedCell(r, column, 1, end - column, box, content))
    box = union(line.box for line in lines)
    return PlacedTable(box, edges, tuple(sorted(cells)), ruled=False)


def parted_between(line: Line, stretches: Sequence[tuple[float, float]]) -> list[Line]:
    """A line parted in the middle between columns, whose left and right ends are given."""
    middles = [(before[1] + after[0]) / 2 for before, after in itertools.pairwise(stretches)]
    return [part for _, part in parted(line, [min(line.box.x0, stretches[0][0]), *middles])]


def _row_cells(group: Sequence[PlacedCell], columns: int) -> list[tuple[int, int, tuple[Line, ...]]]:
    """The cells of a row as the columns that they begin in and end before, with their lines: each column is in one of them, empty ones too;
    pieces that lie over the same columns are in one cell."""
    out: list[tuple[int, int, tuple[Line, ...]]] = []
    at = 0
    for piece in sorted(group, key=lambda piece: piece.column):
        if out and piece.column < at:
            start, _, lines = out[-1]
            out[-1] = start, max(at, piece.right), (*lines, *piece.lines)
        else:
            out += [(column, column + 1, ()) for column in range(at, piece.column)]
            out.append((piece.column, piece.right, piece.lines))
        at = out[-1][1]
    return [*out, *((column, column + 1, ()) for column in range(at, columns))]


def _placed(row: Sequence[Line], stretches: Sequence[tuple[float, float]], edges: Sequence[float]) -> list[PlacedCell]:
    """The pieces of a row as cells of a row 0; one that runs through columns that it does not span is parted."""
    out: list[PlacedCell] = []
    parts = [part for line in row for _, part in _parts(line, stretches, edges)]
    lies_over = [_columns_of(part, stretches) for part in parts]
    for n, part in enumerate(parts):
        first, last = lies_over[n]
        # What reaches into the column that is all that the next piece has is of the column before.
        if n + 1 < len(parts) and first < lies_over[n + 1][0] <= lies_over[n + 1][1] <= last:
            last = lies_over[n + 1][0] - 1
        # What stands over another piece's column already is of the one before it.
        taken = {column for cell in out for column in range(cell.column, cell.right)}
        while first in taken and first < last:
            first += 1
        out.append(PlacedCell(0, first, 1, last - first + 1, part.box, (part,)))
    return _spanning(out, stretches)


def columns_over(line: Line, stretches: Sequence[tuple[float, float]]) -> list[int]:
    """The columns, by their left and right ends, that a line lies over in part at least."""
    return [n for n, (x0, x1) in enumerate(stretches) if x0 < line.box.x1 and line.box.x0 < x1]


def _columns_of(line: Line, stretches: Sequence[tuple[float, float]]) -> tuple[int, int]:
    """The first and the last column that a line lies over, or the one that it stands nearest to."""
    over = columns_over(line, stretches)
    return (over[0], over[-1]) if over else (_nearest(stretches, line.box.center_x),) * 2


def _nearest(stretches: Sequence[tuple[float, float]], x: float) -> int:
    return min(range(len(stretches)), key=lambda n: max(stretches[n][0] - x, x - stretches[n][1]))


def _parts(line: Line, stretches: Sequence[tuple[float, float]], edges: Sequence[float]) -> Sequence[tuple[int, Line]]:
    """A line parted where a space in it is the gap between two columns."""
    over = columns_over(line, stretches)
    if len(over) < 2:
        return [(0, line)]
    cuts = [
        (before.x1 + after.x0) / 2
        for n in over[1:]
        for before, after in itertools.pairwise(line.words)
        if _are_in_two_columns(before, after, stretches[n - 1], stretches[n], edges[n], line.size)
    ]
    return list(parted(line, [line.box.x0, *cuts])) if cuts else [(0, line)]


def _are_in_two_columns(
    before: Word, after: Word, left: tuple[float, float], right: tuple[float, float], edge: float, size: float
) -> bool:
    """Whether two words beside each other are in two columns with this edge between them. Both are numbers, the first of which ends as its
    column does; or the space at the edge is wider than one, and the second word begins as its column does; or it is hardly wider, and both
    begin as theirs do."""
    if is_number(before.text) and is_number(after.text):
        return abs(before.x1 - left[1]) < SAME_EDGE
    gap = after.x0 - before.x1 if before.x1 <= edge + 0.5 <= after.x0 + 1.0 else 0.0
    if gap > 2 * COLUMN_GAP * size:
        return abs(after.x0 - right[0]) < SAME_EDGE
    starts = max(abs(before.x0 - left[0]), abs(after.x0 - right[0]))
    return gap > COLUMN_GAP * size and starts < SAME_START


def _spanning(pieces: list[PlacedCell], stretches: Sequence[tuple[float, float]]) -> list[PlacedCell]:
    """Pieces that stand in the middle of several columns, of which they touch only some, span them."""
    out = []
    for n, piece in enumerate(pieces):
        free_from = pieces[n - 1].right if n else 0
        free_to = pieces[n + 1].column if n + 1 < len(pieces) else len(stretches)
        best = (abs(_middle(stretches, piece.column, piece.right) - piece.box.center_x), piece.column, piece.right)
        own = stretches[piece.column : piece.right]
        stands = min(abs(own[0][0] - piece.box.x0), abs(own[-1][1] - piece.box.x1), best[0])
        if stands > SAME_EDGE and _reaches_into_gap(piece, stretches):
            for first in range(free_from, piece.column + 1):
                for end in range(piece.right, free_to + 1):
                    best = min(best, (abs(_middle(stretches, first, end) - piece.box.center_x), first, end))
            if best[0] <= SAME_EDGE:
                piece = piece._replace(column=best[1], columns=best[2] - best[1])
        out.append(piece)
    return out


def _reaches_into_gap(piece: PlacedCell, stretches: Sequence[tuple[float, float]]) -> bool:
    """Whether a piece lies, in part at least, between two columns."""
    return any(piece.box.x0 < after[0] and before[1] < piece.box.x1 for before, after in itertools.pairwise(stretches))


def _middle(stretches: Sequence[tuple[float, float]], first: int, end: int) -> float:
    return (stretches[first][0] + stretches[end - 1][1]) / 2


def side_by_side(
    rows: Sequence[Sequence[PlacedCell]], stretches: Sequence[tuple[float, float]], bands: Sequence[float]
) -> list[list[PlacedCell]]:
    """The pieces of each row: texts of cells that stand beside each other, or lines where these do not come out as a row."""
    pitch = _pitch(rows)
    groups: list[list[PlacedCell]] = []
    for texts in _overlapping(_cell_texts(rows, stretches, bands, pitch)):
        columns = [text[0].column for text in texts]
        pieces = [piece for text in texts for piece in text]
        lines = {len(text) for text in texts}
        in_step = len(lines) == 1 and lines != {1} and len(texts) > 1
        if len(set(columns)) == len(columns) and not in_step:
            groups.append(pieces)
        else:
            groups += _line_by_line(pieces, stretches, bands, pitch)
    return groups


def _band(piece: PlacedCell, bands: Sequence[float]) -> int:
    """Between which two rules a piece stands, counted from the top."""
    return sum(at < piece.box.center_y for at in bands)


def _pitch(rows: Sequence[Sequence[PlacedCell]]) -> float:
    """The smallest distance of the baselines of two rows that have something in the first column, 0 where there are none."""
    firsts = [piece.lines[0].baseline for row in rows for piece in row if piece.column == 0]
    return min((below - above for above, below in itertools.pairwise(firsts)), default=0.0)


def _cell_texts(
    rows: Sequence[Sequence[PlacedCell]],
    stretches: Sequence[tuple[float, float]],
    bands: Sequence[float],
    pitch: float,
) -> list[list[PlacedCell]]:
    """Pieces of one column that are lines of one cell: close under each other, and the first word of the lower one would not have
    fitted behind the upper one, or the rows of the table stand further apart."""
    texts: list[list[PlacedCell]] = []
    last: dict[int, list[PlacedCell]] = {}
    for row in rows:
        for piece in row:
            before = last.get(piece.column)
            if (
                before is not None
                and before[-1].columns == piece.columns == 1
                and _band(before[-1], bands) == _band(piece, bands)
                and _distance(before[-1], piece) <= TIGHT * piece.lines[0].size
                and (_are_closer(before[-1], piece, pitch) or _was_full(before[-1], piece, stretches))
            ):
                before.append(piece)
            else:
                last[piece.column] = [piece]
                texts.append(last[piece.column])
    return texts


def _distance(above: PlacedCell, below: PlacedCell) -> float:
    return below.lines[0].baseline - above.lines[0].baseline


def _are_closer(above: PlacedCell, below: PlacedCell, pitch: float) -> bool:
    """Whether two pieces stand closer than any two rows that have something in the first column."""
    return _distance(above, below) < pitch - LOOSER * below.lines[0].size


def _overlapping(texts: Sequence[list[PlacedCell]]) -> list[list[list[PlacedCell]]]:
    """Texts of cells that stand beside each other, from top to bottom: rows do not reach into each other, whatever is in their middle."""
    spans = []
    for text in texts:
        inset = OVERLAP * text[0].lines[0].size
        spans.append(
            (text[0].lines[0].baseline - text[0].lines[0].size + inset, text[-1].lines[0].baseline - inset, text)
        )
    spans.sort(key=lambda span: span[0])
    groups: list[list[list[PlacedCell]]] = []
    bottom = 0.0
    for top, end, text in spans:
        if groups and top < bottom:
            groups[-1].append(text)
            bottom = max(bottom, end)
        else:
            groups.append([text])
            bottom = end
    return groups


def _line_by_line(
    pieces: Sequence[PlacedCell], stretches: Sequence[tuple[float, float]], bands: Sequence[float], pitch: float
) -> list[list[PlacedCell]]:
    """Pieces as rows by their baselines, with those put together that only go on with the row before."""
    rows: list[list[PlacedCell]] = []
    for piece in sorted(pieces, key=lambda piece: piece.lines[0].baseline):
        if rows and _baseline([piece]) - _baseline(rows[-1]) <= SAME_ROW * piece.lines[0].size:
            rows[-1].append(piece)
        else:
            rows.append([piece])
    groups: list[list[PlacedCell]] = []
    for n, row in enumerate(rows):
        if n and _carries_on(groups[-1], rows[n - 1], row, pitch, bands, stretches):
            groups[-1] += row
        else:
            groups.append(list(row))
    return groups


def _baseline(row: Sequence[PlacedCell]) -> float:
    return row[0].lines[0].baseline


def _carries_on(
    group: Sequence[PlacedCell],
    above: Sequence[PlacedCell],
    row: Sequence[PlacedCell],
    pitch: float,
    bands: Sequence[float],
    stretches: Sequence[tuple[float, float]],
) -> bool:
    """Whether a row only goes on with cells of the one before: close under it, with nothing where that has nothing, and either closer
    than rows stand, or where the text above filled its column. What has something in the first column is a row of its own."""
    distance = _baseline(row) - _baseline(above)
    size = row[0].lines[0].size
    if any(_baseline(above) < at < _baseline(row) for at in bands) or distance > TIGHT * size:
        return False
    before = {piece.column: piece for piece in group if piece.columns == 1}
    if any(piece.column == 0 or piece.columns > 1 or piece.column not in before for piece in row):
        return False
    if distance < pitch - LOOSER * size:
        return True
    return all(_was_full(before[piece.column], piece, stretches) for piece in row)


def _was_full(above: PlacedCell, below: PlacedCell, stretches: Sequence[tuple[float, float]]) -> bool:
    """Whether the first word of a piece would not have fitted behind the one above it; a number is never the rest of a cell."""
    if is_number(below.lines[0].text):
        return False
    last, word = above.lines[-1], below.lines[0].words[0]
    x0, x1 = stretches[below.column]
    return last.box.width + (word.x1 - word.x0) + FITS * last.size > x1 - x0
