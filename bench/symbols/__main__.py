"""``python -m symbols train [--sheets N] [--epochs N] [--seed N]``: trains the recogniser of symbols and writes it with its card.

``python -m symbols judge``: how well the one that ships reads typefaces that it has never seen.
"""

from __future__ import annotations

import argparse
import time
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import msgspec
import numpy as np

from evenquill.core.reading.scanned.formulas.symbols import CARD, NETWORK, Card, SymbolClass

from .classes import OF_ANY_HEIGHT, Shown, all_classes
from .network import scores_of, temperature_of, trained, write
from .sheets import Samples, Typefaces, sheet_of
from .typefaces import LEFT_OUT, MATHEMATICAL, TEXT, extent, glyphs_of

JUDGED = 40
"""Sheets that the network is judged on, half of them for the temperature."""

ALIKE = (
    "0Oo∘°", "cC", "sS", "vVν", "wWω", "xX×χ", "zZ", "pPρ", "kKκ", "uU", "·.∘", ",′", "∑Σ", "∏Π", "|l1I/∥", "iI", "jJ", "φΦϕ∅", "∪U", "∨vV",
    "∧Λ", "∼~", "∈ϵε", "ψΨ", "aα", "ηn", "ιi", "υv", "oσ", "<⟨", ">⟩",
)  # fmt: skip
"""Symbols of the same shape: which it is, their size and place tell."""


def family_of(name: str) -> Typefaces:
    text = TEXT.get(name)
    both = (glyphs_of(name, text[0]), glyphs_of(name, text[1])) if text else None
    return Typefaces(glyphs_of(name, MATHEMATICAL[name]), both)


def _sheet(job: tuple[str, int]) -> Samples:
    return sheet_of(all_classes(), family_of(job[0]), job[1])


def samples_of(families: Sequence[str], sheets: int, seed: int) -> Samples:
    jobs = [(families[n % len(families)], seed * 1_000_000 + n) for n in range(sheets)]
    with ProcessPoolExecutor() as pool:
        made = list(pool.map(_sheet, jobs, chunksize=4))
    return Samples(*(np.concatenate(part) for part in zip(*made, strict=True)))


def figures_of(scores: np.ndarray, samples: Samples, classes: Sequence[Shown]) -> dict[str, float]:
    """Shares of symbols whose class comes first, or among five; and of those whose shape comes first."""
    order = np.argsort(-scores, axis=1)[:, :5]
    symbols = samples.classes < len(classes) - 1
    hit = order[:, 0] == samples.classes
    shapes = np.array([_shape(one) for one in classes])
    alike = shapes[order[:, 0]] == shapes[samples.classes]
    five = (order == samples.classes[:, None]).any(axis=1)
    found = {"first": hit[symbols], "shape": alike[symbols], "five": five[symbols], "nothing": hit[~symbols]}
    return {name: round(float(values.mean()), 4) for name, values in found.items()}


def _shape(one: Shown) -> str:
    return next((group for group in ALIKE if one.text and one.text in group), one.text + one.form)


def train(sheets: int, epochs: int, seed: int, out: Path) -> None:
    started = time.monotonic()
    classes = all_classes()
    families = [name for name in MATHEMATICAL if name not in LEFT_OUT]
    samples = samples_of(families, sheets, seed)
    judged = samples_of(LEFT_OUT, JUDGED, seed + 1)
    print(f"{len(samples.classes)} symbols, {time.monotonic() - started:.0f} s", flush=True)
    for network in trained(samples, len(classes), epochs, seed):
        scores = scores_of(network, judged)
        figures = figures_of(scores, judged, classes)
        print(figures, f"{time.monotonic() - started:.0f} s", flush=True)
        half = np.arange(len(judged.classes)) % 2 == 0
        card = Card(
            [_on_card(one) for one in classes],
            temperature_of(scores[half], judged.classes[half]),
            f"{sheets} sheets of {', '.join(families)}; judged on {', '.join(LEFT_OUT)}",
            seed,
            figures,
        )
        write(network, out / NETWORK.name)
        (out / CARD.name).write_bytes(msgspec.json.format(msgspec.json.encode(card), indent=0))


def _on_card(one: Shown) -> SymbolClass:
    """A class with where its ink ends, in the middle of the typefaces."""
    found = []
    for name, path in MATHEMATICAL.items():
        glyphs = glyphs_of(name, path)
        found += [extent(path, character) for character in one.characters[:1] if character in glyphs.characters]
    ends = [each for each in found if each]
    top, bottom, width = (round(float(np.median([each[n] for each in ends])), 3) if ends else 0.0 for n in range(3))
    return SymbolClass(one.text, one.form, top, bottom, width, one.text not in OF_ANY_HEIGHT and bool(one.text))


def judge() -> None:
    from evenquill.core.reading.scanned.formulas.symbols import card, likelihoods_of_inputs

    judged = samples_of(LEFT_OUT, JUDGED, 77)
    scores = likelihoods_of_inputs(judged.pictures[:, None].astype(np.float32) / 255, judged.shapes[:, None])
    print(card().data, figures_of(scores, judged, all_classes()))


def main() -> None:
    parser = argparse.ArgumentParser(prog="symbols", description=__doc__)
    parser.add_argument("what", choices=("train", "judge"))
    parser.add_argument("--sheets", type=int, default=600)
    parser.add_argument("--epochs", type=int, default=6)
    parser.add_argument("--seed", type=int, default=17)
    parser.add_argument("--out", type=Path, default=NETWORK.parent)
    given = parser.parse_args()
    if given.what == "train":
        train(given.sheets, given.epochs, given.seed, given.out)
    else:
        judge()


if __name__ == "__main__":
    main()
