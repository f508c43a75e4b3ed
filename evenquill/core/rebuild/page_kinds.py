"""Pages that were made alike: by a program, a press or a typewriter. Sheets of several kinds that are bound together have sizes and
distances of their own, and headings of their own levels."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import NamedTuple

from evenquill.core.evidence import PageEvidence
from evenquill.core.rebuild.facts import Facts

FEWEST_LETTERS = 300
"""Letters on pages of one kind from which these tell what is usual on them."""


class Kind(NamedTuple):
    scanned: bool
    typewritten: bool


def kinds_of(pages: Sequence[PageEvidence], facts: Facts) -> dict[int, Kind | None]:
    """The kind of each page by its number; None for those of a kind of which there is too little to tell, which go with all others."""
    kinds = {page.number: Kind(page.cleaned is not None, page.number in facts.typewritten) for page in pages}
    letters = Counter[Kind]()
    for page in pages:
        letters[kinds[page.number]] += sum(len(word.text) for line in page.lines for word in line.words)
    return {number: kind if letters[kind] >= FEWEST_LETTERS else None for number, kind in kinds.items()}
