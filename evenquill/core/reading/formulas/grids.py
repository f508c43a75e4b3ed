"""Fences with what they enclose, and things in lines and columns: matrices, cases, lines of a formula."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from evenquill.core.equations.signs import BARS, CLOSING, OPENING, OPERATIONS, RELATIONS
from evenquill.core.model.equation import Fence, Fraction, Grid, GridKind, Node, Operator, Row, parts_of
from evenquill.core.reading.formulas.lines import line_of
from evenquill.core.reading.formulas.parts import AXIS, SMALLER, Part, box_of, compound, size_of

TALL = 1.1
"""Ems: what fences are higher may enclose several lines."""

LINE_STEP = 0.75
"""Ems between baselines from which they are those of two lines."""

COLUMN_GAP = 0.32
"""Ems without ink in any line, and without the space that signs have beside them, that part columns; typst has 0.5 between them, TeX 1."""

SIGN_SPACE = 0.25
"""Ems beside relations and operations that are theirs (TeX: 5/18 and 4/18)."""

ALIGNED = 0.5
"""Ems within which relations of several lines stand below each other."""

BINOMIAL_STEP = 1.34
"""Ems between two numbers above each other in a binomial; lines of a matrix are 1.2 apart."""


def with_fences(parts: Sequence[Part]) -> list[Part]:
    """The parts with tall fences that enclose several lines put together with those, the innermost first."""
    left = sorted(parts, key=lambda part: part.box.x0)
    while True:
        found = _innermost(left)
        if found is None:
            return left
        opening, inside, closing = found
        size = size_of(inside)
        fences = [fence for fence in (opening, closing) if fence is not None]
        grown = max(fence.size for fence in fences) > size / SMALLER
        body = _enclosed(inside, grown=grown, cases=len(fences) == 1)
        node = Fence("" if opening is None else opening.text, body, "" if closing is None else closing.text)
        gone = set(map(id, [*fences, *inside]))
        box = box_of(fences)
        made = compound(node, box_of([*fences, *inside]), max(fence.size for fence in fences))
        made = made._replace(baseline=box.center_y + AXIS * made.size)
        left = sorted([*(part for part in left if id(part) not in gone), made], key=lambda part: part.box.x0)


def _innermost(parts: Sequence[Part]) -> tuple[Part | None, list[Part], Part | None] | None:
    """A tall fence with several lines in it and no such fence inside, with what it encloses."""
    for n in reversed(range(len(parts))):
        opening = parts[n]
        if not _is_tall(opening) or not (opening.text in OPENING or opening.text in BARS):
            continue
        closing = next((part for part in parts[n + 1 :] if _closes(opening, part)), None)
        ends = closing.box.x0 if closing is not None else max(part.box.x1 for part in parts)
        inside = [
            part
            for part in parts[n + 1 :]
            if part.box.center_x < ends and part is not closing and _is_beside(part, opening)
        ]
        if inside and (closing is not None or opening.text == "{") and len(_baselines(inside)) > 1:
            return opening, inside, closing
    for n, closing in enumerate(parts):
        if closing.text == "}" and _is_tall(closing):
            inside = [part for part in parts[:n] if _is_beside(part, closing)]
            if inside and len(_baselines(inside)) > 1:
                return None, inside, closing
    return None


def _is_tall(part: Part) -> bool:
    return part.node is None and part.box.height > TALL * part.size


def _closes(opening: Part, part: Part) -> bool:
    signs = (opening.text,) if opening.text in BARS else tuple(CLOSING)
    alike = abs(part.box.height - opening.box.height) < 0.3 * opening.box.height
    return (
        part.text in signs
        and part.node is None
        and alike
        and opening.box.overlap_y(part.box) > 0.7 * opening.box.height
    )


def _is_beside(part: Part, fence: Part) -> bool:
    return fence.box.y0 - 0.3 * part.size < part.box.center_y < fence.box.y1 + 0.3 * part.size


def _enclosed(parts: Sequence[Part], *, grown: bool, cases: bool) -> Node:
    """What a fence encloses: a binomial, cases with their conditions, or a grid with columns."""
    lines = _lines(parts)
    if cases:
        return Grid(tuple(tuple(line_of(cell) if cell else Row() for cell in cells) for cells in _two_columns(lines)))
    if len(lines) == 2 and (grown or _step(parts) > BINOMIAL_STEP * size_of(parts)) and len(_cells(lines)[0]) == 1:
        return Fraction(line_of(lines[0]), line_of(lines[1]), bar=False)
    return Grid(tuple(tuple(line_of(cell) if cell else Row() for cell in cells) for cells in _cells(lines)))


def _step(parts: Sequence[Part]) -> float:
    baselines = _baselines(parts)
    return baselines[1] - baselines[0]


def _baselines(parts: Sequence[Part]) -> list[float]:
    """The baselines of the lines that parts stand in, from the top."""
    size = size_of(parts)
    large = [part for part in parts if part.size > SMALLER * size and (part.node is not None or part.text not in "′″")]
    # Fences and large operators hang from where their typeface has them.
    on = sorted(part.baseline for part in [part for part in large if part.block or not part.centred] or large)
    found: list[list[float]] = []
    for baseline in on:
        if found and baseline - found[-1][-1] < LINE_STEP * size:
            found[-1].append(baseline)
        else:
            found.append([baseline])
    return [group[len(group) // 2] for group in found]


def _lines(parts: Sequence[Part]) -> list[list[Part]]:
    """The parts of each line, from the top; small parts are in the line whose letters they are nearest to."""
    size = size_of(parts)
    baselines = _baselines(parts)
    if len(baselines) < 2:
        return [list(parts)]
    lines: list[list[Part]] = [[] for _ in baselines]
    small: list[Part] = []
    for part in parts:
        if part.size > SMALLER * size:
            lines[min(range(len(baselines)), key=lambda n: abs(baselines[n] - part.baseline))].append(part)
        else:
            small.append(part)
    boxes = [box_of(line) for line in lines]
    for part in small:
        nearest = min(
            range(len(lines)),
            key=lambda n: (max(-boxes[n].overlap_y(part.box), 0.0), abs(boxes[n].center_y - part.box.center_y)),
        )
        lines[nearest].append(part)
    return lines


def _cells(lines: Sequence[Sequence[Part]]) -> list[list[list[Part]]]:
    """The parts of each line by columns, which are parted where no line has ink."""
    size = size_of([part for line in lines for part in line])
    spans = sorted(_span(part) for line in lines for part in line)
    edges: list[float] = []
    end = spans[0][1]
    for x0, x1 in spans:
        if x0 - end > COLUMN_GAP * size:
            edges.append((x0 + end) / 2)
        end = max(end, x1)
    bounds = [float("-inf"), *edges, float("inf")]
    return [
        [[part for part in line if left <= part.box.center_x < right] for left, right in itertools.pairwise(bounds)]
        for line in lines
    ]


def _two_columns(lines: Sequence[Sequence[Part]]) -> list[list[list[Part]]]:
    """The parts of each line before and behind the widest gap that all lines have; in one column where none is wide."""
    size = size_of([part for line in lines for part in line])
    spans = sorted(_span(part) for line in lines for part in line)
    end, widest, at = spans[0][1], 0.0, float("inf")
    for x0, x1 in spans:
        if x0 - end > widest:
            widest, at = x0 - end, (x0 + end) / 2
        end = max(end, x1)
    if widest < COLUMN_GAP * size:
        return [[list(line)] for line in lines]
    return [
        [[part for part in line if part.box.center_x < at], [part for part in line if part.box.center_x >= at]]
        for line in lines
    ]


def _span(part: Part) -> tuple[float, float]:
    """Where a part begins and ends, with the space beside it that is its own."""
    space = SIGN_SPACE * part.size if part.text in RELATIONS or part.text in OPERATIONS else 0.0
    return part.box.x0 - space, part.box.x1 + space


def with_lines(parts: Sequence[Part]) -> Node:
    """The parts as one line, or as several aligned at their relations."""
    lines = _lines(parts)
    if len(lines) < 2:
        return line_of(lines[0])
    nodes = [line_of(line) for line in lines]
    places = [_first_relation(line) for line in lines]
    known = [place for place in places if place is not None]
    if len(known) == len(lines) and max(known) - min(known) < ALIGNED * size_of(parts):
        return Grid(tuple(_parted(node) for node in nodes), GridKind.LINES)
    return Grid(tuple((node,) for node in nodes), GridKind.LINES)


def _first_relation(line: Sequence[Part]) -> float | None:
    """Where the first relation of a line begins."""
    size = size_of(line)
    return min((part.box.x0 for part in line if part.text in RELATIONS and part.size > SMALLER * size), default=None)


def _parted(node: Node) -> tuple[Node, ...]:
    """A line as the cells before its first relation and from there on."""
    parts = parts_of(node)
    at = next((n for n, part in enumerate(parts) if isinstance(part, Operator) and part.text in RELATIONS), 0)
    return Row(parts[:at]), Row(parts[at:])
