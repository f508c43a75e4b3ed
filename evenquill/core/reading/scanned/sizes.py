"""Type sizes measured from a picture: by heights of letters, less the spread of their ink; of typewriting by the width of its places."""

from __future__ import annotations

import statistics
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.model import Family
from evenquill.core.reading.scanned.heights import (
    CLEARLY_TALLER,
    SMALL_LETTERS,
    TALL_LETTERS,
    InkUnder,
    heights_of_characters,
)
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.raster import WHITE, Pixels
from evenquill.core.reading.scanned.words import ReadLine

X_SHARE = 0.46
"""Ems that small letters are high; faces with serifs for text lie within 5 % of it."""

SHARES = {Family.SERIF: (0.47, 0.67), Family.SANS: (0.54, 0.70), Family.MONO: (0.54, 0.67)}
"""Ems that most small letters and capitals are high, which are round and reach a hundredth beyond the others, in the faces that are
taken for the families (``looks.DEFAULT_FONTS``)."""

FIGURES = 0.95
"""Height of figures over that of capitals and letters that rise, where the page does not tell."""

ADVANCE = 0.6
"""Ems that a character of a typewriter is wide, as in the face that is taken for it."""

SAME_SIZE = 0.085
"""Share by which sizes on a page may differ and be one; measuring errs by half of that."""

FEWEST_SMALL, FEWEST_TALL = 3, 2
"""Letters of a line from which their height is known."""

MOST_EDGES, AROUND = 200, 2
"""Letters of a page whose edges are looked at, about, and rows of pixels around them."""


class Heights(NamedTuple):
    """Heights of a line's small letters, of its tall ones and of its figures, in points, 0 where too few are known."""

    small: float
    tall: float
    figures: float = 0.0


class Ratios(NamedTuple):
    """Heights of small letters and of figures over that of tall letters, as a page has them; 0 where it does not show them."""

    small: float = 0.0
    figures: float = 0.0


NOT_SHOWN = Ratios()


def heights_of(line: ReadLine, pieces: Pieces, dpi: float, spread: float) -> Heights:
    """The heights of the letters of a line, less the ``spread`` of their ink in pixels."""
    known = heights_of_characters(line, pieces)
    small = [height for text, height in known if text in SMALL_LETTERS]
    figures = [height for text, height in known if text.isdigit()]
    tall = [height for text, height in known if text in TALL_LETTERS and not text.isdigit()]
    # Lines of another script have few tall letters: words of one letter or two, between wide spaces, have none.
    alone = not line.text.isascii() and len(small) == sum(map(str.isalpha, line.text))
    low = statistics.median(small) if len(small) >= (1 if alone else FEWEST_SMALL) else 0.0
    high = statistics.median(tall) if len(tall) >= FEWEST_TALL else 0.0
    if low and high and high < CLEARLY_TALLER * low:
        # Both of one height: the fewer ones were misread.
        low, high = (0.0, high) if len(tall) > len(small) else (low, 0.0)
    of_figures = statistics.median(figures) if len(figures) >= FEWEST_TALL else 0.0
    if not low and not high and not of_figures:
        low = line.line.x_height
    return Heights(*(max(height - spread, 1.0) * 72 / dpi if height else 0.0 for height in (low, high, of_figures)))


def ratios_of(heights: Sequence[Heights]) -> Ratios:
    """The ratios of lines in one face that show them."""
    tall = [own for own in heights if own.tall]
    small = [own.small / own.tall for own in tall if own.small]
    figures = [own.figures / own.tall for own in tall if own.figures]
    return Ratios(statistics.median(small or [0.0]), statistics.median(figures or [0.0]))


def size_of(heights: Heights, family: Family, ratios: Ratios = NOT_SHOWN) -> float:
    """The size in points at which the face that is taken for a family has letters of these heights; what a line does not show follows from
    the ``ratios`` of its page."""
    small, tall, figures = heights
    if not small and not tall:
        tall = figures / (ratios.figures or FIGURES)
    if ratios.small:
        small, tall = small or tall * ratios.small, tall or small / ratios.small
    known = [height / share for height, share in zip((small, tall), SHARES[family], strict=True) if height]
    return statistics.mean(known)


def sizes_of(
    heights: Sequence[Heights], pitches: Sequence[float], families: Sequence[Family], letters: Sequence[int], dpi: float
) -> list[float]:
    """The size of each line, in half points, so that its letters are as high as they are here in the face that is taken for its family, and
    those of a typewriter as wide. ``pitches`` are the widths of its places in pixels, 0 where it has none."""
    lines = list(zip(heights, pitches, families, strict=True))
    ratios = {family: ratios_of([own for own, _, of in lines if of is family]) for family in set(families)}
    point = 72 / dpi / ADVANCE
    by_height = [size_of(own, family, ratios[family]) for own, _, family in lines]
    # What has no pitch on a typewritten page is a word or two, in letters of the same face.
    typed = [
        pitch * point / size
        for size, (_, pitch, family) in zip(by_height, lines, strict=True)
        if pitch and family is Family.MONO
    ]
    wider = statistics.median(typed) if typed else 1.0
    sizes = [
        size if family is not Family.MONO else pitch * point if pitch else size * wider
        for size, (_, pitch, family) in zip(by_height, lines, strict=True)
    ]
    return _snapped(sizes, letters)


def spread_of_ink(lines: Sequence[ReadLine], pieces: Pieces, even: Pixels) -> float:
    """By how many pixels letters are higher as pieces of ink than from edge to edge: a blurred edge is where it is half as dark as the
    letter, and ink from much paler on. 0 where there are no letters."""
    letters = [
        own
        for line in lines
        for under in (InkUnder(line.line.pieces, pieces),)
        for word in line.words
        for symbol in word.symbols
        if symbol.text in SMALL_LETTERS or symbol.text in TALL_LETTERS
        if (own := under(symbol)) is not None
    ]
    found = []
    for own in letters[:: max(len(letters) // MOST_EDGES, 1)]:
        x0, y0, x1, y1 = (int(value) for value in pieces.boxes[own])
        if y0 < AROUND or y1 + AROUND > len(even):
            continue
        dark = (WHITE - even[y0 - AROUND : y1 + AROUND, x0:x1].astype(np.float64)).max(axis=1)
        over = _over_edge(dark) + _over_edge(dark[::-1])
        if 0.0 <= over < y1 - y0:
            found.append(over)
    return statistics.median(found) if found else 0.0


def _over_edge(dark: NDArray[np.float64]) -> float:
    """Pixels from where a piece of ink begins, ``AROUND`` rows behind the first, to where its rows are half as dark as the darkest."""
    half = float(dark.max()) / 2
    n = int(np.argmax(dark >= half))
    if n == 0 or dark[n] == dark[n - 1]:
        return 0.0
    return n + 0.5 - (float(dark[n]) - half) / float(dark[n] - dark[n - 1]) - AROUND


def _snapped(sizes: Sequence[float], weights: Sequence[int]) -> list[float]:
    """Sizes with those that are nearly alike made one: their weighted median, to the half point."""
    order = sorted(range(len(sizes)), key=lambda i: sizes[i])
    out = [0.0] * len(sizes)
    left = set(order)
    while left:
        # The heaviest size draws its neighbours to it first, so that groups form around what is common.
        best = max(left, key=lambda i: sum(weights[k] for k in left if abs(sizes[k] / sizes[i] - 1) < SAME_SIZE / 2))
        group = [k for k in left if abs(sizes[k] / sizes[best] - 1) < SAME_SIZE]
        members = sorted((sizes[k], weights[k] + 1) for k in group)
        half, total = 0, sum(weight for _, weight in members)
        middle = members[-1][0]
        for size, weight in members:
            half += weight
            if half >= total / 2:
                middle = size
                break
        for k in group:
            out[k] = max(round(middle * 2) / 2, 1.0)
        left -= set(group)
    return out
