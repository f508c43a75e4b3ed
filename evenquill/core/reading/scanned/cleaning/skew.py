"""Skew and the direction of text lines, from the middles of letters.

Turned by the right angle, the letters of a line fall on one height: the histogram of heights is sharpest there (projection
profile; Baird 1987, with component points instead of pixels). Searched coarse to fine.
"""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]

WIDEST = 22.0
"""Degrees to either side that are searched: a sheet laid down carelessly, not one put on a corner."""

COARSE, FINE, FINEST = 0.25, 0.05, 0.01
FEWEST_POINTS = 25
"""Letters below which there is no telling."""


class Skew(NamedTuple):
    """``angle`` in degrees by which lines rise clockwise; ``clear`` says how much sharper the profile is than an even one."""

    angle: float
    clear: float


def skew_of(points: Points, size: float) -> Skew:
    """Skew of lines through ``points`` (n, 2: x, y), letters of about ``size`` pixels."""
    if len(points) < FEWEST_POINTS:
        return Skew(0.0, 0.0)
    bin_coarse = max(size / 3, 1.0)
    angles = np.arange(-WIDEST, WIDEST + COARSE / 2, COARSE)
    best = float(angles[int(np.argmax(_sharpness(points, angles, bin_coarse)))])
    for span, step, bin_width in ((2 * COARSE, FINE, size / 6), (2 * FINE, FINEST, size / 8)):
        angles = np.arange(best - span, best + span + step / 2, step)
        sharp = _sharpness(points, angles, max(bin_width, 0.7))
        # The middle of the plateau is truer than its highest splinter.
        high = angles[sharp >= sharp.min() + 0.9 * (sharp.max() - sharp.min())]
        best = float(high.mean()) if np.ptp(high) < span else float(angles[int(np.argmax(sharp))])
    return Skew(best, float(_sharpness(points, np.array([best]), bin_coarse)[0]))


def _sharpness(points: Points, angles: NDArray[np.float64], bin_width: float) -> NDArray[np.float64]:
    """For each angle the sum of squares of the profile over that of an even profile."""
    radians = np.deg2rad(angles)
    out = np.empty(len(angles))
    for i, (cosine, sine) in enumerate(zip(np.cos(radians), np.sin(radians), strict=True)):
        heights = points[:, 1] * cosine - points[:, 0] * sine
        places = (heights - heights.min()) / bin_width
        low = places.astype(np.int64)
        part = places - low
        # Shared between neighbouring bins, so that the profile does not jump with the bins' places.
        profile = np.bincount(low, 1 - part, low.max() + 2) + np.bincount(low + 1, part, low.max() + 2)
        out[i] = (profile**2).sum() * len(profile) / len(points) ** 2
    return out
