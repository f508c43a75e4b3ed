"""Wide signs that typefaces put together from pieces: braces over and under something, dots, arrows with a foot."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.reading.formulas.parts import LEVEL, Part, box_of

BRACES = "⏞⏟"
DOTS = {"·": "⋯", "⋅": "⋯", ".": "…"}
"""Dots, and the sign that three of them in a row are."""

DOT_STEP = 0.62
"""Ems between dots of one sign; TeX sets them 0.44 apart."""


def with_wide_signs(symbols: Sequence[Part]) -> list[Part]:
    """The symbols with the pieces of wide signs made one."""
    return _with_braces(_with_falling_dots(_with_dots(_with_shafts(_without_feet(symbols)))))


def _without_feet(symbols: Sequence[Part]) -> list[Part]:
    """The symbols with arrows that have a foot as one sign: they are set as the foot and an arrow over it."""
    out = list(symbols)
    for foot in [part for part in symbols if part.text == "↦"]:
        arrow = next((part for part in out if part.text == "→" and _stands_on(part, foot)), None)
        if arrow is not None:
            out = [part for part in out if part is not arrow and part is not foot]
            out.append(foot._replace(box=box_of([foot, arrow])))
    return out


def _stands_on(arrow: Part, foot: Part) -> bool:
    level = abs(arrow.baseline - foot.baseline) < LEVEL * arrow.size
    return level and abs(arrow.box.x0 - foot.box.x0) < 0.4 * arrow.size


def _with_shafts(symbols: Sequence[Part]) -> list[Part]:
    """The symbols with long arrows as one sign: they are set as an arrow and minus signs that run into it."""
    out = list(symbols)
    for arrow in [part for part in symbols if part.text in "→←"]:
        whole = arrow
        for dash in [
            part for part in out if part.text == "−" and abs(part.baseline - arrow.baseline) < LEVEL * part.size
        ]:
            if dash.box.overlap_x(whole.box) > 0.02 * dash.size:
                out = [part for part in out if part is not dash and part is not whole]
                whole = whole._replace(box=box_of([whole, dash]))
                out.append(whole)
    return out


def _with_falling_dots(symbols: Sequence[Part]) -> list[Part]:
    """The symbols with three stops above each other, or falling to the right, as one sign."""
    out = [part for part in symbols if part.text != "."]
    stops = sorted((part for part in symbols if part.text == "."), key=lambda part: (part.box.y0, part.box.x0))
    while stops:
        chain = [stops[0]]
        for stop in stops[1:]:
            if len(chain) < 3 and _is_below(chain[-1], stop):
                chain.append(stop)
        if len(chain) == 3:
            box = box_of(chain)
            sign = "⋱" if box.width > 0.5 * chain[0].size else "⋮"
            out.append(chain[1]._replace(text=sign, box=box, baseline=box.y1, words=False))
        else:
            chain = chain[:1]
            out += chain
        stops = [stop for stop in stops if not any(stop is other for other in chain)]
    return out


def _is_below(one: Part, two: Part) -> bool:
    across, down = two.box.x0 - one.box.x0, two.box.y0 - one.box.y0
    return -0.1 * one.size < across < DOT_STEP * one.size and 0.15 * one.size < down < DOT_STEP * one.size


def _with_dots(symbols: Sequence[Part]) -> list[Part]:
    out: list[Part] = []
    for part in sorted(symbols, key=lambda part: (round(part.baseline), part.box.x0)):
        before = out[-2:]
        three = len(before) == 2 and part.text in DOTS and all(other.text == part.text for other in before)
        if three and all(_is_next(one, two) for one, two in zip(before, [*before[1:], part], strict=True)):
            out[-2:] = [before[0]._replace(text=DOTS[part.text], box=box_of([*before, part]), words=False)]
        else:
            out.append(part)
    return out


def _is_next(one: Part, two: Part) -> bool:
    step = two.box.x0 - one.box.x0
    return 0.1 * one.size < step < DOT_STEP * one.size and abs(one.baseline - two.baseline) < LEVEL * one.size


def _with_braces(symbols: Sequence[Part]) -> list[Part]:
    """Pieces of braces on one level as one brace; the piece at the left tells which way it opens."""
    pieces = sorted(
        (part for part in symbols if part.text in BRACES), key=lambda part: (round(part.box.center_y), part.box.x0)
    )
    out = [part for part in symbols if part.text not in BRACES]
    group: list[Part] = []
    for piece in pieces:
        # A brace of TeX has four pieces: both tips, and two that meet in its middle.
        if group and (len(group) == 4 or abs(piece.box.center_y - group[0].box.center_y) > 0.5 * piece.size):
            out.append(group[0]._replace(box=box_of(group)))
            group = []
        group.append(piece)
    return [*out, group[0]._replace(box=box_of(group))] if group else out
