"""Rows: level lines, and pieces of lines, that stand on one baseline."""

from __future__ import annotations

from collections.abc import Iterable

from evenquill.core.evidence import Line

SAME_ROW = 0.34
"""Ems between baselines of one row."""


def rows_of(lines: Iterable[Line]) -> list[list[Line]]:
    """Level lines gathered by their baselines from top to bottom, each row from left to right."""
    rows: list[list[Line]] = []
    for line in sorted(lines, key=lambda line: line.baseline):
        if rows and abs(line.baseline - rows[-1][0].baseline) <= SAME_ROW * min(line.size, rows[-1][0].size):
            rows[-1].append(line)
        else:
            rows.append([line])
    return [sorted(row, key=lambda line: line.box.x0) for row in rows]
