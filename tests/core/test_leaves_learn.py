"""Models whose leaves learn again from further documents, while their trees stay as they are."""

from __future__ import annotations

import numpy as np
from corpus.refit import refitted

from evenquill.core.fitted.trees import FOLDER, trees_of, use_models


def loss(rows: np.ndarray, labels: np.ndarray) -> float:
    said = trees_of("notes").log_probabilities(rows)
    return -float(said[np.arange(len(labels)), labels].mean())


def test_leaves_move_towards_what_rows_tell_and_splits_stay(tmp_path):
    rng = np.random.default_rng(4)
    with np.load(FOLDER / "notes.npz") as file:
        arrays = dict(file)
    rows = rng.uniform(-1, 3, (600, int(arrays["feature"].max()) + 1)).astype(np.float32)
    labels = (rows[:, arrays["feature"][1, 0]] > 1).astype(np.intp)
    shown, kept_back = slice(0, 400), slice(400, 600)
    before = loss(rows[kept_back], labels[kept_back])
    learnt = refitted(arrays, trees_of("notes"), rows[shown], labels[shown], np.ones(400, np.float32))
    assert all(np.array_equal(arrays[name], learnt[name]) for name in arrays if name != "value")
    is_leaf = arrays["left"] == np.arange(arrays["left"].shape[1])
    assert np.array_equal(arrays["value"][~is_leaf], learnt["value"][~is_leaf])
    np.savez(tmp_path / "notes.npz", **learnt)
    try:
        use_models(tmp_path)
        assert loss(rows[kept_back], labels[kept_back]) < 0.9 * before
    finally:
        use_models(FOLDER)


def test_rows_that_a_model_is_right_about_leave_it_nearly_as_it_is():
    with np.load(FOLDER / "notes.npz") as file:
        arrays = dict(file)
    rows = np.random.default_rng(5).uniform(-1, 3, (300, int(arrays["feature"].max()) + 1)).astype(np.float32)
    said = trees_of("notes").log_probabilities(rows)
    sure = np.abs(said[:, 0] - said[:, 1]) > 4
    learnt = refitted(arrays, trees_of("notes"), rows[sure], said[sure].argmax(axis=1), np.ones(sure.sum(), np.float32))
    assert np.abs(learnt["value"] - arrays["value"]).max() < 0.02
