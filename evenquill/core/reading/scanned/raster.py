"""A page as pixels."""

from __future__ import annotations

from typing import Any, NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

cv2.setNumThreads(1)  # pages are read in parallel; threads within one page only get in their way

WHITE = 245
"""Lightness that evened paper has everywhere: what is erased is given it."""

Pixels = NDArray[Any]
"""uint8, shape (height, width) for grey, (height, width, 3) for red, green, blue. Untyped inside, as OpenCV gives it back."""

Matrix = NDArray[np.float64]
"""Shape (3, 3): a homography of points (x, y, 1), in pixels."""


class Raster(NamedTuple):
    """A picture, grey or in red, green and blue, and its resolution in pixels for each inch."""

    pixels: Pixels
    dpi: float

    @property
    def grey(self) -> Pixels:
        return grey_of(self.pixels)

    @property
    def width(self) -> int:
        return int(self.pixels.shape[1])

    @property
    def height(self) -> int:
        return int(self.pixels.shape[0])

    def at(self, dpi: float) -> Raster:
        """The same picture at another resolution."""
        if abs(dpi - self.dpi) < 0.01 * dpi:
            return self
        return Raster(scaled(self.pixels, dpi / self.dpi), dpi)


def grey_of(pixels: Pixels) -> Pixels:
    """Lightness, 0 for black to 255 for white."""
    if pixels.ndim == 2:
        return pixels
    return np.asarray(cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY), np.uint8)


def without_empty_colour(pixels: Pixels) -> Pixels:
    """The grey picture where red, green and blue are the same everywhere, else the picture as it is."""
    if pixels.ndim == 2 or any((pixels[::16, :, 0] != pixels[::16, :, other]).any() for other in (1, 2)):
        return pixels
    red, green, blue = cv2.split(pixels)
    return red if np.array_equal(red, green) and np.array_equal(red, blue) else pixels


def lightness_at(pixels: Pixels, *shares: float) -> tuple[float, ...]:
    """The lightness below which each of these shares (0 to 1) of a grey picture's pixels lies."""
    counts = np.cumsum(np.bincount(pixels.ravel(), minlength=256))
    return tuple(float(np.searchsorted(counts, share * counts[-1])) for share in shares)


def scaled(pixels: Pixels, factor: float) -> Pixels:
    """Larger by ``factor``, or smaller with all pixels counted."""
    way = cv2.INTER_AREA if factor < 1 else cv2.INTER_CUBIC
    size = (max(round(pixels.shape[1] * factor), 1), max(round(pixels.shape[0] * factor), 1))
    return np.asarray(cv2.resize(pixels, size, interpolation=way), np.uint8)


def warped(pixels: Pixels, matrix: Matrix, width: int, height: int) -> Pixels:
    """The picture seen through a homography; what lies outside takes the colour of the nearest edge."""
    way = cv2.INTER_CUBIC if matrix[0, 0] ** 2 + matrix[1, 0] ** 2 > 0.5 else cv2.INTER_AREA
    if np.allclose(matrix[2], (0, 0, 1)):  # the same in half the time
        seen = cv2.warpAffine(pixels, matrix[:2], (width, height), flags=way, borderMode=cv2.BORDER_REPLICATE)
    else:
        seen = cv2.warpPerspective(pixels, matrix, (width, height), flags=way, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(seen, np.uint8)
