"""Dots and accents over letters; dots far from everything, and ink too small for its sign, are dirt."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.model.equation import Letterform
from evenquill.core.reading.scanned.formulas.placing import Placed
from evenquill.core.reading.scanned.formulas.symbols import NOTHING, SymbolClass, card, number_of

NEAR = 0.3
"""Ems between a letter and a dot over it."""

DOTS = frozenset(".,·∘°′")

ACCENTS = frozenset("^~→ˇ˘")
"""Signs over letters that are as large as these."""

ALONE = 0.55
"""Ems between a dot and the symbols beside it from which it is dirt."""

TOO_SMALL = 0.45
"""Size of ink over that of the symbol that it looks like below which it is dirt; typefaces differ by less than a third."""

FAINT_DOT = 0.85
"""Size of a dot over the stroke of letters below which it is dirt, unless it stands between figures; dots are broader than strokes."""

IN_ROW = 0.08
"""Ems by which dots in a row differ in height."""

OVER = SymbolClass("˙", Letterform.UPRIGHT, 0.7, 0.58, 0.12)


def with_dots_over(symbols: Sequence[Placed], em: float) -> list[Placed]:
    """The symbols with dots right over letters as what they are, and accents of the size of their letters; ``em`` is the size of the page's
    text in pixels."""
    out: list[Placed] = []
    dotted: set[int] = set()
    for one in symbols:
        under = _under(one, symbols, em)
        if under is None:
            out.append(one)
        elif one.is_a.text in ACCENTS:
            out.append(one._replace(size=under.size, baseline=under.baseline))
        elif under.is_a.text == "ι":
            dotted.add(id(under))
        else:
            out.append(one._replace(is_a=OVER, size=under.size, baseline=one.seen.box.y1 + OVER.bottom * under.size))
    return [
        one._replace(is_a=card().classes[number_of("i", Letterform.ITALIC)]) if id(one) in dotted else one
        for one in out
    ]


def _under(dot: Placed, symbols: Sequence[Placed], em: float) -> Placed | None:
    """The letter right under a dot or an accent."""
    box = dot.seen.box
    small = dot.is_a.text in DOTS and max(box.width, box.height) <= 0.25 * em and not _is_point(dot, symbols, em)
    if not small and dot.is_a.text not in ACCENTS:
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


def _is_point(dot: Placed, symbols: Sequence[Placed], em: float) -> bool:
    """Whether a dot stands at the foot of figures to both sides of it."""
    box = dot.seen.box
    sides = [
        other.seen.box.center_x < box.center_x
        for other in symbols
        if other.is_a.text.isdecimal()
        and abs(other.seen.box.y1 - box.y1) < IN_ROW * em
        and -box.overlap_x(other.seen.box) < NEAR * em
    ]
    return len(set(sides)) == 2


def is_dirt(symbol: Placed, symbols: Sequence[Placed], em: float, stroke: float) -> bool:
    """Whether a symbol is far too small for what it looks like, a dot thinner than the ``stroke`` of letters (in pixels), or a dot with
    nothing at its height close beside it; dots in a row leave something out."""
    box = symbol.seen.box
    usual = max(symbol.is_a.height, symbol.is_a.width) * symbol.size
    if symbol.is_a.fixed and max(box.width, box.height) < TOO_SMALL * usual:
        return True
    if symbol.is_a.text not in DOTS or max(box.width, box.height) > 0.25 * em:
        return False
    if max(box.width, box.height) < FAINT_DOT * stroke and not _is_point(symbol, symbols, em):
        return True
    return not any(
        other is not symbol
        and other.is_a.text != NOTHING
        and (other.is_a.text not in DOTS or abs(other.seen.box.center_y - box.center_y) < IN_ROW * em)
        and other.seen.box.y0 - 0.15 * em < box.center_y < other.seen.box.y1 + 0.15 * em
        and -box.overlap_x(other.seen.box) < ALONE * em
        for other in symbols
    )
