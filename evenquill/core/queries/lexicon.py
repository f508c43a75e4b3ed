"""Word lists: which words a language has, and how common they are.

Hunspell dictionaries with their affixes, Voikko for Finnish, compounds taken apart, and word frequencies (wordfreq). What is not
installed is done without.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Any

from rapidfuzz import process
from rapidfuzz.distance import OSA

from evenquill.core.languages import dictionaries_of
from evenquill.core.word_frequencies import common_words, frequency, is_counted

FOLDER = Path("/usr/share/hunspell")

COMPOUNDING = {"de": ("", "s", "es", "n", "en", "er"), "nl": ("", "s", "e", "en"), "sv": ("", "s"), "da": ("", "s", "e"),
               "nb": ("", "s", "e")}  # fmt: skip
"""By language what may stand between the parts of a compound."""

SHORTEST_PART = 4
"""Letters of a part of a compound; shorter ones make nonsense a word."""

RARE = 1.0
"""Zipf frequency (wordfreq) from which a word counts as known where no dictionary has it."""

COMMON_WORD = 3.0
"""Zipf frequency from which a form counts as a word of the language though no dictionary lists it."""


MOST_ALIKE = 8
"""Words that are alike, at most."""

COMMON_WORDS = 100_000
"""Words of a language that are common enough to be meant by a misread or misspelt one. Dictionaries suggest no better ones, and take a
hundred times as long."""


class Lexicon:
    """The words of one language, by its code of two letters."""

    def __init__(self, language: str) -> None:
        self.language = language
        self._known: dict[str, bool] = {}

    @property
    def has_list(self) -> bool:
        """Whether there is any list of the language's words."""
        return bool(self._checkers) or self._counted

    @cached_property
    def _counted(self) -> bool:
        return is_counted(self.language)

    @cached_property
    def _checkers(self) -> tuple[Callable[[str], bool], ...]:
        if self.language == "fi":
            voikko = _voikko()
            return (voikko.spell,) if voikko is not None else ()
        return tuple(dictionary.spell for dictionary in self._dictionaries)

    @cached_property
    def _dictionaries(self) -> tuple[Any, ...]:
        from hunspell import Hunspell  # takes its time, and native text without doubts needs none

        names = [name for name in dictionaries_of(self.language) if (FOLDER / f"{name}.dic").exists()]
        return tuple(Hunspell(name, hunspell_data_dir=str(FOLDER)) for name in names)

    def frequency(self, word: str) -> float:
        """Zipf frequency: the logarithm to base 10 of how often a word comes in a thousand million; 0 where it is not known."""
        return frequency(word.replace("’", "'"), self.language)

    def spells(self, word: str) -> bool:
        """Whether the word is spelled so, its first letter included: June is and june is not."""
        return any(check(word) for check in self._checkers) if self._checkers else self.frequency(word) >= COMMON_WORD

    def knows(self, word: str) -> bool:
        """Whether this is a word of the language, as it is written or with a small first letter."""
        known = self._known.get(word)
        if known is None:
            known = self._known[word] = self._has(word)
        return known

    def _has(self, word: str) -> bool:
        if not word:
            return False
        if any(check(word) for check in self._checkers):
            return True
        if not self._checkers and self.frequency(word) >= RARE:
            return True
        if self.frequency(word) >= COMMON_WORD:
            return True
        parts = word.split("-")
        if len(parts) > 1 and all(parts):
            return all(self.knows(part) for part in parts)
        for mark in "’'":
            before, _, after = word.partition(mark)
            if after and len(before) <= 2:
                return self.knows(after)  # an elided article
            if before and after == "s":
                return self.knows(before)
        return self._is_compound(word)

    def _is_compound(self, word: str) -> bool:
        joints = COMPOUNDING.get(self.language)
        if joints is None or len(word) < 2 * SHORTEST_PART:
            return False
        for cut in range(SHORTEST_PART, len(word) - SHORTEST_PART + 1):
            rest = word[cut:]
            if not (self._is_part(rest) or self._is_part(rest.capitalize())):
                continue
            for joint in joints:
                if word[:cut].endswith(joint):
                    first = word[: cut - len(joint)] if joint else word[:cut]
                    if len(first) >= SHORTEST_PART - 1 and (self._is_part(first) or self._is_part(first.capitalize())):
                        return True
        return False

    def _is_part(self, part: str) -> bool:
        return any(check(part) for check in self._checkers)

    def slips(self, word: str) -> list[str]:
        """Common words that one slip of the hand makes this of: a letter too many, too few, another, two changed (Damerau 1964)."""
        near = [other for length in range(len(word) - 1, len(word) + 2) for other in self._common.get(length, ())]
        return [other for other, _, _ in process.extract(word, near, scorer=OSA.distance, score_cutoff=1, limit=4)]

    def alike(self, word: str) -> list[str]:
        """Common words that differ from this in two letters at most, as it is written in small ones; the nearest first."""
        near = [other for length in range(len(word) - 2, len(word) + 3) for other in self._common.get(length, ())]
        found = process.extract(word.lower(), near, scorer=OSA.distance, score_cutoff=2, limit=MOST_ALIKE)
        return [other for other, _, _ in found]

    @cached_property
    def _common(self) -> dict[int, list[str]]:
        """Common words by their length."""
        found: dict[int, list[str]] = {}
        for word in common_words(self.language, COMMON_WORDS):
            if word.isalpha():
                found.setdefault(len(word), []).append(word)
        return found


class Listed:
    """Words that somebody listed as right, in several lists; an office's may be long, and is not gone through again for each edit."""

    def __init__(self, *lists: frozenset[str]) -> None:
        self._lists = lists

    def __contains__(self, word: str) -> bool:
        return any(word in words for words in self._lists)

    def has_in_any_case(self, word: str) -> bool:
        """Whether a word is listed, in small or capital letters."""
        low = word.lower()
        return any(low in _lowered(words) for words in self._lists)


@lru_cache(maxsize=8)
def _lowered(words: frozenset[str]) -> frozenset[str]:
    return frozenset(word.lower() for word in words)


class Words:
    """The words that may stand on a page: those of one language or several, and those that somebody listed as right.

    The first language is the one that rules of spelling are taken from.
    """

    def __init__(self, lexicons: tuple[Lexicon, ...], listed: Listed | None = None) -> None:
        self.lexicons = lexicons
        self.listed = listed or Listed()

    @property
    def language(self) -> str:
        return self.lexicons[0].language if self.lexicons else ""

    @property
    def has_list(self) -> bool:
        return any(one.has_list for one in self.lexicons)

    def frequency(self, word: str) -> float:
        """Zipf frequency in the language in which the word is commonest."""
        return max((one.frequency(word) for one in self.lexicons), default=0.0)

    def knows(self, word: str) -> bool:
        return self.listed.has_in_any_case(word) or any(one.knows(word) for one in self.lexicons)

    def slips(self, word: str) -> list[str]:
        """Common words that one slip of the hand makes this of, in any of the languages."""
        return [near for one in self.lexicons for near in one.slips(word)]

    def spells(self, word: str) -> bool:
        """Whether the word is spelled so in one of the languages, its first letter included."""
        return any(one.spells(word) for one in self.lexicons)

    def alike(self, word: str) -> list[str]:
        """Common words of any of the languages that differ from this in two letters at most."""
        return [near for one in self.lexicons for near in one.alike(word)]


@lru_cache(maxsize=16)
def lexicon(language: str) -> Lexicon:
    """The words of a language; without a list for it, an empty one."""
    return Lexicon(language)


@lru_cache(maxsize=1)
def _voikko() -> Any:
    try:
        import libvoikko

        return libvoikko.Voikko("fi")
    except (ImportError, OSError, RuntimeError):
        return None
    except Exception as error:  # the library's own error is not exported under one name in all versions
        if type(error).__name__ == "VoikkoException":
            return None
        raise
