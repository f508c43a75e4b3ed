"""Ink that is no symbol as several that touch: cut where little ink is crossed, the parts recognised, the likeliest row of them taken.

As touching figures are parted (Casey and Lecolinet 1996): more cuts than are needed, every part between two of them looked at, and the best
path from the left to the right.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import log
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.formulas.seen_symbols import UNSURE, InkPart, Seen, recognised, sureness
from evenquill.core.reading.scanned.formulas.symbols import card, is_mathematical
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.raster import Pixels

EACH = 0.5
"""Likelihood of each of several symbols that touch, at least."""

BROAD, BROAD_FOR_HEIGHT = 0.9, 0.5
"""X-heights, and share of its height, from which a symbol may be several that touch."""

TELLING, BESIDE, ABOVE = 0.75, 20.0, 5.0
"""Likelihood of a sign that only mathematics has, and x-heights to its sides, above it and below it within which a formula goes on."""

CUT = -0.1
"""What each cut adds to the logarithm of the likelihood of a row of symbols."""

REACH, CUTS, CUTS_FOR_WIDTH, SLANTED = 0.14, 9, 4, 0.05
"""Share of a symbol's height by which a cut may run to a side, cuts that are tried at most and for each height that it is wide, and what a
step aside costs, in pixels of ink."""

NARROWEST, WIDEST = 0.14, 1.7
"""Width of a part over the height of the whole, at least and at most."""

LEAST_SHARE, OTHER_CUT = 0.04, 0.035
"""Share of the ink to both sides of a cut, at least, and by which another cut differs."""


class _Cut(NamedTuple):
    """A line from the top to the bottom of some ink: ``columns`` (height,) where the right side begins, and the share of the ink at its
    left."""

    columns: NDArray[np.int64]
    share: float


class _Row(NamedTuple):
    """Symbols side by side, and the logarithm of their likelihood."""

    score: float
    symbols: list[Seen]


def with_touching_parted(
    pieces: Pieces, seen: Sequence[Seen], even: Pixels, x_height: float, *, whole: bool = False
) -> list[Seen]:
    """The symbols, broad ones that are none as those that touch; ``x_height`` is that of the page's text in pixels. Only near signs that
    tell of a formula, unless the symbols are known to be the ``whole`` of one."""
    telling = [one.box for one in seen if is_mathematical(card().classes[one.best]) and sureness(one) > TELLING]
    spans = [
        _spans(pieces, one)
        if _may_be_several(one, x_height) and (whole or _is_near(one.box, telling, x_height))
        else {}
        for one in seen
    ]
    # All at once: the network takes long to get ready for another number of pictures.
    found = iter(recognised(pieces, [part for own in spans for part in own.values()], even))
    out: list[Seen] = []
    for one, own in zip(seen, spans, strict=True):
        row = _likeliest_row({place: next(found) for place in own}, max((end for _, end in own), default=0))
        out += [one] if row is None or not own else row.symbols
    return out


def _may_be_several(one: Seen, x_height: float) -> bool:
    """Whether ink is broad and no symbol."""
    return one.box.width > max(BROAD * x_height, BROAD_FOR_HEIGHT * one.box.height) and sureness(one) < UNSURE


def _is_near(box: Box, telling: Sequence[Box], x_height: float) -> bool:
    """Whether ink is where a formula may go on around one of the signs that are ``telling`` of it."""
    return any(sign.overlap_x(box) > -BESIDE * x_height and sign.overlap_y(box) > -ABOVE * x_height for sign in telling)


def _spans(pieces: Pieces, one: Seen) -> dict[tuple[int, int], InkPart]:
    """What lies between each two cuts through a symbol, by their places from the left; its sides count as cuts."""
    x0, y0, x1, y1 = (int(value) for value in one.box)
    ink = pieces.mask_of(np.array(one.pieces, np.int64), x0, y0, x1, y1)
    columns = np.arange(ink.shape[1])[None, :]
    inner = [columns < cut.columns[:, None] for cut in _cuts(ink > 0)]
    sides = [np.zeros(ink.shape, np.bool_), *inner, np.ones(ink.shape, np.bool_)]
    out: dict[tuple[int, int], InkPart] = {}
    for start in range(len(sides)):
        for end in range(start + 1, len(sides)):
            part = _part_of(np.where(sides[end] & ~sides[start], ink, 0), one.pieces, x0, y0)
            if part is not None and part.box.width < min(WIDEST * one.box.height, one.box.width):
                out[start, end] = part
    return out


def _likeliest_row(found: Mapping[tuple[int, int], Seen], last: int) -> _Row | None:
    """The likeliest symbols from the first side to the ``last`` one, None where some ink is no symbol in any way."""
    best: list[_Row | None] = [_Row(0.0, [])]
    for end in range(1, last + 1):
        ways = []
        for start, before in enumerate(best):
            part = found.get((start, end))
            if before is not None and part is not None and sureness(part) > EACH:
                ways.append(_Row(before.score + log(sureness(part)) + CUT, [*before.symbols, part]))
        best.append(max(ways, key=lambda row: row.score, default=None))
    return best[-1]


def _part_of(ink: Pixels, pieces: tuple[int, ...], x0: int, y0: int) -> InkPart | None:
    """The ink between two cuts, None where there is none or next to none."""
    rows, across = np.flatnonzero(ink.any(axis=1)), np.flatnonzero(ink.any(axis=0))
    if not len(rows):
        return None
    top, bottom, left, right = rows[0], rows[-1] + 1, across[0], across[-1] + 1
    if right - left < NARROWEST * ink.shape[0]:
        return None
    box = Box(*(float(value) for value in (x0 + left, y0 + top, x0 + right, y0 + bottom)))
    return InkPart(pieces, box, ink[top:bottom, left:right])


def _cuts(own: NDArray[np.bool_]) -> list[_Cut]:
    """The lines from the top to the bottom of some ink (height, width) that cross little of it, from the left. Slanted letters overlap, so
    that no straight line parts them."""
    columns = np.arange(own.shape[1])
    found = []
    for cost, seam in zip(*_least_seams(own), strict=True):
        is_left = columns[None, :] < seam[:, None]
        found.append((float(cost), _Cut(seam, float((own & is_left).sum() / own.sum()))))
    out: list[_Cut] = []
    for _, cut in sorted(found, key=lambda one: one[0]):
        other = all(abs(cut.share - known.share) > OTHER_CUT for known in out)
        if LEAST_SHARE < cut.share < 1 - LEAST_SHARE and other:
            out.append(cut)
    count = min(round(CUTS_FOR_WIDTH * own.shape[1] / own.shape[0]), CUTS)
    return sorted(out[:count], key=lambda cut: cut.share)


def _least_seams(own: NDArray[np.bool_]) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """The line that crosses the least ink in each of several bands from left to right: how much it crosses (bands,), and its column in each
    row (bands, height). By dynamic programming, as seams of images are found (Avidan and Shamir 2007)."""
    height, width = own.shape
    reach = max(round(REACH * height), 2)
    edge = max(round(NARROWEST * height), 1)
    middles = np.arange(edge, max(width - edge, edge + 1), 2)
    walled = np.pad(own.astype(np.float64), ((0, 0), (reach, reach)), constant_values=np.inf)
    bands = walled[:, middles[:, None] + np.arange(2 * reach + 1)]  # (height, bands, columns)
    around = np.full((len(middles), 2 * reach + 3), np.inf)
    around[:, 1:-1] = bands[0]
    steps = np.zeros(bands.shape, np.int64)
    for row in range(1, height):
        straight, from_left, from_right = around[:, 1:-1].copy(), around[:, :-2] + SLANTED, around[:, 2:] + SLANTED
        best = np.minimum(np.minimum(from_left, from_right), straight)
        steps[row] = np.where(straight <= best, 0, np.where(from_left <= from_right, -1, 1))
        around[:, 1:-1] = best + bands[row]
    column = around[:, 1:-1].argmin(axis=1)
    each = np.arange(len(middles))
    least = around[each, column + 1]
    seams = np.empty((len(middles), height), np.int64)
    for row in range(height - 1, -1, -1):
        seams[:, row] = column
        column = column + steps[row, each, column]
    return least, seams + (middles - reach)[:, None]
