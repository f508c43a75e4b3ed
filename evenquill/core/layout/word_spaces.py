"""Rows of justified text, whose spaces are stretched, told from rows with tabs."""

from __future__ import annotations

import itertools
from bisect import bisect_left, bisect_right
from collections.abc import Sequence

from evenquill.core.evidence import Line

TAB_GAP = 2.2
"""Ems between pieces of a line from which the gap is a tab, if it is unlike the spaces of the line."""

SAME_EDGE, FEWEST_TABS = 1.5, 3
"""Points within which pieces begin at one edge, and rows in which they do, to be set by a tab."""

MOSTLY = 0.6
"""Share of words among the parts of a line of prose: figures with even gaps are of a table."""

FEWEST_SPACES = 2
"""Spaces in a row from which they tell by themselves whether they are alike."""

UNEVEN, ROUGH = 1.3, 0.15
"""The widest space over the narrowest one, and ems by which letters differ in the white at their sides, at most."""

SAME_END, FEWEST_ENDS = 0.5, 3
"""Ems within which rows begin or end alike, and other rows that end where a justified one does."""

Row = Sequence[Line]


def stretched_rows(rows: Sequence[Row]) -> list[bool]:
    """Which rows of one column are prose in pieces parted by nothing but stretched spaces."""
    evenly, edges = _evenly_spaced(rows), _shared_edges(rows)
    return [
        len(row) > 1 and ((even and not _is_of_columns(row, edges)) or _has_no_tab(row, edges))
        for row, even in zip(rows, evenly, strict=True)
    ]


def _evenly_spaced(rows: Sequence[Row]) -> list[bool]:
    """Which rows have spaces that are all alike, however wide, and end where several rows do. Of two words alone, in one row or two, the
    rows above and below tell, if they are full lines of such text."""
    sizes = [row[0].size for row in rows]
    starts, ends = [row[0].words[0].x0 for row in rows], [row[-1].words[-1].x1 for row in rows]
    spaces, in_order = [_spaces(row) for row in rows], sorted(ends)

    def shares_end(n: int) -> bool:
        slack = SAME_END * sizes[n]
        return bisect_right(in_order, ends[n] + slack) - bisect_left(in_order, ends[n] - slack) > FEWEST_ENDS

    full = [
        len(spaces[n]) >= 1
        and shares_end(n)
        and (len(row) == 1 or (_is_prose(row) and max(spaces[n]) <= UNEVEN * min(spaces[n]) + ROUGH * sizes[n]))
        for n, row in enumerate(rows)
    ]
    sure = [is_full and len(own) >= FEWEST_SPACES for is_full, own in zip(full, spaces, strict=True)]

    def is_in_line(n: int, step: int) -> bool:
        """Whether what follows in a direction is such a line, or one of two words more behind which there is one."""
        near = n + step if 0 <= n + step < len(rows) and sure[n + step] else n + 2 * step
        return (
            0 <= near < len(rows)
            and sure[near]
            and all(full[k] and abs(ends[n] - ends[k]) <= SAME_END * sizes[n] for k in (n + step, near))
        )

    def is_among_such(n: int) -> bool:
        follows = n + 1 < len(rows) and abs(starts[n] - starts[n + 1]) <= SAME_END * sizes[n]
        return follows and is_in_line(n, -1) and is_in_line(n, 1)

    return [sure[n] or (full[n] and is_among_such(n)) for n in range(len(rows))]


def _has_no_tab(row: Row, edges: Sequence[float]) -> bool:
    """Whether no gap of a row of prose is wide or ends at one of the edges where others do, in order."""
    if any(_is_at_edge(line.words[0].x0, edges) for line in row[1:]):
        return False
    gaps = (after.words[0].x0 - before.words[-1].x1 for before, after in itertools.pairwise(row))
    return all(gap < TAB_GAP * row[0].size for gap in gaps) and _is_prose(row)


def _is_of_columns(row: Row, edges: Sequence[float]) -> bool:
    """Whether a row has three parts or more, all at edges where others begin."""
    return len(row) > FEWEST_SPACES and all(_is_at_edge(line.words[0].x0, edges) for line in row[1:])


def _shared_edges(rows: Sequence[Row]) -> list[float]:
    """Where pieces that are not the first of their rows begin in several rows, in order: what follows a gap there follows a tab."""
    starts = sorted(line.words[0].x0 for row in rows for line in row[1:])
    return [x for n, x in enumerate(starts) if bisect_right(starts, x + SAME_EDGE) - n >= FEWEST_TABS]


def _is_at_edge(x: float, edges: Sequence[float]) -> bool:
    """Whether one of the edges, in order, is where something begins."""
    place = bisect_left(edges, x - SAME_EDGE)
    return place < len(edges) and edges[place] <= x + SAME_EDGE


def _spaces(row: Row) -> list[float]:
    """The widths of all spaces of a row, in points."""
    words = [word for line in row for word in line.words]
    return [after.x0 - before.x1 for before, after in itertools.pairwise(words) if not after.glued]


def _is_prose(row: Row) -> bool:
    words = [word.text for line in row for word in line.words]
    return sum(text[:1].isalpha() for text in words) >= MOSTLY * len(words)
