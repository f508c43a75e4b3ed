"""Fonts in a fixed width whose names do not say so: their narrow letters are as wide as all others."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace

from evenquill.core.model import Family
from evenquill.core.reading.native.characters import Characters

NARROW = frozenset("ilj.,:;'!|")
"""Less than half as wide as most letters wherever these have widths of their own."""

OTHERS = frozenset("abcdeghkmnopquvwxyzABCDEGHKMNOPQRUVWXYZ")

EQUAL = 0.1
"""Share by which measured widths of one width differ, at most."""

FEWEST = 2
"""Different letters of each sort, at least."""


def with_fixed_width(characters: Characters) -> Characters:
    """The characters of a page, with the family of each font told by how wide its letters are too."""
    widths: defaultdict[str, dict[str, float]] = defaultdict(dict)
    for run in characters.runs:
        if run.type.family is Family.MONO or run.oblique:
            continue
        seen = widths[run.type.face]
        for n in range(run.start, run.end):
            letter = characters.texts[n]
            if letter not in seen and (letter in NARROW or letter in OTHERS):
                x0, y0, x1, y1 = characters.boxes[n]
                along = y1 - y0 if run.angle % 180 else x1 - x0
                seen[letter] = float(along) / max(run.type.size, 1.0)
    fixed = {face for face, seen in widths.items() if _are_equal(seen)}
    if not fixed:
        return characters
    runs = [
        run._replace(type=run.type._replace(family=Family.MONO)) if run.type.face in fixed else run
        for run in characters.runs
    ]
    return replace(characters, runs=runs)


def _are_equal(widths: dict[str, float]) -> bool:
    """Whether letters of both sorts are as wide as each other; ``widths`` are in ems."""
    narrow = [width for letter, width in widths.items() if letter in NARROW]
    others = [width for letter, width in widths.items() if letter in OTHERS]
    if min(len(narrow), len(others)) < FEWEST:
        return False
    least, most = min(*narrow, *others), max(*narrow, *others)
    return most - least <= EQUAL * most
