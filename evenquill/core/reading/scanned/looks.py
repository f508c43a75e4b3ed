"""Type measured from a picture: weight, slant, family, and how all this is smoothed over the page; sizes see ``sizes``.

Weight and slant are decided by fitted models from the runs of ink across stems, how dark words are, second moments of letters, and what a
network sees, all against what is usual on the page; what it sees tells the family too, with even advances for typewriters.
"""

from __future__ import annotations

import math
import statistics
from collections import Counter, defaultdict
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from evenquill.core.evidence import Type
from evenquill.core.fitted.trees import trees_of
from evenquill.core.model import Family
from evenquill.core.reading.scanned.heights import InkUnder
from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.look_features import LineLook, WordLook, look_features
from evenquill.core.reading.scanned.raster import WHITE, Pixels
from evenquill.core.reading.scanned.seen_looks import SeenLook, seen_looks_of
from evenquill.core.reading.scanned.sizes import SAME_SIZE, heights_of, sizes_of
from evenquill.core.reading.scanned.spacing import has_pitch, pitch_of
from evenquill.core.reading.scanned.words import ReadLine, ReadWord
from evenquill.core.reading.stems import middle_mean, runs_of_ink

SYMMETRICAL = frozenset("lioxvwnumIHMNOTUVWAX08")
FEWEST_ALIKE = 5
"""Letters of one kind on the page from which their usual slant is told."""

FEWEST_STEMS = 4
NEARLY_ALL = 0.75
"""Share of a line's letters of one look from which the rest is taken to have it too."""

TYPEWRITTEN = 0.5
"""Share of the page's characters in lines of even advance from which the page counts as typewritten."""

WITHOUT_SERIFS, LIKE_TYPED = -2.75, -2.0
"""Log odds of the network from which the face of a page has no serifs, and that of a line of even advance is a typewriter's. On 309 pages
of the corpus those without serifs have -1.6 and more, those with serifs -4.1 and less."""

NEXT_LINE, SHORT_LINE, LONG_TYPED = 4.0, 8, 16
"""X-heights to a line beside; characters of a line that tells nothing by itself, and of one
in capitals whose even advance is none by chance."""

DEFAULT_FONTS = {Family.SERIF: "Liberation Serif", Family.SANS: "Liberation Sans", Family.MONO: "Liberation Mono"}


def measured(lines: Sequence[ReadLine], pieces: Pieces, even: Pixels, dpi: float, spread: float) -> list[LineLook]:
    """Looks of all lines, as they are seen; ``spread`` is that of their ink (``sizes.spread_of_ink``)."""
    slants = _letter_slants(lines, pieces)
    seen = iter(seen_looks_of(even, [(line.line, word.x0, word.x1) for line in lines for word in line.words]))
    return [_line_look(line, pieces, even, dpi, slants, spread, [next(seen) for _ in line.words]) for line in lines]


def types_of(
    lines: Sequence[ReadLine], looks: Sequence[LineLook], families: Sequence[Family], dpi: float
) -> list[list[Type]]:
    """A type for each word of each line, smoothed over the page."""
    heights = [look.heights for look in looks]
    letters = [sum(len(word.symbols) for word in line.words) for line in lines]
    sizes = sizes_of(heights, _pitches(lines, looks, families), families, letters, dpi)
    rows = look_features(looks, families)
    out = []
    for line, size, family, bold, italic in zip(
        lines, sizes, families, _decided("bolds", rows, looks), _decided("italics", rows, looks), strict=True
    ):
        fonts = [Type(DEFAULT_FONTS[family], family, size, *own) for own in zip(bold, italic, strict=True)]
        out.append(fonts[: len(line.words)])
    return out


def _pitches(lines: Sequence[ReadLine], looks: Sequence[LineLook], families: Sequence[Family]) -> list[float]:
    """The step of the letters of each line, 0 for none; lines too short to tell have that of the page's typewriting where it fits them."""
    typed = [look.pitch for look, family in zip(looks, families, strict=True) if family is Family.MONO and look.pitch]
    usual = statistics.median(typed) if typed else 0.0
    return [
        look.pitch or (usual if usual and has_pitch(line, usual) else 0.0)
        for line, look in zip(lines, looks, strict=True)
    ]


def _decided(model: str, rows: Sequence[NDArray[np.float32]], looks: Sequence[LineLook]) -> list[list[bool]]:
    """What a model says of each word of each line from its measures; words without letters follow their neighbours."""
    likely = trees_of(model).log_probabilities(np.concatenate(rows))[:, 1] > math.log(0.5)
    out = []
    for own, look in zip(np.split(likely, np.cumsum([len(row) for row in rows])[:-1]), looks, strict=True):
        letters = [word.letters for word in look.words]
        out.append(_smooth([bool(one) if n else None for one, n in zip(own, letters, strict=True)], letters))
    return out


def families_of(lines: Sequence[ReadLine], looks: Sequence[LineLook]) -> list[Family]:
    """The family of each line's face: the page's, by what the network sees in its words, or that of a typewriter where the line has its
    even advance and looks like it, as code on a printed page has."""
    letters = [sum(len(word.symbols) for word in line.words) for line in lines]
    even_advance = sum(n for n, look in zip(letters, looks, strict=True) if look.pitch)
    tellable = sum(n for n, line in zip(letters, lines, strict=True) if n >= 12)
    page = _seen([word for look in looks for word in look.words])
    if page.mono > 0 or (tellable and even_advance > TYPEWRITTEN * tellable and page.mono > LIKE_TYPED):
        return [Family.MONO] * len(lines)
    usual = Family.SANS if page.sans > WITHOUT_SERIFS else Family.SERIF
    # A short title in capitals has an even advance by chance.
    typed = [
        (line, look.pitch)
        for line, look, n in zip(lines, looks, letters, strict=True)
        if look.pitch and (n >= LONG_TYPED or not line.text.isupper()) and _seen(look.words).mono > LIKE_TYPED
    ]
    sure = {id(line) for line, _ in typed}
    return [Family.MONO if id(line) in sure or _is_typed_beside(line, typed) else usual for line in lines]


def _seen(words: Sequence[WordLook]) -> SeenLook:
    """What the network says of words together: the mean over their letters."""
    letters = sum(word.letters for word in words)
    if not letters:
        return SeenLook(sans=-math.inf, mono=-math.inf)
    return SeenLook(*(sum(w.seen[n] * w.letters for w in words) / letters for n in range(len(SeenLook._fields))))


def _is_typed_beside(line: ReadLine, typed: Sequence[tuple[ReadLine, float]]) -> bool:
    """Whether a line too short to tell stands close to one of even advance and has that advance as far as it goes, or is a word or two
    between two such lines."""
    here, size = line.line, line.line.x_height
    near = [(other.line, pitch) for other, pitch in typed if abs(other.line.middle - here.middle) < NEXT_LINE * size]
    if any(abs(other.x_height / size - 1) < 2 * SAME_SIZE and has_pitch(line, pitch) for other, pitch in near):
        return True
    beside = [other.middle - here.middle for other, _ in near]
    short = sum(len(word.symbols) for word in line.words) <= SHORT_LINE
    return short and min(beside, default=0.0) < 0.0 < max(beside, default=0.0)


def _letter_slants(lines: Sequence[ReadLine], pieces: Pieces) -> dict[int, float]:
    """By symbol (id): slant beyond what is usual for the letter.

    An upright b leans one way by its shape and d the other: each letter is compared with its like on the page, or taken as it
    is if it is symmetrical.
    """
    slants = _slants(pieces)
    found: list[tuple[int, str, float]] = []
    for line in lines:
        size = line.line.x_height
        under = InkUnder(line.line.pieces[pieces.heights[line.line.pieces] > 0.7 * size], pieces)
        for word in line.words:
            for symbol in word.symbols:
                own = under(symbol)
                if own is None or not symbol.text.isalnum():
                    continue
                if pieces.width(own) > 1.5 * max(symbol.x1 - symbol.x0, 0.4 * size):
                    continue  # touches its neighbours
                found.append((id(symbol), symbol.text, float(slants[own])))
    by_letter: dict[str, list[float]] = defaultdict(list)
    for _, text, slant in found:
        by_letter[text].append(slant)
    usual = {text: statistics.median(values) for text, values in by_letter.items() if len(values) >= FEWEST_ALIKE}
    return {key: slant - usual.get(text, 0.0) for key, text, slant in found if text in usual or text in SYMMETRICAL}


def _slants(pieces: Pieces) -> NDArray[np.float64]:
    """For each piece the slant of its ink (tangent, positive to the right), from its second moments."""
    rows, columns = np.nonzero(pieces.labels)
    label = pieces.labels[rows, columns]
    count = np.bincount(label, minlength=len(pieces.areas) + 1).astype(np.float64)
    count[count == 0] = 1
    mean_x = np.bincount(label, columns, len(count)) / count
    mean_y = np.bincount(label, rows, len(count)) / count
    dx, dy = columns - mean_x[label], mean_y[label] - rows
    crossed = np.bincount(label, dx * dy, len(count))
    upright = np.bincount(label, dy * dy, len(count))
    slants: NDArray[np.float64] = (crossed / np.maximum(upright, 1e-9))[1:]
    return slants


def _line_look(
    line: ReadLine,
    pieces: Pieces,
    even: Pixels,
    dpi: float,
    slants: dict[int, float],
    spread: float,
    seen: Sequence[SeenLook],
) -> LineLook:
    places, widths = _stems(line, even)
    looks = []
    for word, own in zip(line.words, seen, strict=True):
        known = [slants[id(symbol)] for symbol in word.symbols if id(symbol) in slants]
        slant = statistics.median(known) if len(known) >= 2 else 0.0
        stems = widths[(places >= word.x0) & (places <= word.x1)].tolist()
        stem = middle_mean(stems) / line.line.x_height if len(stems) >= FEWEST_STEMS else 0.0
        letters = sum(symbol.text.isalnum() for symbol in word.symbols)
        looks.append(WordLook(stem, _density(line, word, even), slant, letters, own))
    heights = heights_of(line, pieces, dpi, spread)
    return LineLook(tuple(looks), pitch_of(line), line.line.x_height, line.text.isupper(), heights)


def _density(line: ReadLine, word: ReadWord, even: Pixels) -> float:
    """How dark a word is in the band of its small letters, from 0 to 1."""
    here = line.line
    band = even[
        max(int(here.middle - here.x_height), 0) : int(here.middle) + 1, max(int(word.x0), 0) : int(word.x1) + 1
    ]
    return 1.0 - float(band.mean()) / WHITE if band.size else 0.0


def _stems(line: ReadLine, even: Pixels) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Runs of ink across the middle of the x-height: their middles on the page and their widths, in pixels."""
    height, width = even.shape
    here = line.line
    y0 = int(max(here.middle - 0.8 * here.x_height, 0))
    y1 = int(min(here.middle - 0.2 * here.x_height, height)) + 1
    x0, x1 = max(here.x0 - 2, 0), min(here.x1 + 2, width)
    places, widths = runs_of_ink(even[y0:y1, x0:x1], here.x_height)
    return x0 + places, widths


def _smooth(values: Sequence[bool | None], letters: Sequence[int]) -> list[bool]:
    """Words that do not tell follow their neighbours, and a short word alone does not stand against both sides."""
    known = list(values)
    votes = Counter[bool]()
    for value, n in zip(values, letters, strict=True):
        if value is not None:
            votes[value] += n
    usual = votes[True] > votes[False]
    # A line that is nearly all of one kind is wholly so.
    total = votes[True] + votes[False]
    if (
        total
        and votes[usual] >= NEARLY_ALL * total
        and len(values) > 2
        and not any(value is (not usual) and n >= 6 for value, n in zip(values, letters, strict=True))
    ):
        return [usual] * len(values)
    for i, value in enumerate(known):
        if value is None:
            before = next((known[k] for k in range(i - 1, -1, -1) if known[k] is not None), None)
            after = next((values[k] for k in range(i + 1, len(values)) if values[k] is not None), None)
            known[i] = before if before == after or after is None else (usual if before is None else before and after)
    return [usual if value is None else bool(value) for value in known]
