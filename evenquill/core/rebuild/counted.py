"""Lines that are counted with nothing but a number before each: ``1 Level the staff``, ``2 Wind the clock``. A space alone behind a number
tells no mark of a list, but that the lines are counted, and set in or hanging, does."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.layout.flow import FlowLine
from evenquill.core.rebuild.marks import ListMark, list_mark

FEWEST = 2
"""Lines that are counted from 1 from which they are items."""

SAME_EDGE = 0.2
"""Ems within which lines keep to an edge."""

SET_IN = 0.5
"""Ems from the edge of the column from which a line is set in."""


def counted_lines(lines: Sequence[FlowLine], left: float) -> dict[int, ListMark]:
    """The lines of a column that begin with numbers counted from 1 at one edge, by id, with their marks; what stands between them stands
    further in. They are set in from the column's ``left`` edge, or what stands between them hangs."""
    out: dict[int, ListMark] = {}
    for n, line in enumerate(lines):
        if id(line) not in out and _number(line) == 1:
            run, hangs = _run_from(lines, n)
            if len(run) >= FEWEST and (hangs or line.x0 - left > SET_IN * line.size):
                out |= {id(own): mark for own, mark in run}
    return out


def _run_from(lines: Sequence[FlowLine], start: int) -> tuple[list[tuple[FlowLine, ListMark]], bool]:
    """The counted lines that begin with one, with their marks, and whether a line that carries one on hangs behind its mark."""
    first = lines[start]
    run: list[tuple[FlowLine, ListMark]] = []
    hangs = False
    for line in lines[start:]:
        apart = line.x0 - first.x0
        if apart > SAME_EDGE * first.size:
            hangs = hangs or abs(line.x0 - run[-1][1].text_x) <= SAME_EDGE * first.size
            continue
        mark = list_mark(line, of_item=True)
        alike = apart >= -SAME_EDGE * first.size and line.main_type == first.main_type
        if mark is None or not alike or _number(line) != len(run) + 1:
            break
        run.append((line, mark))
    return run, hangs


def _number(line: FlowLine) -> int | None:
    """The number that a line begins with, if nothing else is its mark."""
    mark = list_mark(line, of_item=True)
    return int(mark.text) if mark is not None and mark.text.isdecimal() else None
