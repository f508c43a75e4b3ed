"""Heights of letters and signs, and what they tell: a capital that has the shape of its small letter is known by its height alone,
a sign of two parts by having two."""

from __future__ import annotations

import itertools
import statistics
from bisect import bisect_left, bisect_right
from collections import Counter

import numpy as np
from numpy.typing import NDArray

from evenquill.core.reading.scanned.ink import Pieces
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol

SMALL_LETTERS = frozenset("acemnorsuvwxzавгежзиклмнопстхчшъыьэюяαεικμνοπστυω")
TALL_LETTERS = frozenset("ABCDEFGHIKLMNPRSTUVWXYZbdfhkl0123456789АБВГЕЖЗИКЛМНОПРСТУФХЧШЪЫЬЭЮЯΑΒΓΔΕΖΗΘΙΚΛΜΝΞΟΠΡΣΤΥΦΧΨΩ")
"""Latin, Cyrillic and Greek letters that are as high as small letters are, and as capitals are."""

MUCH_WIDER = 1.6
"""Width of a piece over that of the letter on it from which it is several letters that touch."""

ALONE = 1.15
"""The same, up to which a letter surely stands alone."""

ONE_SHAPE = frozenset("cosvwxzCOSVWXZ")
"""Letters whose capital is the small one made larger."""

HANGING, LYING = frozenset("’‘'`”“\"*"), frozenset(".,")
SIGNS = HANGING | LYING
LOW_TOP, HIGH_FOOT, TAIL = 0.5, 0.6, 0.14
"""X-heights above the baseline below which the top of no hanging sign is, above which the foot of no stop or comma is; and below the
baseline to which the tail of a comma reaches, and no stop."""

DOUBLE_HANGING, STACKED, LEVEL = frozenset('”“"'), frozenset(":;"), frozenset("-–—=~")
FLAT, SHORTEST_DASH = 1.3, 0.4
"""Width of a dash over its height, and over the x-height, at least."""

BAR, BAR_FOOT, BAR_TOP = "|", 0.15, (1.15, 1.8)
"""What an upright stroke may be read as; X-heights from the baseline to its foot, at most, and to its top, where it is a letter: bars reach
below the line."""

SMALL_SIGN = 0.5
"""X-heights up to which a piece of ink is a dot or dirt, and no letter."""

APART = 0.12
"""X-heights beside a letter from which a dot or speck is no part of it."""

CLEARLY_TALLER = 1.15
"""Height of capitals over that of small letters from which the two can be told apart."""

AS_TALL, AS_LOW = 0.9, 0.8
"""Height over that of the line's capitals from which a letter is one, and below which it is none."""

TALLER, LOWER = 1.24, 1.12
"""Height over that of the line's small letters from which a letter is a capital, and below which it is none."""


class InkUnder:
    """Finds the one piece of a line that lies under the middle of a character; None where there are none or several."""

    def __init__(self, members: NDArray[np.int64], pieces: Pieces) -> None:
        order = members[np.argsort(pieces.boxes[members, 0], kind="stable")]
        self._pieces: list[int] = order.tolist()
        self._lefts: list[int] = pieces.boxes[order, 0].tolist()
        self._rights: list[int] = pieces.boxes[order, 2].tolist()
        self._widest = max((b - a for a, b in zip(self._lefts, self._rights, strict=True)), default=0)

    def __call__(self, symbol: Symbol) -> int | None:
        middle = symbol.middle
        near = range(bisect_left(self._lefts, middle - self._widest), bisect_right(self._lefts, middle))
        own = [k for k in near if self._rights[k] >= middle]
        return self._pieces[own[0]] if len(own) == 1 else None

    def within(self, symbol: Symbol) -> list[int]:
        """The pieces whose middles lie between the ends of a character, from the left."""
        near = range(bisect_left(self._lefts, symbol.x0 - self._widest), bisect_right(self._lefts, symbol.x1))
        return [self._pieces[k] for k in near if symbol.x0 <= (self._lefts[k] + self._rights[k]) / 2 <= symbol.x1]


def letter_heights(line: ReadLine, pieces: Pieces) -> tuple[list[float], list[float]]:
    """Heights above the baseline of the line's small letters and of its tall ones, in pixels."""
    known = heights_of_characters(line, pieces)
    return [height for text, height in known if text in SMALL_LETTERS], [
        height for text, height in known if text in TALL_LETTERS
    ]


def heights_of_characters(line: ReadLine, pieces: Pieces) -> list[tuple[str, float]]:
    """The letters and figures of a line that tell their height, with that above the baseline in pixels. Those that touch others are as high
    as these, and tell none."""
    under = InkUnder(line.line.pieces, pieces)
    placed = [(symbol, under(symbol)) for word in line.words for symbol in word.symbols]
    times = Counter(own for _, own in placed)
    return [
        (symbol.text, line.line.baseline(symbol.middle) - float(pieces.boxes[own, 1]))
        for symbol, own in placed
        if symbol.text in SMALL_LETTERS or symbol.text in TALL_LETTERS
        if own is not None and times[own] == 1 and pieces.width(own) <= MUCH_WIDER * max(symbol.x1 - symbol.x0, 1)
    ]


def with_seen_heights(line: ReadLine, pieces: Pieces) -> ReadLine:
    """The line with what heights say put right: letters of one shape are capital or small, a dot on the baseline is no quotation
    mark, and one at the top no stop, and a stroke as tall as a letter no bar."""
    told = ONE_SHAPE | SIGNS | {BAR}
    if not any(symbol.text in told for word in line.words for symbol in word.symbols):
        return line
    telling = [
        word._replace(symbols=tuple(symbol for symbol in word.symbols if symbol.text not in ONE_SHAPE))
        for word in line.words
    ]
    bounds = _bounds(*letter_heights(line._replace(words=tuple(telling)), pieces))
    under = InkUnder(line.line.pieces, pieces)
    words = []
    for word in line.words:
        symbols: list[Symbol] = []
        for symbol in word.symbols:
            own = under(symbol)
            alone = own is not None and pieces.width(own) <= ALONE * (symbol.x1 - symbol.x0)
            if own is not None and alone and symbol.text in SIGNS:
                symbol = _sign_by_height(symbol, line, pieces.boxes[own])
            elif own is not None and alone and symbol.text == BAR:
                symbol = _stroke_by_height(symbol, line, pieces.boxes[own], within=bool(symbols))
            elif own is not None and alone and bounds and symbol.text in ONE_SHAPE:
                height = line.line.baseline(symbol.middle) - float(pieces.boxes[own, 1])
                symbol = _cased(symbol, height, bounds, symbols[-1].text if symbols else "")
            symbols.append(symbol)
        words.append(word._replace(symbols=tuple(symbols)))
    return line._replace(words=tuple(words))


def with_seen_signs(line: ReadLine, pieces: Pieces) -> ReadLine:
    """The line with signs at the ends of words as their ink has them, and dashes within: dirt beside a stop makes no quotation mark, a
    dot alone no colon and no dash."""
    if not any(
        word.symbols[-1].text in DOUBLE_HANGING | STACKED or any(symbol.text in LEVEL for symbol in word.symbols)
        for word in line.words
    ):
        return line
    under = InkUnder(line.line.pieces, pieces)
    words: list[ReadWord] = []
    for word in itertools.chain.from_iterable(_parted_at_dirt(word, under, pieces, line) for word in line.words):
        last = word.symbols[-1]
        sign = _sign_as_seen(last, line, [pieces.boxes[own] for own in under.within(last)])
        symbols = word.symbols if sign == last.text else word.symbols[:-1]
        if sign and sign != last.text:
            symbols = (*symbols, last._replace(text=sign))
        if symbols:
            words.append(word._replace(symbols=symbols))
    return line._replace(words=tuple(words))


def with_ends_at_letters(line: ReadLine, pieces: Pieces) -> ReadLine:
    """The line with its ends where its letters end: dirt beside a letter is taken for a part of it by the recogniser."""
    if not line.words:
        return line
    words = list(line.words)
    under = InkUnder(line.line.pieces, pieces)
    first, last = words[0].symbols[0], words[-1].symbols[-1]
    ends = _ends_of_letter(first, under, pieces, line)
    if ends:
        words[0] = words[0]._replace(symbols=(first._replace(x0=max(ends[0], first.x0)), *words[0].symbols[1:]))
    ends = _ends_of_letter(last, under, pieces, line)
    if ends:
        last = words[-1].symbols[-1]
        words[-1] = words[-1]._replace(symbols=(*words[-1].symbols[:-1], last._replace(x1=min(ends[1], last.x1))))
    return line._replace(words=tuple(words))


def _ends_of_letter(symbol: Symbol, under: InkUnder, pieces: Pieces, line: ReadLine) -> tuple[float, float] | None:
    """From where to where the ink of a letter or figure goes, what is too small and too far off for a part of it left out; None where
    it is no letter, or its ink not its own."""
    if not symbol.text.isalnum():
        return None
    boxes = [pieces.boxes[own] for own in under.within(symbol)]
    large = [box for box in boxes if max(box[2] - box[0], box[3] - box[1]) > SMALL_SIGN * line.line.x_height]
    if not large:
        return None
    start, end = min(int(box[0]) for box in large), max(int(box[2]) for box in large)
    near = APART * line.line.x_height
    parts = [box for box in boxes if start - near < box[2] and box[0] < end + near]
    return float(min(box[0] for box in parts)), float(max(box[2] for box in parts))


def _parted_at_dirt(word: ReadWord, under: InkUnder, pieces: Pieces, line: ReadLine) -> list[ReadWord]:
    """The words that a dot was taken for a dash between."""
    parts: list[list[Symbol]] = [[]]
    for n, symbol in enumerate(word.symbols):
        within = 0 < n < len(word.symbols) - 1
        if within and symbol.text in LEVEL and _is_dot([pieces.boxes[own] for own in under.within(symbol)], line):
            parts.append([])
        else:
            parts[-1].append(symbol)
    return [word._replace(symbols=tuple(part)) for part in parts if part]


def _is_dot(boxes: list[NDArray[np.int32]], line: ReadLine) -> bool:
    """Whether ink is a single small piece, as high as it is wide, or too narrow for a dash."""
    if len(boxes) != 1:
        return False
    width, height = boxes[0][2] - boxes[0][0], boxes[0][3] - boxes[0][1]
    size = line.line.x_height
    return bool(max(width, height) < SMALL_SIGN * size and (width < FLAT * height or width < SHORTEST_DASH * size))


def _sign_as_seen(symbol: Symbol, line: ReadLine, boxes: list[NDArray[np.int32]]) -> str:
    """What the last sign of a word is by its ink; nothing where that is dirt."""
    size = line.line.x_height
    if not boxes or any(max(box[2] - box[0], box[3] - box[1]) > SMALL_SIGN * size for box in boxes):
        return symbol.text
    base = line.line.baseline(symbol.middle)
    lying = [box for box in boxes if base - float(box[1]) < LOW_TOP * size]
    if symbol.text in DOUBLE_HANGING and lying:
        return "," if base - float(lying[0][3]) < -TAIL * size else "."
    if symbol.text in STACKED and len(boxes) == 1:
        return "." if lying and abs(base - float(lying[0][3])) < TAIL * size else ""
    if symbol.text in LEVEL and _is_dot(boxes, line):
        return ""
    return symbol.text


def _cased(symbol: Symbol, height: float, bounds: tuple[float, float], before: str) -> Symbol:
    lower, upper = bounds
    if height >= upper and not before.islower():
        return symbol._replace(text=symbol.text.upper())
    return symbol._replace(text=symbol.text.lower()) if height <= lower else symbol


def _sign_by_height(symbol: Symbol, line: ReadLine, box: NDArray[np.int32]) -> Symbol:
    """A stop or comma where a small piece lies on the baseline, an apostrophe where it hangs at the top."""
    size = line.line.x_height
    base = line.line.baseline(symbol.middle)
    top, bottom = (base - float(box[1])) / size, (base - float(box[3])) / size
    if symbol.text in HANGING and top < LOW_TOP:
        return symbol._replace(text="," if bottom < -TAIL else ".")
    return symbol._replace(text="’") if symbol.text in LYING and bottom > HIGH_FOOT else symbol


def _stroke_by_height(symbol: Symbol, line: ReadLine, box: NDArray[np.int32], *, within: bool) -> Symbol:
    """The capital, or within a word the small letter, that an upright stroke on the baseline is; a bar stays one."""
    size = line.line.x_height
    base = line.line.baseline(symbol.middle)
    top, foot = (base - float(box[1])) / size, (base - float(box[3])) / size
    if abs(foot) > BAR_FOOT or not BAR_TOP[0] < top < BAR_TOP[1]:
        return symbol
    return symbol._replace(text="l" if within else "I")


def _bounds(small: list[float], tall: list[float]) -> tuple[float, float] | None:
    """Heights up to which a letter is small and from which it is a capital; None where the line does not tell."""
    low, high = (statistics.median(heights) if heights else 0.0 for heights in (small, tall))
    if low and high:
        middle = (low + high) / 2
        return (middle, middle) if high > CLEARLY_TALLER * low else None
    if high:
        return AS_LOW * high, AS_TALL * high
    return (LOWER * low, TALLER * low) if low else None
