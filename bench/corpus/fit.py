"""Fits the models of line roles and joints on the corpus, and judges them on families left out."""

from __future__ import annotations

import random
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
from msgspec.structs import replace
from sklearn.ensemble import HistGradientBoostingClassifier
from sklearn.metrics import log_loss

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.layout import find_furniture, lay_out
from evenquill.core.layout.edge_features import EDGE_FEATURES, edge_features
from evenquill.core.layout.edge_rows import edge_rows
from evenquill.core.layout.page import PageLayout, bands_of
from evenquill.core.layout.tables.row_features import ROW_CLASSES, row_features, rows_in_pieces
from evenquill.core.reading.repair import with_repaired_lettering
from evenquill.core.rebuild.facts import facts_of
from evenquill.core.rebuild.smoothing import with_smooth_sizes
from evenquill.core.rebuild.structure.decide import MeasuredDocument
from evenquill.core.rebuild.structure.roles import JOINTS, ROLES
from evenquill.core.rebuild.tags import with_trusted_tags

from .evidence import evidence_of
from .labels import Label, Truth, truth_of

ROLE_OF_PART = {
    "text": "text", "lead": "text", "box": "text", "runin": "text", "quotation": "quotation", "verse": "verse",
    "lines": "lines", "heading": "heading", "item": "item", "term": "term", "meaning": "meaning", "code": "code",
    "contents": "contents", "caption": "caption", "pairs": "pairs", "cell": "cell", "footnote": "note",
}  # fmt: skip

KINDS = {"row": ROW_CLASSES, "joint": JOINTS, "role": ROLES, "edge": ("text", "running")}
"""What is fitted, and the classes of each."""

STAGES = {"edges": ("edge",), "rows": ("row",), "lines": ("joint", "role")}
"""What is fitted together, in order: each stage is fitted on what those before it leave."""

TITLE_SIZE = 1.04
"""Size over that of the text from which a row that says what running heads say is the title that they repeat."""

FOLLOWS = {"role": (3.0, 0.5), "row": (0.1, 1.0)}
"""Of what it is kept which class follows which: times that each is taken to follow each other one, besides what was counted, and the
weight of it, less than 1 where the measures tell it in part already."""

EDGE = 0.13
"""Share of the page at its head and foot within which a running head may stand."""


class Sample:
    """Measures and truth of one document, by what is fitted (see KINDS); ``follows`` counts, for roles and rows, classes after classes."""

    def __init__(self, case: Path, stage: str) -> None:
        self.name, self.is_real = case.name, case.parent.name == "real"
        self.measures: dict[str, list[Sequence[float]]] = {kind: [] for kind in KINDS}
        self.labels: dict[str, list[int]] = {kind: [] for kind in KINDS}
        self.follows = {kind: np.zeros((len(classes), len(classes))) for kind, classes in KINDS.items()}
        evidence = evidence_of(case)
        pages, _ = with_trusted_tags(with_smooth_sizes(with_repaired_lettering(evidence.pages)))
        truth = truth_of(case)
        if stage == "edges":
            # Of real documents it is not known what runs; all that is known is in the text.
            if not self.is_real:
                self._add_edges(pages, truth)
                # Parts of documents are documents too: a page alone, some pages from the middle.
                rng = random.Random(case.name)
                for _ in range(2 if len(pages) > 1 else 0):
                    start = rng.randrange(len(pages))
                    self._add_edges(pages[start : start + rng.choice((1, 1, 2, 3))], truth)
        elif stage == "rows":
            facts = facts_of(pages, evidence.facts.language)
            for page, bands in zip(pages, bands_of(pages, find_furniture(pages), facts.text_type.size), strict=True):
                for band in bands:
                    self._add_rows(page, [item.content for item in band.items if isinstance(item.content, Line)], truth)
        else:
            facts = facts_of(pages, evidence.facts.language)
            layouts = lay_out(pages, find_furniture(pages), facts.text_type)
            self._add_lines(MeasuredDocument(layouts, pages, facts, evidence.facts.outline), layouts, truth)

    def _add_rows(self, page: PageEvidence, lines: Sequence[Line], truth: Truth) -> None:
        """The rows of a column, with what each is: known where most of its lines are found in the truth."""
        rows = rows_in_pieces(lines)
        if sum(len(row.pieces) > 1 for row in rows) < 2:
            return
        last: tuple[int, int] | None = None
        before = 0
        for row, measures in zip(rows, row_features(rows, page), strict=True):
            labels = [label for piece in row.pieces if (label := truth.label(piece.text)) is not None]
            cells = [label for label in labels if label.role == "cell"]
            if cells and self.is_real:
                continue  # it is not known which cells are in one row
            if labels and len(cells) == len(labels):
                block = cells[0].block
                place = max(truth.row_of_cell(label) for label in cells)
                header = all(truth.is_header(label) for label in cells)
                if last is None or last[0] != block:
                    kind = "first_header" if header else "first_row"
                else:
                    kind = "more" if place <= last[1] else "header" if header else "row"
                last = block, max(place, last[1] if last is not None and last[0] == block else place)
            elif labels:
                kind, last = "outside", None
            else:
                continue
            place_of_kind = ROW_CLASSES.index(kind)
            self._take("row", measures, place_of_kind)
            self.follows["row"][before, place_of_kind] += 1
            before = place_of_kind

    def _add_lines(self, document: MeasuredDocument, layouts: Sequence[PageLayout], truth: Truth) -> None:
        heights = {layout.number: layout.height for layout in layouts}
        row = 0
        for column in document.columns:
            before: Label | None = None
            for line in column.lines:
                y = line.box.center_y / heights[line.page]
                label = truth.label(line.text, at_edge=y < EDGE or y > 1 - EDGE)
                if label is not None and label.role == "running":
                    label = None
                if label is not None:
                    self._add(document, row, before, label, in_cell=column.in_cell)
                before = label
                row += 1

    def _add_edges(self, some: Sequence[PageEvidence], truth: Truth) -> None:
        pages = {n: replace(page, number=n) for n, page in enumerate(some, 1)}
        rows = [row for page in pages.values() for row in edge_rows(page)]
        for row, measures in zip(rows, edge_features(rows, pages), strict=True):
            size = measures[EDGE_FEATURES.index("size")]
            runs = truth.runs(row.text)
            if runs and truth.is_heading(row.text) and size > TITLE_SIZE:
                runs = False  # the title itself, which running heads repeat
            self._take("edge", measures, int(runs and not truth.holds(row.text)))

    def _add(self, document: MeasuredDocument, row: int, before: Label | None, label: Label, *, in_cell: bool) -> None:
        role = ROLES.index(ROLE_OF_PART[label.role])
        if not in_cell:
            self._take("role", document.roles[row], role)
        if before is None:
            return
        how = joint(before, label)
        self._take("joint", document.joints[row], JOINTS.index(how))
        if how == "new" and not in_cell:
            self.follows["role"][ROLES.index(ROLE_OF_PART[before.role]), role] += 1

    def _take(self, kind: str, measures: Sequence[float], label: int) -> None:
        self.measures[kind].append(measures)
        self.labels[kind].append(label)


def joint(before: Label, label: Label) -> str:
    """How a line is joined to the one before it."""
    same = before.block == label.block and before.cell == label.cell and before.block >= 0
    if not same or abs(label.start - before.end) > 3:
        return "new"
    return "break" if label.after_break else "same"


def _samples(cases: list[Path], stage: str) -> list[Sample]:
    return [Sample(case, stage) for case in cases]


def samples_of(cases: Sequence[Path], stage: str, workers: int) -> list[Sample]:
    """Samples for the models of a stage (see STAGES); what comes before it uses the models that were fitted last."""
    chunks = [list(cases[start : start + 10]) for start in range(0, len(cases), 10)]
    with ProcessPoolExecutor(workers) as pool:
        return [sample for part in pool.map(_samples, chunks, [stage] * len(chunks)) for sample in part]


def _stacked(samples: Sequence[Sample], kind: str) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    """Measures, labels, the family of each row, and its weight: the longer a document, the less each row of it tells."""
    known = [sample for sample in samples if sample.labels[kind]]
    rows = [np.array(sample.measures[kind], np.float32) for sample in known]
    labels = [np.array(sample.labels[kind]) for sample in known]
    names = [np.full(len(sample.labels[kind]), sample.name.rsplit("-", 1)[0]) for sample in known]
    weights = [np.full(len(own), len(own) ** -0.5, np.float32) for own in rows]
    return np.concatenate(rows), np.concatenate(labels), np.concatenate(names), np.concatenate(weights)


def _classifier(kind: str) -> HistGradientBoostingClassifier:
    rounds = {"joint": 140, "role": 70, "edge": 120, "row": 100}[kind]
    return HistGradientBoostingClassifier(
        max_iter=rounds, learning_rate=0.1, max_leaf_nodes=20, min_samples_leaf=40, l2_regularization=5.0, max_features=0.4,
        random_state=1,
    )  # fmt: skip


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


def _by_document(samples: Sequence[Sample], kind: str, folds: int, rng: np.random.Generator) -> np.ndarray:
    return np.concatenate([np.full(len(sample.labels[kind]), rng.integers(folds)) for sample in samples])


def fit_stage(samples: Sequence[Sample], stage: str, folder: Path) -> None:
    """Fits the models of a stage on all documents and writes them, as the application reads them, into a folder."""
    for kind in STAGES[stage]:
        x, y, _, weights = _stacked(samples, kind)
        model = _classifier(kind).fit(x, y, weights)
        np.savez_compressed(folder / f"{kind}s.npz", **_arrays(model, len(KINDS[kind])))
        if kind in FOLLOWS:
            seldom, weight = FOLLOWS[kind]
            counts = sum((sample.follows[kind] for sample in samples), np.full([len(KINDS[kind])] * 2, seldom))
            np.save(folder / f"{kind}_follows.npy", weight * _surprise(counts))


def _surprise(counts: np.ndarray) -> np.ndarray:
    """The logarithm of how much more often one class follows another than by chance."""
    share = counts / counts.sum(axis=1, keepdims=True)
    return np.log(share / (counts.sum(axis=0) / counts.sum())).astype(np.float32)


def _of_classes(round_: Sequence, classes: int) -> list[np.ndarray]:
    """One tree for each class: of two classes only that of the second is fitted, and the first has one that says nothing."""
    own = [tree.nodes for tree in round_]
    if len(own) == classes:
        return own
    nothing = own[0][:1].copy()
    nothing["is_leaf"], nothing["value"] = 1, 0
    return [nothing, *own]


def _arrays(model: HistGradientBoostingClassifier, classes: int) -> dict[str, np.ndarray]:
    """The trees of a fitted model as ``structure.trees`` has them; each class must have been seen."""
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
    depth = max(int(tree["depth"].max()) for tree in trees)
    base = np.asarray(model._baseline_prediction, np.float32).ravel()
    return own | {
        "base": base if len(base) == classes else np.array([0.0, base[0]], np.float32),
        "depth": np.array(depth),
    }
