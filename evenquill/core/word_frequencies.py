"""How common words are (wordfreq), in languages whose words can be counted without knowing where they end."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import cache

import wordfreq

UNPARTED = frozenset({"zh", "ja", "ko"})
"""Languages whose lists need further packages, which tell words from one another where no space does."""


@cache
def is_counted(language: str) -> bool:
    """Whether there is a list of the language's words (two letters) with their frequencies."""
    return language not in UNPARTED and language in wordfreq.available_languages()


def frequency(word: str, language: str) -> float:
    """Zipf frequency: 0 for words that are not listed, 1 once in a hundred million, 6 once in a thousand."""
    return wordfreq.zipf_frequency(word, language) if is_counted(language) else 0.0


def share_of_words(language: str) -> Mapping[str, float]:
    """The words of a language with the share that each has of all that is written in it; none where they are not counted."""
    return wordfreq.get_frequency_dict(language) if is_counted(language) else {}


def common_words(language: str, most: int) -> Iterable[str]:
    """The commonest words of a language, none where they are not counted."""
    return wordfreq.top_n_list(language, most) if is_counted(language) else ()
