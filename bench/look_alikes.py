"""What finding look-alikes costs, on a document of 100,000 words: ``python bench/look_alikes.py``."""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

import numpy as np
from manual import make_manual
from msgspec.structs import replace

sys.path.insert(0, str(Path(__file__).parent.parent / "demo"))
import scan_effects

from evenquill.core.pictures import PictureFolder
from evenquill.core.queries.look_alikes import LookAlikes, PageShapes, WordPlace, shapes_of, words_by_page
from evenquill.core.reading.scanned.page import read_scan
from evenquill.core.reading.scanned.prepared import Scan
from evenquill.core.reading.scanned.raster import Raster, scaled
from evenquill.core.rebuild import rebuild
from evenquill.core.source import SourceFacts

WORDS, LOOKED_FOR, DPI = 100_000, 3000, 200


def main() -> None:
    with tempfile.TemporaryDirectory() as name:
        manual = make_manual(Path(name) / "manual.pdf", 4)
        pixels = scan_effects.printed(scan_effects.drawn(manual, 3, DPI), np.random.default_rng(1))
        started = time.perf_counter()
        evidence = read_scan(Scan(Raster(pixels, DPI)), 1, PictureFolder(Path(name)).keep)
        reading = time.perf_counter() - started
    document = rebuild([evidence], SourceFacts(media="application/pdf", pages=1, language="en"))
    (words,) = words_by_page(document).values()
    grey = scaled(pixels[..., 1], 1.0)
    pages = WORDS // len(words) + 1

    started = time.perf_counter()
    shapes: dict[int, PageShapes] = {}
    every: list[WordPlace] = []
    for page in range(1, pages + 1):
        shapes[page] = shapes_of(grey, DPI, [word.box for word in words])
        every += [replace(word, page=page, block=f"{page}-{word.block}") for word in words]
    taken = time.perf_counter() - started
    looks = LookAlikes(every, shapes)
    opened = time.perf_counter() - started - taken
    found = 0
    step = max(len(every) // LOOKED_FOR, 1)
    for word in every[::step]:
        found += len(looks.of(word.block, word.start))
    grouped = time.perf_counter() - started
    print(
        f"{len(every)} words: shapes {taken:.1f} s, opened {opened:.1f} s, {LOOKED_FOR} groups (of {found / LOOKED_FOR:.0f}) after"
    )
    print(f"   {grouped:.1f} s in all (wanted: under 20)")
    print(f"over reading as many pages: {grouped / (pages * reading):.3f}")


if __name__ == "__main__":
    main()
