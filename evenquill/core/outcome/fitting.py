"""Making a document take as many pages as its source: ways to do it, each with the least that does."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from enum import StrEnum
from functools import cache

from msgspec.structs import replace

from evenquill.core.edits import FitPages, apply
from evenquill.core.edits.fit_edits import STEP
from evenquill.core.errors import EditError
from evenquill.core.model import NOTES, Block, Document, TextBlock, texts_of
from evenquill.core.outcome.setting import SetPages

SPACINGS = (0.8, 1.25)
"""Spacing is changed by no more than this: beyond it lines touch, or fall apart."""

SIZES = (0.85, 1.12)
"""So are sizes of type: it is to look like the source."""

HALVINGS = 5
"""How often the way between too much and too little is halved: a factor is then known to about half a hundredth."""

Setter = Callable[[Document], SetPages]
"""Sets a document's pages. Raises NotWritten."""


class Way(StrEnum):
    """How a document is made to fit: by spacing, by the size of its letters, or by pages that begin where those of the source do."""

    SPACING = "spacing"
    SIZE = "size"
    SOURCE = "source"


def find_fit(document: Document, way: Way, set_pages: Setter) -> FitPages | None:
    """The least change of a kind with which a document takes as many pages as its source; None where none of it does, or it fits already.
    Raises NotWritten."""
    wanted = len(document.pages)
    now = len(set_pages(document).outcome.pages)

    @cache
    def pages(operation: FitPages) -> int:
        try:
            return len(set_pages(apply(document, operation).document).outcome.pages)
        except EditError:  # nothing of the document would be otherwise
            return now

    if way is Way.SOURCE:
        starts = FitPages(starts=tuple(source_starts(document)))
        if not starts.starts:
            return None
        count = pages(starts)
        return starts if count == wanted else _by_spacing(starts, count, wanted, pages)
    if now == wanted:
        return None
    return _by_spacing(FitPages(), now, wanted, pages) if way is Way.SPACING else _by_size(document, now, wanted, pages)


def source_starts(document: Document) -> Iterator[str]:
    """The rows that begin a page of the source and that do not begin one here already; notes stand apart from them."""
    seen = 1
    for block in document.blocks:
        if block.excluded or not block.spots or (isinstance(block, TextBlock) and block.role in NOTES):
            continue
        first = block.spots[0].page
        if first > seen and not block.page_break:
            yield block.id
        seen = max(seen, _last_page(block))


def _last_page(block: Block) -> int:
    return max((word.page for text in texts_of(block) for word in text.words), default=block.spots[-1].page)


def _by_spacing(base: FitPages, now: int, wanted: int, pages: Callable[[FitPages], int]) -> FitPages | None:
    """The factor nearest to 1, by halving; the number of pages does not fall as it grows."""
    far = SPACINGS[0] if now > wanted else SPACINGS[1]
    if (pages(replace(base, spacing=far)) - wanted) * (now - wanted) > 0:
        return None
    near = 1.0
    for _ in range(HALVINGS):
        middle = round((near + far) / 2, 3)
        if (pages(replace(base, spacing=middle)) - wanted) * (now - wanted) > 0:
            near = middle
        else:
            far = middle
    found = replace(base, spacing=far)
    return found if pages(found) == wanted else None


def _by_size(document: Document, now: int, wanted: int, pages: Callable[[FitPages], int]) -> FitPages | None:
    """The first step of half a point with which it fits."""
    size = document.body_style.size
    step = -STEP if now > wanted else STEP
    factor = (size + step) / size
    while SIZES[0] <= factor <= SIZES[1]:
        operation = FitPages(size=round(factor, 4))
        if pages(operation) == wanted:
            return operation
        factor += step / size
    return None
