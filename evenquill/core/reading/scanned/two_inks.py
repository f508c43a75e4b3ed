"""Lines of print in two inks put together: the black and the coloured words of one line were read as lines of their own."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from evenquill.core.evidence import Line, Type, Word

ONE_BASELINE = 0.2
"""Ems that the baselines of two parts of one line differ at most: each was fitted to a few letters."""

ALIKE = 0.8
"""The smaller size of type over the larger one, from which they are one size: that of a few letters is measured roughly."""

OVERLAP = 0.1
"""Ems that words of two inks may overlap by where slanted letters lean over their neighbours."""

SPACE = 0.16
"""Ems from which a gap is a space: half-way between the gap of letters and the space of words, as on native pages."""

OPENING, CLOSING = frozenset("([{“‘„«"), frozenset(".,;:!?)]}”’»")
"""Signs that no space stands behind, and before, though a change of ink leaves the gap a little wide."""

BESIDE_SIGN = 0.3
"""Ems of a gap beside one of these signs that is still no space."""


def put_together(
    black: Sequence[Line], coloured: Sequence[Line], types: dict[Type, int], wide_gap: float
) -> list[Line]:
    """All lines, those of two inks that stand on one baseline with no gap between them wider than ``wide_gap`` ems as one.

    The shorter part takes the size of the longer one where they are much alike; types that this makes are added to ``types``.
    """
    out = list(black)
    for line in coloured:
        while (near := _on_its_line(line, out, wide_gap)) is not None:
            line = _one_line(line, out.pop(near), types)
        out.append(line)
    return out


def _on_its_line(line: Line, others: Sequence[Line], wide_gap: float) -> int | None:
    """The place of one of the others that goes on in the line."""
    for n, other in enumerate(others):
        size = max(line.size, other.size)
        if (
            abs(line.baseline - other.baseline) < ONE_BASELINE * size
            and min(line.size, other.size) > ALIKE * size
            and -OVERLAP * size < _gap(line, other) < wide_gap * size
        ):
            return n
    return None


def _gap(line: Line, other: Line) -> float:
    """Points between the nearest words of two lines; negative where words overlap."""
    return min(max(one.x0, two.x0) - min(one.x1, two.x1) for one in line.words for two in other.words)


def _one_line(line: Line, other: Line, types: dict[Type, int]) -> Line:
    long, short = (line, other) if len(line.text) > len(other.text) else (other, line)
    known = list(types)
    same_size = [word._replace(type=_of_size(known[word.type], long.size, types)) for word in short.words]
    inks = sorted(
        [(word, True) for word in long.words] + [(word, False) for word in same_size], key=lambda one: one[0].x0
    )
    words = [inks[0][0]]
    for (before, ink_before), (word, ink) in pairwise(inks):
        words.append(word if ink is ink_before else word._replace(glued=_is_glued(before, word, long.size)))
    box = long.box._replace(x0=min(long.box.x0, short.box.x0), x1=max(long.box.x1, short.box.x1))
    return Line(box, long.baseline, long.size, tuple(words))


def _of_size(one: Type, size: float, types: dict[Type, int]) -> int:
    return types.setdefault(one._replace(size=size), len(types))


def _is_glued(before: Word, word: Word, size: float) -> bool:
    beside_sign = before.text[-1:] in OPENING or word.text[:1] in CLOSING
    return word.x0 - before.x1 < (BESIDE_SIGN if beside_sign else SPACE) * size
