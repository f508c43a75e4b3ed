"""Words of one letter in slanted text: there they look like quantities, which slanted letters are in upright text."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from evenquill.core.languages import short_code
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.scanned.formulas.placing import Placed
from evenquill.core.reading.scanned.formulas.symbols import card, darkness, likelihoods
from evenquill.core.reading.scanned.segments import Segments
from evenquill.core.reading.scanned.words import ReadLine
from evenquill.core.word_frequencies import frequency

COMMON = 6.2
"""How common (Zipf frequency) a letter is as a word from which it is one in text: articles, conjunctions, pronouns."""

LETTERS = 8
"""Letters of the words nearest to it by which a line is told to be slanted."""

SLANTED = 0.6
"""Mean share of slanted classes among the letters of a slanted line, at least."""


def with_words_of_slanted_text(
    symbols: Sequence[Placed],
    lines: Sequence[ReadLine],
    sure: Sequence[Sequence[int]],
    segments: Segments,
    languages: Sequence[str],
) -> list[Placed]:
    """The symbols with slanted letters that are words of slanted lines as upright letters, which stand for nothing; ``sure`` are the words
    of each line that were read surely, by their places."""
    line_of = {int(piece): n for n, line in enumerate(lines) for piece in line.line.pieces}
    slanted: dict[int, bool] = {}
    out: list[Placed] = []
    for symbol in symbols:
        place = line_of.get(symbol.seen.pieces[0]) if symbol.seen.pieces else None
        letter = symbol.is_a.text
        if place is None or symbol.is_a.form is not Letterform.ITALIC or not _is_word(letter, languages):
            out.append(symbol)
            continue
        if place not in slanted:
            slanted[place] = _is_slanted(lines[place], sure[place], symbol.seen.box.center_x, segments)
        out.append(symbol._replace(is_a=symbol.is_a._replace(form=Letterform.UPRIGHT)) if slanted[place] else symbol)
    return out


def _is_word(letter: str, languages: Sequence[str]) -> bool:
    return letter.isascii() and any(frequency(letter, short_code(code)) >= COMMON for code in languages)


def _is_slanted(line: ReadLine, sure: Sequence[int], x: float, segments: Segments) -> bool:
    """Whether the letters of the surely read words nearest to a place of a line are slanted."""
    pieces = segments.black.pieces
    inks = []
    for piece in _letters_near(line, sure, x, segments):
        x0, y0, x1, y1 = (int(value) for value in pieces.boxes[piece])
        own = pieces.mask_of(np.array([piece], np.int64), x0, y0, x1, y1)
        inks.append(darkness(segments.even[y0:y1, x0:x1], own))
    if not inks:
        return False
    italic = np.array([one.form is Letterform.ITALIC and one.text.isascii() for one in card().classes])
    return float(likelihoods(inks)[:, italic].sum(axis=1).mean()) > SLANTED


def _letters_near(line: ReadLine, sure: Sequence[int], x: float, segments: Segments) -> Iterator[int]:
    """Pieces of ink as large as letters in surely read words of a line, the nearest to a place first."""
    boxes = segments.black.pieces.boxes
    spans = [(line.words[n].x0, line.words[n].x1) for n in sure]
    found = []
    for piece in map(int, line.line.pieces):
        middle = float(boxes[piece, 0] + boxes[piece, 2]) / 2
        tall = boxes[piece, 3] - boxes[piece, 1] > 0.8 * segments.x_height
        if tall and any(low <= middle <= high for low, high in spans):
            found.append((abs(middle - x), piece))
    yield from (piece for _, piece in sorted(found)[:LETTERS])
