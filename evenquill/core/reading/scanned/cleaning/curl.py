"""Curl: a sheet that does not lie flat makes its lines swing. Their baselines say how, and the page is drawn level again.

The height by which the page is off is taken for a smooth surface over it, a polynomial of low order fitted to the letters' feet
of all lines at once (text-line based dewarping; Ulges, Lampert and Breuel 2005, with one surface instead of cells).
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.raster import Pixels
from evenquill.core.reading.scanned.text_line import TextLine

FEWEST_LINES = 4
LONGEST_LETTERS = 8
"""Letters that a line must have to say anything."""

FELT = 0.1
"""X-heights by which lines must be off before the page is touched."""

POWERS = ((1, 0), (2, 0), (3, 0), (4, 0), (1, 1), (2, 1), (3, 1), (1, 2), (2, 2))
"""Powers of x and y; those without x would only move lines as a whole."""


class Curl(NamedTuple):
    """Coefficients for POWERS of places from -1 to 1 over the page, in pixels."""

    weights: NDArray[np.float64]
    width: int
    height: int

    def drop(self, x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.float64]:
        """Pixels by which the page hangs too low at these places."""
        u, v = 2 * x / self.width - 1, 2 * y / self.height - 1
        out: NDArray[np.float64] = _terms(u, v) @ self.weights
        return out


def curl_of(lines: Sequence[TextLine], pieces: Pieces, width: int, height: int) -> Curl | None:
    """The page's curl; None where its lines are straight and level enough, or too few to tell."""
    places, feet, which, sizes = [], [], [], []
    n = 0
    for line in lines:
        boxes = pieces.boxes[line.pieces].astype(np.float64)
        tall = boxes[boxes[:, 3] - boxes[:, 1] > 0.7 * line.x_height]
        middle, bottom = (tall[:, 0] + tall[:, 2]) / 2, tall[:, 3]
        on_base = np.abs(bottom - line.a - line.b * middle) < 0.45 * line.x_height
        if on_base.sum() < LONGEST_LETTERS or np.ptp(middle[on_base]) < 0.15 * width:
            continue
        # Tails below the baseline are no feet: what is far below a curve through its neighbours goes.
        curve = np.polyfit(middle[on_base], bottom[on_base], 2)
        near = on_base & (np.abs(bottom - np.polyval(curve, middle)) < 0.15 * line.x_height + 1)
        if near.sum() < LONGEST_LETTERS:
            continue
        places.append(np.stack([middle[near], bottom[near]], axis=1))
        feet.append(bottom[near])
        which.append(np.full(int(near.sum()), n))
        sizes.append(line.x_height)
        n += 1
    if n < FEWEST_LINES:
        return None
    at, level, line_of = np.concatenate(places), np.concatenate(feet), np.concatenate(which)
    terms = _terms(2 * at[:, 0] / width - 1, 2 * at[:, 1] / height - 1)
    count = np.bincount(line_of).astype(np.float64)

    def within_lines(values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Values less their line's mean: each line has a height of its own, which is not asked for."""
        return np.asarray(values - (np.bincount(line_of, values) / count)[line_of], np.float64)

    matrix = np.stack([within_lines(column) for column in terms.T], axis=1)
    target = within_lines(level)
    ridge = np.sqrt(1e-3 * len(target)) * np.eye(len(POWERS))
    weights, *_ = np.linalg.lstsq(
        np.vstack([matrix, ridge]), np.concatenate([target, np.zeros(len(POWERS))]), rcond=None
    )
    before, after = np.percentile(np.abs(target), 90), np.percentile(np.abs(target - matrix @ weights), 90)
    if before < FELT * float(np.median(sizes)) + 0.5 or after > 0.75 * before:
        return None
    return Curl(weights, width, height)


def _terms(u: NDArray[np.float64], v: NDArray[np.float64]) -> NDArray[np.float64]:
    terms: NDArray[np.float64] = np.stack([u**i * v**j for i, j in POWERS], axis=-1)
    return terms


def uncurled(pixels: Pixels, curl: Curl) -> Pixels:
    """The picture with its lines level."""
    x, y = np.meshgrid(
        np.linspace(0, curl.width, max(curl.width // 16, 2)), np.linspace(0, curl.height, max(curl.height // 16, 2))
    )
    drop = cv2.resize(curl.drop(x, y).astype(np.float32), (curl.width, curl.height), interpolation=cv2.INTER_CUBIC)
    columns, rows = np.meshgrid(np.arange(curl.width, dtype=np.float32), np.arange(curl.height, dtype=np.float32))
    return np.asarray(
        cv2.remap(pixels, columns, rows + drop, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE), np.uint8
    )
