"""Sections: stretches of a document with one page size, margins, number of columns, and running heads."""

from __future__ import annotations

import statistics
from bisect import bisect_right
from collections.abc import Mapping, Sequence
from typing import NamedTuple

import msgspec
from msgspec.structs import replace

from evenquill.core.model.blocks import Block, NumberFormat, TabStop
from evenquill.core.model.geometry import Box
from evenquill.core.model.inline import Inline
from evenquill.core.model.sides import Sides
from evenquill.core.model.styles import Align

LARGEST = 1584.0
"""Points (22 inches), the largest page that word processors take."""
SMALLEST = 72.0
SMALLEST_MARGIN = 18.0
WIDEST_MARGIN_SHARE = 0.35


class PageGeometry(msgspec.Struct, frozen=True, omit_defaults=True):
    """A page of the source: its size and the box that its text keeps to, in points; the languages (two letters) it was read in.

    ``label`` is the page number that is printed on it.
    """

    width: float
    height: float
    text_box: Box
    languages: tuple[str, ...] = ()
    label: str = ""


class PageSetup(msgspec.Struct, frozen=True):
    """The page of a section and its margins, in points."""

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


class Running(msgspec.Struct, frozen=True, omit_defaults=True):
    """A running head or foot; line breaks part its rows, ``tabs`` are in points from the left margin, ``sides`` those that have a line."""

    content: tuple[Inline, ...]
    style: str
    tabs: tuple[float, ...] = ()
    sides: Sides = Sides.NONE

    @property
    def stops(self) -> tuple[TabStop, ...]:
        """Its tab stops: what stands at the first is centred, what stands at the second ends there."""
        return tuple(TabStop(at, side) for at, side in zip(self.tabs, (Align.CENTER, Align.RIGHT), strict=False))


class RunningPair(msgspec.Struct, frozen=True, omit_defaults=True):
    """What runs at the head and at the foot of one sort of page."""

    header: Running | None = None
    footer: Running | None = None


class RunningPart(msgspec.Struct, frozen=True, omit_defaults=True):
    """The running heads and feet of a part of the document: those of all pages, or of odd ones where ``even`` pages have others; those
    of the ``first`` page where it differs.

    ``start`` is the number of its first page where its numbers are not carried on from before, ``format`` how they are written.
    """

    id: str
    usual: RunningPair = RunningPair()
    even: RunningPair | None = None
    first: RunningPair | None = None
    start: int | None = None
    format: NumberFormat = NumberFormat.DECIMAL


class Section(msgspec.Struct, frozen=True, omit_defaults=True):
    """A stretch of blocks that are laid out alike: they name it. ``columns`` stand side by side, ``running`` is the id of the part whose
    running heads and feet it has."""

    id: str
    setup: PageSetup = USUAL_PAGE
    columns: int = 1
    running: str = ""


def page_setups(pages: Sequence[PageGeometry]) -> list[PageSetup]:
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


class PartStart(NamedTuple):
    """The page of the source, from 1, from which on a part has its running heads; and the part's id."""

    page: int
    part: str


def in_sections(
    blocks: Sequence[Block], pages: Sequence[PageGeometry], parts: Sequence[PartStart], columns: Mapping[str, int]
) -> tuple[list[Block], tuple[Section, ...]]:
    """Blocks that name their sections, and these, by what the pages of the source have: at least one.

    ``columns`` says by block id in how many columns a block stands. A block without a place on the source goes with what is before it.
    """
    setups = page_setups(pages) or [USUAL_PAGE]
    starts = [start.page for start in parts]

    def running(page: int) -> str:
        return parts[max(bisect_right(starts, page) - 1, 0)].part if parts else ""

    sections: list[Section] = []
    out: list[Block] = []
    for block in blocks:
        if block.spots:
            page = block.spots[0].page
            setup = setups[min(page, len(setups)) - 1]
            layout = (setup, max(columns.get(block.id, 1), 1), running(page))
            last = sections[-1] if sections else None
            if last is None or (last.setup, last.columns, last.running) != layout:
                sections.append(Section(f"section{len(sections)}", *layout))
        elif not sections:
            sections.append(Section("section0", setups[0], 1, running(1)))
        out.append(replace(block, section=sections[-1].id))
    return out, tuple(sections) or (Section("section0", setups[0], 1, running(1)),)
