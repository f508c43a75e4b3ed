"""Dots: over letters they are signs of derivatives, and far from everything they are dirt."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model.equation import Letterform
from evenquill.core.reading.scanned.formulas.placing import Placed
from evenquill.core.reading.scanned.formulas.symbols import NOTHING, SymbolClass, card, number_of

NEAR = 0.3
"""Ems between a letter and a dot over it."""

DOTS = frozenset(".,·∘°′")

ALONE = 0.55
"""Ems between a dot and the symbols beside it from which it is dirt."""

IN_ROW = 0.08
"""Ems by which dots in a row differ in height."""

OVER = SymbolClass("˙", Letterform.UPRIGHT, 0.7, 0.58, 0.12)


def with_dots_over(symbols: Sequence[Placed], em: float) -> list[Placed]:
    """The symbols with dots right over letters as what they are; ``em`` is the size of the page's text in pixels."""
    out: list[Placed] = []
    dotted: set[int] = set()
    for one in symbols:
        under = _under(one, symbols, em)
        if under is None:
            out.append(one)
        elif under.is_a.text == "ι":
            dotted.add(id(under))
        else:
            out.append(one._replace(is_a=OVER, size=em, baseline=one.seen.box.y1 + OVER.bottom * em))
    return [
        one._replace(is_a=card().classes[number_of("i", Letterform.ITALIC)]) if id(one) in dotted else one
        for one in out
    ]


def _under(dot: Placed, symbols: Sequence[Placed], em: float) -> Placed | None:
    """The letter right under a dot."""
    box = dot.seen.box
    if dot.is_a.text not in DOTS or max(box.width, box.height) > 0.25 * em:
        return None
    return next(
        (
            other
            for other in symbols
            if other is not dot
            and other.is_a.text.isalpha()
            and other.seen.box.x0 - 0.1 * em < box.center_x < other.seen.box.x1 + 0.1 * em
            and -0.05 * em < other.seen.box.y0 - box.y1 < NEAR * em
        ),
        None,
    )


def is_dirt(symbol: Placed, symbols: Sequence[Placed], em: float) -> bool:
    """Whether a symbol is a dot with nothing at its height close beside it; dots in a row leave something out."""
    box = symbol.seen.box
    if symbol.is_a.text not in DOTS or max(box.width, box.height) > 0.25 * em:
        return False
    return not any(
        other is not symbol
        and other.is_a.text != NOTHING
        and (other.is_a.text not in DOTS or abs(other.seen.box.center_y - box.center_y) < IN_ROW * em)
        and other.seen.box.y0 - 0.15 * em < box.center_y < other.seen.box.y1 + 0.15 * em
        and -box.overlap_x(other.seen.box) < ALONE * em
        for other in symbols
    )
