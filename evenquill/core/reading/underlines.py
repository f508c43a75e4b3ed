"""Rules drawn under or through words become marks of these words."""

from __future__ import annotations

from evenquill.core.evidence import Line, Rule, Word
from evenquill.core.model import Box, Marks

THICKEST = 0.18
"""Ems that a rule under or through words is thick, at most; on scans ink has spread to both sides."""


def struck_and_underlined(lines: tuple[Line, ...], rules: list[Rule]) -> tuple[tuple[Line, ...], list[Rule]]:
    """Rules drawn under or through words become marks of these words; the other rules are returned."""
    flat = [rule for rule in rules if rule.horizontal]
    if not flat:
        return lines, rules
    used: set[Rule] = set()
    out = []
    for line in lines:
        if line.angle:
            out.append(line)
            continue
        words = list(line.words)
        for rule in flat:
            mark = _mark_of(rule, line)
            if mark is None:
                continue
            covered = [i for i, word in enumerate(words) if covers(rule.box, word)]
            if covered and rule.box.width < 1.1 * (words[covered[-1]].x1 - words[covered[0]].x0) + line.size:
                used.add(rule)
                for i in covered:
                    words[i] = words[i]._replace(marks=words[i].marks | int(mark))
        out.append(line._replace(words=tuple(words)))
    return tuple(out), [rule for rule in rules if rule not in used]


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
