"""Names of functions among recognised symbols: their letters look like figures and bars by themselves."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cache
from math import log

import numpy as np

from evenquill.core.equations.signs import FUNCTIONS
from evenquill.core.model import union
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.scanned.formulas.placing import Placed
from evenquill.core.reading.scanned.formulas.symbols import card, number_of

CLOSE = 0.2
"""Ems between letters of a name."""

LEVEL = 0.12
"""Ems between the baselines of its letters."""

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

LONGEST = 7
"""Symbols of a name."""

HALVES_OF_M = (("n", "l"), ("r", "n"), ("l", "n"))
"""What the two parts of a broken ``m`` look like."""

KNOWN, KNOWN_SHARE = 0.9, 0.99
"""Likelihood of a letter that its name makes sure, by its shape and by all that is known, at least."""


def with_names(symbols: Sequence[Placed]) -> list[Placed]:
    """The symbols, with the letters of names upright letters."""
    if not symbols:
        return []
    out = list(symbols)
    order = sorted(range(len(out)), key=lambda n: out[n].seen.box.x0)
    likelihood = np.stack([one.seen.likelihood for one in out])
    shares: dict[str, list[float]] = {
        letter: np.log(likelihood[:, list(_places(letter))].sum(axis=1) + 1e-4).tolist()
        for letter in set("".join(FUNCTIONS))
    }
    names = sorted(FUNCTIONS, key=len, reverse=True)
    used: set[int] = set()
    gone: set[int] = set()
    for k, start in enumerate(order):
        if start in used:
            continue
        run = _run(out, order, k)
        for name in names:
            spelling = _spelling(name, run, shares)
            own = [n for part in spelling for n in part]
            if not own or used.intersection(own) or all(out[n].is_a.text.isdecimal() for n in own):
                continue
            used.update(own)
            gone.update(n for part in spelling for n in part[1:])
            letters = _spelt(name, [_as_one([out[n] for n in part]) for part in spelling])
            for part, one in zip(spelling, letters, strict=True):
                out[part[0]] = one
            break
    return [one for n, one in enumerate(out) if n not in gone]


def _spelling(name: str, run: Sequence[int], shares: Mapping[str, Sequence[float]]) -> list[list[int]]:
    """The symbols of a run, by their places, that are each letter of a name, none where it does not begin with that name. The parts of a
    broken ``m`` may be two."""
    least = len(name) * log(SURE)
    ways: list[tuple[float, list[list[int]]]] = [(0.0, [])]
    for letter in name:
        longer = []
        for score, before in ways:
            start = sum(map(len, before))
            if start < len(run):
                longer.append((score + shares[letter][run[start]], [*before, [run[start]]]))
            if letter == "m" and start + 1 < len(run):
                halves = max(shares[a][run[start]] + shares[b][run[start + 1]] for a, b in HALVES_OF_M)
                longer.append((score + halves, [*before, [run[start], run[start + 1]]]))
        ways = [way for way in longer if way[0] > least]
        if not ways:
            return []
    return max(ways, key=lambda way: way[0])[1]


def _as_one(symbols: Sequence[Placed]) -> Placed:
    """Symbols that are one letter."""
    first = symbols[0]
    pieces = tuple(dict.fromkeys(piece for one in symbols for piece in one.seen.pieces))
    return first._replace(seen=first.seen._replace(pieces=pieces, box=union([one.seen.box for one in symbols])))


def _spelt(name: str, symbols: Sequence[Placed]) -> list[Placed]:
    """The symbols as the letters of a name, on one baseline and of one size."""
    letters = [card().classes[number_of(letter)] for letter in name]
    baseline = float(
        np.median([one.seen.box.y1 + is_a.bottom * one.size for one, is_a in zip(symbols, letters, strict=True)])
    )
    size = sorted(one.size for one in symbols)[len(symbols) // 2]
    return [
        one._replace(
            is_a=is_a,
            size=size,
            baseline=baseline,
            likelihood=max(one.likelihood, KNOWN),
            share=max(one.share, KNOWN_SHARE),
        )
        for one, is_a in zip(symbols, letters, strict=True)
    ]


def _run(symbols: Sequence[Placed], order: Sequence[int], start: int) -> list[int]:
    """The symbols from one on that stand close beside each other on one baseline."""
    first = symbols[order[start]]
    run = [order[start]]
    for n in order[start + 1 :]:
        last, one = symbols[run[-1]], symbols[n]
        gap = one.seen.box.x0 - last.seen.box.x1
        if gap > first.size or len(run) == LONGEST:
            break
        level = (
            abs(one.seen.box.y1 - first.seen.box.y1) < LEVEL * first.size
            or one.seen.box.y0 < first.seen.box.y1 < one.seen.box.y1
        )
        if abs(gap) < CLOSE * first.size and level:
            run.append(n)
    return run


@cache
def _places(letter: str) -> tuple[int, ...]:
    """The places of the classes on the card that a letter may look like; slanted letters are quantities."""
    alike = ALIKE.get(letter, letter)
    return tuple(
        n
        for n, one in enumerate(card().classes)
        if one.text and one.text in alike and one.form is not Letterform.ITALIC
    )
