"""Symbols of one line that are one thing together: figures of a number, letters of a function's name or of words."""

from __future__ import annotations

import itertools
import unicodedata
from collections.abc import Sequence

from evenquill.core.equations.signs import ACCENTS, FUNCTIONS
from evenquill.core.model.equation import Accent, Identifier, Letterform, Node, Number, Phrase, row_of
from evenquill.core.reading.formulas.factors import is_differential, may_be_factors
from evenquill.core.reading.formulas.parts import Part, box_of

CLOSE = 0.17
"""Ems between letters of one word, and figures of one number."""

WORD_SPACE = 0.65
"""Ems between words of one stretch."""


def with_names(parts: Sequence[Part]) -> list[Part]:
    """The parts, in order from the left, with figures and upright letters on one baseline made numbers, names and words."""
    out: list[Part] = []
    n = 0
    ordered = list(parts)
    while n < len(ordered):
        part = ordered[n]
        if part.node is not None or not part.text:
            out.append(part)
            n += 1
            continue
        run = _run(ordered, n)
        out += _joined(run)
        gone = set(map(id, run))
        ordered = [*ordered[: n + 1], *(other for other in ordered[n + 1 :] if id(other) not in gone)]
        n += 1
    return out


def _kind(part: Part) -> str:
    if part.text.isdigit():
        return "number"
    if part.text.isalpha() and part.form in (Letterform.UPRIGHT, Letterform.BOLD) and part.text.isascii():
        return "letters"
    greek = "Α" <= part.text <= "ω"
    if part.words and part.text.isalpha() and part.form is Letterform.ITALIC and not greek:
        return "slanted"
    return "letters" if part.words and part.text.isalpha() and part.form is not Letterform.ITALIC and not greek else ""


def _run(parts: Sequence[Part], start: int) -> list[Part]:
    """The symbols from one on that are one thing with it."""
    first = parts[start]
    kind = _kind(first)
    run = [first]
    if not kind:
        return run
    if kind == "slanted":
        return _slanted(parts[start:])
    following = [part for part in parts[start + 1 :] if part.node is None and _is_level(first, part)]
    for n, part in enumerate(following):
        gap = part.box.x0 - run[-1].box.x1
        same = _kind(part) == kind and part.form is first.form
        if kind == "number":
            after = following[n + 1] if n + 1 < len(following) else None
            point = part.text in ".," and after is not None and after.text.isdigit()
            point = point and after is not None and after.box.x0 - part.box.x1 < 0.25 * first.size
            if not (same or point) or gap > CLOSE * first.size:
                break
        elif not same or gap > (WORD_SPACE if _is_prose(run) and first.words else CLOSE) * first.size:
            break
        run.append(part)
    return run


def _slanted(parts: Sequence[Part]) -> list[Part]:
    """Slanted letters from the first part on that are a word, or the first alone where they are quantities."""
    first = parts[0]
    run = [first]
    for part in parts[1:]:
        if part.node is not None or not _is_level(first, part):
            continue
        if _kind(part) != "slanted" or part.box.x0 - run[-1].box.x1 > CLOSE * first.size:
            break
        run.append(part)
    text = "".join(part.text for part in run)
    return [first] if may_be_factors(text) or is_differential(text) else run


def _is_prose(run: Sequence[Part]) -> bool:
    return len(run) > 1 and all(part.words for part in run) and "".join(part.text for part in run) not in FUNCTIONS


def _is_level(first: Part, part: Part) -> bool:
    return abs(first.baseline - part.baseline) < 0.1 * first.size and abs(first.size - part.size) < 0.1 * first.size


def _joined(run: Sequence[Part]) -> list[Part]:
    """A run of symbols as one part with its node, or as several; a sign that others still look at stays as it is."""
    first = run[0]
    kind = _kind(first)
    text = "".join(part.text for part in run)
    if kind == "number":
        return [_part(run, Number(text, first.form if first.form is not Letterform.ITALIC else Letterform.UPRIGHT))]
    if kind == "letters" and first.form is Letterform.BOLD:
        return [_part(run, row_of([Identifier(part.text, part.form) for part in run]))]
    if kind == "letters" and (text in FUNCTIONS or len(text) == 1):
        return [_part(run, Identifier(text, first.form))._replace(text=text)]
    if kind == "letters":
        names = _functions_in(text)
        starts = itertools.accumulate((len(name) for name in names), initial=0)
        own = [(name, run[start : start + len(name)]) for name, start in zip(names, starts, strict=False)]
        named = [_part(letters, Identifier(name, Letterform.UPRIGHT))._replace(text=name) for name, letters in own]
        return named or [_part(run, Phrase(_spaced(run)))]
    if len(run) > 1:
        return [_part(run, Phrase(text))]
    return [_part(run, _letter(first))._replace(text=text)] if first.text.isalpha() else [first]


def _part(run: Sequence[Part], node: Node) -> Part:
    return run[0]._replace(box=box_of(run), node=node)


def _functions_in(text: str) -> list[str]:
    """The functions whose names a text consists of, none where it has something else in it."""
    for end in range(len(text), 1, -1):
        if text[:end] in FUNCTIONS:
            rest = _functions_in(text[end:]) if end < len(text) else []
            if rest or end == len(text):
                return [text[:end], *rest]
    return []


def _letter(part: Part) -> Node:
    """A letter; with its accent over it, where the two have one character."""
    pieces = unicodedata.normalize("NFD", part.text)
    accent = ACCENTS.get(pieces[1:])
    return Identifier(part.text, part.form) if accent is None else Accent(Identifier(pieces[0], part.form), accent)


def _spaced(run: Sequence[Part]) -> str:
    """The letters of words with the spaces between them."""
    out = run[0].text
    for before, part in itertools.pairwise(run):
        out += (" " if part.box.x0 - before.box.x1 > CLOSE * part.size else "") + part.text
    return out
