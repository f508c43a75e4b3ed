"""Scans and photos of made documents: printed, laid askew, scanned or photographed in many ways, with the same truth."""

from __future__ import annotations

import json
import random
import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import numpy as np
import pypdfium2 as pdfium

sys.path.insert(0, str(Path(__file__).parents[2] / "demo"))
import scan_effects

MOST_PAGES = 2
"""Pages of a document that are weathered: reading them takes long."""

PHOTOS = 0.25
"""Share of documents that are photographed."""


def weather_all(folder: Path, every: int, workers: int) -> list[str]:
    """Makes a scan below ``folder / "scans"`` of one made document out of so many. Returns failures."""
    cases = sorted((folder / "made").iterdir())[::every]
    todo = [case for case in cases if not (folder / "scans" / case.name / "expected.json").exists()]
    chunks = [todo[start : start + 5] for start in range(0, len(todo), 5)]
    with ProcessPoolExecutor(workers) as pool:
        return [line for lines in pool.map(_weather_some, chunks) for line in lines]


def _weather_some(cases: Sequence[Path]) -> list[str]:
    failures = []
    for case in cases:
        try:
            _weather(case, case.parents[1] / "scans" / case.name)
        except Exception as error:
            failures.append(f"{case.name}: {type(error).__name__}: {error}")
    return failures


def _weather(case: Path, target: Path) -> None:
    rng = random.Random(case.name)
    noise = np.random.default_rng(rng.randrange(2**32))
    source = case / "source.pdf"
    count = len(pdfium.PdfDocument(source))
    dpi = rng.choice((150, 200, 200, 250, 300))
    photo = rng.random() < PHOTOS
    paper, ink = rng.choice(((238, 237, 233), (250, 250, 248), (230, 222, 200))), rng.randint(10, 70)
    pages = []
    for number in range(1, min(count, MOST_PAGES) + 1):
        page = scan_effects.printed(scan_effects.drawn(source, number, dpi), noise, paper=paper, ink=ink)
        if photo:
            page, _ = scan_effects.taken_by_telephone(page, noise)
        else:
            page = scan_effects.turned(page, rng.uniform(-1.5, 1.5) if rng.random() < 0.7 else 0.0)
            page = scan_effects.scanned(
                page, noise, blur=rng.uniform(0.4, 1.1), noise=rng.uniform(2, 9), specks=rng.randint(0, 300)
            )
        pages.append(page)
    target.mkdir(parents=True, exist_ok=True)
    grey = not photo and rng.random() < 0.6
    (target / "source.pdf").write_bytes(scan_effects.as_pdf(pages, dpi, rng.randint(55, 90), grey=grey))
    truth = json.loads((case / "expected.json").read_text())
    kind = "photo" if photo else "scanned"
    truth |= {"kind": kind, "way": kind, "pages": len(pages), "partial": count > MOST_PAGES}
    (target / "expected.json").write_text(json.dumps(truth, ensure_ascii=False, indent=1))
