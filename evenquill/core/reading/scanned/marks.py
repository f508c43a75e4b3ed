"""What is on the page besides print: stamps, watermarks, handwriting, signatures, drawings.

Told by colour, by size, by how pale it is, and by whether the recogniser makes sense of it. What these are made of is taken
out of the text and kept as pictures with nothing but their own ink.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import cv2
import numpy as np
from numpy.typing import NDArray

from evenquill.core.evidence import PictureKind
from evenquill.core.model import Box, union
from evenquill.core.reading.scanned.raster import WHITE, Pixels
from evenquill.core.reading.scanned.segments import Layer, Segments
from evenquill.core.reading.scanned.words import ReadLine, mean_confidence

SURE_PRINT, SURE_OF_TWO = 0.87, 0.93
"""Confidence from which coloured lines are print; and where one of them was read twice, since the surer of two readings of a hand is surer
than one."""

SURE_WORD, MOSTLY_SURE = 0.9, 0.75
"""Confidence of a word that was read surely; and share of the letters in such words from which coloured lines are print, though a word
or two came out wrong. Of hands, half of the letters are."""

TILTED = 0.025
"""Slope of a line on a straightened page from which it was not printed with the rest."""

LONG_LINE, FEWEST_LEVEL, LEVEL = 10, 4, 0.004
"""Letters of a line whose slope tells, such lines that tell print from a hand, and the slope below which they are level."""

ONE_BASELINE = 0.4
"""X-heights between the baselines of a line of print and of the few letters that go on in it in another ink."""

NO_PRINT = 0.6
"""Confidence below which a line of black ink may be something else than print."""

NEAR = 1.8
"""X-heights between parts of one mark."""

RING_FILL = 0.5
"""Share of its box that the ink of a stamp covers at most."""

DIRECTIONS = 72
RIM = 0.82
"""Share of the way from a mark's middle to its edge (of an ellipse in its box) beyond which the frame of a stamp lies."""

AROUND = 0.8
"""Share of directions in which a frame must be seen; the rest may be worn."""

SMALLEST_STAMP = 28.0
"""Points: the smaller side of a stamp with a frame."""

SMALLEST = 9.0
"""Points: a mark is larger than this in one direction."""

PALE_LOW, PALE_HIGH = 0.66, 0.945
"""Lightness of a watermark, as shares of paper's."""

FEWEST_LETTERS, MOST_LETTERS = 3, 60
"""Letters of a watermark."""

PALE_SIDE = 20.0
"""Points: the height of letters of a watermark, at least."""

PALE_STROKE = 2.2
"""Points: the width of its strokes, at least; the blurred edges of print are narrower."""

SMALLEST_DRAWING = 70.0
"""Points: what is larger in both directions was not written by a hand in one go."""

TALL, OFF = 0.6, 0.13
"""X-heights: from which a piece is a letter; and by which its foot may be off the baseline, and its top off the height of small letters or
of capitals, if it is print."""

FEET, TOPS = 0.8, 0.6
"""Shares of the letters that stand so in print; of what is stamped or written by hand, three quarters stand on the line at most."""

ASKEW = 0.035
"""Slope of a line on a straight page from which it is no print, however its letters stand; that of a few letters is measured less well."""

FEW, MANY = 3, 6
"""Letters from which black and coloured lines tell whether they stand like print: a pen is seldom black."""

SURE_OF_LETTERS = 0.6
"""Confidence of coloured lines that stand like print from which they are."""

CAPITALS = 0.6
"""Share of capitals among the letters of a stamp."""


class Mark(NamedTuple):
    """``box`` in pixels, ``ink`` its own pixels (the shape of the box), ``lines`` what was read in it."""

    kind: PictureKind
    box: Box
    ink: Pixels
    lines: tuple[ReadLine, ...]

    @property
    def words(self) -> str:
        return "\n".join(line.text for line in self.lines if line.text)

    @property
    def confidence(self) -> float:
        return mean_confidence(self.lines)


class Marks(NamedTuple):
    """The marks of a page, and the lines of print that are left of each layer."""

    marks: list[Mark]
    black: list[ReadLine]
    coloured: list[ReadLine]


class _Part(NamedTuple):
    box: Box
    pieces: NDArray[np.int64]
    line: ReadLine | None


def marks_of(segments: Segments, black: list[ReadLine], coloured: list[ReadLine]) -> Marks:
    """Tells marks from print."""
    marks: list[Mark] = []
    coloured_print: list[ReadLine] = []
    unit = segments.raster.dpi / 72
    if segments.coloured is not None:
        for group in _groups(_parts(segments.coloured, coloured), NEAR * segments.x_height):
            lines = [part.line for part in group if part.line is not None]
            if _are_level(lines):
                coloured_print += lines
                group, lines = [part for part in group if part.line is None], []
            mark = _coloured_mark(segments, group) if group else None
            if mark is None:
                coloured_print += lines
            elif max(mark.box.width, mark.box.height) > SMALLEST * unit:
                marks.append(mark)
    strange = [line for line in black if _is_strange(line, segments) and not _goes_on_in(line, coloured_print)]
    parts = _parts(segments.black, strange)
    taken: set[int] = set()
    for group in _groups(parts, NEAR * segments.x_height):
        print_lines = [line for line in black if id(line) not in {id(one) for one in strange}]
        mark, lines = _black_mark(segments, group, print_lines)
        if mark is not None:
            marks.append(mark)
        taken |= {id(line) for line in lines}
    marks += _watermarks(segments)
    left = [line for line in black if id(line) not in taken and line.words]
    return Marks(marks, left, [line for line in coloured_print if line.words])


def _pieces(group: Sequence[_Part]) -> NDArray[np.int64]:
    return np.concatenate([part.pieces for part in group])


def _parts(layer: Layer, lines: Sequence[ReadLine]) -> list[_Part]:
    parts = [
        _Part(Box(line.line.x0, line.line.y0, line.line.x1, line.line.y1), line.line.pieces, line) for line in lines
    ]
    for piece in layer.large:
        parts.append(_Part(layer.pieces.box(piece), np.array([piece], np.int64), None))
    return parts


def _groups(parts: list[_Part], reach: float) -> list[list[_Part]]:
    """Parts that touch or nearly do."""
    groups: list[tuple[Box, list[_Part]]] = []
    for part in parts:
        box, members = part.box, [part]
        rest = []
        for other, others in groups:
            if other.overlap_x(box) > -reach and other.overlap_y(box) > -reach:
                box, members = union((box, other)), members + others
            else:
                rest.append((other, others))
        groups = [*rest, (box, members)]
    # A grown box may reach others in its turn.
    if len(groups) < len(parts):
        joined = [_Part(box, np.concatenate([m.pieces for m in members]), None) for box, members in groups]
        again = _groups(joined, reach)
        by_box = {id(part): members for part, (_, members) in zip(joined, groups, strict=True)}
        return [[member for part in group for member in by_box[id(part)]] for group in again]
    return [members for _, members in groups]


def _goes_on_in(line: ReadLine, others: Sequence[ReadLine]) -> bool:
    """Whether one of the other lines, which are print, stands on its baseline close by: a few letters of the same line, in another ink."""
    own, near = line.line, NEAR * line.line.x_height
    return any(
        max(own.x0, other.line.x0) - min(own.x1, other.line.x1) < near
        and abs(own.middle - other.line.baseline((own.x0 + own.x1) / 2)) < ONE_BASELINE * own.x_height
        for other in others
    )


def _are_level(lines: Sequence[ReadLine]) -> bool:
    """Whether several of the lines are long, and all of these level as no hand writes them: print, however it was read."""
    long = [line.line for line in lines if len(line.text) >= LONG_LINE]
    return len(long) >= FEWEST_LEVEL and all(abs(line.b) < LEVEL for line in long)


def _coloured_mark(segments: Segments, group: list[_Part]) -> Mark | None:
    """A stamp or handwriting of coloured ink; None for coloured print."""
    assert segments.coloured is not None
    lines = [part.line for part in group if part.line is not None and part.line.words]
    large = [part for part in group if part.line is None]
    sure = mean_confidence(lines)
    level = all(abs(line.line.b) < TILTED for line in lines)
    enough = SURE_OF_TWO if any(line.twice for line in lines) else SURE_PRINT
    read_as_print = bool(lines) and level and (sure >= enough or _sure_share(lines) >= MOSTLY_SURE)
    set_as_print = sure >= SURE_OF_LETTERS and _stand_like_print(segments.coloured, lines, MANY)
    if not large and (read_as_print or set_as_print):
        return None
    unit = segments.raster.dpi / 72
    box = union(part.box for part in group)
    framed = _is_framed(segments.coloured, group) and min(box.width, box.height) > SMALLEST_STAMP * unit
    text = "".join(line.text for line in lines)
    told = [c for c in text if c.isalpha()]
    stamped = framed or (len(told) >= 4 and sum(c.isupper() for c in told) > CAPITALS * len(told) and sure > 0.45)
    kind = PictureKind.STAMP if stamped else PictureKind.HANDWRITING
    return _mark(kind, segments.coloured, group, lines)


def _sure_share(lines: Sequence[ReadLine]) -> float:
    """Share of the letters that stand in words which were read surely."""
    words = [(len(word.symbols), word.confidence > SURE_WORD) for line in lines for word in line.words]
    return sum(n for n, sure in words if sure) / max(sum(n for n, _ in words), 1)


def _is_framed(layer: Layer, group: list[_Part]) -> bool:
    """Whether ink runs around the mark: in nearly all directions from its middle the last ink lies near its edge."""
    box = union(part.box for part in group)
    x0, y0, x1, y1 = (int(v) for v in box)
    rows, columns = np.nonzero(layer.pieces.mask_of(_pieces(group), x0, y0, x1, y1))
    if len(rows) > RING_FILL * (x1 - x0) * (y1 - y0):
        return False
    across, down = 2 * columns / (x1 - x0) - 1, 2 * rows / (y1 - y0) - 1
    direction = ((np.arctan2(down, across) + np.pi) / (2 * np.pi) * DIRECTIONS).astype(np.int64) % DIRECTIONS
    farthest = np.zeros(DIRECTIONS)
    np.maximum.at(farthest, direction, np.hypot(across, down))
    return float((farthest > RIM).mean()) > AROUND


def _is_strange(line: ReadLine, segments: Segments) -> bool:
    """Whether the recogniser made so little of a line that it may be no print."""
    if line.line.sign or line.line.raised:
        return False
    letters = sum(symbol.text.isalnum() for word in line.words for symbol in word.symbols)
    if not letters:
        return True
    known = [word for word in line.words if word.confidence > 0.85 and len(word.symbols) >= 3]
    return line.confidence < NO_PRINT and not known


def _black_mark(segments: Segments, group: list[_Part], printed: list[ReadLine]) -> tuple[Mark | None, list[ReadLine]]:
    """What a group of strange lines and large pieces is, and the lines that it takes from the text."""
    layer, size = segments.black, segments.x_height
    unit = segments.raster.dpi / 72
    box = union(part.box for part in group)
    lines = [part.line for part in group if part.line is not None]
    large = [part for part in group if part.line is None]
    within = [line for line in printed if _inside(line, box)]
    if (
        large
        and min(box.width, box.height) > SMALLEST_STAMP * unit
        and _is_framed(layer, group)
        and _is_round(layer, large)
    ):
        inside = [line for line in within if line.confidence < 0.9 or abs(line.line.b) > 0.02]
        extra = [_Part(_box(line), line.line.pieces, line) for line in inside]
        return _mark(PictureKind.STAMP, layer, [*group, *extra], [*lines, *inside]), [*lines, *inside]
    if large and box.height > 3 * size and min(box.width, box.height) > 1.75 * SMALLEST * unit:
        if min(box.width, box.height) < SMALLEST_DRAWING * unit and _is_hand(segments, group):
            kind = PictureKind.SIGNATURE if _signs(box, printed, size) else PictureKind.HANDWRITING
            return _mark(kind, layer, group, lines), lines
        return _drawing(segments, group, lines, printed)
    if not lines:
        return None, []
    pieces = sum(len(line.line.pieces) for line in lines)
    tall = max(line.line.y1 - line.line.y0 for line in lines)
    if tall < 0.8 * size or (pieces <= 2 and box.width < 2.5 * size):
        is_dirt = all(not line.text or line.confidence < 0.5 for line in lines)
        return None, lines if is_dirt and not are_side_by_side(layer, lines, size) else []
    if _is_hand(segments, group) and not _stand_like_print(layer, lines, FEW):
        kind = PictureKind.SIGNATURE if _signs(box, printed, size) else PictureKind.HANDWRITING
        return _mark(kind, layer, group, lines), lines
    return None, [line for line in lines if not line.text]


def are_side_by_side(layer: Layer, lines: Sequence[ReadLine], size: float) -> bool:
    """Whether what little ink there is are two letters or figures of one height side by side, which two specks of dirt never are."""
    if len(lines) != 1 or not lines[0].text.isalnum() or len(lines[0].line.pieces) < 2:
        return False
    line = lines[0].line
    boxes = layer.pieces.boxes[line.pieces].astype(np.float64)
    heights = boxes[:, 3] - boxes[:, 1]
    feet = line.a + line.b * (boxes[:, 0] + boxes[:, 2]) / 2 - boxes[:, 3]
    within = OFF * line.x_height
    return bool(np.ptp(heights) < within and np.abs(feet).max() < within and heights.min() > 0.8 * size)


def _stand_like_print(layer: Layer, lines: Sequence[ReadLine], fewest: int) -> bool:
    """Whether lines are level, and their letters stand on the baselines and are of two heights, as no hand and no stamp sets them."""
    if any(abs(read.line.b) > ASKEW for read in lines):
        return False
    feet: list[bool] = []
    tops: list[bool] = []
    for line in (read.line for read in lines):
        boxes = layer.pieces.boxes[line.pieces].astype(np.float64)
        boxes = boxes[boxes[:, 3] - boxes[:, 1] > TALL * line.x_height]
        base = line.a + line.b * (boxes[:, 0] + boxes[:, 2]) / 2
        rises = (base - boxes[:, 1]) / line.x_height
        capitals = rises[rises > 1 + OFF]
        high = float(np.median(capitals)) if len(capitals) else 1.0
        feet += (np.abs(boxes[:, 3] - base) < OFF * line.x_height).tolist()
        tops += (np.minimum(np.abs(rises - 1), np.abs(rises - high)) < OFF).tolist()
    return len(feet) >= fewest and float(np.mean(feet)) >= FEET and float(np.mean(tops)) >= TOPS


def _drawing(
    segments: Segments, group: list[_Part], lines: list[ReadLine], printed: list[ReadLine]
) -> tuple[Mark, list[ReadLine]]:
    """A drawing with the rules that touch it and the short, small labels in and around it."""
    box = union(part.box for part in group)
    reach = 1.2 * segments.x_height
    grown = True
    while grown:
        grown = False
        for rule in (*segments.rules.level, *segments.rules.upright):
            touching = rule.overlap_x(box) > -reach and rule.overlap_y(box) > -reach
            if touching and not box.holds(rule) and rule.width < 0.8 * segments.raster.width:
                box, grown = union((box, rule)), True
        for line in printed:
            label = _box(line)
            small = line.line.x_height < 0.9 * segments.x_height
            near = label.overlap_x(box) > -2 * reach and label.overlap_y(box) > -2 * reach
            if _is_label(line) and near and (small or box.holds(label)) and not box.holds(label):
                box, grown = union((box, label)), True
    inside = [line for line in printed if _inside(line, box) and _is_label(line)]
    x0, y0, x1, y1 = (int(v) for v in box)
    ink = np.asarray(segments.ink[y0:y1, x0:x1] > 0, np.uint8)
    taken = [*lines, *inside]
    ordered = sorted(taken, key=lambda line: (line.line.y0, line.line.x0))
    return Mark(PictureKind.DRAWING, box, ink, tuple(line for line in ordered if line.confidence > 0.5)), taken


def _is_hand(segments: Segments, group: list[_Part]) -> bool:
    """Whether ink looks like a pen's: strokes thin for its size, letters of unlike heights or joined to each other."""
    layer = segments.black
    members = _pieces(group)
    boxes = layer.pieces.boxes[members].astype(np.float64)
    heights, widths = boxes[:, 3] - boxes[:, 1], boxes[:, 2] - boxes[:, 0]
    tall = heights > 0.6 * segments.x_height
    if not tall.any():
        return False
    fill = layer.pieces.areas[members][tall].sum() / (heights * widths)[tall].sum()
    spread = float(np.std(heights[tall]) / np.mean(heights[tall])) if tall.sum() > 2 else 0.4
    joined = float((widths[tall] > 2.2 * heights[tall]).mean())
    larger = float(np.median(heights[tall])) > 1.35 * segments.x_height
    return fill < 0.42 and (spread > 0.3 or joined > 0.2 or larger)


def _is_round(layer: Layer, large: list[_Part]) -> bool:
    """Whether the outer frame is no frame of straight rules: a ring, an oval, or a frame set askew."""
    frame = max(large, key=lambda part: part.box.width * part.box.height)
    x0, y0, x1, y1 = (int(v) for v in frame.box)
    own = layer.pieces.mask_of(frame.pieces, x0, y0, x1, y1) > 0
    edge = max(round(0.04 * min(own.shape)), 2)
    along = float(own[:edge].any(axis=0).mean() + own[-edge:].any(axis=0).mean()) / 2
    return along < 0.75


def _signs(box: Box, printed: Sequence[ReadLine], size: float) -> bool:
    """Whether a hand stands where signatures do: one line high, above a short printed line or after all print."""
    if box.height > 9 * size:
        return False
    below = [line for line in printed if _box(line).overlap_x(box) > 0 and -size < line.line.y0 - box.y1 < 6 * size]
    if below and min(len(line.text) for line in below) < 45:
        return True
    return bool(printed) and all(line.line.y0 < box.y1 for line in printed)


def _is_label(line: ReadLine) -> bool:
    return len(line.words) <= 6


def _inside(line: ReadLine, box: Box) -> bool:
    return box.holds(_box(line), 2.0)


def _box(line: ReadLine) -> Box:
    return Box(line.line.x0, line.line.y0, line.line.x1, line.line.y1)


def _mark(kind: PictureKind, layer: Layer, group: list[_Part], lines: Sequence[ReadLine]) -> Mark:
    box = union(part.box for part in group)
    x0, y0, x1, y1 = (int(v) for v in box)
    ink = layer.pieces.mask_of(_pieces(group), x0, y0, x1, y1)
    ordered = sorted(lines, key=lambda line: (line.line.y0, line.line.x0))
    return Mark(kind, box, ink, tuple(ordered))


def _watermarks(segments: Segments) -> list[Mark]:
    """Large pale letters that lie behind the print."""
    unit = segments.raster.dpi / 72
    step = max(round(segments.raster.dpi / 75), 1)
    small: Pixels = cv2.resize(segments.even, None, fx=1 / step, fy=1 / step, interpolation=cv2.INTER_AREA)
    small = cv2.medianBlur(small, 3)
    pale = ((small > PALE_LOW * WHITE) & (small < PALE_HIGH * WHITE)).astype(np.uint8)
    # The blurred edge of print is pale too.
    print_near = cv2.resize(
        segments.ink * np.uint8(255), (small.shape[1], small.shape[0]), interpolation=cv2.INTER_AREA
    )
    pale[cv2.dilate(print_near, np.ones((5, 5), np.uint8)) > 24] = 0
    for box in segments.pictures:
        y0, y1, x0, x1 = (int(value / step) for value in (box.y0, box.y1, box.x0, box.x1))
        pale[max(y0 - 2, 0) : y1 + 3, max(x0 - 2, 0) : x1 + 3] = 0
    side = max(round(PALE_STROKE * unit / step), 2)
    strokes = cv2.morphologyEx(pale, cv2.MORPH_OPEN, np.ones((side, side), np.uint8))
    if strokes.mean() > 0.3:
        return []  # the whole sheet is grey: no watermark can be told
    count, labels, stats, _ = cv2.connectedComponentsWithStats(strokes, connectivity=8)
    limit = PALE_SIDE * unit / step
    letters = [
        i
        for i in range(1, count)
        if max(stats[i, cv2.CC_STAT_WIDTH], stats[i, cv2.CC_STAT_HEIGHT]) >= limit
        and min(stats[i, cv2.CC_STAT_WIDTH], stats[i, cv2.CC_STAT_HEIGHT]) >= 0.3 * limit
        and stats[i, cv2.CC_STAT_AREA] < 0.75 * stats[i, cv2.CC_STAT_WIDTH] * stats[i, cv2.CC_STAT_HEIGHT]
    ]
    if not FEWEST_LETTERS <= len(letters) <= MOST_LETTERS:
        return []
    boxes = [Box(*(float(v) for v in (s[0], s[1], s[0] + s[2], s[1] + s[3]))) for s in (stats[i] for i in letters)]
    box = union(boxes)
    mask: Pixels = np.isin(labels, letters).astype(np.uint8)
    mask = cv2.dilate(mask, np.ones((3, 3), np.uint8))
    x0, y0, x1, y1 = (int(v) for v in box)
    large = cv2.resize(mask[y0:y1, x0:x1], ((x1 - x0) * step, (y1 - y0) * step), interpolation=cv2.INTER_NEAREST)
    whole = Box(x0 * step, y0 * step, x1 * step, y1 * step)
    return [Mark(PictureKind.WATERMARK, whole, np.asarray(large, np.uint8), ())]


def picture_of(mark: Mark, pixels: Pixels) -> Pixels:
    """The mark's own ink, in its colours, on white."""
    x0, y0 = int(mark.box.x0), int(mark.box.y0)
    height, width = mark.ink.shape
    crop = pixels[y0 : y0 + height, x0 : x0 + width].copy()
    own = cv2.dilate(mark.ink, np.ones((3, 3), np.uint8))[: crop.shape[0], : crop.shape[1]]
    crop[own == 0] = 255
    return crop
