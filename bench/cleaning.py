"""How well pages are straightened: ``python bench/cleaning.py [PAGES]``.

Pages are made, turned by quarters, laid askew by up to 15 degrees, shadowed, some photographed from one side; since what
was done to each is known, so is what is left of it after cleaning.
"""

from __future__ import annotations

import random
import sys
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from typing import NamedTuple

import cv2
import numpy as np
import typst

sys.path.insert(0, str(Path(__file__).parent.parent / "demo"))
import scan_effects
from manual import WORDS

from evenquill.core.reading.scanned.prepared import Scan, prepared
from evenquill.core.reading.scanned.raster import Raster

DPI = 150
KINDS = ("scan", "shadow", "photo")


class Outcome(NamedTuple):
    """``upright``: whether the page came out the right way up; ``error``: degrees left in the middle of its text."""

    kind: str
    upright: bool
    error: float


def main(pages: int) -> None:
    with ProcessPoolExecutor() as pool:
        outcomes = list(pool.map(outcome, range(pages)))
    for kind in KINDS:
        some = [one for one in outcomes if one.kind == kind]
        right = sum(one.upright for one in some)
        errors = sorted(abs(one.error) for one in some if one.upright)
        print(
            f"{kind}: {right} of {len(some)} turned right; skew error median {np.median(errors):.3f}, "
            f"95 % under {errors[int(0.95 * len(errors))]:.3f}, largest {errors[-1]:.3f} degrees"
        )
    right = sum(one.upright for one in outcomes)
    under = sum(abs(one.error) < 0.1 for one in outcomes if one.upright)
    print(
        f"all: {100 * right / len(outcomes):.1f} % turned right, {100 * under / len(outcomes):.1f} % under 0.1 degree"
    )


def outcome(number: int) -> Outcome:
    """Makes a page, cleans it, and measures what is left."""
    chance = np.random.default_rng(number)
    kind = KINDS[number % len(KINDS)]
    page = scan_effects.printed(scan_effects.drawn(typst.compile(_source(number)), 1, DPI), chance)
    height, width = page.shape[:2]
    if kind == "photo":
        corners = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
        lean = chance.uniform(-0.05, 0.05, (4, 2)) * (width, height)
        inner = corners * 0.84 + np.array([0.08 * width, 0.08 * height]) + lean
        matrix = cv2.getPerspectiveTransform(corners, inner.astype(np.float32))
    else:
        skew = float(chance.uniform(-15, 15))
        matrix = np.vstack([cv2.getRotationMatrix2D((width / 2, height / 2), skew, 1), [0, 0, 1]])
    ground = (70, 55, 42) if kind == "photo" else (206, 205, 201)
    seen = cv2.warpPerspective(page, matrix, (width, height), flags=cv2.INTER_CUBIC, borderValue=ground)
    if kind != "scan":
        seen = scan_effects.shadowed(seen, chance, 0.4)
    seen = scan_effects.scanned(seen, chance)
    turns = int(chance.integers(0, 4))
    turned = np.ascontiguousarray(np.rot90(seen, -turns))
    made = prepared(Scan(Raster(turned, DPI), guessed_size=kind == "photo"))
    back = np.linalg.inv(matrix) @ _unturned(turns, width, height) @ made.to_input
    lines = made.segments.black.lines
    x, y = (float(np.mean([getattr(line, name) for line in lines])) for name in ("x1", "middle"))
    error = _angle(back, x / 2, y)
    return Outcome(kind, abs(error) < 45, error)


def _source(number: int) -> bytes:
    """A page of Typst with prose, a list or a table, in one or two columns."""
    rng = random.Random(number)

    def sentence() -> str:
        return " ".join(rng.choice(WORDS) for _ in range(rng.randint(6, 18))).capitalize() + "."

    size = rng.choice((9, 10, 11, 12))
    face = rng.choice(("Libertinus Serif", "New Computer Modern", "DejaVu Sans Mono"))
    parts = [f'#set page(paper: "a4", margin: 24mm)\n#set text(font: "{face}", size: {size}pt, lang: "en")']
    if rng.random() < 0.3:
        parts.append("#set page(columns: 2)")
    for _ in range(rng.randint(2, 9)):
        parts.append(f"= {sentence()[:30]}\n" + " ".join(sentence() for _ in range(rng.randint(2, 7))))
        if rng.random() < 0.3:
            parts.append("\n".join(f"- {sentence()}" for _ in range(4)))
    return "\n\n".join(parts).encode()


def _unturned(turns: int, width: int, height: int) -> np.ndarray:
    """From pixels of a picture that was turned by quarters clockwise to those before."""
    if turns == 1:
        return np.array([[0, 1, 0], [-1, 0, height], [0, 0, 1]], float)
    if turns == 2:
        return np.array([[-1, 0, width], [0, -1, height], [0, 0, 1]], float)
    if turns == 3:
        return np.array([[0, -1, width], [1, 0, 0], [0, 0, 1]], float)
    return np.eye(3)


def _angle(matrix: np.ndarray, x: float, y: float) -> float:
    """Direction, in degrees, in which a level line through a point comes out."""
    ends = np.array([[x - 50, y, 1], [x + 50, y, 1]]) @ matrix.T
    (x0, y0), (x1, y1) = ends[:, :2] / ends[:, 2:]
    return float(np.degrees(np.arctan2(y1 - y0, x1 - x0)))


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
