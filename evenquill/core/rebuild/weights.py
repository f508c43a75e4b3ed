"""Weights of letters put right: a typeface that most of a document is set in is not bold unless its name says so.

Readers take weight from the stem widths that a file claims for its typefaces (ISO 32000-1, 9.8.1), and many files claim too much.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from msgspec.structs import replace

from evenquill.core.evidence import PageEvidence, Type
from evenquill.core.font_names import is_called_bold

MOST = 0.6
"""Share of a document's letters from which they are its text."""


def with_true_weights(pages: Sequence[PageEvidence]) -> list[PageEvidence]:
    """The pages with no letters bold that are as heavy as the text, if the text is called bold by nothing but its stems."""
    letters: Counter[bool] = Counter()
    for page in pages:
        for line in page.lines:
            for word in line.words:
                letters[_only_claimed(page.types[word.type])] += len(word.text)
    if letters[True] < MOST * max(letters.total(), 1):
        return list(pages)
    return [
        replace(page, types=tuple(one._replace(bold=False) if _only_claimed(one) else one for one in page.types))
        for page in pages
    ]


def _only_claimed(look: Type) -> bool:
    return look.bold and bool(look.face) and not is_called_bold(look.face)
