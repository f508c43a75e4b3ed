"""A symbol as it is seen: its ink, and how likely each class is."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Box
from evenquill.core.reading.scanned.formulas.symbols import NOTHING, card, darkness, likelihoods
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.raster import Pixels

UNSURE = 0.45
"""Likelihood of the best class below which ink may be a part of a symbol, or several that touch."""


class Seen(NamedTuple):
    """A symbol: its pieces (indices), its box in pixels, and how likely each class is (classes,)."""

    pieces: tuple[int, ...]
    box: Box
    likelihood: NDArray[np.float32]

    @property
    def best(self) -> int:
        return int(self.likelihood.argmax())


class InkPart(NamedTuple):
    """Ink of some pieces within a box: all of it, or what ``ink`` (height, width) has."""

    pieces: tuple[int, ...]
    box: Box
    ink: Pixels | None = None


def recognised(pieces: Pieces, parts: Sequence[InkPart], even: Pixels) -> list[Seen]:
    """What parts of the evenly lit picture ``even`` look like."""
    inks = []
    for part in parts:
        x0, y0, x1, y1 = (int(value) for value in part.box)
        own = part.ink if part.ink is not None else pieces.mask_of(np.array(part.pieces, np.int64), x0, y0, x1, y1)
        inks.append(darkness(even[y0:y1, x0:x1], own))
    found = likelihoods(inks)
    return [Seen(part.pieces, part.box, likelihood) for part, likelihood in zip(parts, found, strict=True)]


def sureness(one: Seen) -> float:
    """How likely it is that a symbol is one: small and capital letters of one shape share that between them."""
    if card().classes[one.best].text == NOTHING:
        return 0.0
    return float(np.sort(one.likelihood)[-3:].sum())
