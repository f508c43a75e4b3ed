"""Flat strokes: minus signs, or bars of fractions and lines over letters."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model import Box
from evenquill.core.reading.scanned.formulas.placing import Placed

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


def parted_bars(symbols: Sequence[Placed], em: float) -> tuple[list[Placed], list[Box]]:
    """The symbols without those that are bars, and the bars (boxes in pixels); ``em`` is the size of the page's text."""
    flat = [_is_bar(symbol, symbols, em) for symbol in symbols]
    kept = [symbol for symbol, is_bar in zip(symbols, flat, strict=True) if not is_bar]
    return kept, [symbol.seen.box for symbol, is_bar in zip(symbols, flat, strict=True) if is_bar]


def _is_bar(symbol: Placed, symbols: Sequence[Placed], em: float) -> bool:
    box = symbol.seen.box
    if box.height > FLAT * box.width or box.width < SHORTEST * em:
        return False
    if symbol.is_a.text in SHAPED and symbol.likelihood > CLEAR:
        return False
    others = [one.seen.box for one in symbols if one is not symbol and box.x0 < one.seen.box.center_x < box.x1]
    above = [box.y0 - other.y1 for other in others if other.center_y < box.center_y]
    below = [other.y0 - box.y1 for other in others if other.center_y > box.center_y]
    if box.width > LONG * em:
        return bool(above or below)
    if above and below and min(above) < NEAR * em and min(below) < NEAR * em:
        return True
    return bool(below) and min(below) < OVER * em and not (above and min(above) < NEAR * em)
