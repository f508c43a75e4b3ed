"""Lines above and below the paragraphs of DOCX (ISO/IEC 29500-1, 17.3.1.24)."""

from __future__ import annotations

from evenquill.core.docx_reading.cell_looks import NO_LINE
from evenquill.core.docx_reading.names import Element, W, value
from evenquill.core.model.sides import ABOVE_AND_BELOW, SIDE_NAMES, Sides


def paragraph_sides(properties: Element | None, usual: Sides) -> Sides:
    """The sides of a paragraph that have a line by its ``w:pPr``; where that says nothing of a side, as is usual in its style."""
    lines = properties.find(f"{W}pBdr") if properties is not None else None
    sides = usual
    for side, name in SIDE_NAMES.items():
        kind = value(lines, name)
        if kind is not None and side & ABOVE_AND_BELOW:
            sides = sides & ~side if kind in NO_LINE else sides | side
    return sides
