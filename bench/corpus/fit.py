"""Fits the models of a stage on the corpus, and judges them on families left out."""

from __future__ import annotations

import shutil
from collections.abc import Sequence
from pathlib import Path
from tempfile import TemporaryDirectory
from zlib import crc32

import numpy as np
from sklearn.ensemble import HistGradientBoostingClassifier
from sklearn.metrics import log_loss

from evenquill.core.fitted.trees import FOLDER as MODELS
from evenquill.core.fitted.trees import trees_of, use_models
from evenquill.core.queries.kinds.words import ASKED
from evenquill.core.queries.word_measures import MEASURES

from .arrays import arrays_of, mean_of
from .refit import REGULARIZATION, refitted
from .samples import KINDS, STAGES, Sample, samples_of

DIRECTIONS = dict.fromkeys(("unsure", "other reading", "unknown", "odd", "nearly another word"), 1) | dict.fromkeys(
    ("spelling", "seen elsewhere"), -1
)
"""Measures of words that make it only likelier (1), or only less likely (-1), that one is wrong. The corpus tells otherwise of some: its
made up names are unlike words, and like one another."""

ASKED_FROM = {"word": ASKED}
"""For kinds that become queries: the likelihood of the last class from which the clerk is asked."""

FOLLOWS = {"role": (3.0, 0.15), "row": (0.1, 0.5)}
"""Of what it is kept which class follows which: times that each is taken to follow each other one, besides what was counted, and the
weight of it, less than 1 where the measures tell it in part already."""

ROUNDS = {
    "joint": 320, "role": 300, "edge": 120, "gutter": 80, "row": 100, "note": 80, "cut": 80, "pair": 60, "level": 60, "bold": 80,
    "italic": 80, "word": 120,
}  # fmt: skip
"""Rounds that each model learns in."""

LEAVES_LEARN = ("joint", "note")
"""Models whose leaves may learn again. Others became better only on families that they learnt from (docs/decisions.md)."""

LEARNS_FROM, SHARE = {"pairs": "lines"}, 0.5
"""Stages that are told what models of another one say. A model says of documents that it learnt from what is right too surely: half of the
documents are read with what was learnt from the other half, in this share of the rounds."""


def _stacked(samples: Sequence[Sample], kind: str) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Measures, labels, the family of each row, and its weight: the longer a document, the less each row of it tells."""
    known = [sample for sample in samples if sample.labels[kind]]
    rows = [np.array(sample.measures[kind], np.float32) for sample in known]
    labels = [np.array(sample.labels[kind]) for sample in known]
    names = [np.full(len(sample.labels[kind]), sample.name.rsplit("-", 1)[0]) for sample in known]
    weights = [np.full(len(own), len(own) ** -0.5, np.float32) for own in rows]
    return np.concatenate(rows), np.concatenate(labels), np.concatenate(names), np.concatenate(weights)


def _classifier(kind: str, share: float = 1.0) -> HistGradientBoostingClassifier:
    """A model that is still to learn, in a ``share`` of the rounds that it learns in otherwise."""
    return HistGradientBoostingClassifier(
        max_iter=round(ROUNDS[kind] * share),
        learning_rate=0.1,
        max_leaf_nodes=20,
        min_samples_leaf=40,
        l2_regularization=REGULARIZATION,
        max_features=0.4,
        early_stopping=False,
        random_state=1,
        monotonic_cst=[DIRECTIONS.get(name, 0) for name in MEASURES] if kind == "word" else None,
    )


def cross_validated(samples: Sequence[Sample], kind: str, folds: int = 5) -> None:
    """Prints how good the model is on families left out, and on documents left out."""
    x, y, families, weights = _stacked(samples, kind)
    names = KINDS[kind]
    every = sorted(set(families))
    for how in ("families", "documents"):
        rng = np.random.default_rng(1)
        group = (
            np.array([every.index(f) % folds for f in families])
            if how == "families"
            else _by_document(samples, kind, folds, rng)
        )
        probabilities = np.zeros((len(y), len(names)))
        for fold in range(folds):
            model = _classifier(kind).fit(x[group != fold], y[group != fold], weights[group != fold])
            probabilities[np.ix_(group == fold, model.classes_)] = model.predict_proba(x[group == fold])
        found = probabilities.argmax(1)
        loss = log_loss(y, probabilities, labels=range(len(names)))
        print(f"{kind} with {how} left out: right {np.mean(found == y):.4f}, log loss {loss:.4f}")
        for n, name in enumerate(names):
            true, said = y == n, found == n
            if true.any():
                print(
                    f"   {name:10} {true.sum():6} recall {np.mean(said[true]):.3f} precision {np.mean(true[said]) if said.any() else 0:.3f}"
                )
        if kind in ASKED_FROM:
            asked, last = probabilities[:, -1] >= ASKED_FROM[kind], y == len(names) - 1
            documents = sum(bool(sample.labels[kind]) for sample in samples)
            print(
                f"   asked about: {np.mean(asked[last]):.3f}, for nothing {np.sum(asked & ~last) / documents:.1f} a document"
            )


def _by_document(samples: Sequence[Sample], kind: str, folds: int, rng: np.random.Generator) -> np.ndarray:
    return np.concatenate([np.full(len(sample.labels[kind]), rng.integers(folds)) for sample in samples])


def fit(
    cases: Sequence[Path],
    stage: str,
    folder: Path,
    workers: int = 2,
    *,
    share: float = 1.0,
    keep: float = 0.0,
) -> None:
    """Fits the models of a stage on documents and writes them, as the application reads them, into a folder; those of the stages before it
    are taken from there. They learn in a ``share`` of the rounds, and ``keep`` so much of the models that are there."""
    _use(folder)
    samples = _by_halves(cases, stage, folder, workers) if stage in LEARNS_FROM else samples_of(cases, stage, workers)
    for kind in STAGES[stage]:
        x, y, _, weights = _stacked(samples, kind)
        model = _classifier(kind, share).fit(x, y, weights)
        path = folder / f"{kind}s.npz"
        arrays = arrays_of(model, len(KINDS[kind]))
        if keep:
            arrays = mean_of(np.load(path), arrays, keep)
        np.savez_compressed(path, **arrays)
        if kind in FOLLOWS:
            seldom, weight = FOLLOWS[kind]
            counts = sum((sample.follows[kind] for sample in samples), np.full([len(KINDS[kind])] * 2, seldom))
            np.save(folder / f"{kind}_follows.npy", weight * _surprise(counts))


def fit_leaves(cases: Sequence[Path], stage: str, folder: Path, workers: int = 2) -> None:
    """Those models of a stage that are in a folder and may (LEAVES_LEARN) learn from further documents what their leaves say."""
    kinds = [kind for kind in STAGES[stage] if kind in LEAVES_LEARN]
    if not kinds:
        return
    _use(folder)
    samples = samples_of(cases, stage, workers)
    for kind in kinds:
        x, y, _, weights = _stacked(samples, kind)
        path = folder / f"{kind}s.npz"
        np.savez_compressed(path, **refitted(np.load(path), trees_of(f"{kind}s"), x, y, weights))


def _use(folder: Path) -> None:
    """Takes the models from a folder, which has those that are fitted on texts and not on documents too."""
    if folder != MODELS:
        shutil.copy(MODELS / "hyphens.npy", folder)
    use_models(folder)


def _by_halves(cases: Sequence[Path], stage: str, folder: Path, workers: int) -> list[Sample]:
    """The samples of both halves of the documents, each by models of the stage before (see LEARNS_FROM) that know only the other half.
    Scans go with what was scanned."""
    halves = [[case for case in cases if crc32(case.name.encode()) % 2 == half] for half in (0, 1)]
    out: list[Sample] = []
    for own, other in (halves, halves[::-1]):
        with TemporaryDirectory() as place:
            models = Path(place) / "models"
            shutil.copytree(folder, models)
            fit(other, LEARNS_FROM[stage], models, workers, share=SHARE)
            use_models(models)
            out += samples_of(own, stage, workers)
    use_models(folder)
    return out


def _surprise(counts: np.ndarray) -> np.ndarray:
    """The logarithm of how much more often one class follows another than by chance."""
    share = counts / counts.sum(axis=1, keepdims=True)
    return np.log(share / (counts.sum(axis=0) / counts.sum())).astype(np.float32)
