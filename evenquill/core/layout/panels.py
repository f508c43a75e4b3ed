"""Panels: grounds and frames with text of their own beside other text, as at the side of a page or next to each other.

What stands on a panel is read apart from what stands beside it. A shaded column of a table is none: its lines are level with the others.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.layout.gutters import Gutter, are_rows
from evenquill.core.layout.items import Item
from evenquill.core.layout.tables.edges import connected, edges_of, places
from evenquill.core.model import Box, union

FEWEST, FEWEST_BESIDE = 3, 2
"""Lines on a panel, and beside it, at least."""

SLACK = 2.0
"""Points by which a line may stand out of its panel."""


def panels_of(page: PageEvidence) -> list[Box]:
    """The grounds and frames of a page, those too of which each side is a rule."""
    if sum(not rule.horizontal for rule in page.rules) < 2:
        return list(page.boxes)
    framed = ((places(edges.upright), places(edges.level)) for edges in connected(edges_of(page)))
    return [*page.boxes, *(Box(xs[0], ys[0], xs[1], ys[1]) for xs, ys in framed if len(xs) == len(ys) == 2)]


def gutter_beside_panel(items: Sequence[Item], boxes: Iterable[Box], *, sure: bool) -> Gutter | None:
    """The strip along a side of the highest panel that has text beside it, as far up and down as nothing else is on the panel's side; if it
    must be ``sure``, only where nothing else is there before something crosses the strip: else it may be a paragraph of a column, framed.
    """
    lines = [item.content for item in items if isinstance(item.content, Line) and not item.content.angle]
    panels = [box for box in boxes if sum(box.holds(line.box, SLACK) for line in lines) >= FEWEST]
    for panel in sorted(panels, key=lambda box: (box.y0, box.x0)):
        others = [other for other in panels if other is not panel]
        for right in (False, True):
            gutter = _gutter(panel, others, lines, items, right=right)
            if gutter is not None and not (sure and _goes_on(gutter, items)):
                return gutter
    return None


def _gutter(
    panel: Box, others: Sequence[Box], lines: Sequence[Line], items: Sequence[Item], *, right: bool
) -> Gutter | None:
    """The strip at one side of a panel, None where there is no text of its own, which may be on ``others``, or something crosses it."""
    level = [line for line in lines if panel.y0 <= line.box.center_y <= panel.y1]
    on = [line for line in level if panel.holds(line.box, SLACK)]
    beside = [line for line in level if (line.box.x0 >= panel.x1 - SLACK if right else line.box.x1 <= panel.x0 + SLACK)]
    if len(beside) < FEWEST_BESIDE:
        return None
    held = [other for other in others if any(other.holds(line.box, SLACK) for line in beside)]
    if all(any(other.holds(line.box, SLACK) for other in held) for line in beside):
        return _strip(union([panel, *held]), panel, beside, items, right=right)
    size = min(line.size for line in beside)
    if are_rows([line.baseline for line in beside], [line.baseline for line in on], size):
        return None
    strip = _strip(panel, panel, beside, items, right=right)
    return None if strip is None else _as_far_as_free(strip, panel, items, right=right)


def _goes_on(strip: Gutter, items: Sequence[Item]) -> bool:
    """Whether the next item above or below a strip does not cross it."""
    above = max((item.box for item in items if item.box.center_y < strip.top), key=lambda box: box.y1, default=None)
    below = min((item.box for item in items if item.box.center_y > strip.bottom), key=lambda box: box.y0, default=None)
    return any(box is not None and not _crosses(box, strip) for box in (above, below))


def _strip(height: Box, panel: Box, beside: Sequence[Line], items: Sequence[Item], *, right: bool) -> Gutter | None:
    """The strip between a panel and what stands beside it, as high as a box; None if something crosses its middle there."""
    start, end = (
        (panel.x1, min(line.box.x0 for line in beside)) if right else (max(line.box.x1 for line in beside), panel.x0)
    )
    start, end = min(start, end), max(start, end)
    strip = Gutter(start, end, height.y0, height.y1, FEWEST_BESIDE)
    crossed = any(_crosses(item.box, strip) for item in items if height.y0 <= item.box.center_y <= height.y1)
    return None if crossed else strip


def _crosses(box: Box, strip: Gutter) -> bool:
    middle = (strip.left + strip.right) / 2
    return box.x0 < middle - SLACK and box.x1 > middle + SLACK


def _as_far_as_free(strip: Gutter, panel: Box, items: Sequence[Item], *, right: bool) -> Gutter:
    """The strip as far up and down as all stands on the side of what is beside the panel."""
    middle = (strip.left + strip.right) / 2
    others = [
        item.box
        for item in items
        if not strip.top <= item.box.center_y <= strip.bottom
        and (item.box.x0 < middle - SLACK if right else item.box.x1 > middle + SLACK)
    ]
    heights = [item.box.center_y for item in items]
    top = max((box.y1 for box in others if box.center_y < panel.y0), default=min(*heights, strip.top) - 1)
    bottom = min((box.y0 for box in others if box.center_y > panel.y1), default=max(*heights, strip.bottom) + 1)
    return strip._replace(top=top, bottom=bottom)
