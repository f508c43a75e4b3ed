"""Languages: the codes of the recogniser, and the one that a page is written in."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache

from lingua import Language, LanguageDetector, LanguageDetectorBuilder

from evenquill.core.reading.scanned.recogniser import installed_languages

FEWEST_LETTERS = 25
"""Below this no language is told."""

CERTAIN = 0.7
"""Share of belief that another language than the usual one needs."""

BY_LINGUA = {
    Language.ENGLISH: "eng", Language.GERMAN: "deu", Language.FRENCH: "fra", Language.SPANISH: "spa",
    Language.ITALIAN: "ita", Language.PORTUGUESE: "por", Language.DUTCH: "nld", Language.SWEDISH: "swe",
    Language.FINNISH: "fin", Language.DANISH: "dan", Language.BOKMAL: "nor", Language.POLISH: "pol",
    Language.CZECH: "ces",
}  # fmt: skip

USUAL = "eng"


@cache
def _detector(codes: tuple[str, ...]) -> LanguageDetector:
    known = [language for language, code in BY_LINGUA.items() if code in codes]
    return LanguageDetectorBuilder.from_languages(*known).with_low_accuracy_mode().build()


def first_language() -> str:
    """The language that a page is first tried in."""
    installed = installed_languages()
    return USUAL if USUAL in installed or not installed else installed[0]


def language_found(text: str) -> str:
    """Code of the installed language of a text that was read in another one; the first language where it does not tell."""
    codes = tuple(code for code in installed_languages() if code in BY_LINGUA.values())
    usual = first_language()
    if len(codes) < 2 or sum(c.isalpha() for c in text) < FEWEST_LETTERS:
        return usual
    values = _detector(codes).compute_language_confidence_values(text)
    best = values[0]
    code = BY_LINGUA[best.language]
    return code if best.value >= CERTAIN else usual


def language_codes(languages: Sequence[str]) -> tuple[str, ...]:
    """The languages to read in; the first one where none is named."""
    return tuple(languages) or (first_language(),)
