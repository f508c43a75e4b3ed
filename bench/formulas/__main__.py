"""``python -m formulas --count 1500 [--seed N] [--show N] [--scan clean|usual|poor|photo --dpi N]``: made formulas read from native
pages, or from scans or photos of them; prints shares per way of setting."""

from __future__ import annotations

import argparse
import subprocess
import sys
import tempfile
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import NamedTuple

import numpy as np
import pypdfium2 as pdfium
import typst as compiler
from rapidfuzz.distance import Levenshtein

from evenquill.core.equations.tex import tex
from evenquill.core.equations.tex_reader import read_tex
from evenquill.core.equations.typst import typst
from evenquill.core.evidence import PageEvidence
from evenquill.core.model.equation import Gap, Node, Row, parts_of
from evenquill.core.reading.native.page import read_page
from evenquill.core.reading.scanned.page import read_scan
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster

from .grammar import Grammar

sys.path.insert(0, str(Path(__file__).parents[2] / "demo"))
import scan_effects

QUALITIES = {"clean": (0.5, 2.0, 0), "usual": (0.8, 5.0, 60), "poor": (1.1, 9.0, 250)}
"""Of scans: blur in pixels, noise in levels, specks."""

PHOTO = "photo"
"""Printed pages photographed from one side, some of them with a shadow, or not lying flat."""

PER_DOCUMENT = 12
"""Displayed formulas of a document; it has as many within lines."""

TEX_FACES = {
    "cm": "",
    "lm": r"\usepackage{lmodern}",
    "times": r"\usepackage{mathptmx}",
    "palatino": r"\usepackage{mathpazo}",
}
TYPST_FACES = {"newcm": "New Computer Modern Math", "lmmath": "Latin Modern Math", "schola": "TeX Gyre Schola Math"}
PROSE = "The value {} is taken where {} holds for every reading of the gauge, and the keeper writes it down."


EDGE = 6.0
"""Points at the edges of a page that a scan may lose."""


class Case(NamedTuple):
    way: str
    displays: list[str]
    inlines: list[str]
    scan: str = ""
    dpi: int = 300


class Outcome(NamedTuple):
    """What was wanted, what was found, and whether it is displayed."""

    way: str
    display: bool
    wanted: str
    got: str


def cases(count: int, seed: int, scan: str, dpi: int) -> Iterator[Case]:
    ways = [*(f"tex-{name}" for name in TEX_FACES), *(f"typst-{name}" for name in TYPST_FACES)]
    for n in range(max(count // (2 * PER_DOCUMENT), 1)):
        grammar = Grammar(seed * 100_000 + n)
        displays = [grammar.display() for _ in range(PER_DOCUMENT)]
        yield Case(ways[n % len(ways)], displays, [grammar.inline() for _ in range(PER_DOCUMENT)], scan, dpi)


def made(case: Case, folder: Path) -> Path:
    """The PDF of a document."""
    kind, _, face = case.way.partition("-")
    pairs = list(zip(case.displays, zip(case.inlines[::2], case.inlines[1::2], strict=True), strict=False))
    pairs += [(display, ("", "")) for display in case.displays[len(pairs) :]]
    if kind == "tex":
        body = "\n\n".join(
            (PROSE.format(rf"\mbox{{${a}$}}", rf"\mbox{{${b}$}}") if a else "As follows from the tables:")
            + f"\n\\[{d}\\]"
            for d, (a, b) in pairs
        )
        text = rf"\documentclass[11pt]{{article}}\usepackage{{amsmath,amssymb}}{TEX_FACES[face]}\begin{{document}}{body}\end{{document}}"
        (folder / "a.tex").write_text(text)
        subprocess.run(
            ["pdflatex", "-interaction=batchmode", "a.tex"], cwd=folder, stdout=subprocess.DEVNULL, check=False
        )
    else:
        as_typst = [(typst(read_tex(d)), a and typst(read_tex(a)), b and typst(read_tex(b))) for d, (a, b) in pairs]
        body = "\n\n".join(
            (PROSE.format(f"#box[${a}$]", f"#box[${b}$]") if a else "As follows from the tables:") + f"\n$ {d} $"
            for d, a, b in as_typst
        )
        (folder / "a.typ").write_text(f'#show math.equation: set text(font: "{TYPST_FACES[face]}")\n{body}')
        compiler.compile(
            str(folder / "a.typ"), output=str(folder / "a.pdf"), font_paths=["/usr/share/texmf/fonts/opentype"]
        )
    return folder / "a.pdf"


def outcomes(case: Case) -> list[Outcome]:
    with tempfile.TemporaryDirectory() as folder:
        path = made(case, Path(folder))
        pages = list(pages_of(case, path))
        off = off_the_page(path) if case.scan else set()
    found = {
        flag: [canonical(one.tree) for page in pages for one in page.equations if one.display is flag]
        for flag in (True, False)
    }
    out = []
    for display, wanted in ((True, case.displays), (False, case.inlines)):
        left = list(found[display])
        for one in map(canonical, map(read_tex, wanted)):
            best = min(left, key=lambda other: Levenshtein.normalized_distance(one, other), default="")
            if one in off:
                left = [other for other in left if other is not best]
                continue
            if best and Levenshtein.normalized_distance(one, best) < 0.6:
                left.remove(best)
                out.append(Outcome(case.way, display, one, best))
            else:
                out.append(Outcome(case.way, display, one, ""))
        out += [Outcome(case.way, display, "", other) for other in left]
    return out


def off_the_page(path: Path) -> set[str]:
    """The formulas of a document that run off its pages: no scan has the whole of them."""
    document = pdfium.PdfDocument(path)
    out = set()
    for number in range(1, len(document) + 1):
        width = document[number - 1].get_width()
        for one in read_page(document, number, lambda *_: "").equations:
            if one.box.x0 < EDGE or one.box.x1 > width - EDGE:
                out.add(canonical(one.tree))
    document.close()
    return out


def pages_of(case: Case, path: Path) -> Iterator[PageEvidence]:
    """The pages of a case's document as they are read."""
    document = pdfium.PdfDocument(path)
    for number in range(1, len(document) + 1):
        if case.scan:
            yield read_scan(Scan(Raster(scanned_page(case, path, number), case.dpi)), number, lambda *_: "")
        else:
            yield read_page(document, number, lambda *_: "")
    document.close()


def scanned_page(case: Case, path: Path, number: int) -> scan_effects.Pixels:
    """A page of a case's document, printed, and scanned or photographed."""
    random = np.random.default_rng(len(case.displays[0]) + 1000 * number)
    page = scan_effects.printed(scan_effects.drawn(path, number, case.dpi), random)
    if case.scan == PHOTO:
        return scan_effects.taken_by_telephone(page, random)[0]
    blur, noise, specks = QUALITIES[case.scan]
    page = scan_effects.turned(page, float(random.uniform(-0.5, 0.5)))
    return scan_effects.scanned(page, random, blur=blur * case.dpi / 200, noise=noise, specks=specks)


def canonical(tree: Node) -> str:
    """The formula as TeX without what does not change what it says: spaces, and how high fences are."""
    kept = Row(tuple(part for part in parts_of(tree) if not isinstance(part, Gap)))
    text = tex(kept).replace(r"\left", "").replace(r"\right", "").replace(r"\limits", "")
    text = text.replace(r"\text{ if }", r"\text{if }").replace(r"\ast", "*").replace(r"\overrightarrow", r"\vec")
    return text.replace(r"\quad", "").replace(r"\;", "").replace(r"\,", "").replace(" ", "")


def main() -> None:
    parser = argparse.ArgumentParser(prog="python -m formulas", description=__doc__)
    parser.add_argument("--count", type=int, default=1500)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--show", type=int, default=0, help="print so many that came out otherwise")
    parser.add_argument("--scan", choices=["", *QUALITIES, PHOTO], default="")
    parser.add_argument("--dpi", type=int, default=300)
    chosen = parser.parse_args()
    with ProcessPoolExecutor(2) as pool:
        found = [
            one for own in pool.map(outcomes, cases(chosen.count, chosen.seed, chosen.scan, chosen.dpi)) for one in own
        ]
    right: Counter[str] = Counter()
    total: Counter[str] = Counter()
    for one in found:
        if one.wanted:
            for group in (one.way, "displayed" if one.display else "within lines"):
                total[group] += 1
                right[group] += one.wanted == one.got
    for group in sorted(total):
        print(f"{group:14} {right[group]:5} of {total[group]:5}  {100 * right[group] / total[group]:5.1f} %")
    print(
        "found where none is:", sum(not one.wanted for one in found), " not found:", sum(not one.got for one in found)
    )
    for one in [one for one in found if one.wanted != one.got][: chosen.show]:
        print(one.way, "D" if one.display else "i", one.wanted, "\n      ", one.got)


if __name__ == "__main__":
    main()
