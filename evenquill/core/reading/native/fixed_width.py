"""Which fonts are in a fixed width, whatever their names say: narrow letters are as wide as all others."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace

from evenquill.core.font_names import proportional_family
from evenquill.core.model import Family
from evenquill.core.reading.native.characters import Characters, TextRun

NARROW = frozenset("ilj.,:;'!|")
"""Less than half as wide as most letters wherever these have widths of their own."""

OTHERS = frozenset("abcdeghkmnopquvwxyzABCDEGHKMNOPQRUVWXYZ")

EQUAL, UNEQUAL = 0.9, 0.7
"""The narrowest width over the widest from which all are one, as far as can be measured; and up to which they differ, whatever the name of
the font says."""

SMALLEST = 1e-3
"""Ems."""

FEWEST = 2
"""Different letters of each sort, at least."""


def with_fixed_width(characters: Characters) -> Characters:
    """The characters of a page, with the family of each font told by how wide its letters are, where enough of these are seen."""
    widths: defaultdict[str, dict[str, float]] = defaultdict(dict)
    for run in characters.runs:
        if run.oblique:
            continue
        seen = widths[run.type.face]
        for n in range(run.start, run.end):
            letter = characters.texts[n]
            if letter not in seen and (letter in NARROW or letter in OTHERS):
                x0, y0, x1, y1 = characters.boxes[n]
                along = y1 - y0 if run.angle % 180 else x1 - x0
                seen[letter] = float(along) / max(run.type.size, 1.0)
    ratios = {face: _narrowest_over_widest(seen) for face, seen in widths.items()}
    return replace(characters, runs=[_judged(run, ratios.get(run.type.face)) for run in characters.runs])


def _judged(run: TextRun, ratio: float | None) -> TextRun:
    """A run in a font whose narrowest letter is so wide over its widest one; None for what is not known."""
    is_fixed = run.type.family is Family.MONO
    if ratio is None or is_fixed == (ratio > (UNEQUAL if is_fixed else EQUAL)):
        return run
    family = proportional_family(run.type.face) if is_fixed else Family.MONO
    return run._replace(type=run.type._replace(family=family))


def _narrowest_over_widest(widths: dict[str, float]) -> float | None:
    """Of letters of both sorts; None where too few are known. ``widths`` are in ems."""
    narrow = [width for letter, width in widths.items() if letter in NARROW]
    others = [width for letter, width in widths.items() if letter in OTHERS]
    if min(len(narrow), len(others)) < FEWEST:
        return None
    return min(*narrow, *others) / max(*narrow, *others, SMALLEST)
