"""Fitted trees as the arrays that ``evenquill.core.fitted.trees`` reads."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from sklearn.ensemble import HistGradientBoostingClassifier


def _of_classes(round_: Sequence, classes: int) -> list[np.ndarray]:
    """One tree for each class: of two classes only that of the second is fitted, and the first has one that says nothing."""
    own = [tree.nodes for tree in round_]
    if len(own) == classes:
        return own
    nothing = own[0][:1].copy()
    nothing["is_leaf"], nothing["value"] = 1, 0
    return [nothing, *own]


def arrays_of(model: HistGradientBoostingClassifier, classes: int) -> dict[str, np.ndarray]:
    """The trees of a fitted model as ``fitted.trees`` reads them; each class must have been seen."""
    if list(model.classes_) != list(range(classes)):
        raise ValueError(f"only classes {list(model.classes_)} of {classes} are in the documents")
    trees = [tree for round_ in model._predictors for tree in _of_classes(round_, classes)]
    nodes = max(len(tree) for tree in trees)
    own = {
        "feature": np.zeros((len(trees), nodes), np.int16), "threshold": np.zeros((len(trees), nodes), np.float32),
        "left": np.zeros((len(trees), nodes), np.int16),
        "right": np.zeros((len(trees), nodes), np.int16), "value": np.zeros((len(trees), nodes), np.float32),
    }  # fmt: skip
    for t, tree in enumerate(trees):
        count = len(tree)
        places = np.arange(count)
        leaf = tree["is_leaf"].astype(bool)
        own["feature"][t, :count] = np.where(leaf, 0, tree["feature_idx"])
        own["threshold"][t, :count] = np.where(leaf, 0, tree["num_threshold"])
        own["left"][t, :count] = np.where(leaf, places, tree["left"])
        own["right"][t, :count] = np.where(leaf, places, tree["right"])
        own["value"][t, :count] = np.where(leaf, tree["value"], 0)
    base = np.asarray(model._baseline_prediction, np.float32).ravel()
    return own | {"base": base if len(base) == classes else np.array([0.0, base[0]], np.float32)}


def mean_of(one: Mapping[str, np.ndarray], other: Mapping[str, np.ndarray], share: float) -> dict[str, np.ndarray]:
    """The mean of two models of the same classes, with this ``share`` of the first one: what their trees say is added up. Measures that
    only the second one knows must come after the others."""
    first, second = _weighted(one, share), _weighted(other, 1 - share)
    return {
        name: own + second[name] if name == "base" else np.concatenate((own, second[name]))
        for name, own in first.items()
    }


def _weighted(arrays: Mapping[str, np.ndarray], weight: float) -> dict[str, np.ndarray]:
    said = {name: arrays[name] * np.float32(weight) for name in ("value", "base")}
    return {name: said.get(name, arrays[name]) for name in arrays}
