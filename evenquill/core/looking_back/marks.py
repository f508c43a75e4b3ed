"""Marks before rows, such as bullets and numbers of items, that only the source has, or only the result."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence

import cv2
import numpy as np

from evenquill.core.looking_back.ink import InkedPage
from evenquill.core.looking_back.likelihoods import likelihood
from evenquill.core.looking_back.looks import LookDoubt, LookKind
from evenquill.core.looking_back.pairs import TextPair
from evenquill.core.model import NOTES, Box, Document, Role, WordSpot

FAR, FURTHER, NEAR = 2.6, 6.0, 0.05
"""Ems before a text within which its mark stands; an item's is looked for further away before it is said to have none."""

SMALLEST, TALLEST = 0.06, 1.35
"""Ems: pieces of ink less high and wide are dirt, higher ones are rules or part of something else."""

SEEN, UNSEEN = 0.018, 0.004
"""Square ems of ink from which a mark is there (a dash has 0.03, a bullet 0.1), and below which nothing is."""

_NONE = frozenset({Role.CELL, Role.CONTENTS, Role.CODE, Role.EQUATION, *NOTES})


def mark_doubts(
    document: Document, pairs: Sequence[TextPair], source: Mapping[int, InkedPage], result: Mapping[int, InkedPage]
) -> Iterator[tuple[str, LookDoubt]]:
    """Rows before which only one of both has a mark; with the row's id."""
    beside, beside_made = (_by_page(pairs, made=made) for made in (False, True))
    for one in pairs:
        if not one.words or one.in_table or one.block.role in _NONE or one.words[0].source.start > 0:
            continue
        size = document.style(one.block.style).size
        first = one.words[0]
        is_item = one.block.role is Role.LIST_ITEM
        before = _ink_before(first.source, size, source, beside, FURTHER if is_item else FAR)
        after = _ink_before(first.result, size, result, beside_made, FURTHER)
        if before is None or after is None:
            continue
        kind = None
        if before > SEEN and after < UNSEEN and not is_item:
            kind, measure = LookKind.MARK, before
        elif before < UNSEEN and after > SEEN and is_item:
            kind, measure = LookKind.NO_MARK, after
        if kind is not None:
            box = first.source.box
            place = Box(max(box.x0 - FAR * size, 0.0), box.y0, box.x1, box.y1)
            yield one.block.id, LookDoubt(kind, first.source.page, place, round(measure, 3), likelihood(kind, measure))


def _by_page(pairs: Sequence[TextPair], *, made: bool) -> dict[int, list[Box]]:
    out: dict[int, list[Box]] = defaultdict(list)
    for one in pairs:
        for word in one.words:
            spot = word.result if made else word.source
            out[spot.page].append(spot.box)
    return out


def _ink_before(
    spot: WordSpot, size: float, pages: Mapping[int, InkedPage], beside: Mapping[int, Sequence[Box]], far: float
) -> float | None:
    """Square ems of ink of what may be a mark before a word; None where something else stands as near."""
    page = pages.get(spot.page)
    if page is None:
        return None
    box = spot.box
    middle = box.center_y
    left = max(box.x0 - far * size, 0.0)
    for other in beside.get(spot.page, ()):
        if other.x1 <= box.x0 + 0.5 and abs(other.center_y - middle) < 0.6 * size:
            left = max(left, other.x1 + NEAR * size)
    right = box.x0 - NEAR * size
    if right - left < 0.6 * size:
        return None
    part = page.part(Box(left, middle - 0.75 * size, right, middle + 0.75 * size))
    if not part.size:
        return None
    return _ink_of_marks(part, page.scale * size)


def _ink_of_marks(part: np.ndarray, em: float) -> float:
    """Square ems of the pieces of ink that are as large as marks are and lie within."""
    strong = (part > 90).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(strong, connectivity=8)
    height = strong.shape[0]
    total = 0.0
    for n in range(1, count):
        x, y, w, h, _ = (int(value) for value in stats[n])
        whole = x > 0 and y > 0 and y + h < height
        if whole and max(w, h) >= SMALLEST * em * 2 and min(w, h) >= SMALLEST * em / 2 and h <= TALLEST * em:
            total += float(np.minimum(part[labels == n] / 200.0, 1.0).sum())
    return total / em**2
