"""Pages that were ended on purpose, so that what follows them begins on a new page."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.layout.page import PageLayout

BROKEN_OFF = 0.8
"""Share of the text's height below which a page was ended on purpose; a heading kept with its text leaves less."""

HIGHEST_FOOT = 0.8
"""Share of a page's height that text takes at least where nothing ends it, for documents all of whose pages end early."""

WIDE_GAP, SPREAD = 5.0, 0.15
"""Times its text's size from which a gap within a page is more than headings have; share of the text's height that such gaps take on a page
whose text was spread over it on purpose, as a title's is."""


def pages_ended(layouts: Sequence[PageLayout], text_size: float) -> set[int]:
    """The numbers of pages that were ended on purpose: their text ends well above where it could, or was spread over the page."""
    lowest = max((layout.text_box.y1 for layout in layouts), default=0.0)
    ended = set()
    for layout in layouts:
        foot = max(lowest, HIGHEST_FOOT * layout.height)
        if layout.text_box.y1 < BROKEN_OFF * foot or _gaps(layout, text_size) > SPREAD * foot:
            ended.add(layout.number)
    return ended


def _gaps(layout: PageLayout, text_size: float) -> float:
    """Points of height, between the first and the last thing on a page, where nothing stands and that are no usual distance."""
    boxes = sorted((item.box.y0, item.box.y1) for column in layout.columns for item in column.items)
    total = 0.0
    reached = boxes[0][0] if boxes else 0.0
    for top, bottom in boxes:
        gap = top - reached
        total += gap if gap > WIDE_GAP * text_size else 0.0
        reached = max(reached, bottom)
    return total
