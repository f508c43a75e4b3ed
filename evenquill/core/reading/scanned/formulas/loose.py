"""Which words of a page were read surely, and which ink is left to be looked at as symbols."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from evenquill.core.equations.signs import FUNCTIONS
from evenquill.core.languages import short_code
from evenquill.core.reading.scanned.segments import Segments
from evenquill.core.reading.scanned.words import ReadLine, ReadWord
from evenquill.core.word_frequencies import frequency, is_counted

SURE, SURE_IN_PROSE = 0.8, 0.75
"""Confidence of a word from which it is taken as it was read; and in a line that has words enough to be text."""

WORD = re.compile(r"[(\[\"'“‘„«]*[^\W\d_]{3,}([-'’][^\W\d_]+)*[.,;:!?)\]\"'”’»]*")
"""A word with what may stand before and behind it."""

IN_PROSE = re.compile(r"[^\W_].*[^\W_].*")
"""What a line of text may have besides words: short words, numbers, dates."""

FIGURES = re.compile(r"[(\[+\-−–]?[\d.,:%/]+[)\]%]?[.,;:]?")
"""A number, maybe with its sign or in brackets."""

CELLS, SAME_ROW, SURE_IN_ROW = 3, 0.4, 0.5
"""Words of a row of figures, at least; x-heights between the middles of lines of one row; and confidence of a figure in it, at least."""

OF_FORMULAS = re.compile(r"[=+<>^_{}\\|~*]|^[^\W\d_]{1,2}\d|\d[^\W\d_]$|(?<![^\W\d_])[^\W\d_][(\[]")
"""What no word of text has inside."""

PROSE_WORDS, PROSE_LETTERS = 3, 0.55
"""Words of a line of text, at least, and the share of its letters that are in them."""

KNOWN, KNOWN_SHORT, KNOWN_SHORT_ALONE, SHORT = 3.3, 4.8, 5.5, 3
"""How common (Zipf frequency) a word has to be that stands in no line of text, one of two letters in a line of text, and one of at most so
many letters in no line of text: letters with their scripts look like words."""

FEW_LETTERS, RARE_WORD = 6, 1.5
"""Signs of what may be letters with their scripts, at most, and how common (Zipf frequency) a word is that every reader knows."""

SPECK = 0.015
"""Area of a piece over that of a square as high as small letters, below which it is a speck of noise; dots of scripts have 0.025."""

SMALLEST = 0.3
"""Area of a piece over that of a dot of the text, below which it is dirt."""

TALLEST = 20.0
"""X-heights of a piece of a formula, at most: fences around many lines."""

DOT, REACH, REACH_DOWN, OVER, REACH_UP = 0.6, 1.3, 0.5, 0.15, 0.55
"""X-heights: the size of a piece that may be a dot; how far what belongs to a formula may be beside and below the rest of it; and how far a
dot may be beside its letter and above it."""

OPERATOR, REACH_BOUND = 2.0, 1.0
"""X-heights of a large operator, at least, and between it and its bounds, at most."""

MOST, AT_ONCE = 3000, 1000
"""Loose pieces from which a page is no page of text, and pieces that are compared with them at once."""


def sure_words(lines: Sequence[ReadLine], languages: Sequence[str], *, figures: bool = True) -> list[list[int]]:
    """The words of each line that are taken as they were read, by their places; ``languages`` are those of the page.

    Rows of ``figures`` are such words where tables are to be expected.
    """
    rows = _rows_of_figures(lines, languages) if figures else set()
    return [list(range(len(line.words))) if n in rows else _sure_words(line, languages) for n, line in enumerate(lines)]


def _rows_of_figures(lines: Sequence[ReadLine], languages: Sequence[str]) -> set[int]:
    """The lines, by their places, that are cells of rows of figures, as tables have: nothing in them needs to be looked at. Raised figures
    are none: the powers of a formula stand in a row, too."""
    cells = {
        n: line
        for n, line in enumerate(lines)
        if line.words and not line.line.raised and all(_is_cell(word, languages) for word in line.words)
    }
    out = set()
    for n, line in cells.items():
        row = [
            other
            for other in cells.values()
            if abs(other.line.middle - line.line.middle) < SAME_ROW * line.line.x_height
        ]
        if sum(len(other.words) for other in row) >= CELLS:
            out.add(n)
    return out


def _is_cell(word: ReadWord, languages: Sequence[str]) -> bool:
    if FIGURES.fullmatch(word.text):
        return word.confidence > SURE_IN_ROW
    return word.confidence > SURE and bool(WORD.fullmatch(word.text)) and _is_known(word.text, KNOWN, languages)


def _sure_words(line: ReadLine, languages: Sequence[str]) -> list[int]:
    words = [n for n, word in enumerate(line.words) if word.confidence > SURE and WORD.fullmatch(word.text)]
    letters = sum(len(line.words[n].symbols) for n in words)
    prose = len(words) >= PROSE_WORDS and letters > PROSE_LETTERS * sum(len(word.symbols) for word in line.words)
    sure = []
    for n, word in enumerate(line.words):
        in_text = prose and (n in words or _is_of_prose(word, languages))
        if in_text or (n in words and word.text[0].isalpha() and _is_alone(word.text, languages)):
            sure.append(n)
    last = len(line.words) - 1
    beside = [n for n in sure if (n > 0 and n - 1 not in sure) or (n < last and n + 1 not in sure)]
    return [n for n in sure if n not in beside or not _may_be_letters(line.words[n].text, languages)]


def _may_be_letters(text: str, languages: Sequence[str]) -> bool:
    """Whether a word is short and none of the languages: beside a formula, letters with their scripts are read as such."""
    return len(text) <= FEW_LETTERS and not _is_known(text, RARE_WORD, languages)


def _is_alone(text: str, languages: Sequence[str]) -> bool:
    """Whether a word that stands in no line of text is one: the name of a function is part of a formula there."""
    least = KNOWN if sum(c.isalpha() for c in text) > SHORT else KNOWN_SHORT_ALONE
    return text.lower() not in FUNCTIONS and _is_known(text, least, languages)


def _is_of_prose(word: ReadWord, languages: Sequence[str]) -> bool:
    """Whether a word that stands in a line of text is text and no formula, though it is short or no word."""
    sure = word.confidence > SURE_IN_PROSE and bool(IN_PROSE.fullmatch(word.text))
    if not sure or OF_FORMULAS.search(word.text):
        return False
    letters = "".join(c for c in word.text if c.isalpha())
    return len(letters) != 2 or letters != word.text.strip(".,;:()") or _is_known(letters, KNOWN_SHORT, languages)


def _is_known(text: str, least: float, languages: Sequence[str]) -> bool:
    """Whether a word is one of the languages; where their words are not counted, every one is."""
    word = "".join(c for c in text if c.isalpha() or c in "-'’")
    counted = [code for code in map(short_code, languages) if is_counted(code)]
    return not counted or any(frequency(word.lower(), code) >= least for code in counted)


def loose_pieces(segments: Segments, lines: Sequence[ReadLine], sure: Sequence[Sequence[int]]) -> list[int]:
    """The pieces of ink that are in no word that was read surely (``sure``: by their places, for each line); none where there are so many
    that the page is no page of text."""
    pieces = segments.black.pieces
    out = [int(piece) for piece in segments.black.large if pieces.heights[piece] < TALLEST * segments.x_height]
    least = SMALLEST * max(segments.stroke, 1.0) ** 2
    for line, words in zip(lines, sure, strict=True):
        spans = [(line.words[n].x0 - 1, line.words[n].x1 + 1) for n in words]
        for piece in line.line.pieces:
            middle = (pieces.boxes[piece, 0] + pieces.boxes[piece, 2]) / 2
            if pieces.areas[piece] >= least and not any(low <= middle <= high for low, high in spans):
                out.append(int(piece))
    loose = np.array(sorted(set(out)), np.int64)
    if len(loose) > MOST:
        return []
    return [*map(int, loose), *map(int, _left_over(segments, lines, loose)[:MOST])]


def every_piece(segments: Segments, lines: Sequence[ReadLine], sure: Sequence[Sequence[int]]) -> list[int]:
    """All pieces of ink of a picture that are in no word that was read surely: a letter with a dot or a script makes no line."""
    pieces = segments.black.pieces
    in_words = {
        int(piece)
        for line, words in zip(lines, sure, strict=True)
        for piece in line.line.pieces
        if any(line.words[n].x0 - 1 <= pieces.box(int(piece)).center_x <= line.words[n].x1 + 1 for n in words)
    }
    large = np.flatnonzero(pieces.areas >= SPECK * segments.x_height**2)
    return [int(piece) for piece in large if int(piece) not in in_words][:MOST]


def _left_over(segments: Segments, lines: Sequence[ReadLine], loose: NDArray[np.int64]) -> NDArray[np.int64]:
    """The pieces in no line that lie close to loose ones: bars, dots of scripts as small as dirt, bounds."""
    pieces, x_height = segments.black.pieces, segments.x_height
    free = (pieces.areas >= 2) & (pieces.heights < TALLEST * x_height)
    for line in lines:
        free[line.line.pieces] = False
    free[segments.black.large] = False
    rest = np.flatnonzero(free)
    if not len(rest) or not len(loose):
        return rest[:0]
    least = SMALLEST * max(segments.stroke, 1.0) ** 2
    others = pieces.boxes[loose].astype(np.float64)
    near = [
        _are_near(pieces.boxes[own].astype(np.float64), pieces.areas[own] >= least, others, x_height)
        for own in np.array_split(rest, len(rest) // AT_ONCE + 1)
    ]
    return np.asarray(rest[np.concatenate(near)], np.int64)


def _are_near(
    boxes: NDArray[np.float64], large: NDArray[np.bool_], others: NDArray[np.float64], x_height: float
) -> NDArray[np.bool_]:
    """Which pieces (boxes (n, 4)) lie beside one of the others (boxes (m, 4)); those that are not ``large`` (n,), right over one."""
    left, top, right, bottom = (boxes[:, None, k] for k in range(4))
    across = np.maximum(left - others[None, :, 2], others[None, :, 0] - right)
    down = np.maximum(top - others[None, :, 3], others[None, :, 1] - bottom)
    clear = others[None, :, 1] - bottom > -0.1 * x_height
    over = ((across < OVER * x_height) & clear & (down < REACH_UP * x_height)).any(axis=1)
    tall = others[None, :, 3] - others[None, :, 1] > OPERATOR * x_height
    far = np.where(tall & (across < 0), REACH_BOUND, REACH_DOWN) * x_height
    beside = ((across < REACH * x_height) & (down < far)).any(axis=1) & large
    small = np.maximum(boxes[:, 2] - boxes[:, 0], boxes[:, 3] - boxes[:, 1]) < DOT * x_height
    return np.asarray(beside | (over & small), np.bool_)
