"""Lines whose letters stand in the rule that is drawn below them.

Taken off, such a rule takes the feet of the letters with it: they seem smaller than they are, and an ``o`` is read as an ``n``. The
recogniser copes well with the rule itself, so these lines are read with it as well.
"""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model import Box
from evenquill.core.reading.scanned.raster import Pixels
from evenquill.core.reading.scanned.rules import FRINGE, Rules
from evenquill.core.reading.scanned.text_line import TextLine

REACH = 0.35
"""X-heights by which a rule may stand away from the baseline of the letters that it underlines."""

SHORTEST = 2.0
"""X-heights of a line that a rule must run below."""

CUT = 0.4
"""Share of the ink at the feet of letters that must go on into the rule, if it cut them off."""


def rules_below(line: TextLine, rules: Sequence[Box]) -> list[Box]:
    """The level rules that underline letters of a line, or cross their feet."""
    near = REACH * line.x_height
    return [
        rule
        for rule in rules
        if min(rule.x1, line.x1) - max(rule.x0, line.x0) > SHORTEST * line.x_height
        and rule.y0 - near < line.baseline((max(rule.x0, line.x0) + min(rule.x1, line.x1)) / 2) < rule.y1 + near
    ]


def standing_in_rules(lines: Sequence[TextLine], ink: Pixels, rules: Rules) -> list[TextLine]:
    """The lines, those whose feet went with a rule with their baseline where they stood; ``ink`` is that of the page with its rules."""
    return [_in_its_rule(line, ink, rules) for line in lines]


def _in_its_rule(line: TextLine, ink: Pixels, rules: Rules) -> TextLine:
    for rule in rules_below(line, rules.level):
        x0, x1 = max(int(rule.x0), line.x0), min(int(rule.x1), line.x1)
        if x1 - x0 < (line.x1 - line.x0) / 2:
            continue
        top = int(rule.y0)
        feet = rules.ink[max(top - 2 * FRINGE, 0) : top, x0:x1].any(axis=0)
        joined = feet & (ink[max(top - FRINGE, 0) : top + 1, x0:x1] > 0).all(axis=0)
        lower = (rule.y0 + rule.y1) / 2 - line.baseline((x0 + x1) / 2)
        if feet.any() and joined.sum() > CUT * feet.sum() and lower > 0:
            return line._replace(a=line.a + lower, x_height=line.x_height + lower, y1=max(line.y1, int(rule.y1) + 1))
    return line
