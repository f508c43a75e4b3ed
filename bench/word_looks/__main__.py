"""``python -m word_looks CORPUS train [--pages N] [--epochs N] [--seed N]``: trains the network that tells how words are lettered on pages
of the corpus (``bench/corpus``), prints how well it tells typefaces that it has never seen, and writes it.

``python -m word_looks CORPUS judge``: how well the one that ships tells them.
"""

from __future__ import annotations

import argparse
import random
import time
import zlib
from pathlib import Path

import numpy as np
from corpus.evidence import evidence_of
from numpy.typing import NDArray

from evenquill.core.evidence import PageEvidence
from evenquill.core.reading.scanned.seen_looks import BATCH, NETWORK, SeenLook, scores_of

from .network import outputs_of, trained, write
from .words import Words, gathered

LEFT_OUT = 8
"""One typeface out of so many is left out of the training, by the hash of its name, and judged on."""

REAL = 0.3
"""Share of pages that are of real documents."""


def pages_of(corpus: Path, count: int, seed: int, *, judged: bool) -> list[tuple[Path, PageEvidence, int, int]]:
    """Pages to be printed and scanned: those whose text is in a typeface that is judged on, or those whose text is not."""
    rng = random.Random(seed)
    kinds = {kind: _shuffled(corpus / kind, rng) for kind in ("made", "real")}
    found: list[tuple[Path, PageEvidence, int, int]] = []
    while len(found) < count and any(kinds.values()):
        kind = "real" if rng.random() < REAL else "made"
        if not kinds[kind]:
            continue
        case = kinds[kind].pop()
        pages = evidence_of(case).pages
        if not pages or any(page.cleaned is not None or page.turn for page in pages):
            continue
        number = rng.randrange(len(pages))
        if _is_judged(pages[number]) == judged:
            found.append((case / "source.pdf", pages[number], number, rng.randrange(2**32)))
    return found


def _shuffled(folder: Path, rng: random.Random) -> list[Path]:
    cases = sorted(case for case in folder.iterdir() if (case / "evidence").exists() and (case / "source.pdf").exists())
    rng.shuffle(cases)
    return cases


def _is_judged(page: PageEvidence) -> bool:
    letters: dict[str, int] = {}
    for line in page.lines:
        for word in line.words:
            font = page.types[word.type].font
            letters[font] = letters.get(font, 0) + len(word.text)
    main = max(letters, key=lambda font: letters[font], default="")
    return zlib.crc32(main.encode()) % LEFT_OUT == 0


def figures_of(outputs: NDArray[np.float32], words: Words) -> dict[str, float]:
    """For each thing told the share of words told wrong, of those that have it and of those that have not."""
    out = {}
    for n, name in enumerate(SeenLook._fields):
        told, truth = outputs[:, n] > 0, words.looks[:, n] > 0
        out[f"{name} missed"] = round(float((~told[truth]).mean()), 4) if truth.any() else 0.0
        out[f"{name} false"] = round(float(told[~truth].mean()), 4)
    return out


def train(corpus: Path, pages: int, epochs: int, seed: int, out: Path) -> None:
    started = time.monotonic()
    words = gathered(pages_of(corpus, pages, seed, judged=False))
    judged = gathered(pages_of(corpus, pages // 8, seed, judged=True))
    print(f"{len(words.fills)} words, {len(judged.fills)} judged, {time.monotonic() - started:.0f} s", flush=True)
    for network in trained(words, epochs, seed):
        print(figures_of(outputs_of(network, judged), judged), f"{time.monotonic() - started:.0f} s", flush=True)
        write(network, out)


def judge(corpus: Path, pages: int, seed: int) -> None:
    judged = gathered(pages_of(corpus, pages // 8, seed + 1, judged=True))
    pictures = list(zip(judged.pictures, judged.fills.astype(int), strict=True))
    parts = [scores_of(pictures[start : start + BATCH]) for start in range(0, len(pictures), BATCH)]
    print(figures_of(np.concatenate(parts), judged))


def main() -> None:
    parser = argparse.ArgumentParser(prog="word_looks", description=__doc__)
    parser.add_argument("corpus", type=Path)
    parser.add_argument("what", choices=("train", "judge"))
    parser.add_argument("--pages", type=int, default=1600)
    parser.add_argument("--epochs", type=int, default=4)
    parser.add_argument("--seed", type=int, default=23)
    parser.add_argument("--out", type=Path, default=NETWORK)
    given = parser.parse_args()
    if given.what == "train":
        train(given.corpus, given.pages, given.epochs, given.seed, given.out)
    else:
        judge(given.corpus, given.pages, given.seed)


if __name__ == "__main__":
    main()
