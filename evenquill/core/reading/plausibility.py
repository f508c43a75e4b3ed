"""How much a text reads like one: the share of its words that its language knows."""

from __future__ import annotations

import re

from evenquill.core.evidence import PageEvidence
from evenquill.core.languages import detect_language
from evenquill.core.word_frequencies import frequency, is_counted

FEWEST_WORDS = 20
"""Words from which it can be told."""

_WORD = re.compile(r"[^\W\d_]{3,}")


def known_share(page: PageEvidence) -> float:
    """The share of a page's words, 0 to 1, that the language that they seem to be in has; 0 where that cannot be told."""
    text = " ".join(line.text for line in page.lines)
    words = _WORD.findall(text)
    if len(words) < FEWEST_WORDS:
        return 0.0
    language = detect_language(text).language.short
    if not is_counted(language):
        return 0.0
    return sum(frequency(word.lower(), language) > 0 for word in words) / len(words)
