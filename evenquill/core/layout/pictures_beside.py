"""Pictures that stand beside text, as signs of warnings do and what text is set around: they come before that text, and cut none of it."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from evenquill.core.evidence import PlacedPicture
from evenquill.core.layout.flow import FlowLine
from evenquill.core.model import Align

FEWEST_BESIDE = 2
"""Lines beside a picture that it would cut."""

SAME_EDGE = 2.0
"""Points within which lines begin at one edge."""

CLOSE, DEEPEST_INDENT = 1.6, 3.0
"""Ems between the baselines of lines of one paragraph, and by which its first line is set in, at most."""

JUST_ABOVE = 0.1
"""Points by which a picture is taken to begin above the text beside it."""


def top_of(picture: PlacedPicture, rows: Sequence[FlowLine]) -> float:
    """The height at which a picture comes among the rows of its column, which are in order: that of its top, or of the first line of the
    text that it stands beside."""
    box = picture.box
    level = [n for n, row in enumerate(rows) if box.y0 < row.box.center_y < box.y1]
    if len(level) < FEWEST_BESIDE or any(rows[n].box.overlap_x(box) > 0 for n in level):
        return box.y0
    first, edge = level[0], rows[level[-1]].x0
    while first > 0 and rows[first].x0 < edge + SAME_EDGE and _runs_on(rows[first - 1], rows[first]):
        first -= 1
    return min(box.y0, rows[first].box.y0 - JUST_ABOVE)


def side_of_picture(picture: PlacedPicture, rows: Sequence[FlowLine]) -> Align | None:
    """The side of a column at which a picture stands whose other side has text in rows, some of them of one paragraph; None where there is
    none."""
    box = picture.box
    level = [row for row in rows if box.y0 < row.box.center_y < box.y1]
    if len(level) < FEWEST_BESIDE or not any(_runs_on(above, row) for above, row in itertools.pairwise(level)):
        return None
    if all(row.box.x1 <= box.x0 + SAME_EDGE for row in level):
        return Align.RIGHT
    return Align.LEFT if all(row.box.x0 >= box.x1 - SAME_EDGE for row in level) else None


def _runs_on(above: FlowLine, row: FlowLine) -> bool:
    """Whether a line is the next one of the text above it: it begins at the same edge, or that one further in, as first lines do."""
    return 0 < row.baseline - above.baseline < CLOSE * row.size and -SAME_EDGE < above.x0 - row.x0 < max(
        SAME_EDGE, DEEPEST_INDENT * row.size
    )
