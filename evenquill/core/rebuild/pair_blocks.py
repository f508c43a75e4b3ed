"""Blocks of labels and values beside each other: the columns that they stand in, and which lines make one row of them.

The lines of a label and of its value may be wrapped each in its own column, and begin or end at different heights. Columns are the strips
that next to no line of a block has a word in; of each line a model tells whether a row begins with it (fitted with ``bench/corpus``, kind
``pair``).
"""

from __future__ import annotations

import itertools
import statistics
from bisect import bisect_right
from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

import numpy as np

from evenquill.core.evidence import SMALLEST_SIZE
from evenquill.core.fitted.trees import UNMEASURED, trees_of
from evenquill.core.layout.flow import FlowLine, FlowWord
from evenquill.core.layout.tables.pieces import WIDE_SPACE
from evenquill.core.model import Family
from evenquill.core.rebuild.pairs import column_by_column
from evenquill.core.rebuild.structure.decide import Decisions
from evenquill.core.rebuild.structure.line_facts import limited
from evenquill.core.rebuild.structure.roles import ROLES
from evenquill.core.rebuild.structure.segments import Decided

CLASSES = ("same", "new")

PAIR_FEATURES = (
    "new_likelihood", "distance", "distance_below", "over_least", "below_over_least", "share_far", "columns", "lines", "filled",
    "filled_above", "filled_below", "first", "first_above", "first_below", "both", "either", "label", "label_above",
    "labels_lower", "values_lower", "labels_upper", "values_upper", "labels_digits", "labels_digits_above", "colons",
    "colons_above", "open_above", "share_colons", "nearest_above", "fits", "share_full", "share_fitting",
)  # fmt: skip
"""What is measured of a line of a block, see ``pair_features``."""

OF_CASE = tuple(PAIR_FEATURES.index(f"{part}_{case}") for part in ("labels", "values") for case in ("lower", "upper"))
"""Places of what tells of capital letters, first of labels, then of values."""

STRIP, WIDER = 0.4, 1.4
"""Ems: the least width of a strip between columns, and its width over that of the block's spaces."""

FEWEST_WIDE, MOSTLY_WIDE = 3, 0.6
"""Lines, and their share, in which a gap is as wide as between columns, where the longest label leaves less."""

CROSSED = 0.15
"""Share of the lines of a block that may have a word in a strip: a value that runs through the columns beside it."""

IN_LINE = 1.5
"""Points within which words begin where their column does."""

MAY_BE_PAIRS = 0.15
"""How probable it must be that a line is of labels and values, if it stands below such or has a tab."""

FURTHEST = 3.5
"""Ems between baselines of a block, at most."""

FAR = 1.12
"""Distance of two lines over the least one in their block from which they stand apart."""

ONE_LINE = 0.6
"""Ems within which baselines are taken for one."""

LABEL_AND_VALUE, SPARE = 2, 1.0
"""Columns of a block of single labels, and ems, a space among them, that a value leaves free if the next word would have stood there."""

FEWEST_FULL = 4
"""Lines that each have something in all columns, from which each is a row: not all columns are wrapped at the same lines."""

_FULL = PAIR_FEATURES.index("share_full")

IN_COLUMNS = ("pairs", "cell")
"""Roles of lines of labels and values: they look like rows of a table that is none."""

COLONS = (":", "：")


class PairBlock(NamedTuple):
    """Lines of labels and values below each other; ``starts`` are where the columns begin, in points, the first one anywhere."""

    lines: tuple[FlowLine, ...]
    starts: tuple[float, ...]

    def cells(self, line: FlowLine) -> dict[int, list[FlowWord]]:
        """The words of a line by the columns that they stand in; one that runs through several stands where it begins."""
        cells: dict[int, list[FlowWord]] = {}
        place = 0
        for n, word in enumerate(line.words):
            own = bisect_right(self.starts, word.box.x0 + IN_LINE) - 1
            free = word.box.x0 - line.words[n - 1].box.x1 if n else 0.0
            in_line = abs(word.box.x0 - self.starts[own]) <= IN_LINE
            if not n or in_line or word.before == "\t" or free >= STRIP * line.size:
                place = own
            cells.setdefault(place, []).append(word)
        return cells


def pair_blocks(items: Iterable[object], decisions: Decisions) -> list[PairBlock]:
    """The blocks among the items of a column that have several lines, and columns."""
    runs: list[list[FlowLine]] = [[]]
    for item in items:
        if not isinstance(item, FlowLine):
            runs.append([])
            continue
        near = bool(runs[-1]) and item.baseline - runs[-1][-1].baseline <= FURTHEST * item.size
        of_roles = decisions[id(item)].of_roles
        may_be = (
            (near or item.tabbed)
            and len(of_roles) == len(ROLES)
            and sum(of_roles[ROLES.index(role)] for role in IN_COLUMNS) >= MAY_BE_PAIRS
        )
        if not may_be and decisions[id(item)].role not in IN_COLUMNS:
            runs.append([])
        elif near or not runs[-1]:
            runs[-1].append(item)
        else:
            runs.append([item])
    found = [PairBlock(tuple(run), _column_starts(run)) for run in runs if len(run) > 1]
    return [block for block in found if len(block.starts) > 1]


def _column_starts(lines: Sequence[FlowLine]) -> tuple[float, ...]:
    """Where columns begin, the first one anywhere: at the ends of strips that part the words of two lines at least, or have a tab."""
    width = _least_strip(lines)
    allowed = int(CROSSED * len(lines))
    steps = sorted(step for line in lines for word in line.words for step in ((word.box.x0, 1), (word.box.x1, -1)))
    starts = [float("-inf")]
    over, since = 0, None
    for at, step in steps:
        if over <= allowed < over + step and since is not None and _parts_columns(lines, since, at, width):
            starts.append(at)
        over += step
        if over <= allowed < over - step:
            since = at
    return tuple(starts)


def _parts_columns(lines: Sequence[FlowLine], start: float, end: float, width: float) -> bool:
    """Whether a strip is wide enough, with words at both sides of it in two lines, or a tab; or most of the lines that it parts have a gap
    so wide before a word that begins where it ends. In one of them at least a word begins there."""
    parted = [pair for line in lines if (pair := _parted_by(line, start, end)) is not None]
    in_line = [(before, word) for before, word in parted if word.box.x0 - end <= IN_LINE]
    if not in_line:
        return False
    if end - start >= width:
        return len(parted) > 1 or any(word.before == "\t" for _, word in parted)
    wide = sum(word.box.x0 - before.box.x1 >= width for before, word in in_line)
    return wide >= max(FEWEST_WIDE, MOSTLY_WIDE * len(parted))


def _parted_by(line: FlowLine, start: float, end: float) -> tuple[FlowWord, FlowWord] | None:
    """The words of a line at both sides of a strip that has none in it, but for a space of letters that are all of one width."""
    for before, word in itertools.pairwise(line.words):
        if before.box.x1 <= start + IN_LINE and word.box.x0 >= end - IN_LINE:
            of_one_width = before.type.family is word.type.family is Family.MONO
            return None if of_one_width and word.box.x0 - before.box.x1 < WIDE_SPACE * line.size else (before, word)
    return None


def _least_strip(lines: Sequence[FlowLine]) -> float:
    """The least width in points of a strip between the columns of a block: wider than its spaces."""
    spaces = [
        word.box.x0 - before.box.x1
        for line in lines
        for before, word in itertools.pairwise(line.words)
        if word.before == " "
    ]
    usual = statistics.median(spaces) if spaces else 0.0
    return max(STRIP * max(line.size for line in lines), WIDER * usual)


class PairRow(NamedTuple):
    """A row of a block: its lines as they are read, how probable it is that it begins a row, and what was decided of its first line;
    ``breaks`` are the places of lines that do not carry on the value above, as those of an address."""

    lines: list[FlowLine]
    chance: float
    decided: Decided
    breaks: frozenset[int]


def rows_of_block(block: PairBlock, decisions: Decisions) -> list[PairRow]:
    """The rows of a block from top to bottom."""
    measures = pair_features(block, decisions)
    chances = np.exp(trees_of("pairs").log_probabilities(np.array(measures, np.float32)))
    first = decisions[id(block.lines[0])]
    rows: list[tuple[list[FlowLine], float, Decided]] = [([block.lines[0]], first.new_likelihood, first)]
    full = len(block.lines) >= FEWEST_FULL and all(own[_FULL] == 1.0 for own in measures)
    cells = [block.cells(line) for line in block.lines]
    room = _rooms(block, cells)[-1]
    for n, (line, chance) in enumerate(zip(block.lines[1:], chances[:, CLASSES.index("new")].tolist(), strict=True), 1):
        ended = len(block.starts) == LABEL_AND_VALUE and _had_room(cells[n - 1], cells[n], room, line.size)
        if chance > 0.5 or full or ended:
            rows.append(([line], max(chance, 0.5), decisions[id(line)]))
        else:
            rows[-1][0].append(line)
    return [
        PairRow(_as_read(block, lines), chance, decided, _breaks(block, lines, decisions))
        for lines, chance, decided in rows
    ]


def _breaks(block: PairBlock, lines: Sequence[FlowLine], decisions: Decisions) -> frozenset[int]:
    """The places of lines of a row that were decided to begin something, and do so with no small letter; none where lines are of its
    label."""
    value = {len(block.starts) - 1}
    if not all(block.cells(line).keys() == value for line in lines[1:]):
        return frozenset()
    begun = (n for n, line in enumerate(lines) if n and decisions[id(line)].joint != "same")
    return frozenset(n for n in begun if not lines[n].text[:1].islower())


def _had_room(
    above: Mapping[int, Sequence[FlowWord]], own: Mapping[int, Sequence[FlowWord]], room: float, size: float
) -> bool:
    """Whether a line with a label and a value stands right below another one, behind whose value its own first word would have stood:
    others show how much ``room`` there is."""
    return len(above) == len(own) == LABEL_AND_VALUE and room - _width(above[1]) - _width(own[1][:1]) >= SPARE * size


def pair_features(block: PairBlock, decisions: Decisions) -> list[tuple[float, ...]]:
    """PAIR_FEATURES of each line of a block but the first one."""
    lines = block.lines
    cells = [block.cells(line) for line in lines]
    sizes = [max(line.size, SMALLEST_SIZE) for line in lines]
    gaps = [(b.baseline - a.baseline) / size for (a, b), size in zip(itertools.pairwise(lines), sizes[1:], strict=True)]
    least = min((gap for gap in gaps if gap > ONE_LINE), default=ONE_LINE)
    far = sum(gap > FAR * least for gap in gaps) / len(gaps)
    of_labels = [_text(words) for own in cells for place, words in own.items() if place % 2 == 0]
    colons = sum(text.endswith(COLONS) for text in of_labels) / max(len(of_labels), 1)
    rooms = _rooms(block, cells)
    room = [_room(block, cells, rooms, n) for n in range(1, len(lines))]
    full = sum(len(own) == len(block.starts) for own in cells) / len(cells)
    fitting = sum(value > 0 for value in room) / len(room)
    told_by_labels, told_by_values = _begins_upper(cells, 0), _begins_upper(cells, 1)
    out: list[tuple[float, ...]] = []
    for n in range(1, len(lines)):
        own, above = cells[n], cells[n - 1]
        below: dict[int, list[FlowWord]] = cells[n + 1] if n + 1 < len(lines) else {}
        labels = [_text(words) for place, words in own.items() if place % 2 == 0]
        values = [_text(words) for place, words in own.items() if place % 2]
        of_case = (labels, told_by_labels), (values, told_by_values)
        nearest = [(place, up) for place in own if (up := _nearest(cells, place, n)) is not None]
        over = [_text(cells[up][place]) for place, up in nearest if place % 2 == 0]
        last = [(lines[n].baseline - lines[up].baseline) / sizes[n] for _, up in nearest]
        out.append(
            (
                decisions[id(lines[n])].new_likelihood, limited(gaps[n - 1]),
                limited(gaps[n]) if below else UNMEASURED, limited(gaps[n - 1] / least),
                limited(gaps[n] / least) if below else UNMEASURED, far, float(len(block.starts)), float(min(len(lines), 20)),
                float(len(own)), float(len(above)), float(len(below)), float(0 in own), float(0 in above), float(0 in below),
                float(len(own.keys() & above.keys())), float(len(own.keys() | above.keys())), float(len(labels)),
                float(sum(place % 2 == 0 for place in above)),
                *(_share(text[:1].islower() for text in own if told) for own, told in of_case),
                *(_share(text[:1].isupper() for text in own if told) for own, told in of_case),
                _share(text[:1].isdigit() for text in labels), _share(text[:1].isdigit() for text in over),
                _share(text.endswith(COLONS) for text in labels), _share(text.endswith(COLONS) for text in over),
                _share(not text.endswith(COLONS) for text in over if colons > 0),
                colons, limited(min(last, default=UNMEASURED)), room[n - 1], full, fitting,
            )
        )  # fmt: skip
    return out


def _begins_upper(cells: Sequence[Mapping[int, Sequence[FlowWord]]], parity: int) -> bool:
    """Whether the first label of a block, or its first value (1), does not begin with a small letter: else case tells nothing of others."""
    first = next((words for own in cells for place, words in sorted(own.items()) if place % 2 == parity), None)
    return first is None or not first[0].text[:1].islower()


def _room(block: PairBlock, cells: Sequence[dict[int, list[FlowWord]]], rooms: Sequence[float], n: int) -> float:
    """Ems by which the first word of a line's cell would have fitted behind what stands above it, where most; ``rooms`` are the widths of
    columns."""
    return max(
        limited((rooms[place] - _width(cells[up][place]) - _width(words[:1])) / max(block.lines[n].size, SMALLEST_SIZE))
        if (up := _nearest(cells, place, n)) is not None
        else UNMEASURED
        for place, words in cells[n].items()
    )


def _share(found: Iterable[bool]) -> float:
    values = list(found)
    return sum(values) / len(values) if values else UNMEASURED


def _text(words: Sequence[FlowWord]) -> str:
    return "".join(word.before + word.text for word in words).strip()


def _width(words: Sequence[FlowWord]) -> float:
    return words[-1].box.x1 - words[0].box.x0


def _nearest(cells: Sequence[dict[int, list[FlowWord]]], place: int, n: int) -> int | None:
    """The last line before one, by its place, that has something in a column."""
    return next((up for up in range(n - 1, -1, -1) if place in cells[up]), None)


def _rooms(block: PairBlock, cells: Sequence[dict[int, list[FlowWord]]]) -> list[float]:
    """How wide the columns of a block are, as far as its text shows it."""
    widths = [0.0] * len(block.starts)
    for own in cells:
        for place, words in own.items():
            widths[place] = max(widths[place], _width(words))
    return widths


def _as_read(block: PairBlock, lines: Sequence[FlowLine]) -> list[FlowLine]:
    """The lines of a row column by column, each column behind a tab: all of a label, then all of its value."""
    columns: dict[int, list[tuple[FlowLine, list[FlowWord]]]] = {}
    for line in lines:
        for place, words in block.cells(line).items():
            columns.setdefault(place, []).append((line, words))
    return column_by_column(columns[place] for place in sorted(columns))
