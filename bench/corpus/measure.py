"""Scores of our DOCX on documents of the corpus, per family and metric, by the benchmark's own scorer."""

from __future__ import annotations

import importlib.util
import json
import statistics
import sys
from collections import defaultdict
from collections.abc import Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from pathlib import Path
from types import ModuleType

from evenquill.core.pictures import PictureFolder
from evenquill.core.rebuild import rebuild
from evenquill.core.writers.docx import write_docx

from .doubts import doubts_about
from .evidence import PICTURES, evidence_of

METRICS = (
    "text",
    "words",
    "order",
    "paragraph",
    "heading",
    "list",
    "table",
    "figure",
    "style",
    "furniture",
    "footnote",
    "overall",
    "asked",
    "caught",
)
"""Those of the scorer, and two of our own: queries about structure a page, and the share of wrong rows that carry one, or stand beside one
that does."""

Scores = dict[str, float | None]


def measure(cases: Sequence[Path], scorer: Path, workers: int) -> dict[str, Scores]:
    """The scores of each document, by its name; one that cannot be rebuilt has 0 in all."""
    chunks = [list(cases[start : start + 8]) for start in range(0, len(cases), 8)]
    with ProcessPoolExecutor(workers) as pool:
        found = pool.map(_measure_some, chunks, [str(scorer)] * len(chunks))
        return {name: scores for part in found for name, scores in part.items()}


@cache
def _scorer(path: str) -> ModuleType:
    spec = importlib.util.spec_from_file_location("corpus_scorer", path)
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    sys.modules["corpus_scorer"] = module
    spec.loader.exec_module(module)
    return module


def _measure_some(cases: list[Path], scorer: str) -> dict[str, Scores]:
    out = {}
    for case in cases:
        try:
            evidence = evidence_of(case)
            document = rebuild(evidence.pages, evidence.facts)
            (case / "out.docx").write_bytes(write_docx(document, PictureFolder(case / PICTURES).get))
        except Exception as error:
            print(f"{case.name}: {type(error).__name__}: {error}")
            (case / "out.docx").unlink(missing_ok=True)
        if not (case / "out.docx").exists():
            out[case.name] = dict.fromkeys(METRICS, 0.0)
            continue
        result = _scorer(scorer).score(str(case / "expected.json"), str(case / "out.docx"))
        found = result.get("metrics", result)
        own = {metric: found.get(metric, result.get(metric)) for metric in METRICS}
        out[case.name] = own | doubts_about(document, json.loads((case / "expected.json").read_text())["blocks"])
    return out


def report(scores: Mapping[str, Scores], groups: Mapping[str, str], worst: int = 3) -> str:
    """A table of means by group (of a document's name), and the worst documents of each metric."""
    rows: dict[str, list[Scores]] = defaultdict(list)
    for name, own in scores.items():
        rows[groups[name]].append(own)
        rows["all"].append(own)
    lines = ["".join(f"{title[:10]:>10}" for title in ("", "documents", *METRICS))]
    for group in sorted(rows, key=lambda g: (g == "all", g)):
        means = []
        for metric in METRICS:
            values = [own[metric] for own in rows[group] if own[metric] is not None]
            means.append(f"{statistics.mean(values):10.1f}" if values else f"{'-':>10}")
        lines.append(f"{group[:10]:>10}{len(rows[group]):>10}{''.join(means)}")
    for metric in METRICS:
        have = sorted((own[metric], name) for name, own in scores.items() if own[metric] is not None)
        lines.append(f"worst {metric}: " + ", ".join(f"{name} {value:.0f}" for value, name in have[:worst]))
    return "\n".join(lines)


def groups_of(cases: Sequence[Path], kind: str) -> dict[str, str]:
    """What a document counts under: its ``family`` or ``way``."""
    return {case.name: json.loads((case / "expected.json").read_text()).get(kind, "") for case in cases}


def is_measurable(case: Path) -> bool:
    """Whether the truth of a document is of it alone, and in the order in which it came out: scans are of its first pages, and pictures and
    tables may float. Others are good to learn from, not to measure."""
    truth = json.loads((case / "expected.json").read_text())
    return not truth.get("floats") and not truth.get("partial")
