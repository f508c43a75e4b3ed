"""Pages of word-processor files, as far as they can be worked with."""

from __future__ import annotations

from collections.abc import Callable

from evenquill.core.model import PageSetup
from evenquill.core.model.sections import USUAL_PAGE

LEAST, MOST = 72.0, 4000.0
"""Points of a page's sides that are taken."""

WIDEST_MARGIN = 0.45
"""Share of a page that a margin may take."""


def page_setup(width: float, height: float, margin: Callable[[str], float | None]) -> PageSetup:
    """The page of these sides, and of the margins at ``left``, ``right``, ``top`` and ``bottom`` as far as they are said; in points. A page
    that nobody could use is the usual one."""
    if not (LEAST <= width <= MOST and LEAST <= height <= MOST):
        width, height = USUAL_PAGE.width, USUAL_PAGE.height

    def within(side: str, room: float, usual: float) -> float:
        said = margin(side)
        return min(abs(said), WIDEST_MARGIN * room) if said is not None else usual

    return PageSetup(
        width,
        height,
        within("left", width, USUAL_PAGE.left),
        within("right", width, USUAL_PAGE.right),
        within("top", height, USUAL_PAGE.top),
        within("bottom", height, USUAL_PAGE.bottom),
    )
