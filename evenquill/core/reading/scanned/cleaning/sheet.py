"""The sheet in a photo, seen straight from above again.

Each side of a sheet is a straight line along which it is brighter within than without. Lines are looked for by adding up steps of
brightness along them (the Radon transform, over few slopes); of all ways to choose four of them, that wins whose sides lie best on such
steps. A homography then maps its corners to those of a rectangle (Hartley and Zisserman 2004).
"""

from __future__ import annotations

import itertools
import math
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.raster import Matrix, Pixels

WORK_SIDE = 700
"""Pixels of the longer side at which the sides of the sheet are measured; they are looked for at half of that."""

SMALLEST, LARGEST = 0.12, 0.985
"""Share of the picture that the sheet covers."""

NARROWEST = 0.2
"""Share of the picture's width, or height, that is between two sides at least."""

DARKER, CLEARLY_DARKER = 0.95, 0.8
"""Brightness at the edges of the picture over that of paper, below which there may be something else than the sheet; and below which
there is."""

STEP = 3
"""Pixels on either side of a line over which brightness is taken, in the picture that it is looked at in."""

THIN, SPREAD = 3, 15
"""Pixels that strokes are filled over, and over which brightness is the middle one, at WORK_SIDE."""

STEEPEST, SLOPES = 0.45, 61
"""Slopes of sides against the picture's own: at most, and how many are tried."""

FAINTEST, ENOUGH = 5.0, 14.0
"""Levels of grey that make a step, and from which one counts no more than others: print is much darker than any table."""

MOST_LINES, APART = 5, 0.03
"""Lines that are candidates for each side, and share of the picture by which they lie apart, at least."""

POINTS = 48
"""Places on each side that are looked at."""

SIDE_SHARE, WORST_SIDE = 0.8, 0.6
"""Share of all sides' length that must lie on such a step, and that of each; the rest may be in shadow."""

SEEN = 0.5
"""Share of a side that is in the picture, at least."""

LARGER = 0.3
"""What a sheet as large as the picture gains in that share over one of no size: of frames in each other it is the outermost."""

LEANS_BY = 0.005
"""Slope of a side from which a sheet does not lie straight in its picture."""

BEYOND = 0.01
"""Share of the picture's longer side by which corners are beyond it."""

RIGHT_ANGLE = 2.0
"""Degrees by which a right angle may be off."""

NEAR = 10
"""Pixels from its line within which a side is measured, at WORK_SIDE."""

FEWEST_POINTS = 20
"""Places of a side that its line is fitted to, at least."""

A4_RATIO, LETTER_RATIO = 210 / 297, 8.5 / 11
PAPER_SLACK = 0.12
"""Deviation (natural logarithm) of a sheet's ratio of sides from that of usual paper; corners are seldom found to the pixel."""

USUAL_FOCAL, LIKELY_FOCAL = 0.75, (0.5, 5.0)
"""Focal lengths over the longer side of the photo."""

LEANS = 1e-3
"""How far a sheet must lean in both directions for its corners to tell the focal length."""

UNLIKE_SIDES = 0.01
"""By how much (natural logarithm) opposite sides of a sheet differ that a camera saw; a scanner's do by a pixel or two of a thousand."""


class _Line(NamedTuple):
    """A line that is ``at`` at the middle of the picture's other direction, and leans by ``slope``."""

    at: float
    slope: float


def find_sheet(pixels: Pixels) -> NDArray[np.float64] | None:
    """Corners (4, 2) of the sheet from top left clockwise, in pixels; None where the picture is the page itself."""
    factor = WORK_SIDE / max(pixels.shape[:2])
    small = np.asarray(cv2.resize(pixels, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA), np.uint8)
    around = _brightness_around(small)
    if around >= DARKER:
        return None
    quad = _looked_for(small, small.shape[0] * small.shape[1])
    if quad is None and around < CLEARLY_DARKER:
        quad = _looked_for_turned(small)
    if quad is None or (around >= CLEARLY_DARKER and not _leans(quad)) or _is_cut_off(quad, small.shape):
        return None
    corners: NDArray[np.float64] = quad / factor
    return corners


def _brightness_around(pixels: Pixels) -> float:
    """How bright the edges of a picture are, over the brightness of paper in it. Tables are coloured or dark, paper is neither."""
    bright = cv2.GaussianBlur(pixels if pixels.ndim == 2 else pixels.min(axis=2), (0, 0), 2.0)
    band = max(min(bright.shape) // 100, 2)
    edges = np.concatenate(
        [bright[:band].ravel(), bright[-band:].ravel(), bright[:, :band].ravel(), bright[:, -band:].ravel()]
    )
    return float(np.median(edges)) / max(float(np.percentile(bright, 75)), 1.0)


def _looked_for(pixels: Pixels, photo: int) -> NDArray[np.float64] | None:
    """The corners (4, 2) of a sheet whose sides are more or less upright and level; ``photo`` is how many pixels the photo has."""
    half = np.asarray(cv2.resize(_without_print(pixels), None, fx=0.5, fy=0.5, interpolation=cv2.INTER_AREA), np.uint8)
    quad = _best_quad(*_steps(half), photo / 4)
    return None if quad is None else _refined(pixels, quad * (pixels.shape[1] / half.shape[1]))


def _looked_for_turned(pixels: Pixels) -> NDArray[np.float64] | None:
    """The corners of a sheet that lies across the picture, looked for with that turned by 45 degrees."""
    height, width = pixels.shape[:2]
    side = math.ceil(math.hypot(height, width))
    turn = cv2.getRotationMatrix2D((width / 2, height / 2), 45.0, 1.0)
    turn[:, 2] += (side - width) / 2, (side - height) / 2
    turned = np.asarray(cv2.warpAffine(pixels, turn, (side, side), borderMode=cv2.BORDER_REPLICATE), np.uint8)
    quad = _looked_for(turned, height * width)
    if quad is None:
        return None
    back = cv2.invertAffineTransform(turn)
    corners: NDArray[np.float64] = quad @ back[:, :2].T + back[:, 2]
    return np.roll(corners, -int(np.argmin(corners.sum(axis=1))), axis=0)


def _without_print(pixels: Pixels) -> Pixels:
    """A picture without what is thin and dark on it: what it shows is how bright things are that lie in it."""
    thick = cv2.dilate(pixels, np.ones((THIN, THIN), np.uint8))
    return np.asarray(cv2.medianBlur(thick, SPREAD), np.uint8)


def _steps(pixels: Pixels) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """By how many levels it is brighter to the right of each pixel than to its left, and below than above, in the channel where that
    is most."""
    channels = pixels.reshape(*pixels.shape[:2], -1).astype(np.float32)
    kernel = np.zeros((1, 2 * STEP + 1), np.float32)
    kernel[0, :STEP], kernel[0, STEP + 1 :] = -1 / STEP, 1 / STEP
    return _strongest(channels, kernel), _strongest(channels, kernel.T)


def _strongest(channels: NDArray[np.float32], kernel: NDArray[np.float32]) -> NDArray[np.float32]:
    found = np.stack([cv2.filter2D(channels[..., n], cv2.CV_32F, kernel) for n in range(channels.shape[2])], axis=2)
    most = np.abs(found).argmax(axis=2)[..., None]
    return np.asarray(np.take_along_axis(found, most, axis=2)[..., 0], np.float32)


def _best_quad(across: NDArray[np.float32], down: NDArray[np.float32], photo: float) -> NDArray[np.float64] | None:
    """The corners (4, 2) that the sides of a sheet make which lie best on steps; None where no four lines do. ``photo`` is the area of the
    photo."""
    height, width = across.shape
    left, right = _lines(across), _lines(-across)
    top, bottom = _lines(np.ascontiguousarray(down.T)), _lines(np.ascontiguousarray(-down.T))
    chosen = [
        (a, b, c, d)
        for a, b, c, d in itertools.product(left, top, right, bottom)
        if c.at - a.at > NARROWEST * width and d.at - b.at > NARROWEST * height
    ]
    if not chosen:
        return None
    lines = np.array(chosen)
    size = width, height
    quads = np.stack([_meet(lines[:, n], lines[:, m], size) for n, m in ((0, 1), (2, 1), (2, 3), (0, 3))], axis=1)
    areas = np.abs(_areas(quads)) / photo
    sides = np.stack(
        [
            _share_on_steps(steps, quads[:, n], quads[:, m])
            for steps, n, m in ((down, 0, 1), (-across, 1, 2), (-down, 3, 2), (across, 0, 3))
        ],
        axis=1,
    )
    score = sides.mean(axis=1) + LARGER * areas
    good = (areas > SMALLEST) & (areas < LARGEST) & (sides.mean(axis=1) > SIDE_SHARE) & (sides.min(axis=1) > WORST_SIDE)
    if not good.any():
        return None
    return np.asarray(quads[int(np.where(good, score, -1.0).argmax())], np.float64)


def _lines(steps: NDArray[np.float32]) -> list[_Line]:
    """The upright lines along which there are most steps up from left to right."""
    height, width = steps.shape
    clipped = np.clip(steps, -ENOUGH, ENOUGH)
    slopes = np.linspace(-STEEPEST, STEEPEST, SLOPES)
    sums = np.empty((SLOPES, width), np.float32)
    for n, slope in enumerate(slopes):
        shear = np.array([[1, -slope, slope * height / 2], [0, 1, 0]], np.float32)
        sums[n] = cv2.warpAffine(clipped, shear, (width, height), flags=cv2.INTER_NEAREST).mean(axis=0)
    found: list[_Line] = []
    apart = max(round(APART * width), 1)
    while len(found) < MOST_LINES and sums.max() > 0:
        n, at = divmod(int(sums.argmax()), width)
        found.append(_Line(float(at), float(slopes[n])))
        sums[:, max(at - apart, 0) : at + apart + 1] = 0
    return found


def _meet(upright: NDArray[np.float64], level: NDArray[np.float64], size: tuple[int, int]) -> NDArray[np.float64]:
    """Where upright lines (n, 2) meet level ones: (n, 2)."""
    middle_x, middle_y = size[0] / 2, size[1] / 2
    at, slope = upright[:, 0], upright[:, 1]
    y = (level[:, 0] + level[:, 1] * (at - slope * middle_y - middle_x)) / (1 - slope * level[:, 1])
    return np.stack([at + slope * (y - middle_y), y], axis=1)


def _areas(quads: NDArray[np.float64]) -> NDArray[np.float64]:
    x, y = quads[..., 0], quads[..., 1]
    areas: NDArray[np.float64] = 0.5 * (x * np.roll(y, -1, axis=1) - y * np.roll(x, -1, axis=1)).sum(axis=1)
    return areas


def _share_on_steps(
    steps: NDArray[np.float32], start: NDArray[np.float64], end: NDArray[np.float64]
) -> NDArray[np.float64]:
    """Of sides from ``start`` to ``end`` (n, 2) the share that lies within the picture on steps up."""
    height, width = steps.shape
    along = np.linspace(0.04, 0.96, POINTS)
    x = (start[:, :1] + (end - start)[:, :1] * along).round().astype(int)
    y = (start[:, 1:] + (end - start)[:, 1:] * along).round().astype(int)
    inside = (x > 0) & (y > 0) & (x < width - 1) & (y < height - 1)
    on = steps[np.clip(y, 0, height - 1), np.clip(x, 0, width - 1)] > FAINTEST
    seen = inside.mean(axis=1)
    share: NDArray[np.float64] = (inside & on).mean(axis=1) / np.maximum(seen, 0.01)
    return np.where(seen >= SEEN, share, 0.0)


def _leans(quad: NDArray[np.float64]) -> bool:
    """Whether a side of a sheet is neither upright nor level: a box that is printed on a page lies straight in it."""
    sides = np.abs(np.roll(quad, -1, axis=0) - quad)
    return float((sides.min(axis=1) / np.maximum(sides.max(axis=1), 1.0)).max()) > LEANS_BY


def _is_cut_off(quad: NDArray[np.float64], shape: tuple[int, ...]) -> bool:
    """Whether several corners of a sheet are beyond the picture and all are right angles, as those of one are that lay askew on a
    scanner's glass: turning it is enough, and what there is of its sides tells too little."""
    slack = BEYOND * max(shape[:2])
    beyond = (quad < -slack) | (quad > np.array([shape[1], shape[0]]) + slack)
    sides = np.roll(quad, -1, axis=0) - quad
    angles = np.degrees(np.arctan2(sides[:, 1], sides[:, 0]))
    off = (np.roll(angles, -1) - angles) % 360 - 90
    return int(beyond.any(axis=1).sum()) > 1 and float(np.abs(off).max()) < RIGHT_ANGLE


def _refined(pixels: Pixels, quad: NDArray[np.float64]) -> NDArray[np.float64]:
    """The corners again, where straight lines fitted to what is seen along the four sides meet."""
    across, down = _steps(pixels)
    lines = []
    for n, (steps, sign) in enumerate(((down, 1), (across, -1), (down, -1), (across, 1))):
        found = _fitted(sign * steps, quad[n], quad[(n + 1) % 4], level=steps is down)
        if found is None:
            return quad
        lines.append(found)
    corners = []
    for n in range(4):
        (a1, b1, c1), (a2, b2, c2) = lines[n - 1], lines[n]
        det = a1 * b2 - a2 * b1
        if abs(det) < 1e-6:
            return quad
        corners.append([(c1 * b2 - c2 * b1) / det, (a1 * c2 - a2 * c1) / det])
    return np.array(corners)


def _fitted(
    steps: NDArray[np.float32], start: NDArray[np.float64], end: NDArray[np.float64], *, level: bool
) -> tuple[float, float, float] | None:
    """The line a x + b y = c through the strongest steps near a side; None where there are too few."""
    height, width = steps.shape
    points = []
    for along in np.linspace(0.05, 0.95, POINTS):
        x, y = (start + (end - start) * along).round().astype(int)
        if not (NEAR < x < width - NEAR and NEAR < y < height - NEAR):
            continue
        profile = steps[y - NEAR : y + NEAR + 1, x] if level else steps[y, x - NEAR : x + NEAR + 1]
        if profile.max() > FAINTEST:
            away = int(profile.argmax()) - NEAR
            points.append((x, y + away) if level else (x + away, y))
    if len(points) < FEWEST_POINTS:
        return None
    vx, vy, x0, y0 = (float(v[0]) for v in cv2.fitLine(np.array(points, np.float32), cv2.DIST_HUBER, 0, 0.01, 0.01))
    return vy, -vx, vy * x0 - vx * y0


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
