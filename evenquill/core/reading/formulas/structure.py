"""The parts of a formula, put together from the inside out."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.equations.signs import ACCENTS
from evenquill.core.model import Box
from evenquill.core.model.equation import Accent, Fraction, Node, Root
from evenquill.core.reading.formulas.grids import with_fences, with_lines
from evenquill.core.reading.formulas.parts import Part, box_of, compound, size_of
from evenquill.core.reading.formulas.tall_signs import with_tall_signs

NEAR_BAR = 0.8
"""Ems between a bar and what stands above or below it; TeX sets the baselines of a display fraction 0.43 above and 0.94 below."""

NEXT = 0.35
"""Ems between things stacked on one side of a bar: bounds of a sum in a numerator are that close."""

SLANT = 0.05
"""Ems by which the middle of a letter may be beyond the end of a root's bar."""

BESIDE = 0.25
"""Ems by which a bar may be shorter than what it belongs to: slanted letters reach beyond their own width."""


def tree_of(symbols: Sequence[Part], bars: Sequence[Box]) -> Node:
    """The tree of one formula from its symbols and the horizontal bars among them."""
    return _put_together(_with_bars(with_tall_signs(symbols), sorted(bars, key=lambda bar: bar.width)))


def _put_together(parts: Sequence[Part]) -> Node:
    return with_lines(with_fences(parts))


def _with_bars(parts: list[Part], bars: list[Box]) -> list[Part]:
    """The parts with what belongs to each bar put together, the shortest bar first."""
    for n, bar in enumerate(bars):
        others = bars[n + 1 :]
        parts = _with_root(parts, bar, others) or _with_fraction(parts, bar, others) or _with_line(parts, bar) or parts
    return parts


def _with_root(parts: list[Part], bar: Box, others: Sequence[Box]) -> list[Part] | None:
    """The root whose sign ends in the bar, None where there is no such sign."""
    # Upper pieces of tall signs have no character in some files, so that the bar may be any way above the sign.
    for sign in sorted((part for part in parts if part.text == "√"), key=lambda part: abs(part.box.y0 - bar.y0)):
        reach = 0.35 * sign.size
        if abs(sign.box.x1 - bar.x0) > reach or sign.box.y0 < bar.y0 - reach:
            continue
        below = [
            part
            for part in parts
            if part is not sign
            and bar.x0 - reach < part.box.center_x < bar.x1 + SLANT * part.size
            and bar.y0 - reach / 2 < part.box.center_y
        ]
        # Lower pieces may have no character either: what hangs together below the bar is under it.
        end = max((part.box.y1 for part in _stack(below, bar, others, up=False)), default=bar.y1)
        body = [part for part in below if part.box.center_y < max(sign.box.y1 + reach, end)]
        if not body:
            continue
        index = [
            part for part in parts if part is not sign and part not in body and _is_index(part, sign, size_of(body))
        ]
        box = box_of([sign, *body, *index])
        node = Root(_put_together(body), _put_together(index) if index else None)
        baseline = _baseline(body)
        return _replaced(parts, [sign, *body, *index], Part(box, baseline, size_of(body), node=node))
    return None


def _is_index(part: Part, sign: Part, size: float) -> bool:
    """Whether a small part stands over the hook of a radical sign."""
    over = sign.box.x0 - 0.1 * size < part.box.center_x < sign.box.center_x + 0.2 * size
    return (
        over
        and part.size < 0.8 * size
        and sign.box.y0 - 0.6 * size < part.box.center_y < sign.box.center_y + 0.2 * size
    )


def _baseline(parts: Sequence[Part]) -> float:
    """The baseline that most of the largest letters stand on."""
    size = size_of(parts)
    on = [part.baseline for part in parts if part.size > 0.9 * size] or [part.baseline for part in parts]
    return sorted(on)[len(on) // 2]


def _with_fraction(parts: list[Part], bar: Box, others: Sequence[Box]) -> list[Part] | None:
    """The fraction with this bar, None where nothing stands above it or nothing below."""
    within = [part for part in parts if _is_within(part, bar)]
    above = _stack([part for part in within if part.box.center_y < bar.center_y], bar, others, up=True)
    below = _stack([part for part in within if part.box.center_y > bar.center_y], bar, others, up=False)
    if not above or not below:
        return None
    size = max(size_of(above), size_of(below))
    box = box_of([*above, *below])
    node = Fraction(_put_together(above), _put_together(below))
    whole = Box(min(box.x0, bar.x0), box.y0, max(box.x1, bar.x1), box.y1)
    made = compound(node, whole, size)._replace(baseline=bar.center_y + 0.25 * size)
    return _replaced(parts, [*above, *below], made)


def _is_within(part: Part, bar: Box) -> bool:
    slack = BESIDE * part.size
    return part.box.x0 > bar.x0 - slack and part.box.x1 < bar.x1 + slack


def _stack(parts: list[Part], bar: Box, others: Sequence[Box], *, up: bool) -> list[Part]:
    """What stands on one side of a bar without a wide gap, up to the next bar that reaches as far."""
    taken: list[Part] = []
    edge = bar.center_y
    for part in sorted(parts, key=lambda part: -part.box.y1 if up else part.box.y0):
        near, far = (part.box.y1, part.box.y0) if up else (part.box.y0, part.box.y1)
        gap = edge - near if up else near - edge
        if gap > (NEXT if taken else NEAR_BAR) * max(part.size, 0.7 * size_of(taken or [part])):
            break
        low, high = sorted((bar.center_y, part.box.center_y))
        if any(low < other.center_y < high and other.overlap_x(part.box) > 0 for other in others):
            break
        taken.append(part)
        edge = min(edge, far) if up else max(edge, far)
    return taken


def _with_line(parts: list[Part], bar: Box) -> list[Part] | None:
    """What has the bar as a line over or under it."""
    covered = [part for part in parts if bar.x0 - BESIDE * part.size < part.box.center_x < bar.x1 + BESIDE * part.size]
    over = [part for part in covered if 0 <= part.box.y0 - bar.center_y < 0.35 * part.size]
    under = [part for part in covered if 0 <= bar.center_y - part.box.y1 < 0.35 * part.size]
    chosen = over or under
    if not chosen:
        return None
    size = size_of(chosen)
    box = box_of(chosen)
    whole = Box(box.x0, min(box.y0, bar.y0), box.x1, max(box.y1, bar.y1))
    node = Accent(_put_together(chosen), ACCENTS["¯"], below=not over)
    return _replaced(parts, chosen, Part(whole, _baseline(chosen), size, node=node))


def _replaced(parts: list[Part], gone: Sequence[Part], made: Part) -> list[Part]:
    left = set(map(id, gone))
    return [*(part for part in parts if id(part) not in left), made]
