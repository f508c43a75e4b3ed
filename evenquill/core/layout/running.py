"""Parts of a document that have the same running heads and feet, one after the other.

A part is as long a stretch of pages as can be: all alike, or odd and even ones each alike where the document alternates, but for its
first page. Page numbers run on within a part.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import Type
from evenquill.core.layout.furniture import PageFurniture, Rows
from evenquill.core.model import NumberFormat

FEWEST_TURNS = 2
"""Pages that say what the page before the last said and the last did not, from which odd and even pages differ."""


class RunningText(NamedTuple):
    """A running head or foot as it stands on page ``page``."""

    rows: Rows
    type: Type
    page: int


class HeadAndFoot(NamedTuple):
    head: RunningText | None = None
    foot: RunningText | None = None


class Stretch(NamedTuple):
    """Pages from ``page`` on with the same running heads and feet, as in the model's RunningPart."""

    page: int
    usual: HeadAndFoot
    even: HeadAndFoot | None
    first: HeadAndFoot | None
    start: int | None
    format: NumberFormat


class _Shape(NamedTuple):
    """Pages that stand for the sorts of page of a stretch; None where there is none of a sort."""

    usual: PageFurniture | None
    even: PageFurniture | None = None
    first: PageFurniture | None = None


def running_stretches(pages: Sequence[PageFurniture]) -> list[Stretch]:
    """The document's parts; none where nothing runs."""
    if not any(page.head or page.foot for page in pages):
        return []
    alternates = _alternates(pages)
    out: list[Stretch] = []
    begin = 0
    before: PageFurniture | None = None
    while begin < len(pages):
        end = begin + 1
        while end < len(pages) and _runs_on(pages[end - 1], pages[end], pages[begin:end]):
            if _shape(pages[begin : end + 1], alternates=alternates) is None:
                break
            end += 1
        part = pages[begin:end]
        shape = _shape(part, alternates=alternates)
        assert shape is not None  # one page always fits
        out.append(_stretch(part, shape, before))
        before = next((page for page in reversed(part) if page.number), before)
        begin = end
    return out


def _said(page: PageFurniture) -> tuple[Rows, Rows]:
    return page.head, page.foot


def _alternates(pages: Sequence[PageFurniture]) -> bool:
    told = [page for page in pages if not page.blank]
    turns = sum(
        _said(a) == _said(c) != _said(b) and _said(b) != ((), ())
        for a, b, c in zip(told, told[1:], told[2:], strict=False)
    )
    return turns >= FEWEST_TURNS


def _runs_on(last: PageFurniture, page: PageFurniture, part: Sequence[PageFurniture]) -> bool:
    """Whether the page's number follows those of the part so far."""
    if page.number is None:
        return True
    known = next((one for one in reversed(part) if one.number is not None), None)
    if known is None or known.number is None:
        return True
    return (
        page.number.format is known.number.format and page.number.value - page.page == known.number.value - known.page
    )


def _shape(part: Sequence[PageFurniture], *, alternates: bool) -> _Shape | None:
    """How the pages of a stretch can be described, in the simplest way that fits; None if there is none."""
    told = [page for page in part if not page.blank]
    if not told:
        return _Shape(None)
    rest = told[1:] if told[0] is part[0] else told
    for pages, first in ((told, None), (rest, told[0])):
        if len({_said(page) for page in pages}) == 1:
            return _Shape(pages[0], first=first)
    if alternates:
        for pages, first in ((told, None), (rest, told[0])):
            odd, even = ([page for page in pages if _is_even(page) is wanted] for wanted in (False, True))
            if odd and even and all(len({_said(page) for page in side}) == 1 for side in (odd, even)):
                return _Shape(odd[0], even[0], first)
    return None


def _is_even(page: PageFurniture) -> bool:
    return (page.number.value if page.number else page.page) % 2 == 0


def _stretch(part: Sequence[PageFurniture], shape: _Shape, before: PageFurniture | None) -> Stretch:
    numbered = next((page for page in part if page.number), None)
    start: int | None = None
    form = NumberFormat.DECIMAL
    if numbered is not None and numbered.number is not None:
        form = numbered.number.format
        first = numbered.number.value - (numbered.page - part[0].page)
        ahead = before.number.value - before.page if before is not None and before.number is not None else 0
        if first != part[0].page + ahead or (before is not None and before.number and before.number.format is not form):
            start = max(first, 0)
    return Stretch(
        part[0].page,
        _sides(shape.usual),
        _sides(shape.even) if shape.even else None,
        _sides(shape.first) if shape.first else None,
        start,
        form,
    )


def _sides(page: PageFurniture | None) -> HeadAndFoot:
    if page is None:
        return HeadAndFoot()
    head = RunningText(page.head, page.head_type, page.page) if page.head and page.head_type else None
    foot = RunningText(page.foot, page.foot_type, page.page) if page.foot and page.foot_type else None
    return HeadAndFoot(head, foot)
