"""What tells bold and slanted words on a scan: the measures of a word against those of its neighbours, its line and the page."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.fitted.trees import UNMEASURED
from evenquill.core.model import Family
from evenquill.core.reading.scanned.seen_looks import SeenLook
from evenquill.core.reading.scanned.sizes import Heights, size_of

HEAVY = 1.2
"""Stem width over the usual one from which a word counts as heavy in the measure of how many on a page are."""

MOST_VOTES = 12
"""Letters of a word that count where what is usual on a page is told."""

LOOK_FEATURES = (
    "stem", "density", "line_stem", "line_density", "stem_before", "stem_behind", "density_before", "density_behind",
    "heaviest_other", "lightest_other", "slant", "line_slant", "slant_before", "slant_behind", "most_slanted_other",
    "least_slanted_other", "slant_as_it_is", "letters", "letters_of_line", "words_of_line", "first", "capitals", "x_height", "size",
    "spread", "heavy_share", "usual_stem",
    *(
        f"{name}_{place}" for name in ("seen_bold", "seen_italic")
        for place in ("here", "line", "before", "behind", "highest", "lowest", "page")
    ),
    "seen_sans", "seen_mono",
)  # fmt: skip
"""Stems, densities and slants of a word, of its line on average and of its neighbours are those over (slants: beyond) what is usual in its
family of faces on the page; ``x_height`` is in pixels, ``size`` over the page's; ``spread`` is the width of the middle half of all
stems. What is seen is what the network of ``seen_looks.py`` says of the word, its line, its neighbours, the most and the least of the other
words of its line, and the middle of the page (log odds)."""


class WordLook(NamedTuple):
    """Measures of a word: stem width in x-heights (0 for unknown), share of the band of small letters that is ink (0 to 1), slant as a
    tangent, number of letters, and what the network says of its picture."""

    stem: float
    density: float
    slant: float
    letters: int
    seen: SeenLook = SeenLook()


class LineLook(NamedTuple):
    """Measures of a line: its words' looks, the step of letters of even advance (0 for none), its x-height in pixels, whether it is all in
    capitals, and the heights of its letters."""

    words: tuple[WordLook, ...]
    pitch: float
    x_height: float
    capitals: bool
    heights: Heights

    @property
    def size(self) -> float:
        """In points, as if its letters had serifs: what has none is told later."""
        return size_of(self.heights, Family.SERIF)


def look_features(lines: Sequence[LineLook], families: Sequence[Family]) -> list[NDArray[np.float32]]:
    """For each line the measures of its words, of shape (words, LOOK_FEATURES); ``families`` are those of the lines."""
    x_height = float(np.median([line.x_height for line in lines])) if lines else 0.0
    usual = {
        family: _Usual.of([line for line, own in zip(lines, families, strict=True) if own is family])
        for family in set(families)
    }
    return [_of_line(line, usual[family], x_height) for line, family in zip(lines, families, strict=True)]


class _Usual(NamedTuple):
    """What is usual in a family on a page."""

    stem: float
    density: float
    slant: float
    spread: float
    heavy: float
    bold: float
    italic: float

    @classmethod
    def of(cls, lines: Sequence[LineLook]) -> _Usual:
        words = [word for line in lines for word in line.words]
        votes = [min(max(word.letters, 1), MOST_VOTES) for word in words]
        stems = np.array([word.stem for word in words if word.stem and word.letters > 1])
        stem = float(np.median(stems)) if len(stems) else 0.0
        relative = stems / stem if stem else stems
        low, high = np.percentile(relative, (25, 75)) if len(relative) else (0.0, 0.0)
        return cls(
            stem,
            float(np.median([word.density for word in words])) if words else 0.0,
            float(np.median(np.repeat([word.slant for word in words], votes))) if words else 0.0,
            float(high - low),
            float((relative > HEAVY).mean()) if len(relative) else 0.0,
            *(
                float(np.median(np.repeat([own(word) for word in words], votes))) if words else 0.0
                for own in (_bold, _italic)
            ),
        )


def _of_line(line: LineLook, usual: _Usual, x_height: float) -> NDArray[np.float32]:
    words = line.words
    letters = np.array([max(word.letters, 1) for word in words], np.float64)
    stems = np.array([word.stem / usual.stem if word.stem and usual.stem else np.nan for word in words])
    densities = np.array([word.density / usual.density if usual.density else np.nan for word in words])
    slants = np.array([word.slant - usual.slant for word in words])
    own = (_mean(stems, letters), _mean(densities, letters), _mean(slants, letters))
    bolds, italics = (np.array([seen(word) for word in words], np.float64) for seen in (_bold, _italic))
    seen = [(bolds, _mean(bolds, letters), usual.bold), (italics, _mean(italics, letters), usual.italic)]
    rows = [
        (
            stems[n], densities[n], own[0], own[1], *_beside(stems, n), *_beside(densities, n), *_others(stems, n),
            slants[n], own[2], *_beside(slants, n), *_others(slants, n), word.slant, word.letters, letters.sum(), len(words), n == 0,
            line.capitals, line.x_height, line.x_height / x_height, usual.spread, usual.heavy, usual.stem,
            *(
                value
                for values, mean, page in seen
                for value in (values[n], mean, *_beside(values, n), *_others(values, n), page)
            ),
            word.seen.sans, word.seen.mono,
        )
        for n, word in enumerate(words)
    ]  # fmt: skip
    return np.nan_to_num(np.array(rows, np.float32).reshape(len(words), len(LOOK_FEATURES)), nan=UNMEASURED)


def _bold(word: WordLook) -> float:
    return word.seen.bold


def _italic(word: WordLook) -> float:
    return word.seen.italic


def _mean(values: NDArray[np.float64], weights: NDArray[np.float64]) -> float:
    known = ~np.isnan(values)
    return float(np.average(values[known], weights=weights[known])) if known.any() else np.nan


def _beside(values: NDArray[np.float64], n: int) -> tuple[float, float]:
    """The values before and behind a place."""
    return (values[n - 1] if n else np.nan, values[n + 1] if n + 1 < len(values) else np.nan)


def _others(values: NDArray[np.float64], n: int) -> tuple[float, float]:
    """The highest and the lowest of the values at other places."""
    others = np.delete(values, n)
    known = others[~np.isnan(others)]
    return (float(known.max()), float(known.min())) if len(known) else (np.nan, np.nan)
