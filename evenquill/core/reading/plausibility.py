"""How much a text reads like one: the share of its words that its language knows."""

from __future__ import annotations

import re
import unicodedata
from collections import Counter

from evenquill.core.evidence import PageEvidence
from evenquill.core.languages import detect_language
from evenquill.core.word_frequencies import frequency, is_counted

FEWEST_WORDS = 20
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
    """The share of a page's words, 0 to 1, that a language of their script has; 0 where that cannot be told."""
    text = " ".join(line.text for line in page.lines)
    words = _WORD.findall(text)[:SAMPLE]
    if len(words) < FEWEST_WORDS:
        return 0.0
    scripts = Counter(unicodedata.name(word[0], "").split(" ")[0] for word in words)
    languages = OF_SCRIPTS.get(scripts.most_common(1)[0][0]) or (detect_language(text).language.short,)
    shares = [
        sum(frequency(word.lower(), language) > 0 for word in words) / len(words)
        for language in languages
        if is_counted(language)
    ]
    return max(shares, default=0.0)
