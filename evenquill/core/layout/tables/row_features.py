"""What is measured of the rows of a column to tell tables from text: how their pieces stand in line with those of the rows around,
what the pieces are, and what is drawn around them."""

from __future__ import annotations

import itertools
from bisect import bisect_left
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import SMALLEST_SIZE, Line, PageEvidence, Type
from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.layout.rows import rows_of
from evenquill.core.layout.tables.aligned import column_stretches
from evenquill.core.layout.tables.along_columns import ALONG_FEATURES, along_columns
from evenquill.core.layout.tables.edges import TOUCH, Edge, edges_of
from evenquill.core.layout.tables.pieces import in_pieces, is_number
from evenquill.core.model import Box, Family
from evenquill.core.model.labels import is_caption
from evenquill.core.model.text import ends_sentence

FAR = 15.0
"""Ems beyond which a distance tells no more."""

SAME_EDGE = 1.5
"""Points within which pieces are in line."""

AROUND = 4
"""Rows before and after one whose columns it is compared with."""

TABLE_TAGS = frozenset({"TD", "TH", "TR", "Table"})

BULLETS = frozenset("•◦▪‣∙·*●○■□–—-")

ROW_CLASSES = ("outside", "first_header", "first_row", "header", "row", "more")
"""A row outside of tables; the first one of a table, which names the columns or not; further ones that name them; a new row; lines that
carry on the cells of the row above."""

OWN_FEATURES = (
    "pieces", "covered", "widest", "inset", "room", "numbers", "digits", "characters", "bold", "size", "mono",
    "widest_gap", "narrowest_gap", "ends_sentence", "starts_lower", "colon", "leader", "bullet", "caption",
    "first_empty", "stretches", "in_stretch", "across", "boxed", "box_height", "uprights", "table_tag", "last_number",
    "long_pieces",
)  # fmt: skip
"""Of a row by itself and among the columns of the rows around it."""

ROW_FEATURES = (
    *OWN_FEATURES,
    *(f"above_{name}" for name in OWN_FEATURES),
    *(f"below_{name}" for name in OWN_FEATURES),
    *(f"above2_{name}" for name in ("pieces", "numbers", "widest", "bold", "leader")),
    *(f"below2_{name}" for name in ("pieces", "numbers", "widest", "bold", "leader")),
    "distance_above", "distance_below", "distance_ratio", "lined_above", "lined_below", "lined_above2", "lined_below2",
    "rule_above", "rule_below", "rules_above", "rules_below", "same_box_above", "same_box_below", "rows", "fits_above",
    "fits_below", "ruled_page", "pair_above", "pair_below", "pair_width", *ALONG_FEATURES,
)  # fmt: skip


class Row(NamedTuple):
    """A row of a column: the lines on one baseline, in pieces from left to right."""

    lines: tuple[Line, ...]
    pieces: tuple[Line, ...]
    top: float
    bottom: float
    baseline: float
    size: float


class LevelRule(NamedTuple):
    """A level rule, and the heights of others that begin and end as it does, from the top."""

    edge: Edge
    partners: tuple[float, ...]

    @property
    def length(self) -> float:
        return self.edge.end - self.edge.start


def _with_partners(edges: Sequence[Edge]) -> list[LevelRule]:
    """Level edges from the top, each with those like it."""
    level = sorted(edges)
    return [LevelRule(edge, tuple(o.at for o in level if o is not edge and _alike(edge, o))) for edge in level]


def _alike(edge: Edge, other: Edge) -> bool:
    return abs(edge.start - other.start) < 2 * TOUCH and abs(edge.end - other.end) < 2 * TOUCH


def rows_in_pieces(lines: Sequence[Line], types: Sequence[Type]) -> list[Row]:
    """The level lines of a column as rows from top to bottom; ``types`` are those of the page."""
    return [_row(row, types) for row in rows_of([line for line in lines if not line.angle])]


def _row(lines: Sequence[Line], types: Sequence[Type]) -> Row:
    pieces = tuple(piece for line in lines for piece in in_pieces(line, types))
    return Row(
        tuple(lines),
        pieces,
        min(line.box.y0 for line in lines),
        max(line.box.y1 for line in lines),
        min(line.baseline for line in lines),
        max(SMALLEST_SIZE, *(line.size for line in lines)),
    )


def row_features(rows: Sequence[Row], page: PageEvidence) -> list[tuple[float, ...]]:
    """The measures of each row of a column, from top to bottom."""
    if not rows:
        return []
    left = min(row.pieces[0].box.x0 for row in rows)
    right = max(row.pieces[-1].box.x1 for row in rows)
    sizes = sorted(row.size for row in rows)
    usual = max(sizes[len(sizes) // 2], 1.0)
    edges = edges_of(page)
    level = _with_partners([edge for edge in edges.level if edge.start < right and left < edge.end])
    boxes = [_box_of(row, page.boxes) for row in rows]
    own = [_own(rows, n, page, left, right, usual, edges.upright, boxes[n]) for n in range(len(rows))]
    along = along_columns(rows)
    return [(*_with_neighbours(rows, n, own, level, boxes, right - left), *along[n]) for n in range(len(rows))]


def _own(
    rows: Sequence[Row], n: int, page: PageEvidence, left: float, right: float, usual: float, uprights: Sequence[Edge],
    box: Box | None,
) -> tuple[float, ...]:  # fmt: skip
    """OWN_FEATURES of a row; ``usual`` is the size of most rows, ``box`` the rectangle that it stands in."""
    row = rows[n]
    width = max(right - left, 1.0)
    pieces = row.pieces
    words = [word for piece in pieces for word in piece.words]
    letters = max(sum(len(word.text) for word in words), 1)
    gaps = [(b.box.x0 - a.box.x1) / row.size for a, b in itertools.pairwise(pieces)]
    around = [other.pieces for other in rows[max(n - AROUND, 0) : n + AROUND + 1] if len(other.pieces) > 1]
    stretches = column_stretches(around) if len(around) > 1 else []
    over = [sum(x0 < piece.box.x1 and piece.box.x0 < x1 for x0, x1 in stretches) for piece in pieces]
    first = stretches[0] if stretches else None
    texts = [piece.text for piece in pieces]
    types = [page.types[word.type] for word in words]
    middle = (row.top + row.bottom) / 2
    tags = [page.tags[line.tag].kind in TABLE_TAGS if line.tag >= 0 else None for line in row.lines]
    return (
        float(min(len(pieces), 12)),
        sum(piece.box.width for piece in pieces) / width,
        max(piece.box.width for piece in pieces) / width,
        min((pieces[0].box.x0 - left) / row.size, FAR),
        min((right - pieces[-1].box.x1) / row.size, FAR),
        sum(map(is_number, texts)) / len(texts),
        sum(c.isdigit() for word in words for c in word.text) / letters,
        float(min(letters, 150)),
        sum(len(w.text) for w, t in zip(words, types, strict=True) if t.bold) / letters,
        row.size / usual,
        sum(len(w.text) for w, t in zip(words, types, strict=True) if t.family is Family.MONO) / letters,
        min(max(gaps, default=0.0), FAR),
        min(min(gaps, default=0.0), FAR),
        float(ends_sentence(texts[-1])),
        float(texts[0][:1].islower()),
        float(texts[0].endswith(":")),
        float("...." in texts[0].replace(" ", "") or any(set(text) <= set(". …·") for text in texts)),
        float(len(texts[0]) == 1 and texts[0] in BULLETS),
        float(is_caption(texts[0])),
        float(first is not None and pieces[0].box.x0 > first[1]),
        float(min(len(stretches), 12)),
        sum(count == 1 for count in over) / len(over),
        float(sum(count > 1 for count in over)),
        float(box is not None),
        min(box.height / row.size, FAR) if box is not None else UNMEASURED,
        float(min(sum(e.start < middle < e.end and left - 5 < e.at < right + 5 for e in uprights), 12)),
        UNMEASURED if None in tags else sum(tag is True for tag in tags) / len(tags),
        float(is_number(texts[-1])),
        float(sum(len(text) > 40 for text in texts)),
    )


def _box_of(row: Row, boxes: Sequence[Box]) -> Box | None:
    """The smallest rectangle that the middle of a row's first piece stands in."""
    piece = row.pieces[0].box
    inside = [box for box in boxes if box.holds_middle(piece)]
    return min(inside, key=lambda box: box.width * box.height, default=None)


def _with_neighbours(
    rows: Sequence[Row], n: int, own: Sequence[tuple[float, ...]], level: Sequence[LevelRule], boxes: Sequence[Box | None], width: float
) -> tuple[float, ...]:  # fmt: skip
    row = rows[n]
    nothing = (UNMEASURED,) * len(OWN_FEATURES)
    above = own[n - 1] if n else nothing
    below = own[n + 1] if n + 1 < len(rows) else nothing
    above2 = own[n - 2] if n > 1 else nothing
    below2 = own[n + 2] if n + 2 < len(rows) else nothing
    to_above = (row.baseline - rows[n - 1].baseline) / row.size if n else UNMEASURED
    to_below = (rows[n + 1].baseline - row.baseline) / row.size if n + 1 < len(rows) else UNMEASURED
    here = row.baseline - 0.3 * row.size
    split = bisect_left(level, here, key=lambda rule: rule.edge.at)
    rules_above, rules_below = level[:split], level[split:]
    top = rows[n - 1].baseline - 0.3 * row.size if n else row.top - 2 * row.size
    end = rows[n + 1].baseline - 0.3 * row.size if n + 1 < len(rows) else row.bottom + 2 * row.size
    near_above = max((rule.length for rule in rules_above if rule.edge.at >= top), default=0.0)
    near_below = max((rule.length for rule in rules_below if rule.edge.at < end), default=0.0)
    return (
        *own[n], *above, *below,
        *_some(above2), *_some(below2),
        min(to_above, FAR), min(to_below, FAR),
        min(to_above / to_below, FAR) if n and n + 1 < len(rows) and to_below > 0 else UNMEASURED,
        _lined(row, rows[n - 1]) if n else UNMEASURED,
        _lined(row, rows[n + 1]) if n + 1 < len(rows) else UNMEASURED,
        _lined(row, rows[n - 2]) if n > 1 else UNMEASURED,
        _lined(row, rows[n + 2]) if n + 2 < len(rows) else UNMEASURED,
        near_above / max(width, 1.0), near_below / max(width, 1.0),
        _count([rule for rule in rules_above if rule.partners and rule.partners[-1] >= here], row),
        _count([rule for rule in rules_below if rule.partners and rule.partners[0] < here], row),
        float(n > 0 and boxes[n] is boxes[n - 1]), float(n + 1 < len(rows) and boxes[n] is boxes[n + 1]),
        float(min(len(rows), 60)),
        _fits(rows[n - 1], row) if n else UNMEASURED,
        _fits(row, rows[n + 1]) if n + 1 < len(rows) else UNMEASURED,
        float(min(len(level), 40)), *_pair(rules_above, here, row, width),
    )  # fmt: skip


_SOME = tuple(OWN_FEATURES.index(name) for name in ("pieces", "numbers", "widest", "bold", "leader"))


def _some(own: tuple[float, ...]) -> tuple[float, ...]:
    return tuple(own[place] for place in _SOME)


def _lined(row: Row, other: Row) -> float:
    """The share of a row's pieces that begin, end or have their middle where one of another row does."""
    in_line = (any(piece.box.out_of_line(one.box) < SAME_EDGE for one in other.pieces) for piece in row.pieces)
    return sum(in_line) / len(row.pieces)


def _pair(above: Sequence[LevelRule], here: float, row: Row, width: float) -> tuple[float, float, float]:
    """Ems up and down to the nearest two rules of which one begins and ends as the other does, and the share of the column that they take;
    UNMEASURED where there are none."""
    for rule in reversed(above):
        place = bisect_left(rule.partners, here)
        if place < len(rule.partners):
            up, down = (row.baseline - rule.edge.at) / row.size, (rule.partners[place] - row.baseline) / row.size
            return min(up, 4 * FAR), min(down, 4 * FAR), rule.length / max(width, 1.0)
    return UNMEASURED, UNMEASURED, UNMEASURED


def _count(rules: Sequence[LevelRule], row: Row) -> float:
    """How many rules are not far away."""
    return float(min(sum(abs(rule.edge.at - row.baseline) < 40 * row.size for rule in rules), 8))


def _fits(above: Row, below: Row) -> float:
    """Ems by which the first word of a row of one piece would have fitted behind the piece above it, UNMEASURED for rows of several."""
    if len(above.pieces) > 1 or len(below.pieces) > 1:
        return UNMEASURED
    word = below.lines[0].words[0]
    room = below.pieces[0].box.x1 - above.pieces[0].box.x1
    return max(-FAR, min(FAR, (room - (word.x1 - word.x0)) / below.size))
