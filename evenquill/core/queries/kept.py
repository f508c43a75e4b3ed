"""Doubts that the clerk has said are none, looked up by what they say and where."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from evenquill.core.model import Box, DoubtKey

SAME_PLACE = 0.5
"""Share of the smaller of two boxes that they have in common if they are the place of one word: a new reading moves it a little."""


class KeptDoubts:
    """The doubts that are kept; grows with ``add``, shrinks with ``remove``."""

    def __init__(self, keys: Iterable[DoubtKey] = ()) -> None:
        self._keys: dict[tuple[str, int, str], set[DoubtKey]] = defaultdict(set)
        self.add(keys)

    def add(self, keys: Iterable[DoubtKey]) -> None:
        for key in keys:
            self._keys[key.kind, key.page, key.text].add(key)

    def remove(self, keys: Iterable[DoubtKey]) -> None:
        for key in keys:
            self._keys[key.kind, key.page, key.text].discard(key)

    def __contains__(self, key: DoubtKey) -> bool:
        return any(_same_place(key, kept) for kept in self._keys.get((key.kind, key.page, key.text), ()))


def _same_place(key: DoubtKey, kept: DoubtKey) -> bool:
    """Whether a doubt is the one that was kept: at one place on the page, or on one block where a place is not known."""
    if kept.box is not None and key.box is not None:
        return _overlap(key.box, kept.box)
    return not kept.block or kept.block == key.block


def _overlap(a: Box, b: Box) -> bool:
    width, height = a.overlap_x(b), a.overlap_y(b)
    smaller = min(a.width * a.height, b.width * b.height)
    return a == b or (width > 0 and height > 0 and width * height > SAME_PLACE * smaller)
