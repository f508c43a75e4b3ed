"""What is printed across the text of a page, large and under or over it: ``Draft``, ``Sample``, a name. It is no part of the text."""

from __future__ import annotations

import statistics
from collections.abc import Sequence

from evenquill.core.evidence import Line

LARGER = 1.8
"""Size of what is printed across lines over theirs, at least."""

CROSSED = 3
"""Lines that it crosses, at least."""


def parted_by_crossing(lines: Sequence[Line]) -> tuple[tuple[Line, ...], tuple[Line, ...]]:
    """The lines of a page without those that are printed across others, and these."""
    if len(lines) <= CROSSED:
        return tuple(lines), ()
    usual = statistics.median(line.size for line in lines)
    across = {id(line) for line in lines if line.size > LARGER * usual and _crosses(line, lines)}
    return tuple(line for line in lines if id(line) not in across), tuple(line for line in lines if id(line) in across)


def parted_by_size(lines: Sequence[Line], oblique: Sequence[Line]) -> tuple[tuple[Line, ...], tuple[Line, ...]]:
    """Of the lines that run oblique those as small as the page's text, and those that are larger: marks, whatever they cross."""
    if not oblique:
        return (), ()
    usual = statistics.median(line.size for line in lines or oblique)
    marks = tuple(line for line in oblique if line.size > LARGER * usual)
    return tuple(line for line in oblique if line not in marks), marks


def _crosses(large: Line, lines: Sequence[Line]) -> bool:
    crossed = [
        line
        for line in lines
        if LARGER * line.size < large.size
        and large.box.y0 < line.box.center_y < large.box.y1
        and line.box.overlap_x(large.box) > 0
    ]
    return len(crossed) >= CROSSED
