"""``python -m formulas.fit --corpus FOLDER``: fits what tells formulas of scanned pages from other ink; judged on documents left out.

Formulas come from made documents in several typefaces and scan qualities; what is none from the scans of the corpus (``python -m corpus
FOLDER make`` and ``weather``), which have everything else that offices have.
"""

from __future__ import annotations

import argparse
import pickle
import tempfile
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import NamedTuple

import msgspec
import numpy as np
import pypdfium2 as pdfium
from numpy.typing import NDArray
from rapidfuzz.distance import Levenshtein
from sklearn.linear_model import LogisticRegression

from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.reading.preparation import AS_FOUND
from evenquill.core.reading.scanned.formulas.candidates import (
    FEATURES,
    MEASURED,
    Candidate,
    Weights,
    candidates_among,
    with_derived,
)
from evenquill.core.reading.scanned.formulas.page_signs import page_signs
from evenquill.core.reading.scanned.formulas.symbols import FITTED
from evenquill.core.reading.scanned.prepared import Scan, prepared
from evenquill.core.reading.scanned.raster import Raster
from evenquill.core.reading.scanned.recognition import recognised

from .__main__ import Case, canonical, cases, made, scanned_page

QUALITIES = (("usual", 300), ("usual", 200), ("poor", 200), ("clean", 300), ("poor", 300))
FEW = (0, 1, 2)
"""Other formulas of a page that has few: made documents have many, so each of their formulas is shown on such a page, too."""

ALIKE = 0.5
"""Distance (normalised) from a formula of the document up to which something found is that formula, or the most of it."""

PARTS = 5
"""Into which the documents are parted to be judged: each part by a model fitted on the others."""

FALSE_COST = 20.0
"""How much worse it is to take something else for a formula than to miss one."""

SCAN_DPI = 200.0


class Sample(NamedTuple):
    """What was measured of a candidate, whether it is a formula, and the document that it comes from."""

    measured: NDArray[np.float64]
    is_one: bool
    document: str


class Found(NamedTuple):
    """Samples of a document, and its pages."""

    samples: list[Sample]
    pages: int


def candidates_on(raster: Raster) -> list[Candidate]:
    page = prepared(Scan(raster), AS_FOUND)
    lines = recognised(page.segments, page.segments.black, page.languages, page.sample.lines)
    return candidates_among(page_signs(page.segments, lines, page.languages), lines)


def of_formulas(case: Case) -> Found:
    """Candidates of a document with formulas; those that are but a part of one are neither."""
    wanted = [canonical(read_tex(text)) for text in (*case.displays, *case.inlines)]
    samples: list[Sample] = []
    with tempfile.TemporaryDirectory() as folder:
        path = made(case, Path(folder))
        document = pdfium.PdfDocument(path)
        pages = len(document)
        document.close()
        for number in range(1, pages + 1):
            for one in candidates_on(Raster(scanned_page(case, path, number), case.dpi)):
                best = min(Levenshtein.normalized_distance(canonical(one.tree), text) for text in wanted)
                if best <= ALIKE:
                    samples.append(Sample(one.measured, True, f"{case.way} {case.scan} {case.dpi} {case.displays[0]}"))
    return Found(samples, pages)


def of_others(path: Path) -> Found:
    """Candidates of a scan without formulas: all are false."""
    document = pdfium.PdfDocument(path)
    samples: list[Sample] = []
    for page in document:
        pixels = np.asarray(page.render(scale=SCAN_DPI / 72).to_pil().convert("RGB"))
        samples += [Sample(one.measured, False, path.parent.name) for one in candidates_on(Raster(pixels, SCAN_DPI))]
    pages = len(document)
    document.close()
    return Found(samples, pages)


def gathered(corpus: Path, seed: int, documents: int, every: int) -> Iterator[Found]:
    jobs = [
        case for n, (quality, dpi) in enumerate(QUALITIES) for case in cases(24 * documents, seed + n, quality, dpi)
    ]
    scans = sorted((corpus / "scans").glob("*/source.pdf"))[::every]
    with ProcessPoolExecutor(2) as pool:
        yield from pool.map(of_formulas, jobs)
        yield from pool.map(of_others, scans)


def on_pages_with_few(samples: list[Sample], seed: int) -> list[Sample]:
    """The samples, and each formula once more as one of few on its page; one that tells little by itself has at least one beside it."""
    random = np.random.default_rng(seed)
    place = MEASURED.index("others")
    out = list(samples)
    for one in samples:
        if one.is_one:
            strong = one.measured[MEASURED.index("symbols")] >= np.log(3)
            measured = one.measured.copy()
            measured[place] = np.log1p(max(int(random.choice(FEW)), 0 if strong else 1))
            out.append(one._replace(measured=measured))
    return out


def fitted(samples: list[Sample], data: str) -> Weights:
    features = np.stack([with_derived(one.measured) for one in samples])
    wanted = np.array([one.is_one for one in samples])
    means, spreads = features.mean(axis=0), features.std(axis=0) + 1e-6
    model = LogisticRegression(C=0.3, class_weight={True: 1.0, False: FALSE_COST}, max_iter=2000)
    model.fit((features - means) / spreads, wanted)
    rounded = [[round(float(value), 4) for value in row] for row in (means, spreads, model.coef_[0])]
    return Weights(*rounded, round(float(model.intercept_[0]), 4), data)


def likelihoods(samples: list[Sample], model: Weights) -> NDArray[np.float64]:
    features = np.stack([with_derived(one.measured) for one in samples])
    scaled = (features - np.array(model.means)) / np.array(model.spreads)
    return np.asarray(1 / (1 + np.exp(-(scaled @ np.array(model.weights) + model.constant))), np.float64)


def main() -> None:
    parser = argparse.ArgumentParser(prog="python -m formulas.fit", description=__doc__)
    parser.add_argument("--corpus", type=Path, required=True)
    parser.add_argument("--seed", type=int, default=601)
    parser.add_argument("--documents", type=int, default=7, help="documents with formulas for each quality")
    parser.add_argument("--every", type=int, default=3, help="one scan of the corpus out of so many")
    parser.add_argument(
        "--samples", type=Path, default=Path("samples.pickle"), help="where samples are kept, or taken from"
    )
    parser.add_argument("--out", type=Path, default=FITTED / "formulas.json")
    given = parser.parse_args()
    if given.samples.exists():
        found = pickle.loads(given.samples.read_bytes())
    else:
        found = list(gathered(given.corpus, given.seed, given.documents, given.every))
        given.samples.write_bytes(pickle.dumps(found))
    samples = on_pages_with_few([sample for one in found for sample in one.samples], given.seed)
    pages = sum(one.pages for one in found if not any(sample.is_one for sample in one.samples))
    names = sorted({one.document for one in samples})
    parts = dict(zip(names, np.random.default_rng(given.seed).integers(0, PARTS, len(names)), strict=True))
    values, wanted = [], []
    for part in range(PARTS):
        model = fitted([one for one in samples if parts[one.document] != part], "")
        judged = [one for one in samples if parts[one.document] == part]
        values.append(likelihoods(judged, model) >= 0.5)
        wanted.append([one.is_one for one in judged])
    taken, right = np.concatenate(values), np.concatenate(wanted)
    print(
        f"documents left out: kept {taken[right].mean():.3f} of {right.sum()}, false {taken[~right].sum()} on {pages} pages"
    )
    model = fitted(
        samples,
        f"{sum(one.is_one for one in samples)} formulas; {sum(not one.is_one for one in samples)} others on {pages} pages",
    )
    print(model.data, dict(zip(FEATURES, model.weights, strict=True)))
    given.out.write_bytes(msgspec.json.format(msgspec.json.encode(model), indent=1))


if __name__ == "__main__":
    main()
