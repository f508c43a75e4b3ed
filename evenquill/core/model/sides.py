"""The lines that are drawn at the sides of a table's cells."""

from __future__ import annotations

from enum import IntFlag


class Sides(IntFlag):
    """Sides of a cell that have a line."""

    NONE = 0
    TOP = 1
    RIGHT = 2
    BOTTOM = 4
    LEFT = 8
    ALL = 15


SIDE_NAMES = {Sides.TOP: "top", Sides.LEFT: "left", Sides.BOTTOM: "bottom", Sides.RIGHT: "right"}
"""What formats call the sides, in the order in which they want them."""
