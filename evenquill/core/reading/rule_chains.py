"""Level rules that are drawn in pieces: word by word below text, or cell by cell in tables."""

from __future__ import annotations

from collections.abc import Iterable

from evenquill.core.evidence import Rule

TOUCH = 1.0
"""Points within which pieces of a rule touch, and stand at one height."""


def rule_chains(level: Iterable[Rule]) -> list[list[Rule]]:
    """Level rules, those together, from left to right, that carry one another on at one height."""
    rows: list[list[Rule]] = []
    for rule in sorted(level, key=lambda rule: rule.box.center_y):
        if not rows or rule.box.center_y - rows[-1][0].box.center_y >= TOUCH:
            rows.append([])
        rows[-1].append(rule)
    return [chain for row in rows for chain in _chains_of(row)]


def _chains_of(row: list[Rule]) -> list[list[Rule]]:
    """Those of the rules at one height."""
    chains: list[list[Rule]] = []
    reached = float("-inf")
    for rule in sorted(row, key=lambda rule: rule.box.x0):
        if rule.box.x0 - reached >= TOUCH:
            chains.append([])
            reached = rule.box.x1
        chains[-1].append(rule)
        reached = max(reached, rule.box.x1)
    return chains
