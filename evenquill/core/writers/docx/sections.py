"""Sections (ECMA-376 part 1, 17.6): page size, margins, columns, running heads and feet."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from typing import NamedTuple

import docx

from evenquill.core.model import Block, Document, NumberFormat, PageGeometry, RunningPart
from evenquill.core.writers.docx.numbering import FORMATS
from evenquill.core.writers.docx.running import RunningParts
from evenquill.core.writers.docx.xml import Element, attribute, child, element, twips

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


class Section(NamedTuple):
    """What blocks that follow one another have in common: the page, what runs at its head and foot, the number of columns."""

    setup: PageSetup
    part: RunningPart | None
    columns: int

    @property
    def column_gap(self) -> float:
        """Points between columns, in proportion to the text's width."""
        return round(min(max(GAP_SHARE * self.setup.text_width, SMALLEST_GAP), WIDEST_GAP), 1)


class Sections:
    """The sections of a document in the order in which they are written; parts of running heads are made as they are needed."""

    def __init__(self, package: docx.document.Document, document: Document) -> None:
        self._setups = setups(document.pages) or [USUAL_PAGE]
        self._running = RunningParts(package, document)
        self._begun: set[int] = set()
        self._type: dict[Section, str] = {}
        self._first: set[Section] = set()

    def whole(self) -> Section:
        """The section of a document without blocks."""
        return Section(self._setups[0], self._running.part_of(1), 1)

    def of(self, block: Block, current: Section | None) -> Section:
        """The section that a block belongs to; one without a place on the source goes with what is before it."""
        if not block.spots:
            return current or self.whole()
        page = block.spots[0].page
        setup = self._setups[min(page, len(self._setups)) - 1]
        return Section(setup, self._running.part_of(page), max(block.columns, 1))

    def begin(self, section: Section, *, after: Section | None, on_new_page: bool) -> None:
        """Begins a section: on the page where the last one ends, if the paper and its first head allow."""
        part = section.part
        new_part = part is not None and part.page not in self._begun
        if new_part and part is not None:
            self._begun.add(part.page)
            self._first.add(section)
        else:
            self._first.discard(section)
        same_paper = after is None or section.setup == after.setup
        own_first_page = new_part and part is not None and part.first is not None
        goes_on = same_paper and not on_new_page and not own_first_page
        self._type[section] = "continuous" if goes_on and after is not None else ""

    def properties(self, section: Section) -> Element:
        """``w:sectPr`` of the section begun last."""
        part = section.part
        first = section in self._first
        references = self._running.references(part)
        if not first:
            references = [reference for reference in references if reference.kind != "first"]
        return section_properties(
            section,
            [reference.element() for reference in references],
            kind=self._type.get(section, ""),
            plain_first=first and part is not None and part.first is not None,
            start=part.start if first and part is not None else None,
        )


def section_properties(
    section: Section,
    references: Sequence[Element],
    *,
    kind: str = "",
    plain_first: bool = False,
    start: int | None = None,
) -> Element:
    """``w:sectPr``; ``references`` are those to header and footer parts, ``kind`` how the section begins (a new page if empty)."""
    setup = section.setup
    made = element("sectPr")
    for reference in references:
        made.append(reference)
    if kind:
        child(made, "type", val=kind)
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
    form = section.part.format if section.part is not None else NumberFormat.DECIMAL
    if start is not None or form is not NumberFormat.DECIMAL:
        numbers = child(made, "pgNumType")
        if form is not NumberFormat.DECIMAL:
            attribute(numbers, "fmt", FORMATS[form])
        if start is not None:
            attribute(numbers, "start", str(start))
    if section.columns > 1:
        child(made, "cols", num=section.columns, space=twips(section.column_gap))
    if plain_first:
        child(made, "titlePg")
    return made
