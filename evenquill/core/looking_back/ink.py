"""Pictures of pages as ink: how much darker than the paper around it, or lighter, each point is."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box

Grey = NDArray[np.uint8]
Ink = NDArray[np.float32]

GROUND = 19
"""Pixels of a stroke that is taken for ground: no letter of running text has one as wide at the scale at which pages are looked at."""

ACROSS = 0.5
"""Share of full ink in all of a line of pixels from which it belongs to a rule across the place, such as one of a table or an underline."""

LEAST_CONTRAST = 24.0
"""Steps of grey, of 255, below which nothing is to be seen in a place."""


class InkedPage(NamedTuple):
    """A page: its ink (0 to 255), and how many pixels a point of it has."""

    ink: Ink
    scale: float

    def part(self, box: Box) -> Ink:
        """The ink within a box in points; an empty array where that is not on the page."""
        height, width = self.ink.shape
        x0, x1 = (min(max(round(x * self.scale), 0), width) for x in (box.x0, box.x1))
        y0, y1 = (min(max(round(y * self.scale), 0), height) for y in (box.y0, box.y1))
        return self.ink[y0:y1, x0:x1]

    def amount(self, box: Box) -> float:
        """Square points of full ink within a box: grey edges of strokes count by their share, whatever the colour of the letters;
        rules across it do not count."""
        found = self.part(box)
        if not found.size:
            return 0.0
        strongest = float(np.percentile(found, 98))
        if strongest < LEAST_CONTRAST:
            return 0.0
        shares = np.minimum(found / strongest, 1.0)
        across = shares.min(axis=1) > ACROSS
        return float(shares[~across].sum()) / self.scale**2


def inked(grey: Grey, scale: float) -> InkedPage:
    """A page in grey as ink on its ground, which is what is left where strokes are filled from their sides: shades are no ink."""
    kernel = np.ones((GROUND, GROUND), np.uint8)
    dark = cv2.morphologyEx(grey, cv2.MORPH_CLOSE, kernel).astype(np.float32) - grey
    light = grey - cv2.morphologyEx(grey, cv2.MORPH_OPEN, kernel).astype(np.float32)
    # Light letters on a dark ground are ink as well; around dark ones on a light ground there is none.
    return InkedPage(np.where(dark >= light, dark, 0.0) + np.where(light > dark, light * _is_dark(grey), 0.0), scale)


def _is_dark(grey: Grey) -> Ink:
    """1 where the ground is dark."""
    ground = cv2.medianBlur(grey, 2 * GROUND + 1)
    return (ground < 128).astype(np.float32)
