"""Slanted letters of the text's own typeface that stand for quantities: formulas need no typeface of their own for letters."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.equations.signs import NARY, RELATIONS
from evenquill.core.model.equation import Letterform
from evenquill.core.reading.formulas.factors import LONGEST_FACTORS
from evenquill.core.reading.formulas.segments import WORD_GAP, Sign, is_slanted

OWN_LETTERS = 0.5
"""Slanted Latin letters in typefaces for mathematics over single ones of the text's, from which quantities have a typeface of their own."""

NEXT = 0.7
"""Ems between words of a line."""


ARROWS = frozenset("→←↔⇒⇐⇔↑↓⟶⟹⟺")
"""Relations that text has, too: for ways through menus, for results."""


def with_quantities(signs: Sequence[Sign]) -> list[Sign]:
    """The signs with slanted letters that stand for quantities made mathematical, if the page has other signs of formulas.

    What is set in a slanted typeface by itself, a title or a phrase, has whole words beside each other.
    """
    out = list(signs)
    telling = [sign for sign in signs if sign.mathematical and _tells_of_formulas(sign.part.text)]
    if not telling:
        return out
    runs = _runs(signs)
    # Where quantities have a typeface of their own, slanted letters of the text are text: statements of theorems are set in them.
    own = sum(sign.part.text.isascii() and sign.part.form is Letterform.ITALIC for sign in telling)
    if own > OWN_LETTERS * sum(len(run) == 1 for run in runs):
        return out
    for n, run in enumerate(runs):
        if len(run) > 1:
            continue
        if any(_is_phrase(signs, run, runs[k]) for k in (n - 1, n + 1) if 0 <= k < len(runs)):
            continue
        if not _is_word_of_text(signs, run):
            (place,) = run
            out[place] = signs[place]._replace(mathematical=True)
    return out


def _tells_of_formulas(text: str) -> bool:
    return text.isalpha() or text in NARY or text == "√" or text in RELATIONS - ARROWS


def _runs(signs: Sequence[Sign]) -> list[list[int]]:
    """Slanted letters side by side, in the order of the page."""
    runs: list[list[int]] = []
    for n, sign in enumerate(signs):
        if not is_slanted(sign):
            continue
        last = signs[runs[-1][-1]] if runs else None
        joined = (
            last is not None
            and runs[-1][-1] == n - 1
            and abs(last.part.baseline - sign.part.baseline) < 0.1 * sign.part.size
            and -sign.part.size < sign.x0 - last.x1 < WORD_GAP * sign.part.size
        )
        if joined:
            runs[-1].append(n)
        else:
            runs.append([n])
    return runs


def _is_phrase(signs: Sequence[Sign], run: Sequence[int], other: Sequence[int]) -> bool:
    """Whether a slanted word stands right beside slanted letters."""
    one, two = signs[run[0]], signs[other[0]]
    level = abs(one.part.baseline - two.part.baseline) < 0.1 * one.part.size
    gap = max(two.x0 - signs[run[-1]].x1, one.x0 - signs[other[-1]].x1)
    return level and len(other) > LONGEST_FACTORS and gap < NEXT * one.part.size


def _is_word_of_text(signs: Sequence[Sign], run: Sequence[int]) -> bool:
    """Whether slanted letters are part of a word that goes on upright."""
    for place, step in ((run[0], -1), (run[-1], 1)):
        k = place + step
        if 0 <= k < len(signs):
            other = signs[k]
            gap = other.x0 - signs[place].x1 if step > 0 else signs[place].x0 - other.x1
            level = abs(other.part.baseline - signs[place].part.baseline) < 0.1 * other.part.size
            if (
                level
                and other.part.words
                and other.part.text.isalpha()
                and -other.part.size < gap < WORD_GAP * other.part.size
                and not other.mathematical
            ):
                return True
    return False
