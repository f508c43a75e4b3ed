"""What symbols are, where their shape leaves that open: by their size, and by how they stand to the symbols beside them.

A small c and a capital one have one shape, and so have a small letter on the line and a large one raised. Each symbol takes the class
and the size that fit its shape and its neighbours best, in turns, until nothing changes (iterated conditional modes, Besag 1986).
"""

from __future__ import annotations

from collections.abc import Sequence
from math import exp, log
from typing import NamedTuple

import numpy as np

from evenquill.core.equations.signs import INTEGRALS, NARY
from evenquill.core.model import Box
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.scanned.formulas.seen_symbols import Seen
from evenquill.core.reading.scanned.formulas.symbols import NOTHING, SymbolClass, card
from evenquill.core.union_find import UnionFind

LEVELS = ((1.0, 0.72), (0.72, 0.22), (0.55, 0.06))
"""Sizes of symbols over that of the text, with how common they are: the line's own, scripts, scripts of scripts."""

CHOICES = 6
"""Classes of a symbol that are weighed."""

LEAST = 0.004
"""Likelihood of a class below which it is not weighed."""

CLEAR = 0.8
"""Likelihood from which what is larger than a dot is a symbol, wherever it stands."""

SPREAD, FLAT_SPREAD, SMALL_SPREAD = 0.1, 0.15, 0.3
"""Standard deviation of the logarithm of a symbol's height over that in other typefaces, of the width of flat symbols, and of dots."""

FLAT = 1.8
"""Width over height from which a symbol is flat: its width tells more of its size."""

SMALL = 0.25
"""Ems up to which the size of ink tells little of that of the symbol."""

OFF = 0.07
"""Standard deviation in ems of baselines of symbols on one line."""

RAISED, LOWERED = (0.2, 0.75), (0.08, 0.4)
"""Ems (of the larger symbol) by which scripts stand above and below the line."""

STACKED = 0.4, 1.1
"""Ems between the baselines of a script above the line and one below it behind one letter."""

SCRIPT, SCRIPT_OF_SIGN, ODD = -0.4, -1.0, -2.5
"""Scores of a script beside a letter or a figure, of one beside a sign, which has none by itself, and of two symbols that stand in no way
to each other that a line of a formula has."""

REACH = 0.9
"""Ems between symbols that are beside each other."""

BESIDE_LARGE, NEAR_LARGE, BOUND = 0.6, 0.5, 4.0
"""Ems beside a large operator and from it within which its bounds stand, and the score that such a symbol loses at the size of the line."""

BESIDE_INTEGRAL, END = 0.8, (0.33, 0.7)
"""Ems behind an integral within which its bounds stand, and how far off its middle, over its height."""

ROUNDS = 4

RARE = {
    "ι": -2.5,
    "υ": -2.0,
    "ϱ": -2.0,
    "†": -2.0,
    "?": -2.0,
    "!": -0.7,
    "°": -1.0,
    "∴": -1.0,
    "∓": -1.0,
    "ϑ": -1.0,
    "ℓ": -0.7,
    "l": -2.0,
    "I": -0.5,
    "\\": -2.0,
}
"""Scores of symbols that look like common ones and are rare."""

SINGLE = -1.0
"""Score of an upright letter that is no part of a name: quantities are slanted letters, and figures look alike."""

GROWTH = 0.8
"""Score that a fence or a large operator loses for each e-fold that it is higher than a letter."""

FACTORS = np.geomspace(0.5, 1.5, 46)
"""Sizes of the text of formulas over that which the page's x-height tells: x-heights are 0.4 to 0.5 ems, a page with little else than a
formula has none of its own, and pages have several sizes."""

PAGES_SPREAD = 0.2
"""Standard deviation of the logarithm of that."""

MEASURED = 120
"""Symbols by which the size of the text is told, at most."""

SAME_LINE = 0.13
"""Ems between baselines of symbols beside each other that are on one line."""

LETTER = 0.33
"""Ems of the height of ink from which a symbol tells where its baseline is."""


class Placed(NamedTuple):
    """A symbol with its class, its size and the height of its baseline in pixels. ``likelihood`` is that of its class by its shape alone,
    ``share`` that among all classes by its shape, its size and its place; ``other`` is the class that comes next, None for none."""

    seen: Seen
    is_a: SymbolClass
    size: float
    baseline: float
    likelihood: float
    share: float = 1.0
    other: SymbolClass | None = None


class _State(NamedTuple):
    number: int
    size: float
    baseline: float
    score: float


def placed(seen: Sequence[Seen], em: float) -> list[Placed]:
    """The symbols with their classes and places; ``em`` is the size of the text of formulas in pixels (``em_of_formulas``)."""
    states = [_states(one, em) for one in seen]
    bounds = _bounds(seen, em)
    states = [_as_bound(options, em) if n in bounds else options for n, options in enumerate(states)]
    chosen = [max(options, key=lambda state: state.score) for options in states]
    beside = _neighbours([one.box for one in seen], em)
    for _ in range(ROUNDS):
        changed = False
        for n, options in enumerate(states):
            best = max(
                options,
                key=lambda state: state.score + sum(_fit(state, chosen[k], em) for k in beside[n]),
            )
            changed |= best is not chosen[n]
            chosen[n] = best
        if not (_with_pairs_changed(states, chosen, beside, em) or changed):
            break
    found = [
        _decided(one, state, options, [chosen[k] for k in beside[n]], em)
        for n, (one, state, options) in enumerate(zip(seen, chosen, states, strict=True))
    ]
    return _levelled(found, beside)


def _with_pairs_changed(
    states: Sequence[Sequence[_State]], chosen: list[_State], beside: Sequence[Sequence[int]], em: float
) -> bool:
    """Gives pairs of neighbours that do not go with what is beside them other sizes together; returns whether any was changed.

    Two that hold each other in place, such as + and 1 of an index taken for signs of the line, are not changed one by one.
    """
    changed = False
    odd = [any(_fit(chosen[n], chosen[k], em) <= ODD for k in near) for n, near in enumerate(beside)]
    for n, near in enumerate(beside):
        for k in near:
            if k < n or not (odd[n] or odd[k]):
                continue
            own, others = ([state for state in states[m] if state.number == chosen[m].number] for m in (n, k))
            fits_own = [one.score + sum(_fit(one, chosen[m], em) for m in beside[n] if m != k) for one in own]
            fits_others = [one.score + sum(_fit(one, chosen[m], em) for m in beside[k] if m != n) for one in others]
            best = max(
                ((i, j) for i in range(len(own)) for j in range(len(others))),
                key=lambda pair: fits_own[pair[0]] + fits_others[pair[1]] + _fit(own[pair[0]], others[pair[1]], em),
            )
            both = own[best[0]], others[best[1]]
            changed |= both[0] is not chosen[n] or both[1] is not chosen[k]
            chosen[n], chosen[k] = both
    return changed


def em_of_formulas(seen: Sequence[Seen], em: float) -> float:
    """The size of the text of formulas in pixels, by the symbols that are surest; ``em`` is what the page's x-height tells."""
    classes = card().classes
    telling = sorted(
        (one for one in seen if classes[one.best].text.isalnum() and classes[one.best].height > LETTER),
        key=lambda one: -float(one.likelihood.max()),
    )[:MEASURED]
    if not telling:
        return em
    heights = np.log([one.box.height / classes[one.best].height for one in telling])
    levels = np.log([level for level, _ in LEVELS])
    common = np.log([share for _, share in LEVELS])
    tried = np.log(em * FACTORS)
    off = heights[None, :, None] - tried[:, None, None] - levels[None, None, :]
    fits = (
        np.maximum(common - off**2 / (2 * SPREAD**2), -8.0).max(axis=2).sum(axis=1)
        - (np.log(FACTORS) / PAGES_SPREAD) ** 2 / 2
    )
    return float(em * FACTORS[fits.argmax()])


def _decided(one: Seen, state: _State, options: Sequence[_State], beside: Sequence[_State], em: float) -> Placed:
    """A symbol as what was chosen for it, with how likely that is beside what else it may be."""
    classes = card().classes
    scores: dict[int, float] = {}
    for option in options:
        score = option.score + sum(_fit(option, other, em) for other in beside)
        scores[option.number] = max(score, scores.get(option.number, score))
    best = max(scores.values())
    weights = {number: exp(score - best) for number, score in scores.items()}
    others = [number for number in sorted(weights, key=lambda number: -weights[number]) if number != state.number]
    share = weights[state.number] / sum(weights.values())
    other = next((classes[number] for number in others if classes[number].text != NOTHING), None)
    return Placed(
        one, classes[state.number], state.size, state.baseline, float(one.likelihood[state.number]), share, other
    )


def _levelled(symbols: list[Placed], beside: Sequence[Sequence[int]]) -> list[Placed]:
    """The symbols, those beside each other on one line with one baseline."""
    sets: UnionFind[int] = UnionFind()
    for n, one in enumerate(symbols):
        for k in beside[n]:
            other = symbols[k]
            if (
                one.size == other.size
                and one.is_a.fixed
                and other.is_a.fixed
                and abs(one.baseline - other.baseline) < SAME_LINE * one.size
            ):
                sets.join(n, k)
    lines: dict[int, list[int]] = {}
    for n, one in enumerate(symbols):
        if one.is_a.fixed:
            lines.setdefault(sets.root(n), []).append(n)
    out = list(symbols)
    for members in lines.values():
        telling = [n for n in members if symbols[n].seen.box.height > LETTER * symbols[n].size] or members
        middle = float(np.median([symbols[n].baseline for n in telling]))
        for n in members:
            out[n] = out[n]._replace(baseline=middle)
    return out


def _states(one: Seen, em: float) -> list[_State]:
    """What a symbol may be: classes at sizes, with how well they fit its shape and its height."""
    order = np.argsort(-one.likelihood)[:CHOICES]
    speck = max(one.box.width, one.box.height) < SMALL * em
    out: list[_State] = []
    for number in (int(n) for n in order if one.likelihood[n] > LEAST or n == order[0]):
        is_a = card().classes[number]
        if is_a.text == NOTHING and number != order[0] and not speck and one.likelihood.max() > CLEAR:
            continue
        shape = log(max(float(one.likelihood[number]), 1e-6)) + RARE.get(
            is_a.text,
            SINGLE if is_a.text.isalpha() and is_a.form is Letterform.UPRIGHT and is_a.text.isascii() else 0.0,
        )
        for level, share in LEVELS:
            size = level * em
            flat = is_a.width > FLAT * is_a.height
            spread = SMALL_SPREAD if max(is_a.height, is_a.width) < SMALL else FLAT_SPREAD if flat else SPREAD
            seen, usual = (one.box.width, is_a.width) if flat else (one.box.height, is_a.height)
            off = log(max(seen, 1.0) / (max(usual, 0.05) * size))
            fits = -GROWTH * off if off > 0 and not is_a.fixed else max(-(off**2) / (2 * spread**2), -8.0)
            score = shape + log(share) + fits
            # A symbol of any height has its middle on the axis of its line.
            low = is_a.bottom * size if is_a.fixed else 0.0
            baseline = one.box.y1 + low if is_a.fixed else one.box.center_y + 0.25 * size
            out.append(_State(number, size, baseline, score))
    return out


def _bounds(seen: Sequence[Seen], em: float) -> set[int]:
    """The symbols, by their places, that stand right over or under a large operator, or behind an integral at its ends."""
    large = [one for one in seen if card().classes[one.best].text in NARY and one.box.height > 1.1 * em]
    out: set[int] = set()
    for one in large:
        is_bound = _is_behind_end if card().classes[one.best].text in INTEGRALS else _is_over_or_under
        out.update(n for n, other in enumerate(seen) if is_bound(other.box, one.box, em))
    return out


def _is_over_or_under(box: Box, operator: Box, em: float) -> bool:
    beside = operator.x0 - BESIDE_LARGE * em < box.center_x < operator.x1 + BESIDE_LARGE * em
    gap = max(operator.y0 - box.y1, box.y0 - operator.y1)
    return beside and -0.1 * em < gap < NEAR_LARGE * em


def _is_behind_end(box: Box, operator: Box, em: float) -> bool:
    off = abs(box.center_y - operator.center_y) / operator.height
    return operator.center_x < box.center_x < operator.x1 + BESIDE_INTEGRAL * em and END[0] < off < END[1]


def _as_bound(options: list[_State], em: float) -> list[_State]:
    """What a bound of a large operator may be, which is smaller than the letters of its line."""
    return [state._replace(score=state.score - BOUND) if state.size > 0.9 * em else state for state in options]


def _fit(one: _State, other: _State, em: float) -> float:
    """How well two symbols go beside each other."""
    classes = card().classes
    if not (classes[one.number].fixed and classes[other.number].fixed):
        return 0.0
    apart = abs(one.baseline - other.baseline) / em
    if one.size == other.size:
        stacked = one.size < em and STACKED[0] < apart < STACKED[1]
        return SCRIPT if stacked else max(-((apart / OFF) ** 2) / 2, ODD)
    large, small = (one, other) if one.size > other.size else (other, one)
    rise = (large.baseline - small.baseline) / large.size
    script = SCRIPT if classes[large.number].text.isalnum() else SCRIPT_OF_SIGN
    return script if RAISED[0] < rise < RAISED[1] or LOWERED[0] < -rise < LOWERED[1] else ODD


def _neighbours(boxes: Sequence[Box], em: float) -> list[list[int]]:
    """For each symbol the nearest ones at its left and its right, two at each side at most."""
    if not boxes:
        return []
    edges = np.array(boxes, np.float64)
    middle, width = (edges[:, 0] + edges[:, 2]) / 2, edges[:, 2] - edges[:, 0]
    out: list[list[int]] = []
    for n, (x0, y0, x1, y1) in enumerate(edges):
        near = (np.minimum(edges[:, 3], y1) - np.maximum(edges[:, 1], y0) >= -0.35 * em) & (
            np.maximum(edges[:, 0] - x1, x0 - edges[:, 2]) < REACH * em
        )
        near[n] = False
        (places,) = np.nonzero(near)
        apart = np.abs(middle[places] - middle[n]) > 0.3 * np.maximum(width[places], width[n])
        places = places[apart]
        gaps = np.maximum(edges[places, 0] - x1, x0 - edges[places, 2])
        order = places[np.argsort(gaps, kind="stable")]
        left, right = order[middle[order] < middle[n]], order[middle[order] >= middle[n]]
        out.append([int(k) for k in (*left[:2], *right[:2])])
    return out
