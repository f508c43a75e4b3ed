"""Pieces of ink -> symbols: pieces that are one sign put together, bars and roots told from letters."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from evenquill.core.model import Box, union
from evenquill.core.reading.scanned.formulas.faint_strokes import faintest, joined_by_faint_stroke
from evenquill.core.reading.scanned.formulas.seen_symbols import UNSURE, InkPart, Seen, recognised, sureness
from evenquill.core.reading.scanned.formulas.symbols import NOTHING, card, is_mathematical
from evenquill.core.reading.scanned.formulas.tall_fences import as_fence, tall_fence
from evenquill.core.reading.scanned.formulas.touching_symbols import with_touching_parted
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.raster import Pixels

SEVERAL = frozenset("ij=≠≡≤≥≈≃≅÷±:;!?%ΞΘ∴⊆⇒⇔∓")
"""Signs that consist of several pieces, or come in several where the print is thin."""

STACKED, STACK_GAP = 0.45, 0.62
"""Share of the narrower piece that lies over the other, and x-heights between two pieces of one sign, at most."""

TALLEST_SIGN = 2.4
"""X-heights of a sign of several pieces, at most; signs of the text's own size have 1.7."""

STEMS = frozenset("ιlI1Jj/\\|oO0")
"""Letters and figures that a part of a sign of several pieces may look like; others are by themselves what they are."""

CERTAIN = 0.8
"""Sureness from which a letter or a figure is no part of a sign."""

IN_TEXT_TOO = frozenset("−∘|⊥{}∅∀∃")
"""Signs that are met outside of mathematics, or that ink of other kinds is taken for."""

SIGN = 0.75
"""Likelihood of a sign that only mathematics has from which a page is looked at for formulas."""

BEYOND_DOUBT = 0.98
"""Likelihood of two letters from which they are not looked at as one."""

JOINT = 0.5
"""Likelihood from which pieces are one sign."""

BROKEN, BROKEN_THOUGH_SURE, BROKEN_GAP, FAINT_GAP = 0.6, 0.9, 0.12, 0.4
"""Likelihood of two pieces beside each other as one symbol from which it is broken, the same where each could be a symbol by itself, and
x-heights between them, at most, and where a faint stroke joins them."""

TOP_STROKE, HOOK, ROOT = 0.18, 0.12, 0.5
"""The bar of a root: its thickness over the height of the sign, at most, and how much of the sign's width it takes up, at least; and the
likelihood from which what stands before it is the sign of a root."""

LEGIBLE, LEGIBLE_SHARE = 0.6, 0.3
"""Likelihood from which a piece looks like a sign, and the share of a page's pieces that do, at least: 0.85 and more of scans with
formulas, 0.6 of poor scans of prose, 0.05 of a picture of grain."""


class SeenSymbols(NamedTuple):
    """The symbols among some pieces, and the bars of roots that hung together with their signs (boxes in pixels)."""

    symbols: list[Seen]
    bars: list[Box]


def symbols_among(
    pieces: Pieces, members: Sequence[int], even: Pixels, x_height: float, *, whole: bool = False
) -> SeenSymbols:
    """The symbols that the pieces ``members`` are; ``x_height`` is that of the page's text in pixels.

    There are none where no sign is among them that only mathematics has, or where most of the ink looks like no sign at all (grain,
    pictures), unless they are the ``whole`` of what is looked at.
    """
    wholes = [InkPart((piece,), pieces.box(piece)) for piece in members]
    roots = [root for whole in wholes if (root := _root_of(pieces, whole)) is not None]
    signs = recognised(pieces, [sign for sign, _ in roots], even)
    found = [
        (sign, bar)
        for sign, (_, bar) in zip(signs, roots, strict=True)
        if card().classes[sign.best].text == "√" and sign.likelihood.max() > ROOT
    ]
    taken = {sign.pieces for sign, _ in found}
    rest = recognised(pieces, [whole for whole in wholes if whole.pieces not in taken], even)
    if not whole and sum(sureness(one) > LEGIBLE for one in rest) < LEGIBLE_SHARE * len(rest):
        return SeenSymbols([], [])
    seen = [*(sign for sign, _ in found), *(_as_tall_fence(one, pieces, x_height) for one in rest)]
    bars = [bar for _, bar in found]
    seen = _with_joined(pieces, seen, even, x_height)
    if not (whole or any(map(_tells_of_formulas, seen))):
        return SeenSymbols([], [])
    seen = _with_joined(pieces, seen, even, x_height)
    parted = with_touching_parted(pieces, seen, even, x_height, whole=whole)
    # A stem that touched the next letter finds its dot only now.
    return SeenSymbols(parted if len(parted) == len(seen) else _with_joined(pieces, parted, even, x_height), bars)


def _tells_of_formulas(one: Seen) -> bool:
    """Whether a symbol is surely a sign of mathematics; letters of the alphabet, however drawn, are in all texts."""
    is_a = card().classes[one.best]
    letter = is_a.text.isalpha() and is_a.text.isascii()
    return is_mathematical(is_a) and not letter and is_a.text not in IN_TEXT_TOO and one.likelihood.max() > SIGN


def _as_tall_fence(one: Seen, pieces: Pieces, x_height: float) -> Seen:
    """A symbol, as the fence that its outline makes it if it is a tall one."""
    x0, y0, x1, y1 = (int(value) for value in one.box)
    fence = tall_fence(pieces.mask_of(np.array(one.pieces, np.int64), x0, y0, x1, y1), x_height)
    return one._replace(likelihood=as_fence(fence)) if fence else one


def _root_of(pieces: Pieces, part: InkPart) -> tuple[InkPart, Box] | None:
    """The sign of a root and its bar, where a piece has the shape of both: a stroke along its top that goes on to the right alone."""
    x0, y0, x1, y1 = (int(value) for value in part.box)
    width, height = x1 - x0, y1 - y0
    if width < 0.6 * height or height < 8:
        return None
    own = pieces.mask_of(np.array(part.pieces, np.int64), x0, y0, x1, y1) > 0
    thickest = max(round(TOP_STROKE * height), 3)
    low = height - 1 - own[::-1].argmax(axis=0)  # the lowest ink of each column
    low[~own.any(axis=0)] = height
    alone = low < thickest + 1
    start = width - int(alone[::-1].argmin()) if not alone.all() else 0
    if width - start < max(HOOK * width, 0.3 * height) or start < 3:
        return None
    bottom = int(np.median(low[start:])) + 1
    sign = InkPart(part.pieces, Box(x0, y0, x0 + start, y1))
    return sign, Box(x0 + start, y0, x1, y0 + bottom)


def _with_joined(pieces: Pieces, seen: list[Seen], even: Pixels, x_height: float) -> list[Seen]:
    """The symbols with pairs put together that are one: pieces of a sign above each other, and halves of a broken letter."""
    tried = dict(_tried_together(pieces, seen, even, x_height))
    pairs = list(tried)
    joint = recognised(pieces, list(tried.values()), even)
    classes = card().classes
    is_several = [one.text in SEVERAL for one in classes]
    gone: set[int] = set()
    out: list[Seen] = []
    for n in sorted(range(len(pairs)), key=lambda n: -float(joint[n].likelihood.max())):
        i, j = pairs[n]
        sure = float(joint[n].likelihood.max())
        apart = min(sureness(seen[i]), sureness(seen[j]))
        one_sign = is_several[joint[n].best] and sure > JOINT and not any(_is_whole(seen[k]) for k in (i, j))
        enough = BROKEN if apart < UNSURE else BROKEN_THOUGH_SURE
        broken = (
            sure > enough
            and not (apart > UNSURE and _is_accented(seen[i].box, seen[j].box))
            and not (apart > CERTAIN and all(classes[seen[n].best].text in STEMS for n in (i, j)))  # "li" and "11"
            and not is_several[joint[n].best]
            and classes[joint[n].best].text != NOTHING
        )
        if i in gone or j in gone or not (one_sign or broken):
            continue
        gone |= {i, j}
        out.append(joint[n])
    return [*(one for n, one in enumerate(seen) if n not in gone), *out]


def _tried_together(
    pieces: Pieces, seen: Sequence[Seen], even: Pixels, x_height: float
) -> Iterator[tuple[tuple[int, int], InkPart]]:
    """Pairs of symbols, by their places, that may be one, each with its ink: those that all but touch, and those farther apart, one of them
    unsure, that a faint stroke joins."""
    level = faintest(even)
    for i, j in _pairs(seen, x_height):
        one, other = seen[i], seen[j]
        close = _are_close(one.box, other.box, x_height)
        if not close and min(sureness(one), sureness(other)) >= CERTAIN:
            continue
        box = union((one.box, other.box))
        ink = joined_by_faint_stroke(pieces, one.pieces, other.pieces, box, even, level)
        if close or ink is not None:
            yield (i, j), InkPart((*one.pieces, *other.pieces), box, ink)


def _are_stacked(one: Box, other: Box) -> bool:
    return one.overlap_x(other) > STACKED * min(one.width, other.width)


def _is_accented(one: Box, other: Box) -> bool:
    """Whether the smaller one of two symbols stands over the other."""
    small, large = sorted((one, other), key=lambda box: box.height)
    return _are_stacked(one, other) and not _are_beside(one, other) and small.center_y < large.center_y


def _are_beside(one: Box, other: Box) -> bool:
    return one.overlap_y(other) > 0.5 * min(one.height, other.height)


def _pairs(seen: Sequence[Seen], x_height: float) -> Iterator[tuple[int, int]]:
    """Pairs of symbols, by their places, that lie close above each other or beside each other."""
    order = sorted(range(len(seen)), key=lambda n: seen[n].box.x0)
    for k, i in enumerate(order):
        one = seen[i].box
        for j in order[k + 1 :]:
            other = seen[j].box
            if other.x0 > one.x1 + FAINT_GAP * x_height:
                break
            whole = union((one, other))
            if max(whole.height, whole.width) > TALLEST_SIGN * x_height:
                continue
            if all(_is_whole(each) and float(each.likelihood.max()) > BEYOND_DOUBT for each in (seen[i], seen[j])):
                continue
            above = _are_stacked(one, other) and -one.overlap_y(other) < STACK_GAP * x_height
            if above or _are_beside(one, other):
                yield i, j


def _are_close(one: Box, other: Box, x_height: float) -> bool:
    """Whether two symbols lie above each other, or all but touch."""
    return _are_stacked(one, other) or one.overlap_x(other) > -BROKEN_GAP * x_height


def _is_whole(one: Seen) -> bool:
    text = card().classes[one.best].text
    return text.isalnum() and text not in STEMS and sureness(one) > CERTAIN
