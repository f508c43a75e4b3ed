"""How likely a symbol is a letter in the name of a function: there it is upright, and may look like a figure or a bar by itself."""

from __future__ import annotations

from functools import cache

import numpy as np
from numpy.typing import NDArray

from evenquill.core.model.equation import Letterform
from evenquill.core.reading.scanned.formulas.symbols import card

ALIKE = {
    "i": "iι1l!ıj",
    "l": "l1I|]ℓ",
    "n": "n",
    "s": "sS",
    "c": "cC",
    "o": "oO0",
    "x": "xX×",
    "v": "vV",
    "p": "pP",
    "m": "m",
    "g": "g9",
}
"""Symbols that a letter of a name may be taken for."""

SURE = 0.3
"""Geometric mean of the likelihoods of its letters from which it is the name."""

LEAST = 1e-4
"""Likelihood that is added to that of each letter."""


def share_of(likelihood: NDArray[np.float32], letter: str) -> float:
    """How likely ink is a letter of a name, by how likely it is each class (classes,)."""
    return float(likelihood[list(_places(letter))].sum()) + LEAST


@cache
def _places(letter: str) -> tuple[int, ...]:
    """The places of the classes on the card that a letter may look like; slanted letters are quantities."""
    alike = ALIKE.get(letter, letter)
    return tuple(
        n
        for n, one in enumerate(card().classes)
        if one.text and one.text in alike and one.form is not Letterform.ITALIC
    )
