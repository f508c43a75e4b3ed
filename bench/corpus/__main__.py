"""The command line of the corpus; see ``docs/development.md``."""

from __future__ import annotations

import argparse
import json
import random
from collections import defaultdict
from collections.abc import Sequence
from pathlib import Path

from evenquill.core.fitted.trees import FOLDER as MODELS
from evenquill.core.fitted.trees import use_models

from .evidence import read_all
from .language import TEXTS, make_models
from .made import make_all
from .measure import groups_of, is_measurable, measure, report
from .packages import PROSE, TYPEFACES, fetch
from .real import PACKAGES, cut_all
from .real_tex import PACKAGES as SET_BY_TEX
from .real_tex import cut_all_tex
from .weather import weather_all


def main() -> None:
    parser = argparse.ArgumentParser(prog="python -m corpus", description=__doc__)
    parser.add_argument("folder", type=Path, help="where the corpus is kept")
    steps = parser.add_subparsers(dest="step", required=True)
    steps.add_parser("cut", help="cut slices out of real documents, and take whole ones")
    steps.add_parser("fetch", help="fetch the packages that it is made from")
    steps.add_parser("language", help="make the language models, into the application")
    hyphens = steps.add_parser("hyphens", help="fit what hyphens at line ends are worth, into the application")
    hyphens.add_argument("--check", action="store_true", help="only judge that, on languages left out")
    weather = steps.add_parser("weather", help="make scans and photos of made documents")
    weather.add_argument("--every", type=int, default=8, help="only one document of so many")
    make = steps.add_parser("make", help="make documents")
    make.add_argument("--seed", type=int, default=1)
    make.add_argument("--count", type=int, default=900)
    make.add_argument("--workers", type=int, default=2)
    make.add_argument("--families", default="", help="only these families")
    fit = steps.add_parser("fit", help="fit the models of roles and joints, into the application")
    fit.add_argument(
        "--stages", default="edges,gutters,notes,rows,lines,pairs,cuts,levels,looks,words", help="which of them"
    )
    fit.add_argument("--check", action="store_true", help="only judge them, on families and on documents left out")
    fit.add_argument("--without", default="", help="families that are left out")
    fit.add_argument("--every", type=int, default=1, help="only one document of so many")
    fit.add_argument("--most", type=int, default=0, help="at most so many made documents of a family, drawn")
    fit.add_argument(
        "--keep", type=float, default=0.0, help="how much of the models that are there is kept: their mean is taken"
    )
    fit.add_argument("--leaves", action="store_true", help="only what the leaves of the models that are there say")
    fit.add_argument("--models", type=Path, default=MODELS, help="where the models go")
    score = steps.add_parser("score", help="convert documents and score the results, per family")
    score.add_argument("scorer", type=Path, help="the benchmark's score.py")
    score.add_argument("--kind", default="made", help="the folder of documents: made, real, tex, scans")
    score.add_argument("--every", type=int, default=1, help="only one document of so many")
    score.add_argument("--by", default="family", help="family or way")
    score.add_argument("--json", type=Path, help="where the scores of each document go")
    score.add_argument("--workers", type=int, default=2)
    score.add_argument("--families", default="", help="only these families")
    score.add_argument("--models", type=Path, default=MODELS, help="models that are judged")
    chosen = parser.parse_args()
    folder = chosen.folder.resolve()
    if chosen.step == "fetch":
        for name in fetch((*TYPEFACES, *PROSE, *PACKAGES, *SET_BY_TEX, *TEXTS), folder):
            print("cannot be had:", name)
    elif chosen.step == "cut":
        for line in (*cut_all(folder, 2), *cut_all_tex(folder, 2)):
            print(line)
    elif chosen.step == "language":
        for line in make_models(folder / "root", MODELS / "language"):
            print(line)
    elif chosen.step == "hyphens":
        from .hyphens import fit_hyphens

        for line in fit_hyphens(folder / "root", MODELS / "hyphens.npy", check=chosen.check):
            print(line)
    elif chosen.step == "weather":
        for line in weather_all(folder, chosen.every, 2):
            print(line)
    elif chosen.step == "make":
        for line in make_all(
            folder, chosen.seed, chosen.count, chosen.workers, [name for name in chosen.families.split(",") if name]
        ):
            print(line)
    elif chosen.step == "fit":
        from .fit import cross_validated, fit, fit_leaves
        from .samples import STAGES, samples_of

        left_out, models = chosen.without.split(","), chosen.models
        models.mkdir(exist_ok=True)
        cases = _read(
            sorted(case for kind in ("made", "real", "scans") for case in (folder / kind).glob("*"))[:: chosen.every], 2
        )
        cases = _drawn(cases, chosen.most) if chosen.most else cases
        for stage in chosen.stages.split(","):
            if chosen.check:
                samples = samples_of(cases, stage, 2)
                for kind in STAGES[stage]:
                    cross_validated(samples, kind)
            else:
                own = [case for case in cases if case.name.rsplit("-", 1)[0] not in left_out]
                fit_leaves(own, stage, models) if chosen.leaves else fit(own, stage, models, keep=chosen.keep)
    elif chosen.step == "score":
        use_models(chosen.models)
        cases = sorted((folder / chosen.kind).iterdir())
        if chosen.families:
            cases = [case for case in cases if case.name.rsplit("-", 1)[0] in chosen.families.split(",")]
        cases = [case for case in _read(cases[:: chosen.every], chosen.workers) if is_measurable(case)]
        scores = measure(cases, chosen.scorer, chosen.workers)
        print(report(scores, groups_of(cases, chosen.by)))
        if chosen.json:
            chosen.json.write_text(json.dumps(scores, indent=1))


def _drawn(cases: Sequence[Path], most: int) -> list[Path]:
    """The documents, of each family of made ones at most so many."""
    draw = random.Random(5)
    families: dict[str, list[Path]] = defaultdict(list)
    for case in cases:
        if case.parent.name == "made":
            families[case.name.rsplit("-", 1)[0]].append(case)
    for family in families.values():
        draw.shuffle(family)
    kept = {case for family in families.values() for case in family[:most]}
    return [case for case in cases if case.parent.name != "made" or case in kept]


def _read(cases: list[Path], workers: int) -> list[Path]:
    """Documents with their truth, read where they were not yet, without those that cannot be."""
    whole = [case for case in cases if (case / "expected.json").exists()]
    for line in read_all(whole, workers):
        print("cannot be read:", line)
    return [case for case in whole if (case / "evidence").exists()]


if __name__ == "__main__":
    main()
