"""Gradient-boosted trees (Friedman 2001) as arrays: many rows through all trees at once, without the package that fitted them."""

from __future__ import annotations

from functools import cache
from importlib import resources
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

ROWS = 512
"""Rows that go through the trees together; more would take memory and no less time."""


class Trees(NamedTuple):
    """Trees of one model, all of as many nodes; a leaf leads to itself. Tree ``t`` adds to class ``t % classes``.

    ``feature``, ``threshold``, ``left``, ``right`` and ``value`` are of shape (trees, nodes); ``base`` is (classes,). ``depth`` steps lead
    from the root to any leaf. A row goes left where its feature is not above the threshold.
    """

    feature: NDArray[np.int16]
    threshold: NDArray[np.float32]
    left: NDArray[np.int16]
    right: NDArray[np.int16]
    value: NDArray[np.float32]
    base: NDArray[np.float32]
    depth: int

    def log_probabilities(self, rows: NDArray[np.float32]) -> NDArray[np.float32]:
        """For rows of shape (n, features) the logarithms of the probabilities of each class, of shape (n, classes)."""
        scores = np.concatenate([self._scores(rows[start : start + ROWS]) for start in range(0, len(rows), ROWS)])
        highest = scores.max(axis=1, keepdims=True)
        normed: NDArray[np.float32] = scores - highest
        normed -= np.log(np.exp(normed).sum(axis=1, keepdims=True))
        return normed

    def _scores(self, rows: NDArray[np.float32]) -> NDArray[np.float32]:
        count, nodes = self.feature.shape
        offsets = np.arange(count, dtype=np.int32) * nodes
        feature, threshold = self.feature.ravel(), self.threshold.ravel()
        left, right = self.left.ravel(), self.right.ravel()
        at = np.broadcast_to(offsets, (len(rows), count)).copy()
        lines = np.arange(len(rows))[:, None]
        for _ in range(self.depth):
            goes_left = rows[lines, feature[at]] <= threshold[at]
            at = np.where(goes_left, left[at], right[at]) + offsets
        values = self.value.ravel()[at]
        classes = len(self.base)
        summed: NDArray[np.float32] = values.reshape(len(rows), count // classes, classes).sum(axis=1) + self.base
        return summed


@cache
def trees_of(name: str) -> Trees:
    """A model that comes with the application, by the name of its file."""
    with (resources.files(__package__) / f"{name}.npz").open("rb") as file, np.load(file) as arrays:
        found = {field: arrays[field] for field in Trees._fields}
        return Trees(**found | {"depth": int(found["depth"])})
