"""What a page draws by one path."""

from __future__ import annotations

from typing import NamedTuple

from evenquill.core.model import Box


class Shape(NamedTuple):
    """A path on the page: its box, whether it has slanted or curved parts, whether it is filled and has a line around it, and the colour
    (``rrggbb``) that it is filled with, where that is known.

    ``framing`` is a rectangle but for its corners, ``shade`` one of changing colour, as shadows are.
    """

    box: Box
    slanted: bool
    filled: bool
    stroked: bool = False
    color: str = ""
    framing: bool = False
    shade: bool = False
