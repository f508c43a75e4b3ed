"""Words of two readings of a page matched by where they stand on it."""

from __future__ import annotations

import difflib
from collections import defaultdict
from collections.abc import Iterable
from typing import NamedTuple

import numpy as np

from evenquill.core.model import Box, TextBlock, WordSpot

SAME_PLACE = 0.5
"""Share of the smaller of two boxes that they have in common if they are the place of one word."""

FEWEST_BY_PLACE = 0.3
"""Share of the words of a page that must match by place; where it was turned or straightened otherwise, their text is compared."""


class PlacedWord(NamedTuple):
    """A word on a page: the text block that it is in, its number among the block's words, and what it says."""

    block: str
    number: int
    spot: WordSpot
    text: str


WordKey = tuple[str, int]
"""Block and number of a word."""


def words_by_page(texts: Iterable[TextBlock]) -> dict[int, list[PlacedWord]]:
    """All words by their pages."""
    out: dict[int, list[PlacedWord]] = defaultdict(list)
    for block in texts:
        plain = block.text
        for number, word in enumerate(block.words):
            out[word.page].append(PlacedWord(block.id, number, word, plain[word.start : word.end]))
    return out


def matched_words(fresh: Iterable[TextBlock], known: Iterable[TextBlock]) -> dict[WordKey, WordKey]:
    """For words of fresh blocks the known ones that stand in the same places."""
    known_by_page = words_by_page(known)
    out: dict[WordKey, WordKey] = {}
    for page, words in words_by_page(fresh).items():
        others = known_by_page.get(page, [])
        if not others:
            continue
        by_place = _by_place(words, others)
        if len(by_place) < FEWEST_BY_PLACE * min(len(words), len(others)):
            by_place = _by_text(words, others)
        out |= {(words[n].block, words[n].number): (others[m].block, others[m].number) for n, m in by_place.items()}
    return out


def _by_place(words: list[PlacedWord], others: list[PlacedWord]) -> dict[int, int]:
    known = _boxes(others)
    areas = (known[:, 2] - known[:, 0]) * (known[:, 3] - known[:, 1])
    out: dict[int, int] = {}
    for n, word in enumerate(words):
        box: Box = word.spot.box
        width = np.minimum(known[:, 2], box.x1) - np.maximum(known[:, 0], box.x0)
        height = np.minimum(known[:, 3], box.y1) - np.maximum(known[:, 1], box.y0)
        shared = np.clip(width, 0, None) * np.clip(height, 0, None)
        share = shared / np.maximum(np.minimum(areas, box.width * box.height), 1e-6)
        best = int(np.argmax(share))
        if share[best] > SAME_PLACE:
            out[n] = best
    return out


def _boxes(words: list[PlacedWord]) -> np.ndarray[tuple[int, int], np.dtype[np.float64]]:
    return np.array([word.spot.box for word in words], np.float64).reshape(-1, 4)


def _by_text(words: list[PlacedWord], others: list[PlacedWord]) -> dict[int, int]:
    matcher = difflib.SequenceMatcher(None, [one.text for one in words], [one.text for one in others], autojunk=False)
    return {a + n: b + n for a, b, size in matcher.get_matching_blocks() for n in range(size)}
