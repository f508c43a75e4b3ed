"""In which languages a page is to be recognised."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.languages import KNOWN, detect_language
from evenquill.core.reading.reading_data import check_languages, installed_languages

FEWEST_LETTERS = 25
"""Below this no language is told."""

CERTAIN = 0.7
"""Share of belief that another language than the usual one needs."""

USUAL = "eng"


def languages_to_try(named: Sequence[str]) -> tuple[str, ...]:
    """The languages named, or the one that a page is first tried in. Raises LanguageMissing."""
    installed = installed_languages()
    first = USUAL if USUAL in installed or not installed else installed[0]
    languages = tuple(named) or (first,)
    check_languages(languages)
    return languages


def language_found(text: str) -> str:
    """Code of the installed language of a text, which may have been read in another one; the first to try where it does not tell."""
    (usual,) = languages_to_try(())
    known = [one for one in KNOWN if one.code in installed_languages()]
    if len(known) < 2 or sum(c.isalpha() for c in text) < FEWEST_LETTERS:
        return usual
    told = detect_language(text, known)
    return told.language.code if told.belief >= CERTAIN else usual
