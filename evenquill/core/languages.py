"""Languages that are known: their codes and their data, and telling which one a text is written in."""

from __future__ import annotations

import unicodedata
from collections import Counter
from collections.abc import Iterable
from functools import cache
from typing import NamedTuple

from babel import Locale
from lingua import Language, LanguageDetector, LanguageDetectorBuilder

LATIN, CYRILLIC, GREEK = "LATIN", "CYRILLIC", "GREEK"


def script_of_letter(letter: str) -> str:
    """The script of a letter, as its Unicode name has it; nothing where it has no name."""
    return unicodedata.name(letter, "").split(" ")[0]


def script_of(text: str) -> str:
    """The script of most of a text's letters; Latin where there are none, or others than those that are known."""
    letters = Counter(script_of_letter(c) for c in text if c.isalpha())
    return max((LATIN, CYRILLIC, GREEK), key=lambda script: letters[script])


class KnownLanguage(NamedTuple):
    """ISO 639-1 code, ISO 639-2/T code, the detector's own name for it, the locale (BCP 47) that word processors know it by, the names
    of its Hunspell dictionaries, of which Finnish has none, and its script."""

    short: str
    code: str
    detected: Language
    locale: str
    dictionaries: tuple[str, ...]
    script: str = LATIN

    @property
    def name(self) -> str:
        """Its name in English."""
        return str(Locale.parse(self.short).english_name)


KNOWN = (
    KnownLanguage("en", "eng", Language.ENGLISH, "en-GB", ("en_GB", "en_US")),
    KnownLanguage("de", "deu", Language.GERMAN, "de-DE", ("de_DE",)),
    KnownLanguage("fr", "fra", Language.FRENCH, "fr-FR", ("fr",)),
    KnownLanguage("es", "spa", Language.SPANISH, "es-ES", ("es_ES",)),
    KnownLanguage("it", "ita", Language.ITALIAN, "it-IT", ("it_IT",)),
    KnownLanguage("pt", "por", Language.PORTUGUESE, "pt-PT", ("pt_PT",)),
    KnownLanguage("nl", "nld", Language.DUTCH, "nl-NL", ("nl_NL", "nl")),
    KnownLanguage("sv", "swe", Language.SWEDISH, "sv-SE", ("sv_SE",)),
    KnownLanguage("fi", "fin", Language.FINNISH, "fi-FI", ()),
    KnownLanguage("da", "dan", Language.DANISH, "da-DK", ("da_DK",)),
    KnownLanguage("nb", "nor", Language.BOKMAL, "nb-NO", ("nb_NO",)),
    KnownLanguage("pl", "pol", Language.POLISH, "pl-PL", ("pl_PL",)),
    KnownLanguage("cs", "ces", Language.CZECH, "cs-CZ", ("cs_CZ",)),
    KnownLanguage("ca", "cat", Language.CATALAN, "ca-ES", ("ca_ES",)),
    KnownLanguage("ro", "ron", Language.ROMANIAN, "ro-RO", ("ro_RO",)),
    KnownLanguage("hu", "hun", Language.HUNGARIAN, "hu-HU", ("hu_HU",)),
    KnownLanguage("ru", "rus", Language.RUSSIAN, "ru-RU", ("ru_RU",), CYRILLIC),
    KnownLanguage("uk", "ukr", Language.UKRAINIAN, "uk-UA", ("uk_UA",), CYRILLIC),
    KnownLanguage("el", "ell", Language.GREEK, "el-GR", ("el_GR",), GREEK),
)

_SHORT = {one.code: one.short for one in KNOWN}
_LONG = {one.short: one.code for one in KNOWN} | {"no": "nor"}
_BY_SHORT = {one.short: one for one in KNOWN} | {"no": next(one for one in KNOWN if one.short == "nb")}


def short_code(code: str) -> str:
    """ISO 639-1 code of a language named by three letters; others as they are."""
    return _SHORT.get(code, code)


def long_code(code: str) -> str:
    """Code of three letters of a language named by two; others as they are."""
    return _LONG.get(code, code)


def language_name(short: str) -> str:
    """The English name of a language named by two letters; nothing where it is not known."""
    known = _BY_SHORT.get(short)
    return known.name if known else ""


def locale_of(language: str) -> str:
    """The locale by which word processors know a language named by two letters; British English where there is none."""
    known = _BY_SHORT.get(language)
    return known.locale if known else language or "en-GB"


def dictionaries_of(language: str) -> tuple[str, ...]:
    """The names of the Hunspell dictionaries of a language named by two letters, the best first."""
    known = _BY_SHORT.get(language)
    return known.dictionaries if known else ()


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
