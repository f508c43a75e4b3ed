"""The command line of the corpus; see ``docs/development.md``."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

from .evidence import read_all
from .made import make_all
from .measure import groups_of, measure, report
from .packages import PROSE, TYPEFACES, fetch
from .real import PACKAGES, cut_all

MODELS = Path(__file__).parents[2] / "evenquill/core/fitted"


def main() -> None:
    parser = argparse.ArgumentParser(prog="python -m corpus", description=__doc__)
    parser.add_argument("folder", type=Path, help="where the corpus is kept")
    steps = parser.add_subparsers(dest="step", required=True)
    steps.add_parser("cut", help="cut slices out of real documents")
    steps.add_parser("fetch", help="fetch the packages that it is made from")
    make = steps.add_parser("make", help="make documents")
    make.add_argument("--seed", type=int, default=1)
    make.add_argument("--count", type=int, default=900)
    make.add_argument("--workers", type=int, default=2)
    fit = steps.add_parser("fit", help="fit the models of roles and joints, into the application")
    fit.add_argument("--stages", default="edges,rows,lines", help="which of them")
    fit.add_argument("--check", action="store_true", help="only judge them, on families and on documents left out")
    score = steps.add_parser("score", help="convert documents and score the results, per family")
    score.add_argument("scorer", type=Path, help="the benchmark's score.py")
    score.add_argument("--kind", default="made", help="the folder of documents: made, real")
    score.add_argument("--every", type=int, default=1, help="only one document of so many")
    score.add_argument("--by", default="family", help="family or way")
    score.add_argument("--json", type=Path, help="where the scores of each document go")
    score.add_argument("--workers", type=int, default=2)
    chosen = parser.parse_args()
    folder = chosen.folder.resolve()
    if chosen.step == "fetch":
        for name in fetch((*TYPEFACES, *PROSE, *PACKAGES), folder):
            print("cannot be had:", name)
    elif chosen.step == "cut":
        for line in cut_all(folder, 2):
            print(line)
    elif chosen.step == "make":
        for line in make_all(folder, chosen.seed, chosen.count, chosen.workers):
            print(line)
    elif chosen.step == "fit":
        from .fit import STAGES, cross_validated, fit_stage, samples_of

        cases = _read(sorted(case for kind in ("made", "real") for case in (folder / kind).glob("*")), 2)
        for stage in chosen.stages.split(","):
            samples = samples_of(cases, stage, 2)
            if chosen.check:
                for kind in STAGES[stage]:
                    cross_validated(samples, kind)
            else:
                fit_stage(samples, stage, MODELS)
    elif chosen.step == "score":
        cases = _read(sorted((folder / chosen.kind).iterdir())[:: chosen.every], chosen.workers)
        scores = measure(cases, chosen.scorer, chosen.workers)
        print(report(scores, groups_of(cases, chosen.by)))
        if chosen.json:
            chosen.json.write_text(json.dumps(scores, indent=1))


def _read(cases: list[Path], workers: int) -> list[Path]:
    """Documents with their truth, read where they were not yet, without those that cannot be."""
    whole = [case for case in cases if (case / "expected.json").exists()]
    for line in read_all(whole, workers):
        print("cannot be read:", line)
    return [case for case in whole if (case / "evidence").exists()]


if __name__ == "__main__":
    main()
