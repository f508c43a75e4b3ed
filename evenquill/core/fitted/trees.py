"""Gradient-boosted trees (Friedman 2001) as arrays: many rows through all trees at once, without the package that fitted them.

No row walks down a tree (QuickScorer: Lucchese et al. 2015). A split whose measure lies above its threshold rules out the leaves on its
left; of the leaves that all splits of a tree leave over, the leftmost is the one that walking down would reach. The leaves of a tree are
bits of one number, and what the splits on one measure rule out together is looked up by the place of the measure among their thresholds.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

FOLDER = Path(__file__).parent
"""Where the models are; ``use_models`` names another."""

UNMEASURED = -50.0
"""Stands among measures for what cannot be measured; nothing that can is as low."""

ROWS = 256
"""Rows that go through the trees together; more would take memory and no less time."""

LEAVES = 32
"""Leaves that a tree can have: bits of a number."""

MANTISSA, EXPONENT_OF_ONE = 23, 127
"""Bits of a float of 32 bits behind its exponent, and the exponent that it has for 1."""


class Splits(NamedTuple):
    """All splits on one measure. ``kept`` is (trees, thresholds + 1): the leaves of each tree of ``trees`` that are left over where so many
    of the ``thresholds``, which rise, lie below the measure."""

    feature: int
    thresholds: NDArray[np.float32]
    trees: NDArray[np.intp]
    kept: NDArray[np.uint32]


class Trees(NamedTuple):
    """Trees of one model. Tree ``t`` adds to class ``t % classes``: its leaf ``n`` the number ``value[t * LEAVES + n]``. ``base`` is
    (classes,)."""

    splits: tuple[Splits, ...]
    value: NDArray[np.float32]
    base: NDArray[np.float32]

    def log_probabilities(self, rows: NDArray[np.float32]) -> NDArray[np.float32]:
        """For rows of shape (n, features) the logarithms of the probabilities of each class, of shape (n, classes)."""
        scores = np.concatenate([self._scores(rows[start : start + ROWS]) for start in range(0, len(rows), ROWS)])
        highest = scores.max(axis=1, keepdims=True)
        normed: NDArray[np.float32] = scores - highest
        normed -= np.log(np.exp(normed).sum(axis=1, keepdims=True))
        return normed

    def leaves(self, rows: NDArray[np.float32]) -> NDArray[np.int32]:
        """For rows of shape (n, features) the places in ``value`` of the leaves that they come to, of shape (trees, n)."""
        count = len(self.value) // LEAVES
        kept = np.full((count, len(rows)), 2**LEAVES - 1, np.uint32)
        for split in self.splits:
            below = split.thresholds.searchsorted(rows[:, split.feature])
            kept[split.trees] &= split.kept.take(below, axis=1, mode="clip")  # none is outside; "clip" looks no further
        leftmost = (kept & (~kept + np.uint32(1))).astype(np.float32)
        # A power of two: its exponent, as floats have it, is the place of the leaf (IEEE 754).
        places: NDArray[np.int32] = leftmost.view(np.int32) >> MANTISSA
        places += np.arange(0, count * LEAVES, LEAVES, dtype=np.int32)[:, None] - EXPONENT_OF_ONE
        return places

    def _scores(self, rows: NDArray[np.float32]) -> NDArray[np.float32]:
        said = self.value.take(self.leaves(rows), mode="clip").reshape(-1, len(self.base), len(rows))
        scores: NDArray[np.float32] = said.sum(axis=0).T + self.base
        return scores


@cache
def trees_of(name: str) -> Trees:
    """A model that comes with the application, by the name of its file. Its nodes stand in (trees, nodes), each before all that is below it
    on its left, and that before what is on its right; a leaf leads to itself, and what no node stands in is zero."""
    with (FOLDER / f"{name}.npz").open("rb") as file, np.load(file) as arrays:
        feature, threshold, left, right = (arrays[key] for key in ("feature", "threshold", "left", "right"))
        is_leaf, leaves_before = leaves_among(left)
        value = np.zeros((len(feature), LEAVES), np.float32)
        value[np.nonzero(is_leaf)[0], leaves_before[is_leaf]] = arrays["value"][is_leaf]
        tree, node = np.nonzero(right > left)
        first, end = (leaves_before[tree, side[tree, node]] for side in (left, right))
        kept = ~((np.uint64(1) << end.astype(np.uint64)) - (np.uint64(1) << first.astype(np.uint64))).astype(np.uint32)
        splits = _splits(feature[tree, node], threshold[tree, node], tree, kept)
        return Trees(tuple(splits), value.ravel(), arrays["base"])


def leaves_among(left: NDArray[np.int16]) -> tuple[NDArray[np.bool_], NDArray[np.intp]]:
    """Which nodes are leaves, and how many leaves come before each in its tree, both (trees, nodes), by where nodes lead on their left."""
    is_leaf: NDArray[np.bool_] = left == np.arange(left.shape[1])
    return is_leaf, np.cumsum(is_leaf, axis=1) - is_leaf


def _splits(
    feature: NDArray[np.int16], threshold: NDArray[np.float32], tree: NDArray[np.intp], own_kept: NDArray[np.uint32]
) -> Iterator[Splits]:
    """Splits, given one by one with what they leave over, by the measure that they are on."""
    order = np.lexsort((threshold, feature))
    starts = np.flatnonzero(np.diff(feature[order], prepend=-1))
    for own in np.split(order, starts[1:]):
        has_any = np.zeros(tree.max() + 1, np.bool_)
        has_any[tree[own]] = True
        row = np.cumsum(has_any)[tree[own]] - 1
        is_new = np.diff(threshold[own], prepend=-np.inf) > 0
        kept = np.full((row.max() + 1, is_new.sum() + 1), 2**LEAVES - 1, np.uint32)
        np.bitwise_and.at(kept, (row, np.cumsum(is_new)), own_kept[own])
        np.bitwise_and.accumulate(kept, axis=1, out=kept)
        yield Splits(int(feature[own[0]]), threshold[own][is_new], np.flatnonzero(has_any), kept)


@cache
def array_of(name: str) -> NDArray[np.float32]:
    """An array that comes with the application, by the name of its file: how often one class follows another, over chance (logarithms)."""
    with (FOLDER / f"{name}.npy").open("rb") as file:
        found: NDArray[np.float32] = np.load(file)
        return found


def use_models(folder: Path) -> None:
    """Takes models from another folder, in this process and those that it starts: so others are judged while they are fitted."""
    global FOLDER
    FOLDER = folder
    trees_of.cache_clear()
    array_of.cache_clear()
