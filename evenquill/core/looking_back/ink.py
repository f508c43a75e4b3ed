"""Pictures of pages as ink: how much darker than the paper around it, or lighter, each point is."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box

Grey = NDArray[np.uint8]
Ink = NDArray[np.uint8]

GROUND = 12.0
"""Points of a stroke that is taken for ground: no letter of running text has one as wide."""

DARK = 128
"""Steps of grey below which a ground is dark."""

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

    def stroke(self, box: Box) -> float:
        """How thick strokes are within a box, in points, whatever their colour: their ink over the length of their outline; 0 where nothing
        is to be seen. Rules across the box do not count."""
        found = self.part(box)
        if not found.size:
            return 0.0
        strongest = float(np.percentile(found, 98))
        if strongest < LEAST_CONTRAST:
            return 0.0
        shares = np.minimum(found / strongest, 1.0)
        shares = shares[shares.min(axis=1) <= ACROSS]
        outline = float(np.abs(np.diff(shares, axis=0)).sum() + np.abs(np.diff(shares, axis=1)).sum())
        return 2 * float(shares.sum()) / outline / self.scale if outline else 0.0


def inked(grey: Grey, scale: float) -> InkedPage:
    """A page in grey as ink on its ground, which is what is left where strokes are filled from their sides: shades are no ink."""
    size = round(GROUND * scale)
    kernel = np.ones((size, size), np.uint8)
    dark = cv2.morphologyEx(grey, cv2.MORPH_CLOSE, kernel) - grey
    # Light letters on a dark ground are ink as well; around dark ones on a light ground there is none.
    light = grey - cv2.morphologyEx(grey, cv2.MORPH_OPEN, kernel)
    on_dark = cv2.blur(grey, (2 * size + 1, 2 * size + 1)) < DARK
    return InkedPage(np.where(on_dark, np.maximum(dark, light), dark), scale)
