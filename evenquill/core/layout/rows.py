"""Rows: level lines, and pieces of lines, that stand on one baseline."""

from __future__ import annotations

from collections.abc import Iterable

from evenquill.core.evidence import Line

SAME_ROW = 0.34
"""Ems between baselines of one row."""

OVER = 0.3
"""Ems that lines have in common if one stands over the other."""


def rows_of(lines: Iterable[Line], *, beside: bool = False) -> list[list[Line]]:
    """Lines of one angle gathered by their baselines from top to bottom, each row from left to right.

    With ``beside``, what stands over or under what a row has is not in it, however near their baselines.
    """
    rows: list[list[Line]] = []
    for line in sorted(lines, key=lambda line: line.baseline):
        level = rows and abs(line.baseline - rows[-1][0].baseline) <= SAME_ROW * min(line.size, rows[-1][0].size)
        if level and (not beside or _is_beside(rows[-1], line)):
            rows[-1].append(line)
        else:
            rows.append([line])
    return [sorted(row, key=lambda line: line.words[0].x0) for row in rows]


def _is_beside(row: list[Line], line: Line) -> bool:
    x0, x1 = line.words[0].x0, line.words[-1].x1
    return all(
        min(x1, other.words[-1].x1) - max(x0, other.words[0].x0) < OVER * min(line.size, other.size) for other in row
    )
