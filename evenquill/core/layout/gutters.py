"""Gutters that may part columns: stretches of a page where nothing crosses the strip left of an edge at which lines begin.

Found as empty rectangles (after Breuel 2002). Which of them part columns of text, and which the cells of a table or the words of a line, is
told by a fitted model from what stands on both sides.
"""

from __future__ import annotations

import itertools
import math
import statistics
from collections import Counter
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np

from evenquill.core.evidence import SMALLEST_SIZE, Line, Rule
from evenquill.core.fitted.trees import UNMEASURED, trees_of
from evenquill.core.layout.items import ByHeight, Item
from evenquill.core.layout.rows import rows_of
from evenquill.core.model import Box
from evenquill.core.model.text import ends_sentence

GUTTER = 0.8
"""Ems: the narrowest gutter; wider than a justified space."""

FEWEST_LINES = 2
"""Lines on either side of a gutter, and lines that begin at one edge."""

MOST = 16
"""Gutters of a page that are judged: those with most lines beside them."""

SAME_PLACE = 2.0
"""Points by which columns may stand elsewhere than on other pages."""

AT_EDGE = 0.6
"""Ems from an edge within which a line keeps to it."""

OVERFULL, MOST_OVERFULL = 0.4, 0.1
"""Share of a line's width that may stand out of its column at the right, where a word is too long for it; and share of the lines beside
a gutter that may."""

HANGING = 3.5
"""Ems that the mark of an item, or a line in the middle of its column, may begin to the left of where others begin."""

LEVEL, MOST_LEVEL = 0.2, 0.5
"""Ems between the baselines of lines that are level; share of the lines of a text that are level with some beside it, unless both are
rows, at most."""

GAP = 1.3
"""Distance of lines over the usual one from which there is a gap between them."""

RULES = 2
"""Level rules across a strip from which it is none between columns."""

FAR = 80.0
"""Ems, or lines, beyond which a measure tells no more."""

SIDE_FEATURES = (
    "rows", "width", "letters", "fill", "flush", "reach", "lower", "ends", "digits", "hyphens", "pieces", "colon", "gaps", "size",
    "start_level", "dense", "beside",
)  # fmt: skip
"""Of the column next to the gutter on one side."""

ALL_FEATURES = ("rows_all", "letters_all", "fill_all", "digits_all", "dense_all", "matched_all", "unmatched_all")
"""Of all columns that stand side by side in the stretch: that of the one which has least of it, but for digits, where it is most; and
runs of rows that have, or have not, one beside them as cells of a row have. Columns of text are all like one another; those of a table
are not."""

GUTTER_FEATURES = (
    *(f"{name}_{which}" for name in SIDE_FEATURES for which in ("least", "most")),
    "gap", "level", "shared_gaps", "lone_gaps", "strips", "strip_likeness", "known", "overlap", "rules_across", "rules_beside", "upright",
    "place", "width_all", "height", "crossed_above", "crossed_below", "pitch_likeness", "others",
    *ALL_FEATURES, "matched", "unmatched",
)  # fmt: skip


class Gutter(NamedTuple):
    """A strip between two heights that nothing crosses, and how many lines stand on the side that has fewer."""

    left: float
    right: float
    top: float
    bottom: float
    lines: int


def gutters_in(items: Sequence[Item], known: Sequence[float] | None = None) -> list[Gutter]:
    """All strips that may be gutters, those with most lines beside them first. ``known`` are left edges of columns on other pages."""
    lines = [item for item in items if isinstance(item.content, Line)]
    if len(lines) < 2 * FEWEST_LINES:
        return []
    by_height = ByHeight(items)
    width = GUTTER * usual_size(lines)
    found = [gutter for edge in _left_edges(lines, known or ()) for gutter in _stretches(by_height, edge, width)]
    return sorted(found, key=lambda gutter: -gutter.lines)[:MOST]


def probabilities(
    gutters: Sequence[Gutter], items: Sequence[Item], rules: Sequence[Rule], known: Sequence[float] | None
) -> list[float]:
    """For each gutter how likely it is that it parts columns; ``known`` as in ``gutter_features``."""
    if not gutters:
        return []
    measures = np.array(gutter_features(gutters, items, rules, known), np.float32)
    likely = np.exp(trees_of("gutters").log_probabilities(measures)[:, 1])
    return [
        0.0 if _is_ruled_across(gutter, rules) else float(value) for gutter, value in zip(gutters, likely, strict=True)
    ]


def _is_ruled_across(gutter: Gutter, rules: Sequence[Rule]) -> bool:
    """Whether rules lead across a strip, as they do between the rows of a table."""
    return len(_level_rules_within(gutter, rules, across=True)) >= RULES


def _level_rules_within(gutter: Gutter, rules: Sequence[Rule], *, across: bool) -> list[Box]:
    """The level rules between the ends of a strip: those that cross it, or those that do not."""
    return [
        rule.box
        for rule in rules
        if rule.horizontal
        and gutter.top + 2 < rule.box.center_y < gutter.bottom - 2
        and (rule.box.x0 < gutter.left and rule.box.x1 > gutter.right) is across
    ]


def gutter_features(
    gutters: Sequence[Gutter], items: Sequence[Item], rules: Sequence[Rule], known: Sequence[float] | None
) -> list[tuple[float, ...]]:
    """The measures of each gutter (GUTTER_FEATURES). ``known`` are left edges of columns on other pages, None where they are not known."""
    by_height = ByHeight(items)
    size = usual_size([item for item in items if isinstance(item.content, Line)])
    return [_features(gutter, by_height, size, rules, known, len(gutters)) for gutter in gutters]


def usual_size(lines: Sequence[Item]) -> float:
    """The size of the lines that stand in the middle if they are sorted by it, in points."""
    return max(statistics.median(item.content.size for item in lines if isinstance(item.content, Line)), SMALLEST_SIZE)


def _left_edges(lines: Sequence[Item], known: Sequence[float]) -> list[float]:
    """Left edges, to the point, at which at least FEWEST_LINES lines begin, or one where other pages have a column; the leftmost is no
    gutter."""
    counts = Counter(round(item.box.x0) for item in lines)
    edges = [x for x in counts if counts[x - 1] + counts[x] + counts[x + 1] >= FEWEST_LINES]
    leftmost = min(item.box.x0 for item in lines)
    starts = {
        min(near)
        for places, apart in ((edges, 1.0), (known, SAME_PLACE))
        for x in places
        if (near := [item.box.x0 for item in lines if abs(item.box.x0 - x) < apart])
    }
    starts |= {
        min(near)
        for x in edges
        for begins in (_hangs, _is_centred_over)
        if (near := [item.box.x0 for item in lines if begins(item, x)])
    }
    return sorted(x for x in starts if x > leftmost + 5)


def _hangs(item: Item, edge: float) -> bool:
    """Whether a line begins with a mark that hangs to the left of an edge at which the text behind it begins."""
    if not isinstance(item.content, Line) or len(item.content.words) < 2:
        return False
    line = item.content
    return edge - HANGING * line.size < line.box.x0 < edge and abs(line.words[1].x0 - edge) < 1.0


def _is_centred_over(item: Item, edge: float) -> bool:
    """Whether a line begins to the left of an edge at which others begin, and stands mostly behind it, as lines in the middle of a
    column do."""
    return (
        isinstance(item.content, Line)
        and edge - HANGING * item.content.size < item.box.x0 < edge - 0.5 < item.box.x0 + item.box.width / 4
    )


def _stretches(by_height: ByHeight, edge: float, width: float) -> list[Gutter]:
    """Where nothing crosses the strip of ``width`` left of ``edge``, with lines on both sides, but for few words too long for their
    column."""
    items = by_height.items
    crossing = [item for item in items if item.box.x0 < edge - 0.5 and item.box.x1 > edge - width]
    strict = _between(crossing, by_height, edge, width)
    parts: dict[bool, list[Item]] = {True: [], False: []}
    for item in crossing:
        parts[_stands_out(item, edge - width)].append(item)
    overfull, across = parts[True], parts[False]
    if not overfull:
        return strict
    out = list(strict)
    for gutter in _between(across, by_height, edge, width):
        count = sum(gutter.top < item.box.center_y < gutter.bottom for item in overfull)
        if count and count <= MOST_OVERFULL * gutter.lines:
            out = [own for own in out if own.bottom <= gutter.top or own.top >= gutter.bottom] + [gutter]
    return out


def _stands_out(item: Item, edge: float) -> bool:
    """Whether a line stands out over the right edge of its column by the end of a word that is too long for it, or is a sign alone behind
    it, as dirt is taken for."""
    line = item.content
    if not isinstance(line, Line):
        return False
    if len(line.text) == 1 and not line.text.isalnum():
        return line.box.x0 > edge - GUTTER * line.size
    last = line.words[-1]
    is_word = any(map(str.isalnum, last.text))  # and no leader
    return is_word and last.x0 < edge < line.box.x1 <= edge + OVERFULL * line.box.width


def _between(crossing: Sequence[Item], by_height: ByHeight, edge: float, width: float) -> list[Gutter]:
    """The stretches of a strip between what crosses it."""
    items = by_height.items
    top = min(item.box.y0 for item in items)
    bottom = max(item.box.y1 for item in items)
    stretches = []
    start = top
    for box in [*sorted((item.box for item in crossing), key=lambda box: box.y0), Box(0, bottom, 0, bottom)]:
        if box.y0 > start:
            inside = by_height.between(start, box.y0)
            # What stands alone above the columns is the end of the text before them.
            tops = [
                min((i.box.y0 for i in inside if (i.box.center_x >= edge) is right), default=0.0)
                for right in (False, True)
            ]
            start = max(start, max(tops) - 1.0) if tops[0] < tops[1] else start
            counts = [0, 0]
            for item in inside:
                if isinstance(item.content, Line) and item.box.center_y >= start:
                    counts[item.box.center_x >= edge] += 1
            if min(counts) >= FEWEST_LINES:
                stretches.append(Gutter(edge - width, edge, start, box.y0, min(counts)))
        start = max(start, box.y1)
    return stretches


class _Column(NamedTuple):
    """What stands next to a gutter on one side: its rows, its edges, and the usual distance of rows, in points."""

    rows: list[list[Line]]
    left: float
    right: float
    pitch: float


def _features(
    gutter: Gutter,
    by_height: ByHeight,
    size: float,
    rules: Sequence[Rule],
    known: Sequence[float] | None,
    count: int,
) -> tuple[float, ...]:
    inside = [
        item
        for item in by_height.between(gutter.top, gutter.bottom)
        if not (item.box.x0 < gutter.right - 0.5 and _stands_out(item, gutter.left))
    ]
    lines = [item.content for item in inside if isinstance(item.content, Line)]
    free = _free_strips([item.box for item in inside], GUTTER * size)
    x0, x1 = min(item.box.x0 for item in inside), max(item.box.x1 for item in inside)
    before = max((strip[1] for strip in free if strip[1] < gutter.right - 0.5), default=x0)
    after = min((strip[0] for strip in free if strip[0] >= gutter.right), default=x1)
    left = _column(lines, before, gutter.right)
    right = _column(lines, gutter.right, after + 0.5)
    sides = _side(left, right, size), _side(right, left, size)
    edges = [x0, *(place for strip in free for place in strip), x1]
    spans = list(zip(edges[::2], edges[1::2], strict=True))
    widths = [end - start for start, end in spans]
    every = [_column(lines, start, end + 0.5) for start, end in spans]
    across = _level_rules_within(gutter, rules, across=True)
    beside = [box for box in _level_rules_within(gutter, rules, across=False) if box.x0 < x1 and box.x1 > x0]
    upright = [
        rule.box for rule in rules if not rule.horizontal and left.right - 2 < rule.box.center_x < gutter.right + 2
    ]
    height = gutter.bottom - gutter.top
    tall = sum(max(min(box.y1, gutter.bottom) - max(box.y0, gutter.top), 0.0) for box in upright)
    gaps = _gaps(left, size), _gaps(right, size)
    shared = sum(any(min(a[1], b[1]) - max(a[0], b[0]) > 0.3 * size for b in gaps[1]) for a in gaps[0])
    fewest = max(min(len(left.rows), len(right.rows)), 1)
    pitches = left.pitch, right.pitch
    heights = [_extent(column) for column in (left, right)]
    common = min(heights[0][1], heights[1][1]) - max(heights[0][0], heights[1][0])
    shorter = max(min(end - start for start, end in heights), 1.0)
    return (
        *(value for pair in zip(*sides, strict=True) for value in (min(pair), max(pair))),
        min((gutter.right - left.right) / size, FAR),
        _level(left, right, size),
        shared / fewest,
        (len(gaps[0]) + len(gaps[1]) - 2 * shared) / fewest,
        float(len(free)),
        min(widths) / max(max(widths), 1.0),
        UNMEASURED if known is None else float(any(abs(place - gutter.right) < SAME_PLACE for place in known)),
        common / shorter,
        len(across) / fewest,
        len(beside) / fewest,
        tall / max(height, 1.0),
        abs((gutter.right + left.right) / 2 - (x0 + x1) / 2) / max(x1 - x0, 1.0),
        min((x1 - x0) / size, FAR),
        min(height / size, FAR),
        *(float(any(item.box.x0 < gutter.left and item.box.x1 > gutter.right for item in by_height.between(*span)))
          for span in ((gutter.top - 4 * size, gutter.top), (gutter.bottom, gutter.bottom + 4 * size))),
        min(pitches) / max(*pitches, 1.0),
        float(count),
        *_of_all([column for column in every if column.rows], size),
        *_matched_runs(left, right, size),
    )  # fmt: skip


def _of_all(columns: Sequence[_Column], size: float) -> tuple[float, ...]:
    """ALL_FEATURES of the columns side by side."""
    if not columns:
        return (UNMEASURED,) * len(ALL_FEATURES)
    matched = [_matched_runs(one, other, size) for one, other in itertools.pairwise(columns)]
    counts = [len(column.rows) for column in columns]
    letters = [sum(len(line.text) for row in column.rows for line in row) for column in columns]
    digits = [sum(c.isdigit() for row in column.rows for line in row for c in line.text) for column in columns]
    return (
        min(counts) / max(counts),
        min(min(own / rows for own, rows in zip(letters, counts, strict=True)), FAR),
        min(_fill(column) for column in columns),
        max(own / max(of, 1) for own, of in zip(digits, letters, strict=True)),
        min(_dense(column, size) for column in columns),
        min((own for own, _ in matched), default=0.0),
        max((own for _, own in matched), default=0.0),
    )


def _fill(column: _Column) -> float:
    """The share of rows that fill most of the column's width."""
    width = max(column.right - column.left, 1.0)
    return sum(max(line.box.x1 for line in row) - row[0].box.x0 > 0.6 * width for row in column.rows) / len(column.rows)


def _dense(column: _Column, size: float) -> float:
    """How much of a column's height its rows take, set solid."""
    top, bottom = _extent(column)
    return min(len(column.rows) * size / max(bottom - top, size), 2.0)


def _matched_runs(left: _Column, right: _Column, size: float) -> tuple[float, float]:
    """How many runs of rows, of the side with fewer of them, have their top, middle or bottom where a run of the other side has it, as
    the cells of a row of a table have; and how many have not. Runs end where there is a gap."""
    few, many = sorted((_runs(column, size) for column in (left, right)), key=len)
    places = [(one.y0, one.center_y, one.y1) for one in many]
    matched = sum(
        any(
            any(abs(a - b) < LEVEL * size for a, b in zip((run.y0, run.center_y, run.y1), at, strict=True))
            for at in places
        )
        for run in few
    )
    return float(matched), float(len(few) - matched)


def _runs(column: _Column, size: float) -> list[Box]:
    """The boxes of runs of rows without a gap between them."""
    if not column.rows:
        return []
    pitch = max(column.pitch, size)
    runs: list[list[Line]] = [[column.rows[0][0]]]
    for above, row in itertools.pairwise(column.rows):
        if row[0].baseline - above[0].baseline > GAP * pitch:
            runs.append([])
        runs[-1].append(row[0])
    return [Box(column.left, run[0].baseline - size, column.right, run[-1].baseline) for run in runs]


def _free_strips(boxes: Sequence[Box], width: float) -> list[tuple[float, float]]:
    """The strips at least ``width`` wide that nothing stands in, from left to right."""
    strips = []
    end = -math.inf
    for box in sorted(boxes, key=lambda box: box.x0):
        if math.isfinite(end) and box.x0 - end >= width:
            strips.append((end, box.x0))
        end = max(end, box.x1)
    return strips


def _column(lines: Sequence[Line], left: float, right: float) -> _Column:
    own = [line for line in lines if left - 0.5 <= line.box.center_x < right]
    rows = rows_of(own)
    if not own:
        return _Column([], left, left, 0.0)
    return _Column(rows, min(line.box.x0 for line in own), max(line.box.x1 for line in own), _pitch(rows))


def _side(column: _Column, other: _Column, size: float) -> tuple[float, ...]:
    """SIDE_FEATURES of a column."""
    rows = column.rows
    if not rows:
        return (0.0,) * len(SIDE_FEATURES)
    count = len(rows)
    texts = [" ".join(line.text for line in row) for row in rows]
    letters = sum(map(len, texts))
    width = max(column.right - column.left, 1.0)
    spans = [(row[0].box.x0, max(line.box.x1 for line in row)) for row in rows]
    baselines = [row[0].baseline for row in other.rows]
    starts = [
        rows[0],
        *(row for above, row in itertools.pairwise(rows) if row[0].baseline - above[0].baseline > GAP * column.pitch),
    ]
    return (
        min(float(count), FAR),
        min(width / size, FAR),
        min(letters / count, FAR),
        _fill(column),
        sum(start - column.left < AT_EDGE * size for start, _ in spans) / count,
        sum(column.right - end < AT_EDGE * size for _, end in spans) / count,
        sum(text[:1].islower() for text in texts[1:]) / max(count - 1, 1),
        sum(ends_sentence(text) for text in texts) / count,
        sum(c.isdigit() for text in texts for c in text) / max(letters, 1),
        sum(text.endswith(("-", "\u00ad", "\u2010")) for text in texts) / count,
        min(sum(map(len, rows)) / count, 4.0),
        sum(text.endswith(":") for text in texts) / count,
        (len(starts) - 1) / count,
        statistics.median(row[0].size for row in rows) / size,
        sum(any(abs(row[0].baseline - at) < LEVEL * size for at in baselines) for row in starts) / len(starts),
        _dense(column, size),
        sum(any(abs(row[0].baseline - at) < size for at in baselines) for row in rows) / count,
    )  # fmt: skip


def _pitch(rows: Sequence[Sequence[Line]]) -> float:
    steps = [row[0].baseline - above[0].baseline for above, row in itertools.pairwise(rows)]
    return statistics.median_low(steps) if steps else 0.0


def _gaps(column: _Column, size: float) -> list[tuple[float, float]]:
    """The heights between which rows stand further apart than usual."""
    pitch = max(column.pitch, size)
    pairs = itertools.pairwise(row[0] for row in column.rows)
    return [
        (above.baseline, row.baseline - size) for above, row in pairs if row.baseline - above.baseline > GAP * pitch
    ]


def _extent(column: _Column) -> tuple[float, float]:
    if not column.rows:
        return 0.0, 0.0
    return column.rows[0][0].box.y0, column.rows[-1][0].box.y1


def _level(left: _Column, right: _Column, size: float) -> float:
    """The share of rows of the side with fewer that have one of the other side beside them."""
    few, many = sorted((left.rows, right.rows), key=len)
    return _share_level([row[0].baseline for row in few], [row[0].baseline for row in many], size)


def are_rows(baselines: Sequence[float], others: Sequence[float], size: float) -> bool:
    """Whether most of these lines are level with some of the others beside them, as rows of a table are; ``size`` is theirs in points."""
    return _share_level(baselines, others, size) > MOST_LEVEL


def _share_level(baselines: Sequence[float], others: Sequence[float], size: float) -> float:
    return sum(any(abs(one - other) < LEVEL * size for other in others) for one in baselines) / max(len(baselines), 1)
