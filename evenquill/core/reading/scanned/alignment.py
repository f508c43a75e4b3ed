"""Characters as they were read put where their ink is.

The recogniser says what a line says, and only roughly where: its places are off by up to a letter. The characters of a line and its
pieces of ink follow each other in the same order, so that the cheapest way of matching one to the other, with letters that touch,
letters that are broken, and dirt, gives each character its own ink (dynamic programming, as in sequence alignment; Needleman and
Wunsch 1970).
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.words import ReadWord, Symbol

NARROW = frozenset("iljftrI1.,:;'’‘`!|()[]{}-/\\·•*°")
WIDE = frozenset("mwMWŒœÆæ—%&@…½¼¾")
IN_PARTS = {'"': 2, "“": 2, "”": 2, "„": 2, "«": 2, "»": 2, "%": 3, "…": 3, "½": 3, "¼": 3, "¾": 3, "‰": 4, "!": 1}
"""Characters made of several pieces of ink that stand side by side."""

THIN, PAIRED, USUAL, BROAD, CAPITAL = 0.4, 0.65, 1.0, 1.6, 1.35
"""Widths of characters in x-heights; the widths of a line are brought to those of its ink."""

OVER = 0.5
"""Share of the narrower of two pieces that must lie over the other for both to be one character's: dots, accents, colons."""

BEYOND = 2.5
"""X-heights by which the recogniser's places may be off."""

MOST_TOUCHING, MOST_PARTS = 4, 3

AWAY, TOUCHES, BROKEN, NO_INK, DOUBLED, DIRT, UNREAD = 0.35, 0.4, 0.7, 1.6, 0.6, 0.45, 0.5
"""Costs, in x-heights of width that does not fit: of a x-height between the place given and the ink, of each letter that touches
another, of each break within a letter, of a letter without ink, of a digit without ink beside its like, of a sign without ink that may
have been read where there was dirt, of ink that was not read (besides its width)."""

NARROW_SPACE, NO_SPACE = 0.2, 0.8
"""X-heights between the ink of two words below which the gap is hardly a space, and what it costs to take it for one."""

WIDE_GAP, TORN = 0.5, 0.5
"""X-heights between two letters of a word from which the gap is hardly none, and its cost."""

MAYBE_DIRT = frozenset(".,'`‘’_~:;^|°\"“”=-·*")
"""Signs that, read where there is no ink, were never there."""

BROAD_DIRT = MAYBE_DIRT - NARROW
"""Those of them that would be broad; they may have no ink at all, and do not tell how wide the line's characters are."""

Column = tuple[float, float]
"""Left and right end of the ink of one character, or of several that touch."""


def columns_of(boxes: NDArray[np.int32]) -> list[Column]:
    """Ends of a line's pieces of ink (boxes (n, 4)) from left to right; those that lie over each other are made one."""
    columns: list[Column] = []
    for x0, x1 in sorted(zip(boxes[:, 0].tolist(), boxes[:, 2].tolist(), strict=True)):
        if columns:
            left, right = columns[-1]
            if min(right, x1) - x0 > OVER * min(right - left, x1 - x0):
                columns[-1] = (left, max(right, x1))
                continue
        columns.append((x0, x1))
    return columns


def on_their_ink(words: Sequence[ReadWord], columns: Sequence[Column], x_height: float) -> list[ReadWord]:
    """The words with the ends of their characters where their ink ends; all in pixels of one picture of a line."""
    symbols = [symbol for word in words for symbol in word.symbols]
    if not symbols or not columns:
        return list(words)
    begins = [n == 0 for word in words for n in range(len(word.symbols))]
    placed = iter(_placed(symbols, begins, columns, x_height))
    with_ink = [
        word._replace(symbols=tuple(own for _ in word.symbols if (own := next(placed)) is not None)) for word in words
    ]
    return [word for word in with_ink if word.symbols]


def _width(text: str) -> float:
    if text in NARROW:
        return THIN
    if text in WIDE:
        return BROAD
    if text in IN_PARTS:
        return PAIRED
    return CAPITAL if text.isupper() else USUAL


def _placed(
    symbols: Sequence[Symbol], begins: Sequence[bool], columns: Sequence[Column], x_height: float
) -> list[Symbol | None]:
    """The symbols, of which some begin words, on their columns; None for signs that have no ink, and for digits read twice."""
    left = [column[0] / x_height for column in columns]
    right = [column[1] / x_height for column in columns]
    wide = [b - a for a, b in zip(left, right, strict=True)]
    expected = [_width(symbol.text) for symbol in symbols]
    sure = [width for symbol, width in zip(symbols, expected, strict=True) if symbol.text not in BROAD_DIRT]
    fit = min(max(sum(wide) / max(sum(sure), THIN), 0.6), 1.6)
    expected = [fit * width for width in expected]
    at = [(symbol.x0 + min((symbol.x1 - symbol.x0) / 2, x_height)) / x_height for symbol in symbols]
    parts = [IN_PARTS.get(symbol.text, 1) for symbol in symbols]
    n, m = len(symbols), len(columns)
    middles = [(a + b) / 2 for a, b in zip(left, right, strict=True)]
    gaps = [0.0, *(b - a for a, b in zip(right, left[1:], strict=False))]
    as_space = [NO_SPACE * (gap < NARROW_SPACE) for gap in gaps]
    as_none = [TORN * (gap > WIDE_GAP) for gap in gaps]
    if n == m and all(
        abs(at[k] - middles[k]) < 0.7 and abs(expected[k] - wide[k]) < 0.8 and parts[k] == 1 for k in range(n)
    ):
        return [symbol._replace(x0=column[0], x1=column[1]) for symbol, column in zip(symbols, columns, strict=True)]
    far = float("inf")
    best = [dict[int, float]() for _ in range(n + 1)]
    came: list[dict[int, tuple[int, int]]] = [{} for _ in range(n + 1)]
    cost = 0.0
    for j in range(m + 1):
        best[0][j] = cost
        came[0][j] = (0, 1)
        cost += (UNREAD + wide[j]) if j < m else 0.0
        if j < m and middles[j] > at[0] + BEYOND:
            break
    for i in range(1, n + 1):
        here, one = best[i], best[i - 1]
        low = bisect_left(middles, at[i - 1] - BEYOND)
        high = bisect_right(middles, at[i - 1] + BEYOND)
        want, place, own_parts = expected[i - 1], at[i - 1], parts[i - 1]
        before_ink = as_space if begins[i - 1] and i > 1 else as_none
        without_ink = DIRT if symbols[i - 1].text in MAYBE_DIRT else DOUBLED if _is_doubled(symbols, i - 1) else NO_INK
        for j in range(max(low, 0), min(high, m) + 1 if i < n else m + 1):
            least, move = one.get(j, far) + without_ink, (1, 0)
            before = here.get(j - 1)
            if before is not None and before + UNREAD + wide[j - 1] < least:
                least, move = before + UNREAD + wide[j - 1], (0, 1)
            if j:
                end = right[j - 1]
                for k in range(1, min(MOST_PARTS, j) + 1):
                    before = one.get(j - k)
                    if before is None or before >= least:
                        continue
                    start = left[j - k]
                    price = before + abs(end - start - want) + AWAY * abs((start + end) / 2 - place)
                    price += BROKEN * abs(k - own_parts) + before_ink[j - k]
                    if price < least:
                        least, move = price, (1, k)
                start = left[j - 1]
                total, places = want, place
                for k in range(2, min(MOST_TOUCHING, i) + 1):
                    if begins[i - k + 1]:
                        break
                    gap_before = as_space if begins[i - k] and i > k else as_none
                    total += expected[i - k]
                    places += at[i - k]
                    before = best[i - k].get(j - 1)
                    if before is None or before >= least:
                        continue
                    price = before + abs(end - start - total) + AWAY * abs((start + end) / 2 - places / k)
                    price += TOUCHES * (k - 1) + gap_before[j - 1]
                    if price < least:
                        least, move = price, (k, 1)
            if least < far:
                here[j], came[i][j] = least, move
    if m not in best[n]:
        return list(symbols)  # places too far off to say anything
    placed: list[Symbol | None] = list(symbols)
    i, j = n, m
    while i > 0:
        taken, used = came[i][j]
        if taken == 1 and used:
            placed[i - 1] = symbols[i - 1]._replace(x0=columns[j - used][0], x1=columns[j - 1][1])
        elif taken > 1:
            x0, x1 = columns[j - 1]
            share = (x1 - x0) / sum(expected[i - taken : i])
            for k in range(i - taken, i):
                placed[k] = symbols[k]._replace(x0=x0, x1=x0 + share * expected[k])
                x0 += share * expected[k]
        elif taken == 1 and (symbols[i - 1].text in MAYBE_DIRT or _is_doubled(symbols, i - 1)):
            placed[i - 1] = None
        i, j = i - taken, j - used
    return placed


def _is_doubled(symbols: Sequence[Symbol], place: int) -> bool:
    """Whether a digit stands beside its like."""
    text = symbols[place].text
    return text.isdigit() and any(
        other.text == text for other in (*symbols[max(place - 1, 0) : place], *symbols[place + 1 : place + 2])
    )
