"""The signs of a scanned page: letters of words that were read surely, and symbols recognised in all other ink."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np

from evenquill.core.model import Box
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.formulas.parts import SMALLER, Part
from evenquill.core.reading.formulas.segments import Sign
from evenquill.core.reading.scanned.formulas.bars import at_gaps, parted_bars
from evenquill.core.reading.scanned.formulas.dots_over import is_dirt, with_dots_over
from evenquill.core.reading.scanned.formulas.fences_at_rules import fences_at_rules
from evenquill.core.reading.scanned.formulas.grouping import symbols_among
from evenquill.core.reading.scanned.formulas.loose import PROSE_WORDS, every_piece, loose_pieces, sure_words
from evenquill.core.reading.scanned.formulas.names import with_names
from evenquill.core.reading.scanned.formulas.placing import Placed, em_of_formulas, placed
from evenquill.core.reading.scanned.formulas.slanted_text import with_words_of_slanted_text
from evenquill.core.reading.scanned.formulas.symbols import NOTHING, TEXT_FORMS, is_mathematical
from evenquill.core.reading.scanned.segments import Segments
from evenquill.core.reading.scanned.words import ReadLine

X_HEIGHT = 0.45
"""X-height in ems, as a mean of typefaces."""

ASCENDING, DESCENDING = frozenset("bdfhklt0123456789"), frozenset("gjpqy")
"""Letters and figures as tall as capitals, and letters that reach below the baseline."""

CLEAR = 0.6
"""Likelihood from which a sign that only mathematics has makes a formula by itself."""

BEARING = 0.04
"""Ems between the ink of a letter and where the pen begins and ends."""


class PageSigns(NamedTuple):
    """The signs in the order of the page's lines; ``symbols`` has for each the symbol that was recognised, None for letters of words,
    and ``letters`` the line, the word and the letter (by their places), None for symbols. ``bars`` in points. ``sure`` are the words of
    each line that were taken as they were read, by their places."""

    signs: list[Sign]
    symbols: list[Placed | None]
    letters: list[tuple[int, int, int] | None]
    bars: list[Box]
    sure: list[list[int]]


class _Entry(NamedTuple):
    """A sign with the line that it is in (by its place) and what it comes from: a symbol, or a letter of a word."""

    line: int
    sign: Sign
    symbol: Placed | None
    letter: tuple[int, int, int] | None


def page_signs(
    segments: Segments, lines: Sequence[ReadLine], languages: Sequence[str], *, whole: bool = False
) -> PageSigns:
    """The signs of a page's black ink, of which ``lines`` were read in ``languages``; coordinates are points.

    There are no symbols where nothing is mathematical, unless the picture is known to be the ``whole`` of a formula.
    """
    unit = segments.raster.dpi / 72
    if not segments.x_height:
        return PageSigns([], [], [], [], [[] for _ in lines])
    em = segments.x_height / X_HEIGHT
    sure = sure_words(lines, languages, figures=not whole)
    loose = every_piece(segments, lines, sure) if whole else loose_pieces(segments, lines, sure)
    fences = fences_at_rules(segments, loose)
    found = symbols_among(segments.black.pieces, fences.rest, segments.even, segments.x_height, whole=whole)
    em = em_of_formulas(found.symbols, em)
    read = with_dots_over(with_names(placed([*found.symbols, *fences.fences], em)), em)
    read = with_words_of_slanted_text(read, lines, sure, segments, languages)
    symbols, bars = parted_bars(read, em)
    bars += [*found.bars, *(part for rule in segments.rules.level for part in at_gaps(rule, segments.ink))]
    entries: list[_Entry] = []
    for n, line in enumerate(lines):
        text = len(sure[n]) >= PROSE_WORDS
        for word in sure[n]:
            size, baseline = (None, None) if text else _size_and_baseline(line, word, segments, em)
            entries += [_Entry(n, sign, None, (n, word, k)) for k, sign in _letters(line, word, unit, size, baseline)]
    line_of = {int(piece): n for n, line in enumerate(lines) for piece in line.line.pieces}
    for symbol in symbols:
        if symbol.is_a.text != NOTHING and not is_dirt(symbol, symbols, em, segments.stroke):
            sign = _sign(symbol, unit)
            owner = line_of.get(symbol.seen.pieces[0], len(lines)) if symbol.seen.pieces else len(lines)
            entries.append(_Entry(owner, sign, symbol, None))
    entries.sort(key=lambda entry: (entry.line, entry.sign.x0))
    return PageSigns(
        [entry.sign for entry in entries],
        [entry.symbol for entry in entries],
        [entry.letter for entry in entries],
        [_points(bar, unit) for bar in bars],
        sure,
    )


def _points(box: Box, unit: float) -> Box:
    """A box of pixels in points; as plain numbers, since numpy's comparisons are no booleans of Python's."""
    return Box(*(float(value) / unit for value in box))


def _size_and_baseline(line: ReadLine, place: int, segments: Segments, em: float) -> tuple[float, float]:
    """Size and baseline of a word by its own ink, in pixels: a short line tells too little of both."""
    word = line.words[place]
    boxes = segments.black.pieces.boxes[line.line.pieces].astype(np.float64)
    middle = (boxes[:, 0] + boxes[:, 2]) / 2
    own = boxes[(middle > word.x0 - 1) & (middle < word.x1 + 1) & (boxes[:, 3] - boxes[:, 1] > 0.6 * segments.x_height)]
    if not len(own):
        return em, line.line.baseline((word.x0 + word.x1) / 2)
    height = float(np.median(own[:, 3] - own[:, 1]))
    low = sum(letter in DESCENDING for letter in word.text)
    bottoms = np.sort(own[:, 3])
    size = em if height > SMALLER * X_HEIGHT * em else SMALLER * em
    return size, float(np.median(bottoms[: max(len(own) - low, 1)]))


def _letters(
    line: ReadLine, place: int, unit: float, size: float | None, baseline: float | None
) -> Iterator[tuple[int, Sign]]:
    """The letters of a word as signs, each with its place in the word; size and baseline are those of its line where none are given."""
    size = size or line.line.x_height / X_HEIGHT
    for n, symbol in enumerate(line.words[place].symbols):
        base = baseline if baseline is not None else line.line.baseline(symbol.middle)
        top = base - (0.7 if symbol.text.isupper() or symbol.text in ASCENDING else X_HEIGHT) * size
        bottom = base + (0.2 * size if symbol.text in DESCENDING or symbol.text in ",;" else 0.0)
        box = Box(symbol.x0 / unit, top / unit, symbol.x1 / unit, bottom / unit)
        part = Part(box, base / unit, size / unit, symbol.text, Letterform.UPRIGHT, words=True)
        yield n, Sign(part, False, box.x0, box.x1)


def _sign(symbol: Placed, unit: float) -> Sign:
    box = _points(symbol.seen.box, unit)
    text, form = symbol.is_a.text, symbol.is_a.form
    of_text = text.isascii() and text.isalnum() and form in TEXT_FORMS
    size = symbol.size / unit
    part = Part(box, symbol.baseline / unit, size, text, form, words=of_text or text in ",.;:!?()[]-")
    pen = BEARING * size
    mathematical = is_mathematical(symbol.is_a) and symbol.likelihood > CLEAR
    return Sign(part, mathematical, box.x0 - pen, box.x1 + pen)
