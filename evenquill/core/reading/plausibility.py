"""How much a text reads like one: the words that its language knows."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import PageEvidence
from evenquill.core.languages import CYRILLIC, GREEK, detect_language, script_of_letter
from evenquill.core.word_frequencies import frequency, is_counted

FEWEST_WORDS = 5
"""Words from which it can be told."""

OF_SCRIPTS = {
    CYRILLIC: ("ru", "uk", "bg", "mk", "sr"),
    GREEK: ("el",),
    "HEBREW": ("he",),
    "ARABIC": ("ar", "fa", "ur"),
}
"""Languages that are looked in for words of a script, other than those that the application reads: any text may come in a file."""

_WORD = re.compile(r"[^\W\d_]{3,}")


class Known(NamedTuple):
    """How much of a text its language has: the share of its words, 0 to 1, and their letters."""

    share: float
    letters: int


def known_words(page: PageEvidence) -> Known:
    """What is known of a page's words, script by script; nothing where there are too few to tell."""
    words = _WORD.findall(" ".join(line.text for line in page.lines))
    if len(words) < FEWEST_WORDS:
        return Known(0.0, 0)
    of_script: defaultdict[str, list[str]] = defaultdict(list)
    for word in words:
        of_script[script_of_letter(word[0])].append(word.lower())
    known = [word for script, own in of_script.items() for word in _known(script, own)]
    return Known(len(known) / len(words), sum(map(len, known)))


def known_letters(text: str, language: str) -> int:
    """The letters of a text's words of three or more that a language (two letters) has."""
    return sum(len(word) for word in _WORD.findall(text) if frequency(word.lower(), language) > 0)


def _known(script: str, words: Sequence[str]) -> list[str]:
    """The words of a script that the language has that has most of them."""
    languages = OF_SCRIPTS.get(script) or (detect_language(" ".join(words)).language.short,)
    found = (
        [word for word in words if frequency(word, language) > 0] for language in languages if is_counted(language)
    )
    return max(found, key=len, default=[])
