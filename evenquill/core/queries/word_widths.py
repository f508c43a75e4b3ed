"""Whether a word is as wide as what it was read as would be: a letter that was lost or made up shows in its width."""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Sequence
from functools import cache
from statistics import median
from typing import NamedTuple

from evenquill.core.queries.tokens import Token

FIRST = 33
"""The code of the first letter whose width is listed; the others follow it."""

SERIFS = (
    333, 408, 500, 500, 833, 778, 180, 333, 333, 500, 564, 250, 333, 250, 278, 500, 500, 500, 500, 500, 500, 500, 500, 500, 500, 278,
    278, 564, 564, 564, 444, 921, 722, 667, 667, 722, 611, 556, 722, 722, 333, 389, 722, 611, 889, 722, 722, 556, 722, 667, 556, 611,
    722, 722, 944, 722, 722, 611, 333, 278, 333, 469, 500, 333, 444, 500, 444, 500, 444, 333, 500, 500, 278, 278, 500, 278, 778, 500,
    500, 500, 500, 333, 389, 278, 500, 500, 722, 500, 500, 444, 480, 200, 480, 541,
)  # fmt: skip
"""Widths in thousandths of an em, of the typeface with serifs that most documents are set in or in one of its widths (Liberation Serif)."""

SANS = (
    278, 355, 556, 556, 889, 667, 191, 333, 333, 389, 584, 278, 333, 278, 278, 556, 556, 556, 556, 556, 556, 556, 556, 556, 556, 278,
    278, 584, 584, 584, 556, 1015, 667, 667, 722, 722, 667, 611, 778, 722, 278, 500, 667, 556, 833, 722, 778, 667, 778, 722, 667, 611,
    722, 667, 944, 667, 667, 611, 278, 278, 278, 469, 556, 333, 556, 556, 500, 556, 556, 278, 556, 556, 222, 222, 500, 222, 833, 556,
    556, 556, 556, 333, 500, 278, 556, 500, 722, 500, 500, 500, 334, 260, 334, 584,
)  # fmt: skip
"""The same of the one without (Liberation Sans)."""

TYPEWRITER = (600,) * len(SERIFS)

FEWEST = 3
"""Words of a row that tell how wide its letters are."""


class Width(NamedTuple):
    """How much wider a word is than its letters are, beside the other words of its row, and how much those differ usually (natural
    logarithms)."""

    off: float
    usual: float


def widths_off(row: Sequence[Token]) -> list[Width | None]:
    """For each word of a row how far off its width is, as in the typeface that suits the row best; None where that cannot be told."""
    measured = [n for n, token in enumerate(row) if len(token.spots) == 1 and token.spots[0].box.width > 0]
    found: list[Width | None] = [None] * len(row)
    if len(measured) < FEWEST:
        return found
    best: tuple[float, list[float]] | None = None
    for typeface in (SERIFS, SANS, TYPEWRITER):
        ratios = [math.log(row[n].spots[0].box.width / _set_width(row[n].text, typeface)) for n in measured]
        middle = median(ratios)
        off = [ratio - middle for ratio in ratios]
        usual = median(abs(one) for one in off)
        if best is None or usual < best[0]:
            best = usual, off
    assert best is not None
    for n, off_by in zip(measured, best[1], strict=True):
        found[n] = Width(off_by, best[0])
    return found


def _set_width(text: str, typeface: tuple[int, ...]) -> int:
    return sum(typeface[_place(sign)] for sign in text)


@cache
def _place(sign: str) -> int:
    """Where the width of a sign is listed: of letters with accents that of the letter, of what is not listed that of an n."""
    base = unicodedata.normalize("NFKD", sign)[:1]
    code = ord(base or "n")
    return (code if FIRST <= code < FIRST + len(SERIFS) else ord("n")) - FIRST
