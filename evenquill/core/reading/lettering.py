"""Text whose letters are not what they look like: fonts mapped wrongly.

A page whose words are of no language, or whose characters are private codes, is looked at: a few of its lines are read from the
drawn page, and where these say something else, the page's codes cannot be believed.
"""

from __future__ import annotations

import difflib
import unicodedata
from collections.abc import Sequence
from functools import cache

import wordfreq

from evenquill.core.languages import KNOWN
from evenquill.core.model import Box
from evenquill.core.reading.evidence import Line, PageEvidence
from evenquill.core.reading.preparation import Preparation
from evenquill.core.reading.region import read_region
from evenquill.core.reading.scanned.prepared import Scan

COMMON = 200
"""Commonest words of each language that are looked for."""

FEWEST_WORDS = 30
"""Words of letters on a page from which a share of common ones can be told."""

FEWEST_COMMON = 0.08
"""Share of common words in running text of any of the languages, at least; it is 0.15 and more in prose."""

MOST_PRIVATE = 0.08
"""Share of characters without a meaning (private use, not assigned, replacement) from which a page is looked at."""

SAMPLED = 4
"""Lines that are read from the picture."""

LIKE = 0.55
"""Likeness of a sound line to what is read from its picture, at least; recognition errs by far less."""


def is_suspect(page: PageEvidence) -> bool:
    """Whether the page's codes deserve a look; costs next to nothing."""
    text = " ".join(line.text for line in page.lines)
    characters = [c for c in text if not c.isspace()]
    if len(characters) < FEWEST_WORDS:
        return False
    private = sum(unicodedata.category(c) in ("Co", "Cn", "Cc") or c == "\ufffd" for c in characters)
    if private > MOST_PRIVATE * len(characters):
        return True
    words = [word.strip(".,;:!?()").lower() for word in text.split()]
    words = [word for word in words if len(word) > 2 and word.isalpha()]
    if len(words) < FEWEST_WORDS:
        return False
    return sum(word in _common_words() for word in words) < FEWEST_COMMON * len(words)


def is_mapped_wrongly(page: PageEvidence, scan: Scan) -> bool:
    """Whether the page as it is drawn (``scan``) says something else than its codes. Raises LanguageMissing."""
    lines = sorted((line for line in page.lines if not line.angle), key=lambda line: -len(line.text))[:SAMPLED]
    if not lines:
        return False
    read = [read_region(scan, [_row(line, page.lines)], Preparation()) for line in lines]
    likeness = [
        difflib.SequenceMatcher(None, line.text, text, autojunk=False).ratio()
        for line, text in zip(lines, read, strict=True)
        if text
    ]
    return bool(likeness) and sum(likeness) / len(likeness) < LIKE


def _row(line: Line, lines: Sequence[Line]) -> Box:
    """The line's own height: fonts that are mapped wrongly often claim wrong heights too."""
    above = max((other.baseline for other in lines if other.baseline < line.baseline - 0.5 * line.size), default=0.0)
    top = max(line.baseline - 0.95 * line.size, min(above + 0.2 * line.size, line.baseline - 0.7 * line.size))
    return Box(line.box.x0, top, line.box.x1, line.baseline + 0.25 * line.size)


@cache
def _common_words() -> frozenset[str]:
    return frozenset(word for one in KNOWN for word in wordfreq.top_n_list(one.short, COMMON) if len(word) > 2)
