"""Which picture a strip is cut from: the page as it was cleaned for reading, or as it came."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from evenquill.core.errors import SourceError
from evenquill.core.evidence import Cleaned
from evenquill.core.model import Box
from evenquill.core.source import PDF, media_of
from evenquill.core.strip_types import Strip
from evenquill.desk.context import AppContext
from evenquill.store import pages, parts


def strip_of(context: AppContext, document: str, number: int, box: Box | None, scale: float, view: str) -> Strip:
    """The strip for a box of a page, in points of the page as it was read. ``view`` is ``came`` for the page as it came.

    Raises KeyError for a page that is not there, SourceError where its file is not what it was.
    """
    source, page = place_of_page(context, document, number)
    if not Path(source).is_file():
        raise SourceError("The file of this page is missing in the data folder. Ask whoever looks after the server.")
    password = context.passwords.get(document)
    try:
        head = pages.head(context.store, document, number)
    except KeyError:
        head = None
    cleaned = head.cleaned if head else None
    if head is not None and cleaned is not None and view != "came":
        return Strip(str(context.files.pictures.path(cleaned.picture)), None, 1, box, scale, head.width)
    if cleaned is not None and box is not None:
        box = box_as_it_came(box, cleaned)
    if media_of(Path(source)) == PDF:
        return Strip(source, password, page, box, scale, turn=head.turn if head else 0)
    return Strip(source, None, page, box, scale, cleaned.came_width if cleaned else 595.28)


def box_as_it_came(box: Box, cleaned: Cleaned) -> Box:
    """The box around a cleaned page's box on the page as it came, in points."""
    matrix = np.array(cleaned.to_source).reshape(3, 3)
    corners = np.array([[x, y, 1.0] for x in (box.x0, box.x1) for y in (box.y0, box.y1)]) @ matrix.T
    places = corners[:, :2] / corners[:, 2:]
    (x0, y0), (x1, y1) = places.min(axis=0), places.max(axis=0)
    return Box(float(x0), float(y0), float(x1), float(y1))


def place_of_page(context: AppContext, document: str, number: int) -> tuple[str, int]:
    """The file that a page is in, mended if it had to be, and its number there."""
    before = 0
    for part in parts.every(context.store, document):
        count = part.facts.pages if part.facts else 0
        if number <= before + count:
            facts = context.files.facts_here(part)
            copy = facts.read_instead if facts else None
            return copy or str(context.files.source(part.source)), number - before
        before += count
    raise KeyError(number)
