"""In which languages a page is to be recognised."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.languages import KNOWN, LATIN, detect_language, script_of
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


def in_other_scripts() -> tuple[str, ...]:
    """The installed languages that are written in other scripts than Latin."""
    return tuple(one.code for one in KNOWN if one.script != LATIN and one.code in installed_languages())


def languages_found(text: str) -> tuple[str, ...]:
    """Codes of the installed language of a text, which may have been read in another one; the first to try where it does not tell.

    Text in another script is read for Latin letters too: names, units and addresses are often written in them.
    """
    (usual,) = languages_to_try(())
    installed = [one for one in KNOWN if one.code in installed_languages()]
    if len(installed) < 2 or sum(c.isalpha() for c in text) < FEWEST_LETTERS:
        return (usual,)
    script = script_of(text)
    own = [one for one in installed if one.script == script] or installed
    if script == LATIN:
        told = detect_language(text, own) if len(own) > 1 else None
        return (told.language.code,) if told and told.belief >= CERTAIN else (usual,)
    # The usual one is of another script: the likeliest of this one is nearer than it, however sure.
    return (own[0] if len(own) == 1 else detect_language(text, own).language).code, usual
