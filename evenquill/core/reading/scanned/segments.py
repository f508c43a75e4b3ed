"""A straight, evenly lit page taken apart: rules, pictures, lines of text, and what is none of these."""

from __future__ import annotations

from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.cleaning.light import Light, darkened, evened, ink_level, light_of
from evenquill.core.reading.scanned.colour import coloured_ink
from evenquill.core.reading.scanned.dashed_rules import dashed_rules
from evenquill.core.reading.scanned.ink import Pieces, ink_of, pieces_of
from evenquill.core.reading.scanned.leaders import Leaders, leader_line, leaders_of
from evenquill.core.reading.scanned.raster import WHITE, Pixels, Raster
from evenquill.core.reading.scanned.rules import FRINGE, MEET, Rules, rules_of
from evenquill.core.reading.scanned.speckle import specks, stroke_width, without_specks
from evenquill.core.reading.scanned.text_line import TextLine
from evenquill.core.reading.scanned.textlines import mended_sizes, text_lines, x_height_of
from evenquill.core.reading.scanned.touching_letters import letters_apart
from evenquill.core.reading.scanned.touching_lines import lines_parted
from evenquill.core.reading.scanned.underlined import rules_below, standing_in_rules

LARGE = 9.0
"""X-heights: what is higher is no letter, not even a drop cap over three lines, and is looked at apart."""

WIDE = 13.0
"""X-heights: what is wider is no letter, even in a cursive hand."""

PALE = 0.68
"""Share of paper's lightness above which a piece whose darkest part is no darker shines through from the other side."""

DARK_INK = 110.0
"""Lightness of the page's ink up to which pale pieces are something else than print."""

MOST_PIECES = 60_000
"""Pieces of ink beyond which a page is noise; a newspaper page has half as many."""

MOST_BORDER = 0.35
"""Share of the page that a dark border may be."""

TAIL = 0.5
"""X-heights that the tails of letters reach below a rule that underlines them."""

WIDEST_STAMP = 210.0
"""Points: the frame of a stamp is no wider than a hand."""

SIDE = 18.0
"""Points: the least height of a frame with a word in it; no letter of a title that stamps are mistaken for is taller."""

SCRAP = 1.6
"""Points to either side of a rule within which a piece of ink is one of its rough edges."""


class Layer(NamedTuple):
    """Ink of one sort (black or coloured): its pieces, lines of text, and the large pieces in no line (indices)."""

    pieces: Pieces
    lines: list[TextLine]
    large: NDArray[np.int64]


class Segments(NamedTuple):
    """``even`` is the evenly lit picture, ``ink`` all its ink; boxes are in pixels.

    ``black`` and ``coloured`` are the layers of ink; ``specks`` counts what was taken for dirt.
    """

    raster: Raster
    even: Pixels
    ink: Pixels
    light: Light
    x_height: float
    stroke: float
    rules: Rules
    pictures: list[Box]
    black: Layer
    coloured: Layer | None
    lit: bool
    darkened: bool
    specks: int


def segment_page(raster: Raster, *, even_light: bool = True, despeckle: bool = True) -> Segments:
    """The parts of a page."""
    grey, dpi = raster.grey, raster.dpi
    light = light_of(grey, dpi)
    lit = evened(grey, light) if even_light else grey
    even = darkened(lit) if even_light else lit
    darker = even is not lit
    every = ink_of(even, dpi)
    pictures = [Box(*(value * dpi for value in box)) for box in light.pictures]
    _clear(every, pictures)
    _clear_edges(every, dpi)
    ink = letters_apart(every, even, dpi)
    colour = coloured_ink(raster.pixels, every, dpi)
    if colour is not None:
        _clear(colour, pictures)
        _clear_edges(colour, dpi)
    ground = ink.copy()
    if colour is not None:
        ground[cv2.dilate(colour, np.ones((3, 3), np.uint8)) > 0] = 0
    pieces = pieces_of(ground)
    x_height = x_height_of(pieces, dpi) or x_height_of(pieces_of(ink), dpi)
    rules = rules_of(ground, dpi, x_height)
    if rules.ink is not ground:
        pieces = pieces_of(rules.ink)
    parted = lines_parted(rules.ink, pieces, x_height)
    if parted is not None:
        rules, pieces = rules._replace(ink=parted), pieces_of(parted)
    leaders = leaders_of(pieces.boxes, rules.level, dpi / 72)
    rules = _without(rules, leaders)
    of_leaders = leaders.among(len(pieces.areas))
    level, upright, dashes = dashed_rules(pieces, dpi / 72, of_leaders)
    rules = rules._replace(level=[*rules.level, *level], upright=[*rules.upright, *upright])
    stroke = stroke_width(rules.ink, pieces, x_height) if x_height else 0.0
    pale = _pale(pieces, even) if ink_level(even) < DARK_INK else np.zeros(len(pieces.areas), np.bool_)
    pale |= _scraps(pieces, rules, dpi)
    dirt = specks(pieces, stroke) & ~of_leaders if despeckle and x_height else np.zeros(len(pieces.areas), np.bool_)
    black = _layer(pieces, x_height, pale | dirt | dashes, rules.upright, leaders, despeckle=despeckle)
    if rules.level:
        black = black._replace(lines=standing_in_rules(black.lines, ground, rules))
    if dirt.any():
        spots = cv2.dilate(np.concatenate([[False], dirt])[pieces.labels].astype(np.uint8), np.ones((3, 3), np.uint8))
        even = np.where(spots > 0, np.uint8(WHITE), even)
    coloured = None
    if colour is not None:
        drawn = _coloured_rules(colour, dpi, x_height)
        height = x_height or x_height_of(pieces_of(drawn.ink), dpi)
        own = pieces_of(_mended(drawn.ink, height))
        leaders = leaders_of(own.boxes, drawn.level, dpi / 72)
        drawn = _without(drawn, leaders)
        coloured = _layer(own, height, specks(own, stroke), [], leaders, despeckle=True)
        if drawn.level:
            coloured = coloured._replace(lines=standing_in_rules(coloured.lines, colour, drawn))
        rules = rules._replace(level=[*rules.level, *drawn.level], upright=[*rules.upright, *drawn.upright])
    return Segments(
        raster,
        even,
        ink,
        light,
        x_height,
        stroke,
        rules,
        pictures,
        black,
        coloured,
        even_light,
        darker,
        int(dirt.sum()),
    )


def _coloured_rules(colour: Pixels, dpi: float, x_height: float) -> Rules:
    """The rules in coloured ink, such as those below titles and in tables, and the ink without them. Frames of stamps stay in the ink."""
    unit = dpi / 72
    found = rules_of(colour, dpi, x_height)
    if not found.level and not found.upright:
        return found
    labels = np.asarray(cv2.connectedComponents(colour, connectivity=8)[1], np.int32)
    kept = [rule for rule in found.level if _is_curved(labels, rule, unit)]
    kept += [side for side in found.upright if _is_curved(labels.T, _turned(side), unit)]
    frames = [rule for rule in found.level if rule.width < WIDEST_STAMP * unit and _turns(colour, rule, unit)]
    reach = MEET * unit
    kept += frames + [
        side
        for side in found.upright
        if any(min(abs(side.center_x - rule.x0), abs(side.center_x - rule.x1)) < reach for rule in frames)
    ]
    ink = found.ink.copy()
    for box in kept:
        rows = slice(max(int(box.y0) - FRINGE, 0), int(box.y1) + FRINGE)
        columns = slice(max(int(box.x0) - FRINGE, 0), int(box.x1) + FRINGE)
        ink[rows, columns] = colour[rows, columns]
    return Rules(
        [one for one in found.level if one not in kept], [one for one in found.upright if one not in kept], ink
    )


def _turned(box: Box) -> Box:
    """The box with rows and columns in each other's place."""
    return Box(box.y0, box.x0, box.y1, box.x1)


def _is_curved(labels: NDArray[np.int32], rule: Box, unit: float) -> bool:
    """Whether the ink of a level rule (``labels`` has the number of each connected piece) goes on beyond both of its ends, as that of a
    ring does; what meets the ends of a rule does not reach beyond it."""
    part = labels[int(rule.y0) : int(rule.y1) + 1, int(rule.x0) : int(rule.x1) + 1]
    own = np.unique(part[part > 0])
    near, far = round(rule.height + FRINGE), round(rule.height + MEET * unit)
    rows = slice(max(int(rule.y0 - MEET * unit), 0), int(rule.y1 + MEET * unit) + 1)
    ends = (
        labels[rows, max(int(rule.x0) - far, 0) : max(int(rule.x0) - near, 0)],
        labels[rows, int(rule.x1) + near : int(rule.x1) + far],
    )
    return all(bool(np.isin(end, own).any()) for end in ends)


def _mended(colour: Pixels, x_height: float) -> Pixels:
    """The ink with small gaps closed in what is too large for a letter, such as the frames of stamps that print runs through; letters that
    nearly touch are left apart."""
    closed = pieces_of(np.asarray(cv2.morphologyEx(colour, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8)), np.uint8))
    large = np.concatenate([[False], closed.heights > LARGE * x_height])
    return np.asarray(np.where(large[closed.labels], 1, colour), np.uint8)


def _turns(ink: Pixels, rule: Box, unit: float) -> bool:
    """Whether the ink of a level rule goes on up or down at both of its ends, as the sides of a frame do. Letters that stand on a rule are
    not as tall."""
    side, reach = round(SIDE * unit), round(MEET * unit)
    for x in (int(rule.x0), int(rule.x1)):
        columns = slice(max(x - reach, 0), x + reach)
        above, below = (
            ink[max(int(rule.y0) - side, 0) : int(rule.y0), columns],
            ink[int(rule.y1) + 1 : int(rule.y1) + side, columns],
        )
        if not any(len(part) >= side - 2 and part.any(axis=1).all() for part in (above, below)):
            return False
    return True


def _layer(
    pieces: Pieces,
    x_height: float,
    left_out: NDArray[np.bool_],
    walls: list[Box],
    leaders: Leaders,
    *,
    despeckle: bool,
) -> Layer:
    if not x_height or not len(pieces.areas):
        return Layer(pieces, [], np.flatnonzero(pieces.heights > 20))
    large = (pieces.heights > LARGE * x_height) | (pieces.widths > WIDE * x_height)
    usable = ~large & ~left_out
    if usable.sum() > MOST_PIECES:
        return Layer(pieces, [], np.flatnonzero(large & ~left_out))
    lines = mended_sizes(text_lines(pieces, usable & ~leaders.among(len(usable)), x_height, walls), pieces)
    lines += [leader_line(pieces.boxes, row, lines) for row in leaders.rows]
    if despeckle:
        lines = without_specks(lines, pieces)
    return Layer(pieces, lines, np.flatnonzero(large & ~left_out))


def _without(rules: Rules, leaders: Leaders) -> Rules:
    """The rules but those that are dots of leaders."""
    return rules._replace(level=[rule for n, rule in enumerate(rules.level) if n not in leaders.rules])


def _clear(ink: Pixels, boxes: list[Box]) -> None:
    for box in boxes:
        ink[int(box.y0) : round(box.y1) + 1, int(box.x0) : round(box.x1) + 1] = 0


def _clear_edges(ink: Pixels, dpi: float) -> None:
    """Takes off, in place, dark borders of the scan: ink that hangs together with the picture's edge and is larger than print."""
    band = max(round(0.02 * dpi), 2)
    frame = np.zeros_like(ink)
    frame[:band], frame[-band:], frame[:, :band], frame[:, -band:] = 1, 1, 1, 1
    _, labels = cv2.connectedComponents(np.maximum(ink, frame), connectivity=8)
    border = labels == labels[0, 0]
    if border.mean() < MOST_BORDER:
        ink[border] = 0


def _pale(pieces: Pieces, even: Pixels) -> NDArray[np.bool_]:
    """Which pieces are pale all over."""
    darkest = np.full(len(pieces.areas) + 1, 255, np.uint8)
    inked = pieces.labels > 0
    np.minimum.at(darkest, pieces.labels[inked], even[inked])
    # A thin stroke blurred by the lens is pale as well, but small.
    return np.asarray((darkest[1:] > PALE * WHITE) & (pieces.areas > 6))


def _scraps(pieces: Pieces, rules: Rules, dpi: float) -> NDArray[np.bool_]:
    """Which pieces are what was left of a rule: thin, lying along it."""
    boxes = pieces.boxes
    scraps = np.zeros(len(boxes), np.bool_)
    slack = SCRAP / 72 * dpi
    for rule, low, high, near, far in (
        *((rule, boxes[:, 1], boxes[:, 3], boxes[:, 0], boxes[:, 2]) for rule in rules.level),
        *((Box(r.y0, r.x0, r.y1, r.x1), boxes[:, 0], boxes[:, 2], boxes[:, 1], boxes[:, 3]) for r in rules.upright),
    ):
        scraps |= (
            (low > rule.y0 - slack)
            & (high < rule.y1 + slack)
            & (near > rule.x0 - 4 * slack)
            & (far < rule.x1 + 4 * slack)
        )
    return scraps


def line_picture(
    segments: Segments, layer: Layer, line: TextLine, reach: int, *, ruled: bool = False
) -> tuple[Pixels, int, int]:
    """A line's own ink on paper, ``reach`` pixels larger than its box on each side; and its left and top pixel. ``ruled`` leaves the
    rules below its letters where they are."""
    height, width = segments.even.shape
    kept = rules_below(line, segments.rules.level) if ruled else []
    x0, y0 = max(line.x0 - reach, 0), max(line.y0 - reach, 0)
    lowest = max(line.y1, *(round(rule.y1 + TAIL * line.x_height) for rule in kept)) if kept else line.y1
    x1, y1 = min(line.x1 + reach, width), min(lowest + reach, height)
    own = layer.pieces.mask_of(line.pieces, x0, y0, x1, y1)
    ink = segments.ink[y0:y1, x0:x1]
    others = (ink > 0) & (own == 0)
    if kept:
        # With the tails of letters that the rule cut off.
        _, joined = cv2.connectedComponents(ink, connectivity=8)
        rows = [row - y0 for rule in kept for row in range(max(int(rule.y0), y0), min(int(rule.y1) + 1, y1))]
        others &= ~np.isin(joined, np.unique(joined[rows]))
    # The blurred edge of other ink goes with it, unless it is the edge of the line's own.
    around = cv2.dilate(others.astype(np.uint8), np.ones((5, 5), np.uint8))
    near_own = cv2.dilate(own, np.ones((3, 3), np.uint8))
    crop = segments.even[y0:y1, x0:x1].copy()
    crop[others | ((around > 0) & (near_own == 0))] = WHITE
    return crop, x0, y0
