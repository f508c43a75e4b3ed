"""How well the sheet in a photo is found: made pages on tables of many colours, folded, bent, in shadow; where are their corners?

python bench/sheets.py [--count 200] [--seed 1]
"""

from __future__ import annotations

import argparse
import sys
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2
import numpy as np
import typst

sys.path.insert(0, str(Path(__file__).parents[1] / "demo"))
import scan_effects

from evenquill.core.reading.scanned.cleaning.sheet import find_sheet

DPI = 110
"""Resolution of the printed page: corners are found in a smaller picture."""

LOOKS = (
    ("#lorem(420)", "A page of text"),
    ("#columns(2)[#lorem(520)]", "Two columns"),
    ("#lorem(30)", "A short note"),
    ("#table(columns: 4, ..range(80).map(n => [#(n * 37)]))", "A table"),
    ("#rect(width: 100%, height: 30%, fill: luma(215))[#lorem(60)] #lorem(120)", "A shaded box"),
)


def error_of(seed: int) -> float:
    """By how much the corner that is farthest off is, over the longer side of the photo; 1 where no sheet is found."""
    random = np.random.default_rng(seed)
    body, title = LOOKS[int(random.integers(len(LOOKS)))]
    source = f"#set page(margin: {int(random.integers(12, 36))}mm)\n#set par(justify: true)\n= {title}\n{body}"
    paper = ((240, 238, 232), (250, 250, 247), (228, 220, 200))[int(random.integers(3))]
    page = scan_effects.drawn(typst.compile(source.encode()), 1, DPI)
    page = scan_effects.printed(page, random, paper=paper, ink=int(random.integers(15, 70)))
    photo, corners = scan_effects.taken_by_telephone(page, random)
    found = find_sheet(cv2.resize(photo, None, fx=0.8, fy=0.8, interpolation=cv2.INTER_AREA))
    if found is None:
        return 1.0
    off = [np.abs(np.roll(found / 0.8, turn, axis=0) - corners).max() for turn in range(4)]
    return float(min(off)) / max(photo.shape)


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    chosen = parser.parse_args()
    seeds = [10000 * chosen.seed + n for n in range(chosen.count)]
    with ProcessPoolExecutor(2) as pool:
        errors = np.array(list(pool.map(error_of, seeds, chunksize=8)))
    print(f"sheets whose corners are all within 1 % of the photo: {np.mean(errors < 0.01):.1%} (at least 97 % wanted)")
    print(f"not found: {np.mean(errors == 1):.1%}; middle error of the others: {np.median(errors[errors < 1]):.2%}")


if __name__ == "__main__":
    main()
