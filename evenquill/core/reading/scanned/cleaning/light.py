"""Even light: shadows, dark corners, yellowed and tinted paper, faint or dark print.

Paper is what is left when strokes are closed over; dividing by it evens the light. What is darker than paper over more
than strokes (a photograph) must not be taken for a shadow: it has sharp edges, which shadows have not.
"""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.raster import WHITE, Pixels, lightness_at

WORK_DPI = 50.0
"""Resolution at which light is looked at; it changes slowly."""

STROKE = 9.0
"""Points: the widest stroke that is closed over; those of a title of 40 points."""

EDGE = 0.055
"""Change of paper's lightness (natural logarithm) from pixel to pixel at WORK_DPI that no shadow makes."""

SMALLEST_PICTURE = 0.16
"""Square inches of a photograph at least."""

FAINT = 90.0
"""Lightness of ink, on evened paper, from which print counts as faint and is darkened."""

INK = 45.0
"""Lightness to which faint ink is brought."""


class Light(NamedTuple):
    """Paper's lightness at WORK_DPI, and where pictures are (boxes in inches: left, top, right, bottom)."""

    paper: NDArray[np.float32]
    pictures: tuple[tuple[float, float, float, float], ...]


def light_of(grey: Pixels, dpi: float) -> Light:
    """How light falls on the page, and what on it is too large and sharp-edged to be print or shadow."""
    small: Pixels = cv2.resize(grey, None, fx=WORK_DPI / dpi, fy=WORK_DPI / dpi, interpolation=cv2.INTER_AREA)
    side = round(STROKE / 72 * WORK_DPI) | 1
    closed: Pixels = cv2.morphologyEx(
        small, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
    )
    closed = cv2.medianBlur(closed, 5)
    mask, boxes = _pictures(closed)
    paper = _without(closed, mask)
    return Light(np.asarray(cv2.GaussianBlur(paper, (0, 0), 4.0), np.float32), boxes)


def _pictures(closed: Pixels) -> tuple[Pixels, tuple[tuple[float, float, float, float], ...]]:
    logarithm = np.log(np.maximum(closed, 8).astype(np.float32))
    edges = np.hypot(cv2.Sobel(logarithm, cv2.CV_32F, 1, 0) / 8, cv2.Sobel(logarithm, cv2.CV_32F, 0, 1) / 8)
    height, width = closed.shape
    strong: Pixels = (edges > EDGE).astype(np.uint8)
    strong = cv2.morphologyEx(strong, cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))
    mask = np.zeros((height, width), np.uint8)
    boxes = []
    contours, _ = cv2.findContours(strong, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    for contour in contours:
        x, y, w, h = cv2.boundingRect(contour)
        if cv2.contourArea(contour) < SMALLEST_PICTURE * WORK_DPI**2 or min(w, h) < 0.25 * WORK_DPI:
            continue
        margin = 0.02 * min(width, height)
        outside = (x < margin) + (y < margin) + (x + w > width - margin) + (y + h > height - margin)
        if outside >= 2 or w * h > 0.85 * width * height:
            continue  # a border of the scan, or the page's own edge
        cv2.drawContours(mask, [contour], -1, 1, cv2.FILLED)
        inset = 1  # the edge filter reaches one pixel beyond the edge
        boxes.append(
            ((x + inset) / WORK_DPI, (y + inset) / WORK_DPI, (x + w - inset) / WORK_DPI, (y + h - inset) / WORK_DPI)
        )
    return np.asarray(cv2.dilate(mask, np.ones((5, 5), np.uint8)), np.uint8), tuple(boxes)


def _without(closed: Pixels, mask: Pixels) -> NDArray[np.float32]:
    """Paper as it would be under the pictures: the surroundings carried in (normalised convolution)."""
    paper = closed.astype(np.float32)
    if not mask.any():
        return paper
    known = (1 - mask).astype(np.float32)
    size = (0, 0)
    for sigma in (8.0, 24.0, 72.0):
        weight = cv2.GaussianBlur(known, size, sigma)
        filled = cv2.GaussianBlur(paper * known, size, sigma) / np.maximum(weight, 1e-6)
        take = (mask == 1) & (weight > 0.02)
        paper[take] = filled[take]
        if not ((mask == 1) & (weight <= 0.02)).any():
            break
    return paper


def evened(grey: Pixels, light: Light) -> Pixels:
    """The picture with its paper at WHITE everywhere."""
    paper = cv2.resize(light.paper, (grey.shape[1], grey.shape[0]), interpolation=cv2.INTER_LINEAR)
    return np.asarray(cv2.divide(grey, np.maximum(paper, 1).astype(np.uint8), scale=WHITE), np.uint8)


def darkened(even: Pixels) -> Pixels:
    """Faint print brought to the darkness of print; other pictures are returned as they are."""
    level = ink_level(even)
    if level <= FAINT:
        return even
    table = np.clip((np.arange(256) - level) * ((WHITE - INK) / (WHITE - level)) + INK, 0, 255)
    return np.asarray(cv2.LUT(even, table.astype(np.uint8)), np.uint8)


def ink_level(even: Pixels) -> float:
    """Lightness of the middle of strokes: the darker part of what is clearly no paper."""
    sample = even[::2, ::2]
    dark = sample[sample < 0.8 * WHITE]
    if dark.size < 200:
        return 0.0
    return lightness_at(dark, 0.15)[0]
