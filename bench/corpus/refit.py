"""Models learn from further documents what their leaves say: the trees stay as they are, and no more of them need be asked."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from evenquill.core.fitted.trees import LEAVES, ROWS, Trees, leaves_among

STEP = 0.01
"""How much of a step of Newton's each leaf takes, tree after tree."""

REGULARIZATION = 5.0
"""Added to the second derivative of each leaf, here and where the trees are fitted."""


def refitted(
    arrays: Mapping[str, np.ndarray], trees: Trees, rows: np.ndarray, labels: np.ndarray, weights: np.ndarray
) -> dict[str, np.ndarray]:
    """The arrays of a model with the values of its leaves moved towards what these rows tell: (n, features) with their classes (n,) and
    weights (n,). What each tree still leaves wrong moves the next (Friedman 2001, with the splits given)."""
    classes = len(trees.base)
    leaves = np.concatenate([trees.leaves(rows[start : start + ROWS]) for start in range(0, len(rows), ROWS)], axis=1)
    value = trees.value.reshape(-1, LEAVES).astype(np.float64)
    scores = np.tile(trees.base.astype(np.float64), (len(rows), 1))
    weights = weights / weights.mean()
    is_class = np.eye(classes)[labels]
    for first in range(0, len(value), classes):
        likely = np.exp(scores - scores.max(axis=1, keepdims=True))
        likely /= likely.sum(axis=1, keepdims=True)
        for k in range(classes):
            own = leaves[first + k] % LEAVES
            slope = np.bincount(own, weights * (likely[:, k] - is_class[:, k]), LEAVES)
            bend = np.bincount(own, weights * likely[:, k] * (1 - likely[:, k]), LEAVES)
            value[first + k] -= STEP * slope / (bend + REGULARIZATION)
            scores[:, k] += value[first + k, own]
    is_leaf, places = leaves_among(arrays["left"])
    nodes = arrays["value"].copy()
    nodes[is_leaf] = value[np.nonzero(is_leaf)[0], places[is_leaf]]
    return {**arrays, "value": nodes}
