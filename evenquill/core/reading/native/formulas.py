"""Formulas of a page: where they are, what they are, and one character in the place of each.

What makes a formula are its symbols: letters in typefaces for mathematics, signs that only mathematics has. From there it grows over what
can only be part of it. A formula that shares its line with text is one within the line; one that has its lines for itself is displayed.
"""

from __future__ import annotations

import ctypes
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
import pypdfium2.raw as pdfium_c

from evenquill.core.equations.signs import plain_letter
from evenquill.core.evidence import FoundEquation
from evenquill.core.model import Box, Family
from evenquill.core.model.equation import problem_of
from evenquill.core.reading.formulas.equation_words import FIRST_PLACE, MOST
from evenquill.core.reading.formulas.finding import Formula, formulas_among
from evenquill.core.reading.formulas.parts import Part
from evenquill.core.reading.formulas.quantities import with_quantities
from evenquill.core.reading.formulas.segments import Sign
from evenquill.core.reading.formulas.structure import tree_of
from evenquill.core.reading.native.characters import Characters, TextRun
from evenquill.core.reading.native.frame import Frame
from evenquill.core.reading.native.math_faces import Face, Symbol, face_of, symbol_of
from evenquill.core.reading.native.typefaces import NAMELESS

GREEK_TEXT = 0.05
"""Share of letters from which Greek ones are text and not quantities."""


class WithFormulas(NamedTuple):
    """The characters of a page with one in the place of each formula, the formulas in that order, and the bars that are parts of them."""

    characters: Characters
    equations: tuple[FoundEquation, ...]
    bars: tuple[Box, ...] = ()


def may_have_formulas(characters: Characters) -> bool:
    """Whether some character of a page could begin a formula."""
    faces = {run.type.face: face_of(run.type.face) for run in characters.runs}
    if any(face.kind != "text" for face in faces.values()):
        return True
    plain = Face("text")
    rare = (text for text in set(characters.texts) if text > "\u2000")
    return any(symbol_of(text, plain, "", bold=False, italic=False).mathematical for text in rare)


def with_formulas(
    characters: Characters, text_page: pdfium_c.FPDF_TEXTPAGE, frame: Frame, bars: Sequence[Box]
) -> WithFormulas:
    """The characters with formulas found among them; ``bars`` are the thin horizontal lines of the page."""
    signs, owners = _signs(characters, text_page, frame)
    found = formulas_among(signs, bars)[:MOST]
    equations: list[FoundEquation] = []
    kept: list[Formula] = []
    for formula in found:
        tree = tree_of([signs[n].part for n in formula.signs], formula.bars)
        if not problem_of(tree):
            equations.append(FoundEquation(tree, formula.box.rounded(), formula.display, formula.number))
            kept.append(formula)
    if not kept:
        return WithFormulas(characters, ())
    return WithFormulas(
        _replaced(characters, kept, owners), tuple(equations), tuple(bar for formula in kept for bar in formula.bars)
    )


def _signs(characters: Characters, text_page: pdfium_c.FPDF_TEXTPAGE, frame: Frame) -> tuple[list[Sign], list[int]]:
    """The characters that stand upright as signs, and the place of each among all."""
    faces = _nameless_for_mathematics(characters)
    symbols: dict[tuple[str, str, bool, bool], Symbol] = {}
    signs: list[Sign] = []
    owners: list[int] = []
    corners = tuple(ctypes.c_double() for _ in range(4))
    left, right, bottom, top = corners
    pointers = tuple(map(ctypes.byref, corners))
    for run in characters.runs:
        if run.angle or run.oblique or run.type.unseen:
            continue
        face = faces.setdefault(run.type.face, face_of(run.type.face))
        for n in range(run.start, run.end):
            text = _text(characters, n, face, text_page)
            if not text or (text == " " and face.kind != "large"):
                continue
            key = (text, run.type.face, run.type.bold, run.type.italic)
            symbol = symbols.get(key)
            if symbol is None:
                symbol = symbols[key] = symbol_of(text, face, run.type.face, bold=run.type.bold, italic=run.type.italic)
            pdfium_c.FPDFText_GetCharBox(text_page, characters.places[n], *pointers)
            box = frame.box(left.value, bottom.value, right.value, top.value)
            words = face.kind == "text"
            part = Part(box, run.baseline, run.type.size, symbol.text, symbol.form, words=words)
            pen = float(characters.boxes[n, 0]), float(characters.boxes[n, 2])
            signs.append(Sign(part, symbol.mathematical, *pen, code=run.type.family is Family.MONO))
            owners.append(n)
    return with_quantities(_with_greek(signs)), owners


def _with_greek(signs: list[Sign]) -> list[Sign]:
    """Greek letters of the text's own typeface are mathematical where the text is not Greek."""
    letters = [sign.part.text for sign in signs if sign.part.words and sign.part.text.isalpha()]
    greek = sum(map(_is_greek, letters))
    if not greek or greek > GREEK_TEXT * len(letters):
        return signs
    return [
        sign._replace(mathematical=True) if sign.part.words and _is_greek(sign.part.text) else sign for sign in signs
    ]


def _is_greek(text: str) -> bool:
    return "Α" <= text <= "ω" and text.isalpha()


def _nameless_for_mathematics(characters: Characters) -> dict[str, Face]:
    """Fonts without a name that have letters for mathematics: all of their characters are of formulas."""
    found: dict[str, Face] = {}
    for run in characters.runs:
        if run.type.face.startswith(NAMELESS) or not run.type.face:
            own = characters.texts[run.start : run.end]
            if any(plain_letter(text)[1] is not None for text in own if len(text) == 1):
                found[run.type.face] = Face("unicode")
    return found


def _text(characters: Characters, n: int, face: Face, text_page: pdfium_c.FPDF_TEXTPAGE) -> str:
    """A character as it was read; in TeX's own typefaces for mathematics the code, where the file has no character for it."""
    if face.kind in ("text", "unicode"):
        return characters.texts[n]
    code = int(pdfium_c.FPDFText_GetUnicode(text_page, characters.places[n]))
    return chr(code) if code < 0x80 else characters.texts[n]


def _replaced(characters: Characters, formulas: Sequence[Formula], owners: Sequence[int]) -> Characters:
    """The characters with one in the place of each formula, which looks like the text beside it."""
    gone = {owners[n] for formula in formulas for n in (*formula.signs, *formula.number_signs)}
    looks = _looks(characters, owners)
    first = {min(owners[n] for n in formula.signs): k for k, formula in enumerate(formulas)}
    texts: list[str] = []
    apart: list[bool] = []
    boxes: list[Sequence[float]] = []
    places: list[int] = []
    runs: list[TextRun] = []
    for run in characters.runs:
        start = len(texts)
        for n in range(run.start, run.end):
            k = first.get(n)
            if k is not None:
                if len(texts) > start:
                    runs.append(run._replace(start=start, end=len(texts)))
                runs.append(_run_of(formulas[k], looks, len(texts)))
                boxes.append(_line_box(formulas[k]))
                texts.append(chr(FIRST_PLACE + k))
                apart.append(False)
                places.append(-1)
                start = len(texts)
            if n not in gone:
                boxes.append(characters.boxes[n])
                texts.append(characters.texts[n])
                apart.append(characters.apart[n])
                places.append(characters.places[n])
        if len(texts) > start:
            runs.append(run._replace(start=start, end=len(texts)))
    return Characters(texts, apart, np.array(boxes, dtype=np.float64), runs, places)


def _run_of(formula: Formula, looks: Sequence[TextRun], at: int) -> TextRun:
    """The character that stands for a formula, in the look of the text beside it."""
    look = looks[formula.beside if formula.beside is not None else formula.signs[0]]
    plain = look.type._replace(size=round(formula.size * 4) / 4, symbol=False)
    if formula.beside is None:
        plain = plain._replace(bold=False, italic=False)
    return TextRun(at, at + 1, plain, 0, formula.baseline, look.content)


def _line_box(formula: Formula) -> tuple[float, float, float, float]:
    """Where the formula stands in its line, as high as letters are."""
    return (
        formula.box.x0,
        formula.baseline - 0.75 * formula.size,
        formula.box.x1,
        formula.baseline + 0.25 * formula.size,
    )


def _looks(characters: Characters, owners: Sequence[int]) -> list[TextRun]:
    """The run of each sign."""
    by_place: dict[int, TextRun] = {}
    for run in characters.runs:
        by_place.update(dict.fromkeys(range(run.start, run.end), run))
    return [by_place[n] for n in owners]
