"""The sheet in a photo: the bright four-cornered thing in front of what is darker, seen straight from above again.

Candidates are the outlines of what is brighter than each of several thresholds; the one whose sides lie best on real edges
wins. A homography then maps its corners to those of a rectangle (Hartley and Zisserman 2004).
"""

from __future__ import annotations

import math
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.raster import Matrix, Pixels, grey_of

WORK_SIDE = 700
"""Pixels of the longer side at which the sheet is looked for."""

SMALLEST, LARGEST = 0.25, 0.985
"""Share of the picture that the sheet covers."""

FILLED = 0.93
"""Share of the quadrilateral that the outline must fill."""

CONTRAST = 18.0
"""Levels of grey by which the sheet's inside is brighter than its outside along the sides."""

A4_RATIO, LETTER_RATIO = 210 / 297, 8.5 / 11
PAPER_SLACK = 0.12
"""Deviation (natural logarithm) of a sheet's ratio of sides from that of usual paper; corners are seldom found to the pixel."""

USUAL_FOCAL, LIKELY_FOCAL = 0.75, (0.5, 5.0)
"""Focal lengths over the longer side of the photo."""

LEANS = 1e-3
"""How far a sheet must lean in both directions for its corners to tell the focal length."""

UNLIKE_SIDES = 0.01
"""By how much (natural logarithm) opposite sides of a sheet differ that a camera saw; a scanner's do by a pixel or two of a thousand."""

SIDE_SHARE = 0.6
"""Share of the sides' length that must lie on such an edge; the rest may be in shadow or beyond the picture."""


def find_sheet(pixels: Pixels) -> NDArray[np.float64] | None:
    """Corners (4, 2) of the sheet from top left clockwise, in pixels; None where the picture is the page itself."""
    factor = WORK_SIDE / max(pixels.shape[:2])
    small = cv2.resize(pixels, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    bright = cv2.GaussianBlur(grey_of(np.asarray(small, np.uint8)), (0, 0), 2.0)
    # Tables are coloured or dark, paper is neither.
    if small.ndim == 3:
        bright = np.minimum(bright, cv2.GaussianBlur(small.min(axis=2), (0, 0), 2.0))
    if not _darker_around(bright):
        return None
    otsu, _ = cv2.threshold(bright, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    best: tuple[float, NDArray[np.float64]] | None = None
    for share in (0.55, 0.7, 0.85, 1.0, 1.12):
        quad = _outline(np.asarray(bright > share * otsu, np.uint8))
        if quad is None:
            continue
        score = _on_edges(bright, quad)
        if score > SIDE_SHARE and (best is None or score > best[0] + 0.02):
            best = (score, quad)
    return best[1] / factor if best else None


def _darker_around(bright: Pixels) -> bool:
    """Whether there is something darker than the sheet along the edges of the picture: else it is all sheet."""
    band = max(min(bright.shape) // 100, 2)
    edges = np.concatenate(
        [bright[:band].ravel(), bright[-band:].ravel(), bright[:, :band].ravel(), bright[:, -band:].ravel()]
    )
    return float(np.median(edges)) < 0.8 * float(np.percentile(bright, 75))


def _outline(mask: Pixels) -> NDArray[np.float64] | None:
    height, width = mask.shape
    mask = np.asarray(cv2.morphologyEx(mask, cv2.MORPH_CLOSE, np.ones((15, 15), np.uint8)), np.uint8)
    mask = np.asarray(cv2.morphologyEx(mask, cv2.MORPH_OPEN, np.ones((9, 9), np.uint8)), np.uint8)
    contours, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not contours:
        return None
    largest = max(contours, key=cv2.contourArea)
    hull = cv2.convexHull(largest)
    area = cv2.contourArea(hull)
    if not SMALLEST < area / (width * height) < LARGEST:
        return None
    quad = _four_sided(hull)
    if quad is None or cv2.contourArea(largest) < FILLED * cv2.contourArea(quad.astype(np.float32)):
        return None
    return _straightened(largest[:, 0, :].astype(np.float64), _in_order(quad))


def _four_sided(hull: NDArray[Any]) -> NDArray[np.float64] | None:
    length = cv2.arcLength(hull, True)
    for share in np.arange(0.01, 0.09, 0.005):
        corners = cv2.approxPolyDP(hull, share * length, True)
        if len(corners) == 4:
            return corners[:, 0, :].astype(np.float64)
        if len(corners) < 4:
            return None
    return None


def _in_order(quad: NDArray[np.float64]) -> NDArray[np.float64]:
    """Top left, top right, bottom right, bottom left."""
    center = quad.mean(axis=0)
    angle = np.arctan2(quad[:, 1] - center[1], quad[:, 0] - center[0])
    quad = quad[np.argsort(angle)]
    return np.roll(quad, -int(np.argmin(quad.sum(axis=1))), axis=0)


def _straightened(outline: NDArray[np.float64], quad: NDArray[np.float64]) -> NDArray[np.float64]:
    """The corners again, where straight lines fitted to the four sides of the outline meet."""
    lines = []
    for i in range(4):
        a, b = quad[i], quad[(i + 1) % 4]
        along = (b - a) / max(float(np.hypot(*(b - a))), 1.0)
        offset = (outline - a) @ np.array([-along[1], along[0]])
        place = (outline - a) @ along / max(float(np.hypot(*(b - a))), 1.0)
        near = outline[(np.abs(offset) < 6) & (place > 0.06) & (place < 0.94)]
        if len(near) < 20:
            return quad
        vx, vy, x, y = (float(v[0]) for v in cv2.fitLine(near.astype(np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01))
        lines.append((vy, -vx, vy * x - vx * y))
    corners = []
    for i in range(4):
        (a1, b1, c1), (a2, b2, c2) = lines[i - 1], lines[i]
        det = a1 * b2 - a2 * b1
        if abs(det) < 1e-6:
            return quad
        corners.append([(c1 * b2 - c2 * b1) / det, (a1 * c2 - a2 * c1) / det])
    return np.array(corners)


def _on_edges(bright: Pixels, quad: NDArray[np.float64]) -> float:
    """Share of the sides along which it is clearly brighter within than without."""
    height, width = bright.shape
    center = quad.mean(axis=0)
    good = total = 0
    for i in range(4):
        a, b = quad[i], quad[(i + 1) % 4]
        along = (b - a) / max(float(np.hypot(*(b - a))), 1.0)
        normal = np.array([-along[1], along[0]])
        if (center - a) @ normal < 0:
            normal = -normal
        for share in np.linspace(0.05, 0.95, 40):
            point = a + (b - a) * share
            inside, outside = point + 7 * normal, point - 7 * normal
            total += 1
            if not (0 <= outside[0] < width and 0 <= outside[1] < height):
                continue
            x, y = np.clip(inside.round().astype(int), 0, [width - 1, height - 1])
            u, v = outside.astype(int)
            good += float(bright[y, x]) - float(bright[v, u]) > CONTRAST
    return good / total


def flattening(quad: NDArray[np.float64], photo: tuple[int, int]) -> tuple[Matrix, int, int]:
    """Homography from the photo (width, height) to the sheet seen straight, and the sheet's width and height in pixels."""
    top, right, bottom, left = (float(np.hypot(*(quad[(i + 1) % 4] - quad[i]))) for i in range(4))
    width, height = round(max(top, bottom)), round(max(left, right))
    ratio = like_paper(true_ratio(quad, photo))
    # The side that was seen foreshortened is made longer, so that nothing is lost.
    width, height = (width, round(width / ratio)) if width / height > ratio else (round(height * ratio), height)
    target = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    return cv2.getPerspectiveTransform(quad.astype(np.float32), target).astype(np.float64), width, height


def seen_from_one_side(quad: NDArray[np.float64]) -> bool:
    """Whether a sheet was seen from one side: by a camera, whose pictures do not tell how large a thing is."""
    sides = [float(np.hypot(*(quad[(i + 1) % 4] - quad[i]))) for i in range(4)]
    return max(abs(math.log(sides[0] / sides[2])), abs(math.log(sides[1] / sides[3]))) > UNLIKE_SIDES


def true_ratio(quad: NDArray[np.float64], photo: tuple[int, int]) -> float:
    """Width over height of the sheet that a camera saw as ``quad`` (Zhang and He 2007, section 3.2).

    The lens is taken to be in the middle of the photo. Its focal length follows from the corners where the sheet leans in two
    directions; else, or where no camera would see that, it is that of most telephones.
    """
    middle = np.array([photo[0] / 2, photo[1] / 2])
    top_left, top_right, bottom_right, bottom_left = (np.append((corner - middle) / max(photo), 1.0) for corner in quad)
    k2 = np.dot(np.cross(top_left, bottom_right), bottom_left) / np.dot(np.cross(top_right, bottom_right), bottom_left)
    k3 = np.dot(np.cross(top_left, bottom_right), top_right) / np.dot(np.cross(bottom_left, bottom_right), top_right)
    n2, n3 = k2 * top_right - top_left, k3 * bottom_left - top_left
    focal = USUAL_FOCAL**2
    if abs(n2[2] * n3[2]) > LEANS:
        found = -(n2[0] * n3[0] + n2[1] * n3[1]) / (n2[2] * n3[2])
        focal = found if LIKELY_FOCAL[0] ** 2 < found < LIKELY_FOCAL[1] ** 2 else focal
    across = (n2[0] ** 2 + n2[1] ** 2) / focal + n2[2] ** 2
    down = (n3[0] ** 2 + n3[1] ** 2) / focal + n3[2] ** 2
    return float(np.sqrt(across / down))


def like_paper(ratio: float) -> float:
    """The ratio of sides of the usual paper that a sheet is nearest to; its own where it is like none."""
    usual = [shape for paper in (A4_RATIO, LETTER_RATIO) for shape in (paper, 1 / paper)]
    near = min(usual, key=lambda shape: abs(math.log(ratio / shape)))
    return near if abs(math.log(ratio / near)) < PAPER_SLACK else ratio
