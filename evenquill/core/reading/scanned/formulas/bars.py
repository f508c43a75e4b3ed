"""Flat strokes: minus signs, bars of fractions, or lines over letters."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from evenquill.core.model import Box
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.scanned.formulas.placing import Placed
from evenquill.core.reading.scanned.formulas.symbols import SymbolClass
from evenquill.core.reading.scanned.raster import Pixels

FLAT = 0.34
"""Height over width of a bar, at most."""

SHORTEST = 0.2
"""Ems of a bar, at least: those over letters of scripts are shorter than any minus sign."""

LONG = 1.15
"""Ems from which a stroke is no minus sign."""

SHAPED, CLEAR = frozenset("~∼^→←↔⇒⇔≈"), 0.8
"""Flat symbols that are no straight strokes, and the likelihood from which one is such a symbol."""

NEAR, OVER = 0.62, 0.24
"""Ems between a bar and what stands above and below it, and between a line and the letter that it lies over."""

MUCH_FARTHER = 2.0
"""Distance of what is above a stroke over that of what is below it from which the stroke is an accent; those at the bar of a fraction are
about as far."""

GAP = 1.0
"""Thicknesses of a bar from which a gap in it parts it."""

LINE_OVER = SymbolClass("¯", Letterform.UPRIGHT, 0.6, 0.55, 0.45)


def parted_bars(symbols: Sequence[Placed], em: float) -> tuple[list[Placed], list[Box]]:
    """The symbols without those that are bars, and the bars (boxes in pixels); ``em`` is the size of the text of formulas. A short stroke
    over a letter is its accent."""
    kept: list[Placed] = []
    bars: list[Box] = []
    for symbol in symbols:
        if not _may_be_bar(symbol, em):
            kept.append(symbol)
            continue
        box = symbol.seen.box
        above, below = _above_and_below(symbol, symbols)
        long = box.width > LONG * em
        between = _is_near(symbol, above, NEAR * em) and _is_near(symbol, below, NEAR * em)
        between = between and (long or not _lies_over(symbol, above, below, em))
        if between or (long and (above or below)):
            bars.append(box)
        elif not long and _is_near(symbol, below, OVER * em):
            size = min(below, key=lambda one: _gap(symbol, one)).size
            kept.append(symbol._replace(is_a=LINE_OVER, size=size, baseline=box.y1 + LINE_OVER.bottom * size))
        else:
            kept.append(symbol)
    return kept, bars


def at_gaps(rule: Box, ink: Pixels) -> list[Box]:
    """A level rule, cut where the page has no ink in it: the bars of two fractions side by side are taken for one rule."""
    x0, y0 = max(int(rule.x0), 0), max(int(rule.y0), 0)
    across = np.flatnonzero(ink[y0 : int(rule.y1) + 1, x0 : int(rule.x1) + 1].any(axis=0))
    if not len(across):
        return [rule]
    breaks = np.flatnonzero(np.diff(across) > GAP * max(rule.height, 1.0))
    if not len(breaks):
        return [rule]
    starts, ends = [0, *(breaks + 1)], [*breaks, len(across) - 1]
    return [
        rule._replace(x0=float(x0 + across[start]), x1=float(x0 + across[end] + 1))
        for start, end in zip(starts, ends, strict=True)
    ]


def _may_be_bar(symbol: Placed, em: float) -> bool:
    box = symbol.seen.box
    shaped = symbol.is_a.text in SHAPED and symbol.likelihood > CLEAR
    return box.height <= FLAT * box.width and box.width >= SHORTEST * em and not shaped


def _above_and_below(symbol: Placed, symbols: Sequence[Placed]) -> tuple[list[Placed], list[Placed]]:
    """The other symbols over a stroke, and those under it."""
    box = symbol.seen.box
    others = [one for one in symbols if one is not symbol and box.x0 < one.seen.box.center_x < box.x1]
    above = [one for one in others if one.seen.box.center_y < box.center_y]
    below = [one for one in others if one.seen.box.center_y > box.center_y]
    return above, below


def _gap(symbol: Placed, other: Placed) -> float:
    return -symbol.seen.box.overlap_y(other.seen.box)


def _lies_over(symbol: Placed, above: Sequence[Placed], below: Sequence[Placed], em: float) -> bool:
    """Whether a short stroke is much nearer to what is below it than to what is above it, as an accent of a lower line is."""
    near = min(_gap(symbol, one) for one in below)
    return near < OVER * em and min(_gap(symbol, one) for one in above) > MUCH_FARTHER * max(near, 0.0)


def _is_near(symbol: Placed, others: Sequence[Placed], most: float) -> bool:
    return any(_gap(symbol, other) < most for other in others)
