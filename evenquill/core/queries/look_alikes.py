"""Words that look the same: their ink, brought to one size, compared point by point.

A word's shape is its ink in a grid of COLUMNS by ROWS points. Two words look alike if their boxes have nearly the same proportions and
nearly all ink of each lies on or beside ink of the other (a partial Hausdorff distance of one point; Huttenlocher, Klanderman and
Rucklidge 1993).
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

import cv2
import msgspec
import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box, Document

COLUMNS, ROWS = 128, 20
SHAPE_BYTES = COLUMNS * ROWS // 8

INK = 0.62
"""Share of the paper's lightness below which a point of the cleaned page is ink."""

FEWEST_POINTS = 2
"""Points of ink in a row of a word's picture that are more than a speck."""

SAME_PROPORTIONS = 0.07
"""Share by which the proportions of two words may differ."""

ALIKE, ALIKE_NUMBERS = 0.92, 0.985
"""Share of the ink of each of two words that lies on or beside the other's, from which they look alike. Words that differ in one round
letter may pass; they are shown before anything is settled. Numbers differ by a digit more often than they are the same."""

FEW_ROWS = (5, 8, 11, 14)
"""Rows of points, across the height of small letters, by which most words are told apart already."""

NARROW = (1.2, 2.0)
"""Width over height of a word's box below which its points are grown once more: a pixel of the page is more of them."""

MOST = 200
"""Look-alikes shown of one word."""

PageNumber = int


class PageShapes(NamedTuple):
    """The words of a page: boxes (n, 4) in points, and their shapes (n, SHAPE_BYTES) as bits."""

    boxes: NDArray[np.float32]
    bits: NDArray[np.uint8]


class WordPlace(msgspec.Struct, frozen=True):
    """A word of a document: its row and place in it, where on which page, and what it says."""

    block: str
    start: int
    end: int
    page: int
    box: Box
    text: str


def shapes_of(grey: NDArray[np.uint8], dpi: float, boxes: Sequence[Box]) -> PageShapes:
    """The shapes of words on a cleaned page, whose boxes are in points."""
    ink = (grey < INK * 255).astype(np.uint8) * 255
    unit = dpi / 72
    height, width = ink.shape
    bits = np.zeros((len(boxes), SHAPE_BYTES), np.uint8)
    for n, box in enumerate(boxes):
        x0, y0 = max(int(box.x0 * unit), 0), max(int(box.y0 * unit), 0)
        x1, y1 = min(int(box.x1 * unit) + 1, width), min(int(box.y1 * unit) + 1, height)
        crop = _without_margins(ink[y0:y1, x0:x1])
        if crop.size:
            small = cv2.resize(crop, (COLUMNS, ROWS), interpolation=cv2.INTER_AREA)
            bits[n] = np.packbits(small > 100)
    return PageShapes(np.array(boxes, np.float32).reshape(-1, 4), bits)


def _without_margins(ink: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """The picture of a word down to its ink; a speck or the neighbouring line's edge is none."""
    rows = np.flatnonzero(np.count_nonzero(ink, axis=1) >= FEWEST_POINTS)
    columns = np.flatnonzero(np.count_nonzero(ink, axis=0) >= 1)
    return ink[rows[0] : rows[-1] + 1, columns[0] : columns[-1] + 1] if len(rows) and len(columns) else ink[:0]


def words_by_page(document: Document) -> dict[PageNumber, list[WordPlace]]:
    """The recognised words of a document by the page they stand on, those that were changed since included."""
    pages: dict[int, list[WordPlace]] = {}
    for block in document.written_texts:
        for word in block.words:
            place = WordPlace(block.id, word.start, word.end, word.page, word.box, block.text[word.start : word.end])
            pages.setdefault(word.page, []).append(place)
    return pages


class LookAlikes:
    """The words of a document by their looks."""

    def __init__(self, words: Iterable[WordPlace], shapes: dict[PageNumber, PageShapes]) -> None:
        rows = {page: {_key(box): n for n, box in enumerate(own.boxes)} for page, own in shapes.items()}
        known = [word for word in words if _key(word.box) in rows.get(word.page, {})]
        # In the order of their proportions, those that may look like one stand side by side.
        self.words = sorted(known, key=_proportions)
        self._proportions = np.array([_proportions(word) for word in self.words], np.float64)
        picked = [shapes[word.page].bits[rows[word.page][_key(word.box)]] for word in self.words]
        # A row of a shape is two integers of 64 bits, so that all words are compared by a few operations.
        rows_of_bits = np.array(picked, np.uint8).reshape(-1, ROWS, COLUMNS // 8)
        ink = rows_of_bits.view(">u8").astype(np.uint64)
        narrow = [int(np.searchsorted(self._proportions, limit)) for limit in NARROW]
        self._ink = ink.reshape(-1, 2 * ROWS)
        self._around = _grown(ink, narrow).reshape(-1, 2 * ROWS)
        few = [2 * row + half for row in FEW_ROWS for half in (0, 1)]
        self._few_ink, self._few_around = (np.ascontiguousarray(whole[:, few]) for whole in (self._ink, self._around))
        self._amount = np.maximum(np.bitwise_count(self._ink).sum(axis=1, dtype=np.int64), 1)
        self._places = {(word.block, word.start): n for n, word in enumerate(self.words)}

    def of(self, block: str, start: int) -> list[WordPlace]:
        """The other words that look like the one at a place, the most alike first; none for words without a picture."""
        own = self._places.get((block, start))
        if own is None:
            return []
        own_proportions = self._proportions[own]
        first, last = np.searchsorted(
            self._proportions, (own_proportions / (1 + SAME_PROPORTIONS), own_proportions * (1 + SAME_PROPORTIONS))
        )
        wanted = ALIKE_NUMBERS if any(c.isdigit() for c in self.words[own].text) else ALIKE
        near = self._maybe_alike(own, slice(int(first), int(last)), wanted)
        likeness = self._likeness(own, near)
        order = np.argsort(-likeness, kind="stable")
        alike = near[order][likeness[order] >= wanted]
        return [self.words[n] for n in alike if n != own][:MOST]

    def _maybe_alike(self, own: int, others: slice, wanted: float) -> NDArray[np.int64]:
        """The words that do not differ by too much in a few rows of points already."""
        amount = self._amount[others]
        mine = np.bitwise_count(self._few_ink[own] & ~self._few_around[others]).sum(axis=1, dtype=np.int64)
        theirs = np.bitwise_count(self._few_ink[others] & ~self._few_around[own]).sum(axis=1, dtype=np.int64)
        few = (mine <= (1 - wanted) * self._amount[own]) & (theirs <= (1 - wanted) * amount)
        return np.asarray(others.start + np.flatnonzero(few), np.int64)

    def _likeness(self, own: int, others: NDArray[np.int64]) -> NDArray[np.float64]:
        """The lesser share of ink of two words that lies on or beside the other's."""
        mine = np.bitwise_count(self._ink[own] & self._around[others]).sum(axis=1, dtype=np.int64) / self._amount[own]
        theirs = (
            np.bitwise_count(self._ink[others] & self._around[own]).sum(axis=1, dtype=np.int64) / self._amount[others]
        )
        return np.asarray(np.minimum(mine, theirs), np.float64)


def _grown(ink: NDArray[np.uint64], narrow: Sequence[int]) -> NDArray[np.uint64]:
    """Shapes (n, ROWS, 2) with every point grown by one to all sides; the first ones, which are narrow, by more to left and right."""
    grown = _wider(ink)
    for count in narrow:
        grown[:count] = _wider(grown[:count])
    tall = grown.copy()
    tall[:, 1:] |= grown[:, :-1]
    tall[:, :-1] |= grown[:, 1:]
    return tall


def _wider(ink: NDArray[np.uint64]) -> NDArray[np.uint64]:
    """Shapes grown by one point to left and right; the first of the two integers of a row is its left half."""
    one, last = np.uint64(1), np.uint64(63)
    left, right = ink[..., 0], ink[..., 1]
    wide = np.empty_like(ink)
    wide[..., 0] = left | (left << one) | (left >> one) | (right >> last)
    wide[..., 1] = right | (right << one) | (right >> one) | (left << last)
    return wide


def _proportions(word: WordPlace) -> float:
    """Width over height of a word's box."""
    return word.box.width / max(word.box.height, 0.1)


def _key(box: Iterable[float]) -> tuple[int, ...]:
    """The place of a box: as exact as shapes are kept, or what lies between two tenths is rounded up here and down there."""
    return tuple(round(float(np.float32(value)) * 10) for value in box)
