"""Which signs of a page are formulas: displayed ones, and ones within lines of text."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.equations.numbers import NUMBER
from evenquill.core.equations.signs import NARY, OPERATIONS, RELATIONS
from evenquill.core.model import Box, union
from evenquill.core.reading.formulas.bars import fitting_bars
from evenquill.core.reading.formulas.conditions import with_conditions
from evenquill.core.reading.formulas.parts import AXIS, SMALLER, Part
from evenquill.core.reading.formulas.segments import Segment, Sign, segments_of
from evenquill.core.reading.formulas.within_lines import formulas_in_line, is_telling
from evenquill.core.union_find import UnionFind

BESIDE = 2.6
"""Ems between two parts of one displayed formula, at most; TeX's widest set space is 2."""

ABOVE = 0.55
"""Ems between what stands above each other in a formula."""

LINES_APART = 0.75
"""Ems between the ink of lines of one displayed formula."""

GOES_ON = 1.2
"""The same where the lower one begins with a relation."""

NUMBER_GAP = 0.8
"""Ems before the number of an equation, at least."""

IN_LINE = 1.3
"""Ems from the words beside it within which something is in their line."""

CODE_SHARE = 0.25
"""Share of signs in letters of one width from which something is code."""

ASCENT, DESCENT = 1.0, 0.4
"""Ems above and below its baseline that belong to a line."""

STACK, TALL = 2.0, 1.6
"""Height in ems from which a cluster has several lines, and of signs that reach over several."""

FEW_OVER = 4
"""Letters of a line over or under a tall formula that stands in that line, at most."""

OWN_LINE = 0.95
"""Ems between baselines of lines that have nothing to do with each other, as in the cells of a table."""

SCRIPT_BESIDE = 1.0
"""Ems beside the words of a line within which small signs are scripts in it."""

OTHER_LINE = 1.3
"""Ems between the baselines of a line and of letters that are not in it; those of a fraction in it are nearer."""

FEWEST = 3
"""Signs of a displayed formula, of a line that goes on with a relation one less."""


class Formula(NamedTuple):
    """Signs, by their places, and bars that are one formula.

    ``number`` is what is printed beside it, ``number_signs`` its signs. ``beside`` is a sign of the text that it stands in, None for
    one that is ``display``. ``baseline`` and ``size`` are those of its line.
    """

    signs: tuple[int, ...]
    bars: tuple[Box, ...]
    box: Box
    baseline: float
    size: float
    display: bool = False
    number: str = ""
    number_signs: tuple[int, ...] = ()
    beside: int | None = None


class _Cluster(NamedTuple):
    """Segments and bars that hang together."""

    segments: list[Segment]
    bars: list[Box]

    @property
    def box(self) -> Box:
        return union([*(segment.box for segment in self.segments), *self.bars])

    @property
    def size(self) -> float:
        return max(segment.size for segment in self.segments)

    @property
    def signs(self) -> list[int]:
        return [n for segment in self.segments for n in segment.signs]


def formulas_among(signs: Sequence[Sign], bars: Sequence[Box]) -> list[Formula]:
    """The formulas among the signs of a page, in the order of its lines; ``bars`` are its thin horizontal lines."""
    if not any(sign.mathematical for sign in signs):
        return []
    segments = with_conditions(segments_of(signs), signs)
    prose = [segment for segment in segments if segment.prose]
    others = [segment for segment in segments if not segment.prose]
    clusters = _clusters(others, fitting_bars(bars, signs), prose)
    formulas: list[Formula] = []
    attached: dict[int, list[_Cluster]] = {}
    displays: list[_Cluster] = []
    for cluster in [part for whole in clusters for part in _by_lines(whole, prose, signs)]:
        line = _line_beside(cluster, prose, signs)
        if line is not None:
            attached.setdefault(line, []).append(cluster)
        elif _is_displayed(cluster, signs, clusters):
            displays.append(cluster)
        elif any(signs[n].mathematical for n in cluster.signs):
            formulas.extend(_alone(cluster, signs))
    numbers = _numbers(clusters, displays, signs)
    for cluster in _joined(displays, numbers, signs):
        formulas.extend(_numbered(cluster, numbers, signs))
    for n, segment in enumerate(prose):
        around = attached.get(n, [])
        if segment.seeds or any(signs[k].mathematical for cluster in around for k in cluster.signs):
            small = [k for cluster in around for k in cluster.signs]
            lines = [bar for cluster in around for bar in cluster.bars]
            formulas.extend(_in_line(segment, small, lines, signs))
    return sorted(formulas, key=lambda formula: (round(formula.baseline), formula.box.x0))


def _by_lines(cluster: _Cluster, prose: Sequence[Segment], signs: Sequence[Sign]) -> list[_Cluster]:
    """A cluster that stands beside text and has several lines of full size without a bar or a tall sign, line by line: cells of a table."""
    if cluster.bars or cluster.box.height < STACK * cluster.size or _line_beside(cluster, prose, signs) is None:
        return [cluster]
    large = [segment for segment in cluster.segments if segment.size > SMALLER * cluster.size]
    if any(segment.box.height > TALL * cluster.size for segment in large) or len(large) < 2:
        return [cluster]
    lines = [_Cluster([segment], []) for segment in large]
    for segment in cluster.segments:
        if not any(segment is other for other in large):
            nearest = min(lines, key=lambda line: _distance(line.box, segment.box))
            nearest.segments.append(segment)
    return lines


def _distance(one: Box, other: Box) -> float:
    """How far two boxes are from each other, sidewards and by their middles."""
    return abs(one.center_y - other.center_y) + max(-one.overlap_x(other), 0.0)


def _are_apart(one: Segment, other: Segment, size: float) -> bool:
    """Whether two segments are on different lines, or in different cells of one."""
    return abs(one.baseline - other.baseline) > OWN_LINE * size or one.box.overlap_x(other.box) < -IN_LINE * size


def _clusters(segments: list[Segment], bars: Sequence[Box], prose: Sequence[Segment]) -> list[_Cluster]:
    """Segments that stand close to each other or at one bar, each with its bars; the scripts of a line of text stay with it."""
    lines = [_line_of_scripts(segment, prose) for segment in segments]
    sets: UnionFind[int] = UnionFind()
    order = sorted(range(len(segments)), key=lambda n: segments[n].box.y0)
    for k, i in enumerate(order):
        one = segments[i]
        for j in order[k + 1 :]:
            other = segments[j]
            size = max(one.size, other.size)
            if other.box.y0 - one.box.y1 > ABOVE * size:
                if other.box.y0 - one.box.y1 > 3 * size:
                    break
                continue
            if _hang_together(one.box, other.box, size) and not (_is_off(lines[i], other) or _is_off(lines[j], one)):
                sets.join(i, j)
        for b, bar in enumerate(bars):
            if _hang_together(one.box, bar, one.size):
                sets.join(i, len(segments) + b)
    return _side_by_side(_gathered(segments, bars, sets))


def _line_of_scripts(segment: Segment, prose: Sequence[Segment]) -> Segment | None:
    """The line of text that small signs stand in, None for others."""
    return next(
        (
            line
            for line in prose
            if segment.size < SMALLER * line.size
            and _with_reach(line).overlap_y(segment.box) > 0.5 * segment.box.height
            and line.box.overlap_x(segment.box) > -SCRIPT_BESIDE * line.size
        ),
        None,
    )


def _is_off(line: Segment | None, other: Segment) -> bool:
    """Whether letters of full size stand on another line than this one."""
    if line is None or other.size < SMALLER * line.size:
        return False
    return abs(other.baseline - line.baseline) > OTHER_LINE * line.size


def _gathered(segments: list[Segment], bars: Sequence[Box], sets: UnionFind[int]) -> list[_Cluster]:
    """The clusters of segments and bars, by their places among both."""
    found: dict[int, _Cluster] = {}
    for i, segment in enumerate(segments):
        found.setdefault(sets.root(i), _Cluster([], [])).segments.append(segment)
    for b, bar in enumerate(bars):
        root = sets.root(len(segments) + b)
        if root in found:
            found[root].bars.append(bar)
    return list(found.values())


def _side_by_side(clusters: list[_Cluster]) -> list[_Cluster]:
    """The clusters, those as one that stand beside each other: what stands before a tall brace need not touch a line behind it."""
    out: list[_Cluster] = []
    for cluster in sorted(clusters, key=lambda cluster: cluster.box.x0):
        box = cluster.box
        for n, other in enumerate(out):
            shared = other.box.overlap_y(box)
            near = other.box.overlap_x(box) > -BESIDE * max(cluster.size, other.size)
            if (
                near
                and shared > 0.5 * min(box.height, other.box.height)
                and len(cluster.segments) + len(other.segments) > 2
            ):
                out[n] = _Cluster([*other.segments, *cluster.segments], [*other.bars, *cluster.bars])
                break
        else:
            out.append(cluster)
    return out


def _hang_together(one: Box, other: Box, size: float) -> bool:
    beside = one.overlap_y(other) > 0 and one.overlap_x(other) > -BESIDE * size
    return beside or (one.overlap_x(other) > -0.2 * size and one.overlap_y(other) > -ABOVE * size)


def _line_beside(cluster: _Cluster, prose: Sequence[Segment], signs: Sequence[Sign]) -> int | None:
    """The line of text that a cluster stands in, by its place; None for one that has its lines for itself."""
    box = cluster.box
    best: tuple[float, int] | None = None
    for n, segment in enumerate(prose):
        line = _with_reach(segment) if box.height < segment.size else segment.box
        shared = line.overlap_y(box)
        if shared < 0.25 * min(box.height, segment.box.height) or segment.box.overlap_x(box) < -IN_LINE * segment.size:
            continue
        over = sum(box.x0 < signs[k].part.box.center_x < box.x1 for k in segment.signs)
        if box.height > TALL * segment.size and over > FEW_OVER and over > 0.5 * len(cluster.signs):
            continue  # a line of text right above or below a displayed formula
        away = abs(box.center_y - segment.baseline + AXIS * segment.size)
        if best is None or away < best[0]:
            best = away, n
    return None if best is None else best[1]


def _with_reach(segment: Segment) -> Box:
    """The box of a line as far as accents of tall letters and low scripts may stand beyond its ink."""
    box, baseline, size = segment.box, segment.baseline, segment.size
    return box._replace(y0=min(box.y0, baseline - ASCENT * size), y1=max(box.y1, baseline + DESCENT * size))


def _is_displayed(cluster: _Cluster, signs: Sequence[Sign], clusters: Sequence[_Cluster]) -> bool:
    """Whether a cluster is a displayed formula: enough signs that say something, and no cells of a table beside it."""
    parts = [signs[n].part for n in cluster.signs]
    if len(parts) < FEWEST - _goes_on(cluster, signs) or not any(is_telling(signs[n]) for n in cluster.signs):
        return False
    if sum(signs[n].code for n in cluster.signs) > CODE_SHARE * len(parts):
        return False
    says = any(part.text in RELATIONS or part.text in NARY for part in parts)
    if not (cluster.bars or says or (_goes_on(cluster, signs) and len(parts) > FEWEST)):
        return False
    box = cluster.box
    for other in clusters:
        if other is cluster or other.box.overlap_y(box) < 0.3 * min(other.box.height, box.height):
            continue
        texts = [signs[n].part.text for n in other.signs]
        if not NUMBER.fullmatch("".join(texts)) and not any(text in RELATIONS for text in texts):
            return False
    return True


def _alone(cluster: _Cluster, signs: Sequence[Sign]) -> list[Formula]:
    """What stands in a line of its own, in a cell or in a heading, without being displayed."""
    largest = max(segment.size for segment in cluster.segments)
    lines: list[Segment] = []
    for segment in sorted(cluster.segments, key=lambda segment: -len(segment.signs)):
        apart = all(_are_apart(segment, line, largest) for line in lines)
        if segment.size > SMALLER * largest and (apart or not lines) and not cluster.bars:
            lines.append(segment)
    lines = lines or [max(cluster.segments, key=lambda segment: (segment.size, len(segment.signs)))]
    small: list[list[int]] = [[] for _ in lines]
    for segment in cluster.segments:
        if not any(segment is line for line in lines):
            nearest = min(range(len(lines)), key=lambda n: _distance(lines[n].box, segment.box))
            small[nearest].extend(segment.signs)
    return [one for line, own in zip(lines, small, strict=True) for one in _in_line(line, own, cluster.bars, signs)]


def _in_line(line: Segment, small: list[int], bars: Sequence[Box], signs: Sequence[Sign]) -> list[Formula]:
    out = []
    for run in formulas_in_line(line, small, signs, bars):
        parts = [signs[n].part for n in run]
        box = union([part.box for part in parts])
        own = tuple(bar for bar in bars if box.x0 - 1 < bar.center_x < box.x1 + 1)
        beside = next((n for n in line.signs if n not in run and signs[n].part.words), None)
        whole = _with_pens(union([box, *own]), [signs[n] for n in run])
        out.append(Formula(tuple(run), own, whole, line.baseline, line.size, beside=beside))
    return out


def _with_pens(box: Box, signs: Sequence[Sign]) -> Box:
    """The box from where the pen begins to where it ends: letters keep the distance to the words beside them."""
    return Box(min(box.x0, min(sign.x0 for sign in signs)), box.y0, max(box.x1, max(sign.x1 for sign in signs)), box.y1)


def _numbers(clusters: Sequence[_Cluster], displays: Sequence[_Cluster], signs: Sequence[Sign]) -> list[_Cluster]:
    """The clusters that are numbers of equations."""
    taken = set(map(id, displays))
    return [
        cluster
        for cluster in clusters
        if id(cluster) not in taken and NUMBER.fullmatch("".join(signs[n].part.text for n in cluster.signs))
    ]


def _goes_on(cluster: _Cluster, signs: Sequence[Sign]) -> bool:
    """Whether a line begins with a relation or an operation, as lines do that go on with the one above."""
    return min((signs[n].part for n in cluster.signs), key=lambda part: part.box.x0).text in RELATIONS | OPERATIONS


def _joined(displays: list[_Cluster], numbers: Sequence[_Cluster], signs: Sequence[Sign]) -> list[_Cluster]:
    """Displayed formulas, lines close below each other as one where at most one of them has a number."""
    out: list[_Cluster] = []
    for cluster in sorted(displays, key=lambda cluster: cluster.box.y0):
        last = out[-1] if out else None
        if (
            last is not None
            and _are_lines(last, cluster, goes_on=_goes_on(cluster, signs))
            and not (_has_number(last, numbers) and _has_number(cluster, numbers))
        ):
            out[-1] = _Cluster([*last.segments, *cluster.segments], [*last.bars, *cluster.bars])
        else:
            out.append(cluster)
    return out


def _are_lines(above: _Cluster, below: _Cluster, *, goes_on: bool) -> bool:
    gap = below.box.y0 - above.box.y1
    limit = GOES_ON if goes_on else LINES_APART
    size = max(above.size, below.size)
    return gap < limit * size and above.box.overlap_x(below.box) > (-BESIDE * size if goes_on else 0)


def _has_number(cluster: _Cluster, numbers: Sequence[_Cluster]) -> bool:
    return any(_is_number_of(number, cluster) for number in numbers)


def _is_number_of(number: _Cluster, cluster: _Cluster) -> bool:
    return cluster.box.y0 - 2 < number.box.center_y < cluster.box.y1 + 2


def _numbered(cluster: _Cluster, numbers: Sequence[_Cluster], signs: Sequence[Sign]) -> list[Formula]:
    """A displayed formula with its number; several where its lines have numbers of their own."""
    own = [number for number in numbers if _is_number_of(number, cluster)]
    if not own:
        inner = _number_inside(cluster, signs)
        if inner is None:
            return [_displayed(cluster, None, signs)]
        rest = [_without(segment, inner.signs, signs) for segment in cluster.segments]
        formula = _Cluster([segment for segment in rest if segment.signs], cluster.bars)
        return [_displayed(formula, _Cluster([inner], []), signs)]
    if len(own) == 1:
        return [_displayed(cluster, own[0], signs)]
    lines: list[_Cluster] = [_Cluster([], []) for _ in own]
    for segment in cluster.segments:
        lines[_nearest(segment.box, own)].segments.append(segment)
    for bar in cluster.bars:
        lines[_nearest(bar, own)].bars.append(bar)
    return [_displayed(line, number, signs) for line, number in zip(lines, own, strict=True) if line.segments]


def _nearest(box: Box, numbers: Sequence[_Cluster]) -> int:
    return min(range(len(numbers)), key=lambda n: abs(numbers[n].box.center_y - box.center_y))


def _number_inside(cluster: _Cluster, signs: Sequence[Sign]) -> Segment | None:
    """The number of an equation that stands close behind it, as a segment of its own."""
    last = max(cluster.segments, key=lambda segment: segment.box.x1)
    for n in range(len(last.signs) - 2):
        own = last.signs[n:]
        if not NUMBER.fullmatch("".join(signs[k].part.text for k in own)):
            continue
        start = signs[own[0]].part.box.x0
        before = [signs[k].part.box.x1 for k in cluster.signs if k not in own]
        if before and start - max(before) > NUMBER_GAP * last.size:
            return last._replace(signs=own, box=union([signs[k].part.box for k in own]))
    return None


def _without(segment: Segment, gone: Sequence[int], signs: Sequence[Sign]) -> Segment:
    left = [n for n in segment.signs if n not in gone]
    return segment._replace(signs=left, box=union([signs[n].part.box for n in left]) if left else segment.box)


def _displayed(cluster: _Cluster, number: _Cluster | None, signs: Sequence[Sign]) -> Formula:
    parts = [signs[n].part for n in cluster.signs]
    large = [part for part in parts if part.size > SMALLER * cluster.size and not part.centred] or parts
    return Formula(
        tuple(cluster.signs),
        tuple(cluster.bars),
        cluster.box,
        _middle_baseline(large),
        cluster.size,
        display=True,
        number="" if number is None else "".join(signs[n].part.text for n in number.signs),
        number_signs=() if number is None else tuple(number.signs),
    )


def _middle_baseline(parts: Sequence[Part]) -> float:
    return sorted(part.baseline for part in parts)[len(parts) // 2]
