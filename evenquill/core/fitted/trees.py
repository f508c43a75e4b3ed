"""Gradient-boosted trees (Friedman 2001) as arrays: many rows through all trees at once, without the package that fitted them."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

FOLDER = Path(__file__).parent
"""Where the models are; ``use_models`` names another."""

UNMEASURED = -50.0
"""Stands among measures for what cannot be measured; nothing that can is as low."""

ROWS = 512
"""Rows that go through the trees together; more would take memory and no less time."""


class Trees(NamedTuple):
    """Trees of one model, the nodes of all in one row; a leaf leads to itself. Tree ``t`` begins at ``roots[t]`` and adds to class
    ``t % classes``.

    ``feature``, ``threshold`` and ``value`` have one entry for each node, ``children`` two: where a row goes whose feature is not above the
    threshold, and where one goes whose is. ``base`` is (classes,). ``depth`` steps lead from a root to any leaf.
    """

    roots: NDArray[np.intp]
    feature: NDArray[np.intp]
    threshold: NDArray[np.float32]
    children: NDArray[np.intp]
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
        values = np.ascontiguousarray(rows).ravel()
        firsts = np.arange(len(rows), dtype=np.intp)[:, None] * rows.shape[1]
        at = np.broadcast_to(self.roots, (len(rows), len(self.roots))).copy()
        for _ in range(self.depth):
            right = values.take(firsts + self.feature.take(at)) > self.threshold.take(at)
            at = self.children.take(2 * at + right)
        summed: NDArray[np.float32] = self.value.take(at).reshape(len(rows), -1, len(self.base)).sum(axis=1) + self.base
        return summed


@cache
def trees_of(name: str) -> Trees:
    """A model that comes with the application, by the name of its file: its trees are rows of as many nodes each."""
    with (FOLDER / f"{name}.npz").open("rb") as file, np.load(file) as arrays:
        count, nodes = arrays["feature"].shape
        roots = np.arange(count, dtype=np.intp) * nodes
        children = np.stack([arrays[side] + roots[:, None] for side in ("left", "right")], axis=-1)
        return Trees(
            roots,
            arrays["feature"].ravel().astype(np.intp),
            arrays["threshold"].ravel(),
            children.ravel(),
            arrays["value"].ravel(),
            arrays["base"],
            int(arrays["depth"]),
        )


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
