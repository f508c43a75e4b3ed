"""Frames: paragraphs that stand at one side of the column, with text around them (ECMA-376 part 1, 17.3.1.11)."""

from __future__ import annotations

from typing import NamedTuple

from evenquill.core.resolve.figures import BESIDE_GAP
from evenquill.core.writers.docx.xml import Element, W, element, twips

_BEFORE = ("pStyle", "keepNext", "keepLines", "pageBreakBefore")
"""What stands before the frame among the properties of a paragraph."""


class Frame(NamedTuple):
    """The width of a frame in points, and whether it stands at the right. Paragraphs of one frame that follow one another share it."""

    width: float
    right: bool


def add_frame(paragraph: Element, frame: Frame) -> None:
    """Says of a paragraph that it stands in the frame."""
    properties = paragraph.find(f"{{{W}}}pPr")
    if properties is None:
        properties = element("pPr")
        paragraph.insert(0, properties)
    gap = twips(BESIDE_GAP)
    made = element(
        "framePr", w=twips(frame.width), hSpace=gap, wrap="around", vAnchor="text", hAnchor="text",
        xAlign="right" if frame.right else "left", y=1,
    )  # fmt: skip
    place = sum(child.tag in [f"{{{W}}}{name}" for name in _BEFORE] for child in properties)
    properties.insert(place, made)
