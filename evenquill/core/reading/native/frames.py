"""Paths that are frames: rectangles with rounded corners, and those within another whose space between is all that is filled."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import pypdfium2.raw as pdfium_c

from evenquill.core.model import Box
from evenquill.core.reading.native.paths import segments

MOST_OF_FRAME = 48
"""Segments of a frame: of its inner and its outer edge four sides, and four corners of up to four segments each, or fewer."""

ON_EDGE = 0.01
"""Share of a path's larger side within which a point lies on its bounds."""

HOLLOW = 0.5
"""Share of a frame's box that its inner edge encloses, at least."""

Outline = Sequence[tuple[float, float]]
"""The points of a closed part of a path, one after the other."""


def outlines_of(handle: pdfium_c.FPDF_PAGEOBJECT) -> list[Outline]:
    """The closed parts of a path; none where it has more segments than a frame."""
    if pdfium_c.FPDFPath_CountSegments(handle) > MOST_OF_FRAME:
        return []
    found: list[list[tuple[float, float]]] = []
    for kind, point in segments(handle):
        if kind == pdfium_c.FPDF_SEGMENT_MOVETO or not found:
            found.append([])
        found[-1].append(point)
    return list(found)


def is_framing(outlines: Sequence[Outline]) -> bool:
    """Whether a path is a rectangle with rounded or cut corners, or one within another."""
    return bool(outlines) and all(map(_lies_on_bounds, outlines))


def is_hollow(outlines: Sequence[Outline], fill_mode: int) -> bool:
    """Whether a filled path is one rectangle within another, nothing being filled but what is between them: a border that is drawn as an
    area. By the rule of odd crossings it is so however they run, else if they run in opposite directions (ISO 32000-1, 8.5.3.3)."""
    if len(outlines) != 2 or not is_framing(outlines):
        return False
    inner, outer = sorted(outlines, key=lambda outline: abs(_area(outline)))
    if fill_mode == pdfium_c.FPDF_FILLMODE_WINDING and _area(inner) * _area(outer) > 0:
        return False
    return _bounds(outer).holds(_bounds(inner)) and abs(_area(inner)) >= HOLLOW * abs(_area(outer))


def _area(outline: Outline) -> float:
    """The area within an outline, below zero if it runs clockwise."""
    return sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in pairwise([*outline, outline[0]])) / 2


def _bounds(outline: Outline) -> Box:
    xs, ys = zip(*outline, strict=True)
    return Box(min(xs), min(ys), max(xs), max(ys))


def _lies_on_bounds(outline: Outline) -> bool:
    """Whether all points lie on their bounds, two or more on each side."""
    box = _bounds(outline)
    tolerance = ON_EDGE * max(box.width, box.height)
    sides = [
        {point for point in outline if abs(point[axis] - end) <= tolerance}
        for axis, end in ((0, box.x0), (0, box.x1), (1, box.y0), (1, box.y1))
    ]
    return min(map(len, sides)) >= 2 and set.union(*sides) == set(outline)
