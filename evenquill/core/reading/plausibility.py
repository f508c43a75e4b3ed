"""How much a text reads like one: the share of its words that its language knows."""

from __future__ import annotations

import re
import unicodedata
from collections import defaultdict
from collections.abc import Sequence

from evenquill.core.evidence import PageEvidence
from evenquill.core.languages import detect_language
from evenquill.core.word_frequencies import frequency, is_counted

FEWEST_WORDS = 5
"""Words from which it can be told."""

SAMPLE = 400
"""Words that are enough."""

OF_SCRIPTS = {
    "CYRILLIC": ("ru", "uk", "bg", "mk", "sr"),
    "GREEK": ("el",),
    "HEBREW": ("he",),
    "ARABIC": ("ar", "fa", "ur"),
}
"""Languages that are looked in for words of a script, other than those that the application reads: any text may come in a file."""

_WORD = re.compile(r"[^\W\d_]{3,}")


def known_share(page: PageEvidence) -> float:
    """The share of a page's words, 0 to 1, that a language of their script has, script by script; 0 where that cannot be told."""
    words = _WORD.findall(" ".join(line.text for line in page.lines))[:SAMPLE]
    if len(words) < FEWEST_WORDS:
        return 0.0
    of_script: defaultdict[str, list[str]] = defaultdict(list)
    for word in words:
        of_script[unicodedata.name(word[0], "").split(" ")[0]].append(word.lower())
    return sum(_known(script, own) for script, own in of_script.items()) / len(words)


def _known(script: str, words: Sequence[str]) -> int:
    """How many words of a script the language has that has most of them."""
    languages = OF_SCRIPTS.get(script) or (detect_language(" ".join(words)).language.short,)
    counts = [sum(frequency(word, language) > 0 for word in words) for language in languages if is_counted(language)]
    return max(counts, default=0)
