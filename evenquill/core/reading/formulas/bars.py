"""Which thin horizontal lines of a page may be bars of fractions and roots, or lines over letters."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.equations.signs import OPERATIONS, RELATIONS
from evenquill.core.model import Box
from evenquill.core.reading.formulas.parts import SMALLER
from evenquill.core.reading.formulas.segments import Sign, is_slanted

NEAR = 0.85
"""Ems between a bar and what stands above or below it."""

FILLED = 0.6
"""Share of a fraction's bar that the wider of its two parts takes up, at least."""

WIDEST = 30.0
"""Ems of a bar, at most."""

ROOTS = frozenset("√⎷\ue001")
"""Signs of roots, and the upper end of one."""

TALLEST = 6.0
"""Ems that pieces without a character take up above the sign of a root, at most."""

RULES = 3
"""Lines of one width above each other from which they are a table's."""


def fitting_bars(bars: Sequence[Box], signs: Sequence[Sign]) -> list[Box]:
    """The bars that have something above and below them, a root's sign before them, or a letter under them."""
    out = []
    sizes = sorted(sign.part.size for sign in signs)
    usual = sizes[len(sizes) // 2] if sizes else 0.0
    for bar in bars:
        alike = sum(abs(bar.x0 - other.x0) < 0.5 and abs(bar.x1 - other.x1) < 0.5 for other in bars)
        if any(_is_root_of(sign, bar) for sign in signs):
            out.append(bar)
            continue
        near = [sign for sign in signs if _is_near(sign, bar)]
        if not near:
            continue
        size = max(sign.part.size for sign in near)
        if bar.width > WIDEST * size:
            continue
        along = [sign for sign in near if _is_along(sign, bar)]
        tells = (
            any(sign.mathematical for sign in near)
            or all(_is_small_figure(sign, usual) for sign in along)
            or any(_is_joined_to(sign, bar) for sign in near)
        )
        if alike < RULES and tells and (_is_fraction(bar, near, size) or _is_line(bar, near, size)):
            out.append(bar)
    return out


def _is_small_figure(sign: Sign, usual: float) -> bool:
    """Whether a sign is a figure smaller than the text, as in fractions that stand in its lines."""
    return sign.part.text.isdigit() and sign.part.size < SMALLER * usual


def _is_joined_to(sign: Sign, bar: Box) -> bool:
    """Whether a relation, an operation or another sign of mathematics stands right before or behind a bar, at its height."""
    level = abs(sign.part.box.center_y - bar.center_y) < 0.3 * sign.part.size
    near = -0.1 * sign.part.size < max(bar.x0 - sign.part.box.x1, sign.part.box.x0 - bar.x1) < 0.6 * sign.part.size
    return level and near and (sign.mathematical or sign.part.text in RELATIONS | OPERATIONS)


def _is_root_of(sign: Sign, bar: Box) -> bool:
    """Whether a root's sign ends where the bar begins; files may have no character for upper pieces of its sign."""
    if sign.part.text not in ROOTS or abs(sign.part.box.x1 - bar.x0) > 0.4 * sign.part.size:
        return False
    rise = sign.part.box.y0 - bar.center_y
    return -0.35 * sign.part.size < rise < TALLEST * sign.part.size


def _is_near(sign: Sign, bar: Box) -> bool:
    box, reach = sign.part.box, NEAR * sign.part.size
    return bar.x0 - reach < box.center_x < bar.x1 + reach and box.y0 - reach < bar.center_y < box.y1 + reach


def _is_fraction(bar: Box, near: Sequence[Sign], size: float) -> bool:
    """Whether the bar is as long as what stands above or below it."""
    sides = []
    for up in (True, False):
        own = [sign.part.box for sign in near if (sign.part.box.center_y < bar.center_y) is up and _is_along(sign, bar)]
        if not own:
            return False
        left, right = min(box.x0 for box in own), max(box.x1 for box in own)
        if left < bar.x0 - 0.4 * size or right > bar.x1 + 0.4 * size:
            return False
        sides.append(right - left)
    return max(sides) > FILLED * bar.width or bar.width - max(sides) < size


def _is_along(sign: Sign, bar: Box) -> bool:
    return bar.x0 - 0.1 * sign.part.size < sign.part.box.center_x < bar.x1 + 0.1 * sign.part.size


def _is_line(bar: Box, near: Sequence[Sign], size: float) -> bool:
    """Whether the bar is drawn over one or a few letters of a formula."""
    return bar.width < 4 * size and any(
        (sign.mathematical or is_slanted(sign))
        and 0 <= sign.part.box.y0 - bar.center_y < 0.35 * size
        and _is_along(sign, bar)
        for sign in near
    )
