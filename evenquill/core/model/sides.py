"""The lines that are drawn at the sides of a table's cells, and above and below paragraphs."""

from __future__ import annotations

from enum import IntFlag


class Sides(IntFlag):
    """Sides of a cell or a paragraph that have a line."""

    NONE = 0
    TOP = 1
    RIGHT = 2
    BOTTOM = 4
    LEFT = 8
    ALL = 15


ABOVE_AND_BELOW = Sides.TOP | Sides.BOTTOM
"""The sides of a paragraph that can have a line."""

LINE_SPACE = 2
"""Points between a paragraph and the lines above and below it."""

SIDE_NAMES = {Sides.TOP: "top", Sides.LEFT: "left", Sides.BOTTOM: "bottom", Sides.RIGHT: "right"}
"""What formats call the sides, in the order in which they want them."""
