"""Rules in a picture: long straight strokes, level or upright, taken off the ink so that letters stand free of them."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.raster import Pixels

SHORTEST = 18.0
"""Points."""

SHORTEST_IN_LETTERS = 3.2
"""X-heights: no stroke of a letter of running text is as long."""

LARGEST_LETTER, STEM = 40.0, 0.075
"""Points: the longest stem or bar of a letter in a title; and thickness over length from which a stroke no longer than that is one.
Rules are thinner: half a point to one, on twenty."""

JOINED = 0.05
"""Share of a level stroke's length from which what hangs from it or stands on it, as letters do on the line of their feet, makes it their
bars and feet. What crosses it, as the tails of letters cross a rule below a word, does not count."""

THICKEST = 3.2
"""Points."""

TILT = 0.012
"""Slope that a rule may keep after the page was straightened; 0.7 degrees."""

STRETCH = 0.55
"""Length of the stretches that rules are put together from, over that of the shortest rule."""

FRINGE = 2
"""Pixels to either side of a rule's stroke that are its rough edge."""

MEET = 4.0
"""Points within which the ends of rules meet."""


class Rules(NamedTuple):
    """``level`` and ``upright`` rules as boxes in pixels; ``ink`` is what is left of the ink without them."""

    level: list[Box]
    upright: list[Box]
    ink: Pixels


def rules_of(ink: Pixels, dpi: float, x_height: float) -> Rules:
    """Finds the rules of a page from its ink."""
    unit = dpi / 72
    shortest = max(SHORTEST * unit, SHORTEST_IN_LETTERS * x_height)
    level, level_mask = _along(ink, shortest, unit, upright=False)
    upright, upright_mask = _along(cv2.transpose(ink), shortest, unit, upright=True)
    if not level and not upright:
        return Rules([], [], ink)
    mask = level_mask | cv2.transpose(upright_mask)
    return Rules(level, [Box(b.y0, b.x0, b.y1, b.x1) for b in upright], ink & ~mask & 1)


def _along(ink: Pixels, shortest: float, unit: float, *, upright: bool) -> tuple[list[Box], Pixels]:
    """Level rules and the ink that they are made of; ``unit`` is pixels for each point. For upright rules the ink is turned."""
    thickest = THICKEST * unit
    # Short stretches first, so that a rule may tilt; then joined where they follow each other.
    stretch = max(round(shortest * STRETCH), 3)
    strokes: Pixels = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((1, stretch), np.uint8))
    # Where ink is thicker than a rule it is a filled area or a picture.
    side = round(thickest) + 2
    thick = cv2.morphologyEx(ink, cv2.MORPH_OPEN, np.ones((side, side), np.uint8))
    strokes[cv2.dilate(thick, np.ones((3, 3), np.uint8)) > 0] = 0
    mask = np.zeros_like(ink)
    if not strokes.any():
        return [], mask
    strokes = cv2.dilate(strokes, np.ones((3, 1), np.uint8))
    strokes = cv2.morphologyEx(strokes, cv2.MORPH_CLOSE, np.ones((1, stretch // 2 | 1), np.uint8))
    # Outlines, not labels: next to all of a page has none of these strokes.
    outlines, _ = cv2.findContours(strokes, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    boxes = []
    for outline in outlines:
        x, y, w, h = cv2.boundingRect(outline)
        if w < shortest or h - 2 > thickest + TILT * w:
            continue
        own = cv2.drawContours(np.zeros((h, w), np.uint8), [outline], 0, 1, cv2.FILLED, offset=(-x, -y))
        part = (own > 0) & (strokes[y : y + h, x : x + w] > 0) & (ink[y : y + h, x : x + w] > 0)
        thickness = part.sum(axis=0)
        inked = thickness > 0
        if inked.mean() < 0.6:
            continue
        rows = np.flatnonzero(part.any(axis=1))
        middle = y + float((np.arange(h)[:, None] * part).sum() / max(part.sum(), 1)) + 0.5
        half = float(np.median(thickness[inked])) / 2
        above, below = _joined(ink, part, x, y, round(2 * half) + FRINGE)
        longest = w if upright else _longest_run(inked)
        if longest < LARGEST_LETTER * unit:
            is_thick = 2 * half > STEM * longest
            if is_thick if upright else _has_letters(above ^ below, inked, 0 if is_thick else round(2 * half) + FRINGE):
                continue
        top, bottom = max(middle - half, y + rows[0]), min(middle + half, y + rows[-1] + 1)
        boxes.append(Box(*(float(value) for value in (x, top, x + w, bottom))))
        # The rough edges of the stroke go with it, but not the feet of letters that stand on it.
        top, bottom = max(y - FRINGE, 0), y + h + FRINGE
        grown = cv2.copyMakeBorder(part.astype(np.uint8), y - top, FRINGE, 0, 0, cv2.BORDER_CONSTANT, value=[0])
        upwards = cv2.dilate(grown, np.ones((FRINGE + 1, 1), np.uint8), anchor=(0, 0))
        downwards = cv2.dilate(grown, np.ones((FRINGE + 1, 1), np.uint8), anchor=(0, FRINGE))
        grown = np.maximum(np.where(above, grown, upwards), np.where(below, grown, downwards))[: mask.shape[0] - top]
        mask[top:bottom, x : x + w] |= grown & ink[top:bottom, x : x + w]
    return boxes, mask


def _longest_run(inked: NDArray[np.bool_]) -> int:
    """The most columns in a row that have ink."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], inked.astype(np.int8), [0]])))
    return int((edges[1::2] - edges[::2]).max(initial=0))


def _has_letters(joined: NDArray[np.bool_], inked: NDArray[np.bool_], ends: int) -> bool:
    """Whether a level stroke is part of letters, by the columns in which something is joined to it; ``ends`` are pixels at either end
    that are not looked at, where the sides of a box are."""
    inner = slice(ends, len(joined) - ends)
    return bool(joined[inner].sum() > JOINED * inked[inner].sum())


def _joined(
    ink: Pixels, part: NDArray[np.bool_], x: int, y: int, reach: int
) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """In which columns of a stroke, ``part`` of the ink with its corner at x and y, ink goes on above it, and below it, for ``reach``
    pixels without a gap."""
    height, width = part.shape
    around = np.zeros((height + 2 * reach, width), np.bool_)
    top, bottom = max(y - reach, 0), min(y + height + reach, ink.shape[0])
    around[top - y + reach : bottom - y + reach] = ink[top:bottom, x : x + width] > 0
    inked, columns = part.any(axis=0), np.arange(width)
    first, last = part.argmax(axis=0) + reach, height - 1 - part[::-1].argmax(axis=0) + reach
    steps = np.arange(1, reach + 1)[:, None]
    return inked & around[first - steps, columns].all(axis=0), inked & around[last + steps, columns].all(axis=0)


def framed_boxes(level: list[Box], upright: list[Box], unit: float) -> list[Box]:
    """Rectangles that four rules enclose, in pixels; ``unit`` is pixels for each point."""
    slack = MEET * unit
    found = []
    middles = np.array([side.center_x for side in upright])
    tops, ends = np.array([side.y0 for side in upright]), np.array([side.y1 for side in upright])
    for top in level:
        for bottom in level:
            if bottom.y0 <= top.y1 + slack or abs(top.x0 - bottom.x0) > slack or abs(top.x1 - bottom.x1) > slack:
                continue
            sides = middles[(tops < top.y1 + slack) & (ends > bottom.y0 - slack)]
            if all((np.abs(sides - edge) < slack).any() for edge in (top.x0, top.x1)):
                found.append(Box(top.x0, top.y0, top.x1, bottom.y1))
    return found
