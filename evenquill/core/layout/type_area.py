"""The type area: the edges that the text of a page keeps to, by which indents and alignment are judged.

A title in a band of its own has no edges but its own; whether it is centred is told by the page, and on a page with little text by
others like it.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, NamedTuple

from evenquill.core.evidence import Line
from evenquill.core.layout.flow import FlowLine

if TYPE_CHECKING:
    from evenquill.core.layout.page import Column, PageLayout

FULL_PAGE, FEW_LINES = 12, 6
"""Lines from which a page shows the type area of pages like it, and of itself, if it shows its edges."""

FEWEST_CENTRED, MIDDLE_STEP = 3, 1.0
"""Lines that show what they are centred on, and points to which their middles are rounded."""

UNLIKE = 1.2
"""Ems by which the widths of centred lines differ that are longer than half the page's; full lines that are set in share a middle too."""

ROOM = 2.0
"""Ems that stay free beside the longest line of a page that has only centred ones, at least."""

SAME = 3.0
"""Points within which edges are the same."""


class TypeArea(NamedTuple):
    left: float
    right: float

    def holds(self, other: TypeArea) -> bool:
        return self.left <= other.left + SAME and self.right >= other.right - SAME


def with_type_areas(layouts: Sequence[PageLayout], running: Mapping[int, Sequence[Line]]) -> list[PageLayout]:
    """The pages, with each column that has no other beside it as wide as the type area of its page; ``running`` are the lines of heads and
    feet by page, which keep to it too."""
    centred = [_is_centred(layout) for layout in layouts]
    own = [
        _own_area(layout, running.get(layout.number, ()), centred=no_edges)
        for layout, no_edges in zip(layouts, centred, strict=True)
    ]
    known: Counter[tuple[float, float, TypeArea]] = Counter()
    for layout, area in zip(layouts, own, strict=True):
        if area is not None and _line_count(layout) >= FULL_PAGE:
            known[layout.width, layout.height, _rounded(area)] += 1
    return [
        layout
        if area is None
        else layout._replace(columns=_widened(layout, _area_of(layout, area, known, centred=no_edges)))
        for layout, area, no_edges in zip(layouts, own, centred, strict=True)
    ]


def _rounded(area: TypeArea) -> TypeArea:
    return TypeArea(round(area.left), round(area.right))


def _own_area(layout: PageLayout, running: Sequence[Line], *, centred: bool) -> TypeArea | None:
    """From the first edge of a column of the page to the last, columns of turned text aside; as wide to both sides of the middle that
    several lines of unlike width share, and wider than they are if they are all that is there (``centred``)."""
    columns = [column for column in layout.columns if not column.turned]
    if not columns:
        return None
    level = [line for line in running if not line.angle]
    left = min([*(column.left for column in columns), *(line.box.x0 for line in level)])
    right = max([*(column.right for column in columns), *(line.box.x1 for line in level)])
    middle = _common_middle(columns, left, right)
    if middle is not None:
        room = ROOM * max(line.size for line in _lines(layout)) if centred else 0.0
        left, right = min(left, 2 * middle - right) - room, max(right, 2 * middle - left) + room
    return TypeArea(left, right) if left >= 0 and right <= layout.width else TypeArea(max(left, 0.0), right)


def _common_middle(columns: Sequence[Column], left: float, right: float) -> float | None:
    """The middle that most lines share which stand in from the left, None where few do or all are nearly of one width."""
    lines = [item for column in columns if column.alone for item in column.items if isinstance(item, FlowLine)]
    inner = [line for line in lines if line.x0 > left + line.size]
    middles = Counter(round((line.x0 + line.x1) / 2 / MIDDLE_STEP) for line in inner)
    if not middles:
        return None
    common, count = middles.most_common(1)[0]
    centred = [line for line in inner if round((line.x0 + line.x1) / 2 / MIDDLE_STEP) == common]
    widths = [line.x1 - line.x0 for line in centred]
    least = UNLIKE * centred[0].size if 2 * max(widths) > right - left else 2 * MIDDLE_STEP
    unlike = max(widths) - min(widths) > least
    return common * MIDDLE_STEP if count >= FEWEST_CENTRED and unlike else None


def _is_centred(layout: PageLayout) -> bool:
    """Whether all lines of a page share one middle and are of unlike width: none of them shows an edge."""
    lines = _lines(layout)
    middles = [(line.x0 + line.x1) / 2 for line in lines]
    widths = [line.x1 - line.x0 for line in lines]
    if len(lines) < FEWEST_CENTRED or not all(column.alone for column in layout.columns):
        return False
    return max(middles) - min(middles) < 2 * MIDDLE_STEP and max(widths) - min(widths) > UNLIKE * lines[0].size


def _lines(layout: PageLayout) -> list[FlowLine]:
    return [item for column in layout.columns for item in column.items if isinstance(item, FlowLine)]


def _line_count(layout: PageLayout) -> int:
    return sum(len(column.items) for column in layout.columns)


def _area_of(
    layout: PageLayout, own: TypeArea, known: Counter[tuple[float, float, TypeArea]], *, centred: bool
) -> TypeArea:
    """The page's own area, or the commonest of full pages of its size that holds it, where the page shows less: it has few lines, or only
    centred ones."""
    holding = [
        (count, area)
        for (width, height, area), count in known.items()
        if (width, height) == (layout.width, layout.height) and area.holds(own)
    ]
    if not holding or (_line_count(layout) >= FEW_LINES and not centred):
        return own
    _, area = max(holding)
    return TypeArea(min(area.left, own.left), max(area.right, own.right))


def _widened(layout: PageLayout, area: TypeArea) -> tuple[Column, ...]:
    return tuple(
        column._replace(left=area.left, right=area.right) if column.alone else column for column in layout.columns
    )
