"""Pieces of ink -> lines of text: letters chained to their neighbours, then dots, accents and signs to the lines they belong to.

A bottom-up grouping in the manner of Docstrum (O'Gorman 1993): what counts is the distance to the next letter in letter heights.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.bullets import bullet_parted, bullets_beside, repeated_parted, told_by_lines
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.leaders import LARGEST_DOT
from evenquill.core.reading.scanned.text_line import FEW, TextLine, line_of
from evenquill.core.union_find import UnionFind

REACH = 2.0
"""Widest gap within a line, in heights of the lower neighbour; a justified space, with a stop before it, is narrower."""

ALIKE = 2.4
"""Heights of neighbouring letters differ by this factor at the most."""

LEVEL = 0.45
"""Share of the lower letter's height that neighbours have in common."""

BESIDE, NEIGHBOURS = 1.2, 96
"""Heights between letters of a word, at most, and pieces of ink further right (of whatever line) among which one's neighbour is."""

SMALL = 0.55
"""Height over x-height below which a piece is a dot, accent or sign and starts no line."""

ORPHAN, LOW_LETTER, MOST_ORPHANS = 1.0, 0.9, 3
"""Height over x-height below which a piece that found no neighbour, or two or three that found only each other, are a comma, quotes, a dash
or raised figures of a line beside them; and from which one that belongs to no line is a letter that is one itself."""

STEM, SLENDER = (0.7, 1.0), 0.5
"""X-heights that the stem of an i is high; its width over its height, at most."""

ABOVE, BELOW = 1.15, 0.6
"""X-heights above the x-line and below the baseline that belong to a line: accents on capitals, tails."""

RAISED = 0.3
"""X-heights above the baseline from which a small figure is raised."""

RAISED_HEIGHT, RAISED_WIDTH = (0.6, 1.15), (0.37, 0.95)
"""X-heights: lower are dots, higher are letters; each stroke of a quotation mark is narrower, and a letter is wider."""

OVER_DOT = 0.3
"""X-heights between the hook of a question mark and its dot, at most; a raised figure over a stop stands higher."""

SENTENCE = FEW + 1
"""Pieces from which a line is a text that marks of items and figures beside it are measured by: few pieces tell nothing of their
x-height."""

MARK_REACH, MARK_HEIGHT, MARK_WIDTH, ON_BASE = 12.0, 2.2, 5.0, 0.3
"""X-heights of the text between it and a mark, at most; of the mark, which is smaller than words of joined letters written in the margin;
and between the baseline and the foot of one of its pieces."""

LONGER, SAME_HEIGHT = 12, 0.2
"""Pieces from which a line tells its x-height surely; natural logarithm by which two heights may differ and be one."""

TALL, FEWEST_TALL, SAME_LETTERS = 1.2, 2, 0.09
"""X-heights from which a letter that stands on the line is a capital or has an ascender; how many of them there are in a line that has both
heights, few in Cyrillic; and share by which heights of letters may differ and be one."""

MOST_PAIRS = 1_000_000
"""Pairs of letters looked at together."""

DOT_PIXELS, DOTS_APART, FLAT_DOT = 1.0, 6.0, 1.5
"""Pixels by which the dots of a leader differ in size, place and distance, at most; heights from dot to dot, at most; and the longer side
of a dot over its shorter one."""

DOT_STEP = 2.2
"""X-heights from a line, or from dot to dot, to the next one on its baseline: three or four of them end a sentence."""


def x_height_of(pieces: Pieces, dpi: float) -> float:
    """The usual height of small letters on a straight page, in pixels; 0 where there is nothing like letters."""
    commonest, some = commonest_height(pieces, dpi)
    return x_height_in_lines(pieces.boxes[some], commonest) if commonest else 0.0


def commonest_height(pieces: Pieces, dpi: float) -> tuple[float, NDArray[np.int64]]:
    """The commonest height of letters, in pixels, 0 where there is nothing like them; and the pieces that were looked at.

    They have the size of letters (4 to 40 points), their shape, and another beside them; dirt stands alone.
    """
    heights, widths = pieces.heights, pieces.widths
    unit = dpi / 72
    letters = (
        (heights > 2.2 * unit) & (heights < 40 * unit) & (widths < 3.5 * heights) & (widths > 0.15 * heights)
        & (pieces.areas > 0.12 * heights * widths)
    )  # fmt: skip
    letters[letters] = (heights[letters] > LARGEST_DOT * unit) | ~is_leader_dot(pieces.boxes[letters])
    together = np.flatnonzero(letters)[_has_neighbour(pieces.boxes[letters])]
    some = together if len(together) >= 5 else np.flatnonzero(letters)
    if len(some) < 5:
        return 0.0, some
    counts = np.bincount(heights[some]).astype(float)
    smooth = np.convolve(counts, [0.5, 1.0, 0.5], "same")
    # Weighted by height: specks are many, but low.
    return float(np.argmax(smooth * np.sqrt(np.arange(len(smooth))))), some


def x_height_in_lines(boxes: NDArray[np.int32] | NDArray[np.float64], commonest: float) -> float:
    """The height of small letters among letters' boxes (n, 4), by their ``commonest`` height, in pixels.

    Where letters touch, and in columns of figures, higher pieces are commoner than small letters. The lines, which stand level, then say
    otherwise: each tells how high its small letters are, and the middle one of the longer ones is believed.
    """
    letters = np.flatnonzero(boxes[:, 3] - boxes[:, 1] >= SMALL * commonest)
    lines = [line_of(boxes, group) for group in chained(boxes, letters) if len(group) >= LONGER]
    if not lines:
        return commonest
    lines.sort(key=lambda line: line.x_height)
    reached = np.cumsum([len(line.pieces) for line in lines])
    of_lines = float(round(lines[int(np.searchsorted(reached, reached[-1] / 2))].x_height))
    return of_lines if of_lines > 0 and abs(math.log(of_lines / commonest)) > SAME_HEIGHT else commonest


def is_leader_dot(boxes: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which of the boxes (n, 4) stand in the middle between two like them, as the dots of a leader do and letters hardly ever;
    told before there are lines."""
    order = np.argsort(boxes[:, 0], kind="stable")
    x0, y0, x1, y1 = boxes[order].astype(np.float32).T
    width, height, middle = x1 - x0, y1 - y0, (y0 + y1) / 2
    count = len(boxes)
    after, before = np.full(count, np.inf, np.float32), np.full(count, np.inf, np.float32)
    for step in range(1, min(NEIGHBOURS, count - 1) + 1):
        apart = x0[step:] - x0[:-step]
        alike = (
            (np.abs(height[step:] - height[:-step]) <= DOT_PIXELS)
            & (np.abs(width[step:] - width[:-step]) <= DOT_PIXELS)
            & (np.abs(middle[step:] - middle[:-step]) <= DOT_PIXELS)
            & (apart > width[:-step])
            & (apart < DOTS_APART * height[:-step])
        )
        distance = np.where(alike, apart, np.inf)
        after[:-step] = np.minimum(after[:-step], distance)
        before[step:] = np.minimum(before[step:], distance)
    small = np.maximum(width, height) <= FLAT_DOT * np.minimum(width, height)
    found = np.zeros(count, np.bool_)
    with np.errstate(invalid="ignore"):
        found[order] = small & np.isfinite(after) & (np.abs(after - before) <= DOT_PIXELS)
    return found


def _has_neighbour(boxes: NDArray[np.int32]) -> NDArray[np.bool_]:
    """Which of the boxes (n, 4) have another of like size beside them, as letters of a word have."""
    order = np.argsort(boxes[:, 0], kind="stable")
    x0, y0, x1, y1 = boxes[order].astype(np.float32).T
    height = y1 - y0
    found = np.zeros(len(boxes), np.bool_)
    for step in range(1, min(NEIGHBOURS, len(boxes) - 1) + 1):
        low, high = np.minimum(height[:-step], height[step:]), np.maximum(height[:-step], height[step:])
        shared = np.minimum(y1[:-step], y1[step:]) - np.maximum(y0[:-step], y0[step:])
        beside = (x0[step:] - x1[:-step] < BESIDE * high) & (shared > 0.5 * low) & (high < 3 * low)
        beside &= np.abs(x0[step:] - x0[:-step]) > 0.2 * high  # and not one within the other
        found[order[:-step]] |= beside
        found[order[step:]] |= beside
    return found


def text_lines(pieces: Pieces, usable: NDArray[np.bool_], x_height: float, walls: Sequence[Box] = ()) -> list[TextLine]:
    """Lines of text from the ``usable`` pieces, from top to bottom; none crosses one of the ``walls`` (upright rules)."""
    boxes = pieces.boxes
    heights = pieces.heights
    letters = np.flatnonzero(usable & (heights >= SMALL * x_height))
    groups = chained(boxes, letters)
    low = [len(group) <= MOST_ORPHANS and heights[group].max() < ORPHAN * x_height for group in groups]
    orphans = [group for group, is_low in zip(groups, low, strict=True) if is_low]
    groups = [group for group, is_low in zip(groups, low, strict=True) if not is_low]
    small = np.concatenate([np.flatnonzero(usable & (heights < SMALL * x_height)), *orphans])
    lines = _marks_measured(boxes, [line_of(boxes, group) for group in groups])
    groups, left = _with_small(boxes, groups, lines, small)
    # A short word of small print that belongs to no line is one itself.
    letters_or_words = [group for group in orphans if len(group) > 1 or heights[group[0]] >= LOW_LETTER * x_height]
    in_no_line = set(left)
    alone = [group for group in letters_or_words if in_no_line.issuperset(group.tolist())]
    placed = {piece for group in alone for piece in group.tolist()}
    left = [piece for piece in left if piece not in placed]
    # Of these, marks beside a text have its band, and the dots in it.
    texts = _Texts.among([line_of(boxes, group) for group in groups])
    measured = [(group, _beside_text(boxes, line_of(boxes, group), texts)) for group in alone]
    marks = [(group, line) for group, line in measured if line is not None]
    stems = [
        (stem, line)
        for stem in (np.array([piece], np.int64) for piece in left if _is_stem(boxes[piece], x_height))
        if (line := _beside_text(boxes, line_of(boxes, stem), texts)) is not None
    ]
    in_stems = {int(stem[0]) for stem, _ in stems}
    dotted, left = _with_small(
        boxes,
        [group for group, _ in (*marks, *stems)],
        [line for _, line in (*marks, *stems)],
        np.array([piece for piece in left if piece not in in_stems], np.int64),
    )
    # A stem without a dot is dirt, or a bullet.
    bare = [group for group in dotted[len(marks) :] if len(group) == 1]
    left += [int(group[0]) for group in bare]
    groups += dotted[: len(marks)] + [group for group in dotted[len(marks) :] if len(group) > 1]
    groups += [group for group, line in measured if line is None]
    groups = [part for group in _joined(boxes, groups) for part in _parted(boxes, group, walls)]
    lines = [part for group in groups for part in bullet_parted(pieces, line_of(boxes, group))]
    lines = repeated_parted(pieces, lines)
    lines = [part for line in lines for part in _raised_parted(boxes, line)]
    lone = [line for line in lines if len(line.pieces) == 1 and not line.sign]
    whole = [line for line in lines if len(line.pieces) > 1 or line.sign]
    bullets = bullets_beside(pieces, [*left, *(int(line.pieces[0]) for line in lone)], whole)
    known = {int(bullet.pieces[0]) for bullet in bullets}
    lines = [*whole, *(line for line in lone if int(line.pieces[0]) not in known), *bullets]
    lines = told_by_lines(pieces, lines)
    return sorted(_marks_measured(boxes, lines), key=lambda line: (line.y0, line.x0))


def chained(boxes: NDArray[np.int32] | NDArray[np.float64], letters: NDArray[np.int64]) -> list[NDArray[np.int64]]:
    """Groups of letters of which each is a near neighbour of the next."""
    order = letters[np.argsort(boxes[letters, 0], kind="stable")]
    x0, y0, x1, y1 = (boxes[order, k].astype(np.float64) for k in range(4))
    height = y1 - y0
    tallest = float(height.max()) if len(height) else 0.0
    ends = np.searchsorted(x0, x1 + REACH * np.minimum(height * ALIKE, tallest), "right")
    firsts, seconds = [], []
    start = 0
    while start < len(order):
        # As many letters at a time as have together no more pairs than fit into memory.
        pairs = np.cumsum(ends[start:] - np.arange(start, len(order)) - 1)
        end = start + max(int(np.searchsorted(pairs, MOST_PAIRS)), 1)
        count = np.maximum(ends[start:end] - np.arange(start, end) - 1, 0)
        one = np.repeat(np.arange(start, end), count)
        other = one + 1 + np.arange(len(one)) - np.repeat(np.cumsum(count) - count, count)
        low = np.minimum(height[one], height[other])
        common = np.minimum(y1[one], y1[other]) - np.maximum(y0[one], y0[other])
        near = common >= LEVEL * low
        one, other, low = one[near], other[near], low[near]
        gap = x0[other] - x1[one]
        near = (gap <= REACH * low) & (np.maximum(height[one], height[other]) <= ALIKE * low)
        one, other, gap = one[near], other[near], gap[near]
        # The nearest to the right, and what overlaps it.
        nearest = np.full(len(order), np.inf)
        np.minimum.at(nearest, one, gap)
        kept = gap <= np.maximum(nearest[one], 0.0) + 1
        firsts.append(one[kept])
        seconds.append(other[kept])
        start = end
    found: UnionFind[int] = UnionFind()
    for one, other in zip(firsts, seconds, strict=True):
        for i, j in zip(one.tolist(), other.tolist(), strict=True):
            found.join(i, j)
    roots = np.array([found.root(i) for i in range(len(order))], np.int64)
    by_root = np.argsort(roots, kind="stable")
    return np.split(order[by_root], np.flatnonzero(np.diff(roots[by_root])) + 1) if len(order) else []


def _with_small(
    boxes: NDArray[np.int32],
    groups: list[NDArray[np.int64]],
    lines: Sequence[TextLine],
    small: NDArray[np.int64],
) -> tuple[list[NDArray[np.int64]], list[int]]:
    """The groups with the small pieces that stand in the bands of their ``lines``, and the pieces left over.

    Rows of dots lengthen a line as they go.
    """
    if not groups or not len(small):
        return groups, [int(piece) for piece in small]
    left_over: list[int] = []
    left = np.array([line.x0 for line in lines], float)
    right = np.array([line.x1 for line in lines], float)
    size = np.array([line.x_height for line in lines])
    a, b = np.array([line.a for line in lines]), np.array([line.b for line in lines])
    extra: list[list[int]] = [[] for _ in lines]
    order = small[np.argsort(boxes[small, 0], kind="stable")]
    for piece in order:
        x0, y0, x1, y1 = (float(v) for v in boxes[piece])
        middle_x, middle_y = (x0 + x1) / 2, (y0 + y1) / 2
        rise = (a + b * middle_x - middle_y) / size
        on_base = (rise > -0.35) & (rise < 0.75)
        reach = np.where(on_base, DOT_STEP, 0.8) * size
        inside = (rise < 1 + ABOVE) & (rise > -BELOW) & (x0 <= right + reach) & (x1 >= left - reach)
        if not inside.any():
            left_over.append(int(piece))
            continue
        # The line whose letters it is nearest to in height, most of all one that it stands within.
        beside = np.maximum(np.maximum(x0 - right, left - x1), 0) / size
        away = np.where(inside, np.maximum(np.maximum(rise - 1, -rise), 0) + beside, np.inf)
        best = int(np.argmin(away))
        extra[best].append(int(piece))
        right[best] = max(right[best], x1)
        left[best] = min(left[best], x0)
    whole = [np.concatenate([group, np.array(more, np.int64)]) for group, more in zip(groups, extra, strict=True)]
    return whole, left_over


def _marks_measured(boxes: NDArray[np.int32], lines: Sequence[TextLine]) -> list[TextLine]:
    """The lines; marks beside a text among them with the measure of that text."""
    texts = _Texts.among(lines)
    return [_beside_text(boxes, line, texts) or line for line in lines]


def _is_stem(box: NDArray[np.int32], x_height: float) -> bool:
    """Whether a piece may be the stem of an i alone before its item, which in small print is lower than other small letters."""
    width, height = float(box[2] - box[0]), float(box[3] - box[1])
    return STEM[0] * x_height < height < STEM[1] * x_height and width < SLENDER * height


class _Texts(NamedTuple):
    """Lines long enough to tell their measure; ``measures`` are (5, lines): x-height, both numbers of the baseline, left and right end."""

    lines: list[TextLine]
    measures: NDArray[np.float64]

    @classmethod
    def among(cls, lines: Sequence[TextLine]) -> _Texts:
        own = [line for line in lines if len(line.pieces) >= SENTENCE and not line.sign]
        measures = [(line.x_height, line.a, line.b, line.x0, line.x1) for line in own]
        return cls(own, np.array(measures, np.float64).reshape(-1, 5).T)


def _beside_text(boxes: NDArray[np.int32], line: TextLine, texts: _Texts) -> TextLine | None:
    """A line of few pieces beside a text, on its baseline, with the baseline and x-height of that text; None for any other."""
    if len(line.pieces) > FEW or line.sign or line.raised or not texts.lines:
        return None
    size, a, b, starts, ends = texts.measures
    base = a + b * (line.x0 + line.x1) / 2
    gap = np.maximum(np.maximum(starts - line.x1, line.x0 - ends), 0.0) / size
    off = np.abs(base[:, None] - boxes[line.pieces, 3]).min(axis=1) / size
    beside = (
        (gap < MARK_REACH)
        & (off < ON_BASE)
        & (line.y1 - line.y0 < MARK_HEIGHT * size)
        & (line.x1 - line.x0 < MARK_WIDTH * size)
        & (line.y0 > base - MARK_HEIGHT * size)
    )
    if not beside.any():
        return None
    nearest = texts.lines[int(np.argmin(np.where(beside, gap, np.inf)))]
    return line._replace(a=nearest.a, b=nearest.b, x_height=nearest.x_height)


def _joined(boxes: NDArray[np.int32], groups: list[NDArray[np.int64]]) -> list[NDArray[np.int64]]:
    """Neighbouring groups on one baseline made one where signs between them have closed the gap."""
    lines = [line_of(boxes, group) for group in groups]
    order = sorted(range(len(lines)), key=lambda i: lines[i].x0)
    gone: set[int] = set()
    out = dict(enumerate(groups))
    for n, i in enumerate(order):
        if i in gone:
            continue
        for j in order[n + 1 :]:
            a, b = lines[i], lines[j]
            size = min(a.x_height, b.x_height)
            if b.x0 - a.x1 > REACH * size:
                break
            level = abs(a.baseline(b.x0) - b.baseline(b.x0)) < 0.25 * size
            if j in gone or not level or max(a.x_height, b.x_height) > 1.5 * size or b.x1 < a.x1:
                continue
            out[i] = np.concatenate([out[i], out.pop(j)])
            gone.add(j)
            lines[i] = line_of(boxes, out[i])
    return list(out.values())


def _raised_parted(boxes: NDArray[np.int32], line: TextLine) -> list[TextLine]:
    """A line, and the small raised figures in it apart."""
    if line.sign or len(line.pieces) < 3:
        return [line]
    own = boxes[line.pieces].astype(np.float64)
    base = line.a + line.b * (own[:, 0] + own[:, 2]) / 2
    top, bottom = (base - own[:, 1]) / line.x_height, (base - own[:, 3]) / line.x_height
    width = (own[:, 2] - own[:, 0]) / line.x_height
    raised = (bottom > RAISED) & (top - bottom > RAISED_HEIGHT[0]) & (top - bottom < RAISED_HEIGHT[1])
    raised &= (top > 1.1) & (width > RAISED_WIDTH[0]) & (width < RAISED_WIDTH[1])
    raised &= ~_over_dots(own, (top - bottom < SMALL) & (np.abs(bottom) < RAISED), OVER_DOT * line.x_height)
    if not raised.any() or raised.mean() > 0.34:
        return [line]
    parts = [line_of(boxes, line.pieces[~raised])]
    order = np.flatnonzero(raised)[np.argsort(own[raised, 0])]
    group = [int(order[0])]
    for here in [*order[1:], -1]:
        if here >= 0 and own[here, 0] - own[group[-1], 2] < 0.5 * line.x_height:
            group.append(int(here))
            continue
        members = line.pieces[group]
        x0, y0 = (int(v) for v in boxes[members, :2].min(axis=0))
        x1, y1 = (int(v) for v in boxes[members, 2:].max(axis=0))
        parts.append(TextLine(members, x0, y0, x1, y1, line.a, line.b, line.x_height, raised=True))
        group = [int(here)]
    return parts


def _over_dots(boxes: NDArray[np.float64], dots: NDArray[np.bool_], reach: float) -> NDArray[np.bool_]:
    """Which of the pieces (boxes (n, 4)) stand close over one of the dots: the hook of a question mark does."""
    middles = (boxes[dots, 0] + boxes[dots, 2]) / 2
    over = (boxes[:, :1] <= middles) & (middles <= boxes[:, 2:3])
    close = boxes[dots, 1] - boxes[:, 3:] < reach
    return np.asarray((over & close).any(axis=1), np.bool_)


def _parted(boxes: NDArray[np.int32], group: NDArray[np.int64], walls: Sequence[Box]) -> list[NDArray[np.int64]]:
    """A group cut where walls stand between its pieces."""
    own = boxes[group]
    top, bottom = float(own[:, 1].min()), float(own[:, 3].max())
    middle = (own[:, 0] + own[:, 2]) / 2
    places = sorted(
        wall.center_x
        for wall in walls
        if middle.min() < wall.center_x < middle.max() and wall.y0 < (top + bottom) / 2 < wall.y1
    )
    if not places:
        return [group]
    cell = np.searchsorted(np.array(places), middle)
    return [group[cell == n] for n in np.unique(cell)]


def mended_sizes(lines: Sequence[TextLine], pieces: Pieces) -> list[TextLine]:
    """Lines of capitals or digits alone given the x-height that goes with them.

    Such lines show one height only. Where other lines of the page have capitals of that height, theirs is the x-height.
    """
    tall = {id(line): _cap_height(line, pieces) for line in lines}
    both = [line for line in lines if tall[id(line)] > 1.2 * line.x_height and len(line.pieces) > 8]
    out = []
    for line in lines:
        if line.sign or line.raised or tall[id(line)] > 1.15 * line.x_height:
            out.append(line)
            continue
        # Few letters are a date or a title; of many, those speak that are more: capitals of small print may be as high as small letters.
        as_capitals = [one for one in both if abs(tall[id(one)] / line.x_height - 1) < SAME_LETTERS]
        as_small = [one for one in both if abs(one.x_height / line.x_height - 1) < SAME_LETTERS]
        if as_small and (
            not as_capitals or (len(line.pieces) >= LONGER and _letters_in(as_small) > _letters_in(as_capitals))
        ):
            out.append(line)
        elif as_capitals:
            out.append(line._replace(x_height=float(np.median([one.x_height for one in as_capitals]))))
        else:
            out.append(line._replace(x_height=0.7 * line.x_height))
    return out


def _letters_in(lines: Sequence[TextLine]) -> int:
    return sum(len(line.pieces) for line in lines)


def _cap_height(line: TextLine, pieces: Pieces) -> float:
    """The height of capitals in a line; that of its small letters if there is none or but one."""
    boxes = pieces.boxes[line.pieces]
    base = line.a + line.b * (boxes[:, 0] + boxes[:, 2]) / 2
    every = base - boxes[:, 1]
    rises = every[every > 0.5 * line.x_height]
    usual = float(np.percentile(rises, 88)) if len(rises) else line.x_height
    # Letters that stand on the line, and no accents over capitals.
    taller = every[(every > TALL * line.x_height) & (np.abs(base - boxes[:, 3]) < RAISED * line.x_height)]
    return float(np.median(taller)) if usual <= TALL * line.x_height and len(taller) >= FEWEST_TALL else usual
