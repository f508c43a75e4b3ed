"""Words behind a tall brace: what is said of each case is part of the formula, though it is text."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model import Box, union
from evenquill.core.reading.formulas.segments import Segment, Sign

BRACES = frozenset("{⎧⎨⎩⎪[⎡⎢⎣(⎛⎜⎝")
"""Fences that open, and their pieces."""

TALL = 1.8
"""Height of a fence around several lines, in ems."""

WIDEST = 18.0
"""Ems from a fence within which something is enclosed by it."""

MOST_WORDS = 3
"""Words of a condition that are no line of text."""


def with_conditions(segments: Sequence[Segment], signs: Sequence[Sign]) -> list[Segment]:
    """The segments, those of few words behind a tall fence as parts of a formula."""
    fences = _tall_fences(signs)
    return [
        segment._replace(prose=False) if segment.prose and _is_enclosed(segment, fences) else segment
        for segment in segments
    ]


def _tall_fences(signs: Sequence[Sign]) -> list[Box]:
    """The boxes of tall fences, pieces above each other as one."""
    columns: list[list[Sign]] = []
    for sign in sorted(
        (sign for sign in signs if sign.part.text in BRACES), key=lambda sign: (round(sign.x0), sign.part.box.y0)
    ):
        last = columns[-1][-1] if columns else None
        abut = (
            last is not None
            and abs(last.x0 - sign.x0) < 1
            and sign.part.box.y0 - last.part.box.y1 < 0.3 * sign.part.size
        )
        if abut:
            columns[-1].append(sign)
        else:
            columns.append([sign])
    boxes = [(union([sign.part.box for sign in column]), column[0].part.size) for column in columns]
    return [box for box, size in boxes if box.height > TALL * size]


def _is_enclosed(segment: Segment, fences: Sequence[Box]) -> bool:
    if segment.words > MOST_WORDS:
        return False
    return any(
        fence.y0 < segment.box.center_y < fence.y1 and 0 <= segment.box.x0 - fence.x1 < WIDEST * segment.size
        for fence in fences
    )
