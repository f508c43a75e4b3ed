"""Rules drawn under or through words become marks of these words."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence

from evenquill.core.evidence import Line, Rule, Word
from evenquill.core.model import Box, Marks, union
from evenquill.core.reading.rule_chains import TOUCH, rule_chains

THICKEST = 0.18
"""Ems that a rule under or through words is thick, at most; on scans ink has spread to both sides."""


def struck_and_underlined(lines: tuple[Line, ...], rules: list[Rule]) -> tuple[tuple[Line, ...], list[Rule]]:
    """Rules drawn under or through words become marks of these words; the other rules are returned. One that goes on beyond the words,
    piece by piece as the rules of a table are drawn cell by cell, or ends at an upright rule, is none of theirs."""
    grid = sorted((rule.box for rule in rules if not rule.horizontal), key=_middle)
    chains = rule_chains(rule for rule in rules if rule.horizontal)
    wholes = [(chain, union(rule.box for rule in chain)) for chain in chains]
    flat = [(rule, whole) for chain, whole in wholes if not _ends_at_upright(whole, grid) for rule in chain]
    if not flat:
        return lines, rules
    used: set[Rule] = set()
    out = []
    for line in lines:
        if line.angle:
            out.append(line)
            continue
        words = list(line.words)
        for rule, whole in flat:
            mark = _mark_of(rule, line)
            if mark is None:
                continue
            covered = [i for i, word in enumerate(words) if covers(rule.box, word)]
            within = [word for word in words if covers(whole, word)]
            if covered and whole.width < 1.1 * (within[-1].x1 - within[0].x0) + line.size:
                used.add(rule)
                for i in covered:
                    words[i] = words[i]._replace(marks=words[i].marks | int(mark))
        out.append(line._replace(words=tuple(words)))
    return tuple(out), [rule for rule in rules if rule not in used]


def _ends_at_upright(whole: Box, grid: Sequence[Box]) -> bool:
    """Whether a level rule ends at one of upright rules, which are in order from left to right: as the sides of cells do."""
    for end in (whole.x0, whole.x1):
        first = bisect_left(grid, end - TOUCH, key=_middle)
        behind = bisect_left(grid, end + TOUCH, first, key=_middle)
        if any(box.overlap_y(whole) > -TOUCH for box in grid[first:behind]):
            return True
    return False


def _middle(box: Box) -> float:
    return box.center_x


def _mark_of(rule: Rule, line: Line) -> Marks | None:
    if rule.box.height > THICKEST * line.size:
        return None
    above = (line.baseline - rule.box.center_y) / line.size
    if -0.3 < above <= 0.02:
        return Marks.UNDERLINE
    if 0.15 < above < 0.5:
        return Marks.STRIKE
    return None


def covers(box: Box, word: Word) -> bool:
    """Whether a box spans most of a word's width."""
    return min(box.x1, word.x1) - max(box.x0, word.x0) > 0.7 * (word.x1 - word.x0)
