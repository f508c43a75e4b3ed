"""Sections (ECMA-376 part 1, 17.6): page size, margins, running heads and feet."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.model import PageGeometry
from evenquill.core.writers.docx.xml import Element, attribute, child, element, twips

LARGEST = 1584.0
"""Points (22 inches), the largest page that word processors take."""
SMALLEST = 72.0
SMALLEST_MARGIN = 18.0
WIDEST_MARGIN_SHARE = 0.35


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


def section_properties(
    setup: PageSetup, *, references: Sequence[Element], plain_first: bool, first_number: int | None
) -> Element:
    """``w:sectPr``; ``references`` are those to header and footer parts."""
    made = element("sectPr")
    for reference in references:
        made.append(reference)
    size = child(made, "pgSz", w=twips(setup.width), h=twips(setup.height))
    if setup.width > setup.height:
        attribute(size, "orient", "landscape")
    child(
        made,
        "pgMar",
        top=twips(setup.top),
        right=twips(setup.right),
        bottom=twips(setup.bottom),
        left=twips(setup.left),
        header=twips(min(36.0, setup.top / 2)),
        footer=twips(min(36.0, setup.bottom / 2)),
        gutter=0,
    )
    if first_number is not None and first_number != 1:
        child(made, "pgNumType", start=first_number)
    if plain_first:
        child(made, "titlePg")
    return made
