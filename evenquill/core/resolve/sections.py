"""Sections: stretches of the document with one page size, margins, number of columns, and running heads."""

from __future__ import annotations

import statistics
from bisect import bisect_right
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.model import Block, Document, PageGeometry, RunningPart

LARGEST = 1584.0
"""Points (22 inches), the largest page that word processors take."""
SMALLEST = 72.0
SMALLEST_MARGIN = 18.0
WIDEST_MARGIN_SHARE = 0.35

GAP_SHARE, SMALLEST_GAP, WIDEST_GAP = 0.04, 10.0, 24.0
"""Gap between columns as a share of the text's width, and its bounds in points."""


class PageSetup(NamedTuple):
    """A section's page in points."""

    width: float
    height: float
    left: float
    right: float
    top: float
    bottom: float

    @property
    def text_width(self) -> float:
        return self.width - self.left - self.right

    @property
    def text_height(self) -> float:
        return self.height - self.top - self.bottom


USUAL_PAGE = PageSetup(595.3, 841.9, 72.0, 72.0, 72.0, 72.0)
"""A4, for a document without pages."""


def setups(pages: Sequence[PageGeometry]) -> list[PageSetup]:
    """For each page of the source the setup of its section; neighbouring pages of one size share it."""
    groups: list[list[PageGeometry]] = []
    for page in pages:
        if groups and _same_size(groups[-1][-1], page):
            groups[-1].append(page)
        else:
            groups.append([page])
    return [setup for group in groups for setup in [_setup(group)] * len(group)]


def _same_size(a: PageGeometry, b: PageGeometry) -> bool:
    return abs(a.width - b.width) < 3 and abs(a.height - b.height) < 3


def _setup(group: list[PageGeometry]) -> PageSetup:
    width = min(max(group[0].width, SMALLEST), LARGEST)
    height = min(max(group[0].height, SMALLEST), LARGEST)

    def margin(values: list[float], side: float) -> float:
        return round(min(max(statistics.median(values), SMALLEST_MARGIN), WIDEST_MARGIN_SHARE * side), 1)

    # Full pages tell the margins; a page with a few lines would make them too wide.
    widest = sorted(group, key=lambda page: page.text_box.width, reverse=True)[: max(len(group) // 2, 1)]
    tallest = sorted(group, key=lambda page: page.text_box.height, reverse=True)[: max(len(group) // 2, 1)]
    bottom = [height - page.text_box.y1 for page in tallest]
    return PageSetup(
        width,
        height,
        margin([page.text_box.x0 for page in widest], width),
        margin([width - page.text_box.x1 for page in widest], width),
        margin([page.text_box.y0 for page in tallest], height),
        # Letters are set a little differently everywhere; a third of the free foot is kept for that.
        margin([min(value, 72.0) * 0.67 for value in bottom], height),
    )


class Layout(NamedTuple):
    """What blocks that follow one another have in common: the page, what runs at its head and foot, the number of columns."""

    setup: PageSetup
    part: RunningPart | None
    columns: int

    @property
    def column_gap(self) -> float:
        """Points between columns, in proportion to the text's width."""
        return round(min(max(GAP_SHARE * self.setup.text_width, SMALLEST_GAP), WIDEST_GAP), 1)


class Section(NamedTuple):
    """Blocks that are laid out alike. It ``continues`` on the page where the one before ends, or begins a new one; ``begins_part`` if it is
    the first with its running heads, whose first page may have others and whose numbers may begin anew."""

    layout: Layout
    continues: bool
    begins_part: bool
    blocks: list[Block]


def sections_of(document: Document, blocks: Sequence[Block]) -> list[Section]:
    """The sections of a document; at least one. A block without a place on the source goes with what is before it."""
    page_setups = setups(document.pages) or [USUAL_PAGE]
    starts = [part.page for part in document.running]
    begun: set[int] = set()
    whole = Layout(page_setups[0], _part_of(document, starts, 1), 1)
    out: list[Section] = []
    for block in blocks:
        before = out[-1].layout if out else None
        layout = before or whole
        if block.spots:
            page = block.spots[0].page
            setup = page_setups[min(page, len(page_setups)) - 1]
            layout = Layout(setup, _part_of(document, starts, page), max(block.columns, 1))
        if layout != before:
            out.append(_begun(layout, before, block.page_break, begun))
        out[-1].blocks.append(block)
    return out or [_begun(whole, None, False, begun)]


def _begun(layout: Layout, before: Layout | None, on_new_page: bool, begun: set[int]) -> Section:
    """A new section: on the page where the last one ends, if the paper and its first head allow."""
    part = layout.part
    new_part = part is not None and part.page not in begun
    if part is not None:
        begun.add(part.page)
    own_first_page = new_part and part is not None and part.first is not None
    same_paper = before is not None and layout.setup == before.setup
    return Section(layout, same_paper and not on_new_page and not own_first_page, new_part, [])


def _part_of(document: Document, starts: Sequence[int], page: int) -> RunningPart | None:
    """The running heads that a page of the source has."""
    at = bisect_right(starts, page) - 1
    return document.running[max(at, 0)] if document.running else None
