"""The page made upright and straight: the sheet found in a photo, quarter turns, skew."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.scanned.cleaning.light import evened, light_of
from evenquill.core.reading.scanned.cleaning.sheet import find_sheet, flattening, seen_from_one_side
from evenquill.core.reading.scanned.cleaning.skew import Skew, skew_of
from evenquill.core.reading.scanned.ink import Pieces, ink_of, pieces_of
from evenquill.core.reading.scanned.raster import Matrix, Pixels, Raster, grey_of, scaled, warped
from evenquill.core.reading.scanned.text_line import line_of
from evenquill.core.reading.scanned.textlines import chained, commonest_height, x_height_in_lines

ENOUGH_X_HEIGHT, WORTH_SHRINKING, SMALLEST_DPI = 16.0, 0.92, 240.0
"""Pixels of x-height that are enough for reading and measuring, the factor from which making the page smaller saves time, and the
resolution below which no page is brought: coarser scans have nothing to spare."""

LOOK_DPI = 150.0
"""Resolution at which direction and skew are looked for."""

CLEARER = 1.3
"""How much sharper lines across must be than lines along before a page is turned by a quarter."""

LONG_LINE, FEWEST_LINES, ENOUGH_LINES = 20, 3, 24
"""Letters of a line whose slope counts, lines that must agree, and longest lines that are looked at."""

CLEAR = 2.0
"""How much sharper than an even one the profile of a page with lines is at least; the barest letters have 4."""

FELT = 0.03
"""Degrees of skew below which turning costs more sharpness than it brings."""

SHEET_EDGE = 0.012
"""Share of a sheet's shorter side along its edges that nobody prints on: a quarter of a centimetre."""

A4_INCHES, LETTER_INCHES = (8.27, 11.69), (8.5, 11.0)
USUAL_INCHES = (
    A4_INCHES, LETTER_INCHES, (11.69, 16.54), (5.83, 8.27), (4.13, 5.83), (9.84, 13.90), (6.93, 9.84), (8.5, 14.0), (5.5, 8.5),
)  # fmt: skip
"""Paper as it is sold: A4, letter, A3, A5, A6, B4, B5, legal, half a letter (ISO 216, ANSI/ASME Y14.1)."""
LIKE_PAPER = 0.035
"""Deviation of the ratio of sides up to which a sheet is taken for one of a usual size."""


class Straight(NamedTuple):
    """A straight page, no larger than reading needs. ``matrix`` takes its pixels to those of the picture as it came."""

    raster: Raster
    matrix: Matrix
    turn: int = 0
    skew: float = 0.0
    sheet: bool = False


def straightened(raster: Raster, preparation: Preparation, *, guessed_size: bool) -> Straight:
    """``raster`` without perspective, turn and skew; ``guessed_size`` says that its resolution is no more than a guess."""
    pixels, dpi = raster.pixels, raster.dpi
    forth: Matrix = np.eye(3)
    width, height = raster.width, raster.height
    quad = find_sheet(pixels) if preparation.flatten else None
    if quad is not None:
        forth, width, height = flattening(quad, (width, height))
        # The file of a photo tells how large the photo is, not the sheet in it; a scanner's sheet is as large as its picture says.
        if guessed_size or seen_from_one_side(quad) or is_resized_paper(width, height, dpi):
            dpi = paper_dpi(width, height)
    factor = min(LOOK_DPI / dpi, 1.0)
    if quad is None:
        small = scaled(pixels, factor)
    else:
        small = warped(pixels, _scaling(factor) @ forth, round(width * factor), round(height * factor))
    turn, skew, letters, x_height = _direction(grey_of(small), dpi * factor, preparation)
    if turn:
        quarter = _quarter(turn, width, height)
        forth = quarter @ forth
        if turn % 2:
            width, height = height, width
    angle = 0.0
    if preparation.straighten and skew:
        angle = skew + _rest(_rotated(letters, skew))
        angle = angle if abs(angle) >= FELT else 0.0
    if angle:
        rotation = np.vstack([cv2.getRotationMatrix2D((width / 2, height / 2), angle, 1), [0, 0, 1]])
        shift, width, height = _room(rotation, _middles(letters) / factor, width, height)
        forth = shift @ rotation @ forth
    x_height = x_height_in_lines(_rotated(letters, angle), x_height) if x_height else 0.0
    shrink = max(ENOUGH_X_HEIGHT * factor / x_height, SMALLEST_DPI / dpi) if x_height else 1.0
    if shrink < WORTH_SHRINKING:
        forth = _scaling(shrink) @ forth
        width, height, dpi = round(width * shrink), round(height * shrink), dpi * shrink
    if np.allclose(forth, np.eye(3)):
        return Straight(Raster(pixels, dpi), np.eye(3))
    if turn and not angle and quad is None and shrink >= WORTH_SHRINKING:
        straight = np.ascontiguousarray(np.rot90(pixels, -turn))
    else:
        straight = warped(pixels, forth, width, height)
    if quad is not None:
        straight = _without_edges(straight)
    return Straight(
        Raster(straight, dpi), np.asarray(np.linalg.inv(forth), np.float64), turn % 4, angle, quad is not None
    )


def _without_edges(pixels: Pixels) -> Pixels:
    """A sheet with what is along its edges painted over by what is beside it: where it does not lie flat, the table shows there."""
    band = round(SHEET_EDGE * min(pixels.shape[:2]))
    inner = pixels[band:-band, band:-band]
    return np.asarray(cv2.copyMakeBorder(inner, band, band, band, band, cv2.BORDER_REPLICATE), np.uint8)


def _rest(letters: NDArray[np.float64]) -> float:
    """Skew that is left when a page's letters (boxes (n, 4)) are turned back: the slope of the middle one of their lines, the long
    ones counting most.

    A profile of the whole page is misled by columns whose lines do not stand on the same heights; single lines are not.
    """
    groups = chained(letters, np.arange(len(letters)))
    long = sorted((group for group in groups if len(group) >= LONG_LINE), key=len)[-ENOUGH_LINES:]
    lines = [line_of(letters, group) for group in long]
    if len(lines) < FEWEST_LINES:
        return 0.0
    lines.sort(key=lambda line: line.b)
    weight = np.cumsum([(line.x1 - line.x0) ** 2.0 for line in lines])
    middle = lines[int(np.searchsorted(weight, weight[-1] / 2))]
    return float(np.degrees(np.arctan(middle.b)))


def _rotated(boxes: NDArray[np.float64], angle: float) -> NDArray[np.float64]:
    """Boxes (n, 4) of letters carried round by an angle in degrees; each stays as wide and high as it is."""
    rotation = cv2.getRotationMatrix2D((0, 0), angle, 1)
    moved = _middles(boxes) @ rotation[:, :2].T
    halves = (boxes[:, 2:] - boxes[:, :2]) / 2
    return np.hstack([moved - halves, moved + halves])


def _middles(boxes: NDArray[np.float64]) -> NDArray[np.float64]:
    """Middles (n, 2) of boxes (n, 4)."""
    middles: NDArray[np.float64] = (boxes[:, :2] + boxes[:, 2:]) / 2
    return middles


def paper_dpi(width: float, height: float) -> float:
    """Resolution of a picture of a whole sheet: of A4, or of letter paper where its sides say so."""
    short, long = min(width, height), max(width, height)
    sizes = (A4_INCHES, LETTER_INCHES)
    near = min(sizes, key=lambda size: abs(long / short - size[1] / size[0]))
    if abs(long / short - near[1] / near[0]) > LIKE_PAPER:
        # A slip, a strip, a card: as wide as the page that it lay on would be, or as high.
        return max(short / A4_INCHES[0], long / A4_INCHES[1])
    return (short / near[0] + long / near[1]) / 2


def is_resized_paper(width: float, height: float, dpi: float) -> bool:
    """Whether a sheet of so many pixels has the sides of usual paper (by their ratio), but not the size of any."""
    short, long = sorted((width / dpi, height / dpi))
    return any(abs(long / short - size[1] / size[0]) < LIKE_PAPER for size in USUAL_INCHES) and not any(
        abs(short / size[0] - 1) < LIKE_PAPER and abs(long / size[1] - 1) < LIKE_PAPER for size in USUAL_INCHES
    )


def upside_down(straight: Straight) -> Straight:
    """The page turned by two quarters."""
    raster = straight.raster
    turned = np.ascontiguousarray(np.rot90(raster.pixels, 2))
    matrix = straight.matrix @ np.linalg.inv(_quarter(2, raster.width, raster.height))
    return straight._replace(raster=Raster(turned, raster.dpi), matrix=matrix, turn=(straight.turn + 2) % 4)


def _scaling(factor: float) -> Matrix:
    return np.diag([factor, factor, 1.0])


def _quarter(turn: int, width: float, height: float) -> Matrix:
    """Turns a picture by quarters, clockwise."""
    if turn % 4 == 1:
        return np.array([[0.0, -1.0, height], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
    if turn % 4 == 2:
        return np.array([[-1.0, 0.0, width], [0.0, -1.0, height], [0.0, 0.0, 1.0]])
    if turn % 4 == 3:
        return np.array([[0.0, 1.0, 0.0], [-1.0, 0.0, width], [0.0, 0.0, 1.0]])
    return np.eye(3)


def _direction(grey: Pixels, dpi: float, preparation: Preparation) -> tuple[int, float, NDArray[np.float64], float]:
    """Quarter turns clockwise that make lines level, skew after that, the letters' boxes (n, 4) after the turns, and their x-height."""
    even = evened(grey, light_of(grey, dpi))
    pieces = pieces_of(ink_of(even, dpi))
    size, _ = commonest_height(pieces, dpi)
    if not size:
        turn = (preparation.turn or 0) // 90 % 4
        return turn, 0.0, np.zeros((0, 4)), size
    letters = pieces.boxes[_are_letters(pieces, size)].astype(np.float64)
    height, width = grey.shape
    if preparation.turn is not None:
        turn = preparation.turn // 90 % 4
        letters = _turned(letters, turn, width, height)
        return turn, _angle_of(skew_of(_middles(letters), size)), letters, size
    lying = _turned(letters, 1, width, height)
    across, along = skew_of(_middles(letters), size), skew_of(_middles(lying), size)
    if _is_clearer(along, across):
        return 1, _angle_of(along), lying, size
    return 0, _angle_of(across), letters, size


def _angle_of(skew: Skew) -> float:
    """The skew, or none where there are no lines that tell it."""
    return skew.angle if skew.clear > CLEAR else 0.0


def _is_clearer(a: Skew, b: Skew) -> bool:
    return a.clear > CLEARER * b.clear


def _are_letters(pieces: Pieces, size: float) -> NDArray[np.bool_]:
    """Which pieces have the size of letters."""
    heights, widths = pieces.heights, pieces.widths
    return np.asarray(
        (np.maximum(heights, widths) > 0.55 * size) & (heights < 2.6 * size) & (widths < 2.6 * size)
        & (np.minimum(heights, widths) > 0.1 * size)
    )  # fmt: skip


def _turned(boxes: NDArray[np.float64], turn: int, width: float, height: float) -> NDArray[np.float64]:
    """Boxes (n, 4) as they lie when the page is turned by quarters, clockwise."""
    matrix = _quarter(turn, width, height)
    ends = np.stack([boxes[:, :2] @ matrix[:2, :2].T, boxes[:, 2:] @ matrix[:2, :2].T]) + matrix[:2, 2]
    return np.hstack([ends.min(axis=0), ends.max(axis=0)])


def _room(rotation: Matrix, letters: NDArray[np.float64], width: int, height: int) -> tuple[Matrix, int, int]:
    """A shift and size that keep all letters on the page; the page's own where they do."""
    if not len(letters):
        return np.eye(3), width, height
    placed = letters @ rotation[:2, :2].T + rotation[:2, 2]
    margin = 0.01 * width
    low, high = placed.min(axis=0) - margin, placed.max(axis=0) + margin
    left, top = max(-float(low[0]), 0.0), max(-float(low[1]), 0.0)
    right, bottom = max(float(high[0]) - width, 0.0), max(float(high[1]) - height, 0.0)
    shift = np.array([[1.0, 0.0, left], [0.0, 1.0, top], [0.0, 0.0, 1.0]])
    return shift, round(width + left + right), round(height + top + bottom)


def resized(raster: Raster, lowest: float, highest: float) -> tuple[Raster, Matrix]:
    """The picture at a resolution between two bounds, and the matrix from its pixels to those as they came."""
    wanted = min(max(raster.dpi, lowest), highest)
    if abs(wanted - raster.dpi) < 0.1 * wanted:
        return raster, np.eye(3)
    return raster.at(wanted), _scaling(raster.dpi / wanted)
