"""Languages that the house knows: their codes, and telling which one a text is written in."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from typing import NamedTuple

from lingua import Language, LanguageDetector, LanguageDetectorBuilder


class KnownLanguage(NamedTuple):
    """ISO 639-1 code, ISO 639-2/T code, and the detector's own name for it."""

    short: str
    code: str
    detected: Language


KNOWN = (
    KnownLanguage("en", "eng", Language.ENGLISH),
    KnownLanguage("de", "deu", Language.GERMAN),
    KnownLanguage("fr", "fra", Language.FRENCH),
    KnownLanguage("es", "spa", Language.SPANISH),
    KnownLanguage("it", "ita", Language.ITALIAN),
    KnownLanguage("pt", "por", Language.PORTUGUESE),
    KnownLanguage("nl", "nld", Language.DUTCH),
    KnownLanguage("sv", "swe", Language.SWEDISH),
    KnownLanguage("fi", "fin", Language.FINNISH),
    KnownLanguage("da", "dan", Language.DANISH),
    KnownLanguage("nb", "nor", Language.BOKMAL),
    KnownLanguage("pl", "pol", Language.POLISH),
    KnownLanguage("cs", "ces", Language.CZECH),
)

_SHORT = {one.code: one.short for one in KNOWN}
_LONG = {one.short: one.code for one in KNOWN} | {"no": "nor"}


def short_code(code: str) -> str:
    """ISO 639-1 code of a language named by three letters; others as they are."""
    return _SHORT.get(code, code)


def long_code(code: str) -> str:
    """Code of three letters of a language named by two; others as they are."""
    return _LONG.get(code, code)


class DetectedLanguage(NamedTuple):
    """A language with the share of belief in it (0 to 1)."""

    language: KnownLanguage
    belief: float


def detect_language(text: str, among: Iterable[KnownLanguage] = KNOWN) -> DetectedLanguage:
    """The likeliest of at least two languages for a text."""
    languages = tuple(among)
    best = _detector(languages).compute_language_confidence_values(text)[0]
    return DetectedLanguage(next(one for one in languages if one.detected == best.language), best.value)


@cache
def _detector(languages: tuple[KnownLanguage, ...]) -> LanguageDetector:
    detected = [one.detected for one in languages]
    return LanguageDetectorBuilder.from_languages(*detected).with_low_accuracy_mode().build()
