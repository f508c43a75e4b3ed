"""Ink of the source that nothing in the result comes from: pictures, signs and words that were lost."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from typing import NamedTuple

import cv2
import numpy as np

from evenquill.core.looking_back.ink import InkedPage
from evenquill.core.looking_back.likelihoods import likelihood
from evenquill.core.looking_back.looks import LookDoubt, LookKind
from evenquill.core.model import NOTES, Block, Box, Document, Role, TextBlock, texts_of

ABOVE, BESIDE, REACH = 0.2, 0.02, 0.72
"""Ems above and below words, and beside them, that are theirs; and up to which from the middle of its line a word reaches at most, whatever
its typeface says of its height: the lines above and below have their own."""

APART = 5.0
"""Points: pieces of ink nearer to each other are one thing."""

THIN, LONG = 2.2, 18.0
"""Points of the thinner side of rules at most, and of the longer one at least: rules are no loss, dashes are."""

FRAME, OUTLINE = 12.0, 0.08
"""Points of the shorter side of frames at least, and the share of their area that their lines have at most."""

SMALLEST = 9.0
"""Square points of ink beside rows: a bullet of small print has as many; less is dirt or a dot."""

WIDE = 1e5
"""Points: wider than any page."""

SPECK = 0.04
"""Square ems of ink of a sign on a scan: what is smaller may be dirt."""

SMALLEST_SIGN, SMALLEST_DASH, LONGEST_SPECK = 0.012, 0.018, 0.1
"""Square ems of ink of a sign within a row, and of one that is a line, and ems of the longer side: a full stop has 0.015 on 0.1."""

WITHIN, NEXT_TO = 0.6, 2.5
"""Ems from the middle of a line, and beside its words, within which a sign is one of the row."""

MOSTLY = 0.6
"""Share of a piece of ink that nothing accounts for if all of it is: tails of letters and accents reach into what is."""

INK = 90
"""Steps of ink, of 255, from which a point is ink."""


def missing_doubts(
    document: Document, source: Mapping[int, InkedPage], scanned: Collection[int]
) -> Iterator[tuple[str, LookDoubt]]:
    """Places of the source within its text that no row comes from; with the id of the text that is nearest above. ``scanned`` pages have
    dirt."""
    covered: dict[int, list[Box]] = {}
    for block in document.blocks:
        for number, box in _covered(document, block):
            covered.setdefault(number, []).append(box)
    by_page = _rows_by_page(document)
    for number in source:
        page = source.get(number)
        if page is None or not 0 < number <= len(document.pages):
            continue
        rows = by_page.get(number, [])
        for box, amount in _uncovered(page, document.pages[number - 1].text_box, covered.get(number, [])):
            row = next((row for row in rows if row.has_within(box)), None)
            if row is not None:
                measure = amount / row.size**2
                thin, long = sorted((box.width / row.size, box.height / row.size))
                least = SPECK if number in scanned else SMALLEST_SIGN if thin >= LONGEST_SPECK else SMALLEST_DASH
                seen = long >= LONGEST_SPECK and measure >= least
                kind, name = LookKind.SIGN, row.text if seen else ""
            else:
                kind, measure = LookKind.MISSING, amount**0.5 / 3
                name = _nearest(rows, box) if amount >= SMALLEST else ""
            if name:
                yield name, LookDoubt(kind, number, box, round(measure, 3), likelihood(kind, measure))


_MARKED = NOTES | {Role.LIST_ITEM}
"""Rows whose marks are no part of their text."""


class _Row(NamedTuple):
    """A text's words on a page, where it begins there, and its size."""

    text: str
    words: tuple[Box, ...]
    top: float
    size: float

    def has_within(self, box: Box) -> bool:
        """Whether a place is between the words of one of its lines, or right beside them."""
        return any(
            abs(word.center_y - box.center_y) < WITHIN * self.size
            and max(word.x0 - box.x1, box.x0 - word.x1) < NEXT_TO * self.size
            and box.height < 2 * self.size
            for word in self.words
        )


def _rows_by_page(document: Document) -> dict[int, list[_Row]]:
    out: dict[int, list[_Row]] = {}
    for block in document.blocks:
        if block.excluded:
            continue
        for text in texts_of(block):
            size = document.style(text.style).size
            boxes: dict[int, list[Box]] = {}
            for word in text.words:
                boxes.setdefault(word.page, []).append(word.box)
            for page, own in boxes.items():
                out.setdefault(page, []).append(_Row(text.id, tuple(own), min(box.y0 for box in own), size))
    return out


def _covered(document: Document, block: Block) -> Iterator[tuple[int, Box]]:
    """The places that a row accounts for: its words, or all of a picture, a table, an equation, and of what is set aside."""
    if isinstance(block, TextBlock) and block.role is Role.EQUATION:
        # Its number stands at an edge of the text.
        yield from ((spot.page, Box(0.0, spot.box.y0 - 2.0, WIDE, spot.box.y1 + 2.0)) for spot in block.spots)
    elif not isinstance(block, TextBlock) or block.excluded or not block.words:
        yield from ((spot.page, _wider(spot.box, 2.0)) for spot in block.spots)
    for text in texts_of(block):
        size = document.style(text.style).size
        yield from ((word.page, _around(word.box, size)) for word in text.words)
        if isinstance(block, TextBlock) and (block.role is Role.CONTENTS or "\t" in text.text):
            # Dots lead to what is behind them.
            yield from ((spot.page, _around(spot.box, size)) for spot in text.spots)
        if isinstance(block, TextBlock) and block.role in _MARKED:
            yield from ((spot.page, _around(_mark_of(spot.box, text, spot.page), size)) for spot in text.spots[:1])


def _around(box: Box, size: float) -> Box:
    """What a word covers."""
    middle = box.center_y
    y0, y1 = max(box.y0 - ABOVE * size, middle - REACH * size), min(box.y1 + ABOVE * size, middle + REACH * size)
    return Box(box.x0 - BESIDE * size, y0, box.x1 + BESIDE * size, y1)


def _mark_of(box: Box, text: TextBlock, page: int) -> Box:
    """Where the mark of an item stands: from its left edge to its first word."""
    first = next((word.box for word in text.words if word.page == page), box)
    return Box(min(box.x0, first.x0 - 3 * first.height), first.y0, first.x0, first.y1)


def _wider(box: Box, by: float) -> Box:
    return Box(box.x0 - by, box.y0 - by, box.x1 + by, box.y1 + by)


def _uncovered(page: InkedPage, text_box: Box, covered: list[Box]) -> Iterator[tuple[Box, float]]:
    """Things that are seen within the text and that nothing accounts for, with their ink in square points."""
    height, width = page.ink.shape
    free = np.zeros((height, width), np.uint8)
    _fill(free, text_box, page.scale, 1)
    for box in covered:
        _fill(free, box, page.scale, 0)
    every = (page.ink > INK).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(every, connectivity=8)
    of_free = np.bincount(labels[free > 0], minlength=count)
    lost = np.zeros(count, np.uint8)
    for n in map(int, np.flatnonzero(of_free)):
        if not n:
            continue
        w, h, area = (int(stats[n, column]) for column in (cv2.CC_STAT_WIDTH, cv2.CC_STAT_HEIGHT, cv2.CC_STAT_AREA))
        thin, long = sorted((w, h))
        is_rule = thin <= THIN * page.scale and long > LONG * page.scale
        is_frame = thin > FRAME * page.scale and area < OUTLINE * w * h
        lost[n] = of_free[n] >= MOSTLY * area and not is_rule and not is_frame
    ink = lost[labels]
    reach = max(round(APART * page.scale), 1)
    together = cv2.dilate(ink, np.ones((reach, reach), np.uint8))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(together, connectivity=8)
    for n in range(1, count):
        x, y, w, h, _ = (int(value) for value in stats[n])
        own = labels[y : y + h, x : x + w] == n
        amount = float(ink[y : y + h, x : x + w][own].sum()) / page.scale**2
        left, top = x + reach // 2, y + reach // 2
        yield (
            Box(*(value / page.scale for value in (left, top, x + w - reach // 2, y + h - reach // 2))).rounded(),
            amount,
        )


def _fill(mask: np.ndarray, box: Box, scale: float, value: int) -> None:
    height, width = mask.shape
    x0, x1 = (min(max(round(x * scale), 0), width) for x in (box.x0, box.x1))
    y0, y1 = (min(max(round(y * scale), 0), height) for y in (box.y0, box.y1))
    mask[y0:y1, x0:x1] = value


def _nearest(rows: Sequence[_Row], box: Box) -> str:
    """The text on a page that begins nearest above a place, or nearest at all."""
    above = [row for row in rows if row.top <= box.y0]
    return min(above or rows, key=lambda row: abs(row.top - box.y0)).text if rows else ""
