"""Which part of a page is to be drawn: known to who asks and to who draws."""

from __future__ import annotations

from typing import NamedTuple

from evenquill.core.model import Box


class Strip(NamedTuple):
    """A part of a page: its file, page from 1, box in points (None for all), pixels for each point.

    ``width`` is the width in points of a page that is a picture file, 0 for pages of a PDF, which tell theirs; these are turned by
    ``turn`` quarter turns clockwise.
    """

    source: str
    password: str | None
    page: int
    box: Box | None
    scale: float
    width: float = 0.0
    turn: int = 0
