"""Formulas of a scanned page: found among its signs, put together, and one character in the place of each among the words."""

from __future__ import annotations

from collections.abc import Sequence, Set
from typing import NamedTuple

import numpy as np

from evenquill.core.equations.tex import tex
from evenquill.core.evidence import FoundEquation, Line, Type, Word
from evenquill.core.model import Box, Family, OtherReading
from evenquill.core.model.geometry import WHOLE_WORD
from evenquill.core.reading.formulas.equation_words import FIRST_PLACE, MOST, stands_in, with_equations
from evenquill.core.reading.formulas.finding import Formula
from evenquill.core.reading.scanned.formulas.candidates import Candidate, candidates_among, likelihood
from evenquill.core.reading.scanned.formulas.other_readings import reading_of
from evenquill.core.reading.scanned.formulas.page_signs import X_HEIGHT, PageSigns, page_signs
from evenquill.core.reading.scanned.languages import in_other_scripts
from evenquill.core.reading.scanned.segments import Segments
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol

LEAST = 0.5
"""Likelihood from which what may be a formula is taken for one."""

GLUED = 0.16
"""Ems between a formula and a word up to which no space is between them."""

SAME_LINE, BESIDE = 0.45, 1.6
"""Ems between the baselines of a formula and of the line that it stands in, and between the two, at most."""


class ScannedFormulas(NamedTuple):
    """The formulas of a page, the lines with one character in the place of each that stands in a line, and the page without their large
    pieces and their bars."""

    formulas: tuple[Formula, ...]
    equations: tuple[FoundEquation, ...]
    lines: list[ReadLine]
    segments: Segments


def with_formulas(segments: Segments, lines: list[ReadLine], languages: Sequence[str]) -> ScannedFormulas:
    """The formulas among the black ink of a page, of which ``lines`` were read in ``languages``."""
    page = page_signs(segments, lines, languages)
    found = [one for one in candidates_among(page, lines) if likelihood(one.measured) >= LEAST][:MOST]
    if set(languages) & set(in_other_scripts()):
        # Within lines letters of other scripts are taken for symbols: the recogniser of these knows none of Cyrillic, and Greek ones are.
        found = [one for one in found if one.formula.display]
    if not found:
        return ScannedFormulas((), (), lines, segments)
    unit = segments.raster.dpi / 72
    formulas = [one.formula for one in found]
    hosts = [_host(one, lines, unit) for one in formulas]
    taken = {page.letters[n] for formula in formulas for n in (*formula.signs, *formula.number_signs)}
    rest = []
    for n, line in enumerate(lines):
        spans = _spans(line, formulas, page, unit)
        left = [
            part
            for k, word in enumerate(line.words)
            for part in _parts_left(word, _letters_gone(word, (n, k), k in page.sure[n], taken, spans))
        ]
        rest.append(line._replace(words=_with_stand_ins(left, formulas, hosts, n, line, unit)))
    gone = {p for f in formulas for n in f.signs if (one := page.symbols[n]) is not None for p in one.seen.pieces}
    large = np.array([piece for piece in segments.black.large if int(piece) not in gone], np.int64)
    rules = segments.rules._replace(
        level=[rule for rule in segments.rules.level if not _is_bar_of(rule, formulas, unit)],
        upright=[rule for rule in segments.rules.upright if not _is_within(rule, formulas, unit)],
    )
    left_over = segments._replace(black=segments.black._replace(large=large), rules=rules)
    # A line of which nothing is left was a part of formulas.
    kept = [line for line, before in zip(rest, lines, strict=True) if line.words or not before.words]
    kept = [line for line in kept if line.words or not gone.issuperset(map(int, line.line.pieces))]
    return ScannedFormulas(tuple(formulas), tuple(_equation(one, page) for one in found), kept, left_over)


def _equation(one: Candidate, page: PageSigns) -> FoundEquation:
    formula = one.formula
    parts = [page.signs[n].part for n in formula.signs]
    symbols = [page.symbols[n] for n in formula.signs]
    read = reading_of(one.tree, parts, symbols, formula.bars, display=formula.display)
    others = tuple(OtherReading(WHOLE_WORD, tex(other.tree), round(other.share, 3)) for other in read.others)
    return FoundEquation(one.tree, formula.box.rounded(), formula.display, formula.number, round(read.sure, 3), others)


def _host(formula: Formula, lines: Sequence[ReadLine], unit: float) -> int | None:
    """The line that a formula stands in, by its place; None for one that has its lines for itself."""
    if formula.display:
        return None
    size = formula.size * unit
    x0, x1 = formula.box.x0 * unit, formula.box.x1 * unit
    off = {
        n: abs(line.line.baseline((x0 + x1) / 2) - formula.baseline * unit)
        for n, line in enumerate(lines)
        if line.words
        and not line.line.raised
        and not line.line.sign
        and line.line.x0 - BESIDE * size < x1
        and x0 < line.line.x1 + BESIDE * size
    }
    near = min(off, key=lambda n: off[n], default=None)
    return near if near is not None and off[near] < SAME_LINE * size else None


def _is_bar_of(rule: Box, formulas: Sequence[Formula], unit: float) -> bool:
    return any(
        abs(bar.center_y * unit - rule.center_y) < 1 and abs(bar.center_x * unit - rule.center_x) < 1
        for formula in formulas
        for bar in formula.bars
    )


def _is_within(rule: Box, formulas: Sequence[Formula], unit: float) -> bool:
    """Whether a rule is a straight part of a fence of a formula."""
    points = Box(*(float(value) / unit for value in rule))
    return any(formula.box.holds(points, 2.0) for formula in formulas)


def _letters_gone(
    word: ReadWord,
    place: tuple[int, int],
    sure: bool,
    taken: Set[tuple[int, int, int] | None],
    spans: Sequence[tuple[float, float]],
) -> list[bool]:
    """For each letter of a word whether it is part of a formula: one of a word that was read surely if it is ``taken`` for one, another
    if it lies where a formula is."""
    if sure:
        return [(*place, k) in taken for k in range(len(word.symbols))]
    return [any(low - 1 < symbol.middle < high + 1 for low, high in spans) for symbol in word.symbols]


def _parts_left(word: ReadWord, gone: Sequence[bool]) -> list[ReadWord]:
    """What is left of a word without some of its letters."""
    if not any(gone):
        return [word]
    runs: list[list[Symbol]] = [[]]
    for symbol, is_gone in zip(word.symbols, gone, strict=True):
        if is_gone:
            runs.append([])
        else:
            runs[-1].append(symbol)
    return [ReadWord(tuple(run), word.confidence) for run in runs if run]


def _with_stand_ins(
    left: Sequence[ReadWord],
    formulas: Sequence[Formula],
    hosts: Sequence[int | None],
    place: int,
    line: ReadLine,
    unit: float,
) -> tuple[ReadWord, ...]:
    """The words of a line with a character for each formula that stands in it, joined to the words that it touches."""
    own = [
        ReadWord((Symbol(chr(FIRST_PLACE + k), formula.box.x0 * unit, formula.box.x1 * unit, 1.0),), 1.0)
        for k, (formula, host) in enumerate(zip(formulas, hosts, strict=True))
        if host == place
    ]
    words: list[ReadWord] = []
    for word in sorted([*left, *own], key=lambda word: word.x0):
        before = words[-1] if words else None
        touching = before is not None and word.x0 - before.x1 < GLUED * line.line.x_height / X_HEIGHT
        if before is not None and touching and (stands_in(word.symbols[0].text) or stands_in(before.symbols[-1].text)):
            words[-1] = ReadWord((*before.symbols, *word.symbols), min(before.confidence, word.confidence))
        else:
            words.append(word)
    return tuple(words)


def _spans(line: ReadLine, formulas: Sequence[Formula], page: PageSigns, unit: float) -> list[tuple[float, float]]:
    """Where formulas and their numbers begin and end that a line runs through, in pixels."""
    middle = (line.line.y0 + line.line.y1) / 2 / unit
    return [
        (box.x0 * unit, box.x1 * unit)
        for formula in formulas
        for box in (formula.box, *(page.signs[n].part.box for n in formula.number_signs))
        if box.y0 - 0.2 * formula.size < middle < box.y1 + 0.2 * formula.size
    ]


def with_equation_words(
    lines: Sequence[Line], types: list[Type], found: ScannedFormulas
) -> tuple[list[Line], list[Type]]:
    """The lines with the formulas as words: in the lines that they stand in, or in lines of their own."""
    placed = {ord(c) - FIRST_PLACE for line in lines for word in line.words for c in word.text if stands_in(c)}
    out = list(lines)
    for n, formula in enumerate(found.formulas):
        if n in placed:
            continue
        box = found.equations[n].box
        size = round(formula.size * 2) / 2
        number = next((k for k, one in enumerate(types) if abs(one.size - size) < 0.6), len(types))
        if number == len(types):
            types = [
                *types,
                types[0]._replace(size=size, bold=False, italic=False) if types else Type("", Family.SERIF, size),
            ]
        out.append(Line(box, round(formula.baseline, 2), size, (Word(chr(FIRST_PLACE + n), box.x0, box.x1, number),)))
    out = [_in_look_of_neighbours(line) for line in out]
    return sorted(with_equations(out, found.equations), key=lambda line: (line.baseline, line.box.x0)), types


def _in_look_of_neighbours(line: Line) -> Line:
    """A line in which what stands for a formula looks like a word beside it: looks are measured on letters of text."""
    plain = [word for word in line.words if not stands_in(word.text[0])]
    if not plain or len(plain) == len(line.words):
        return line
    words = [
        word._replace(type=min(plain, key=lambda other: abs(other.x0 - word.x0)).type)
        if stands_in(word.text[0])
        else word
        for word in line.words
    ]
    return line._replace(words=tuple(words))
