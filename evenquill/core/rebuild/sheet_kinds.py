"""Pages that were made alike: by a program, a press or a typewriter. Sheets of several kinds that are bound together have sizes and
distances of their own, and headings of their own levels."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence, Set
from typing import NamedTuple

from evenquill.core.evidence import PageEvidence

FEWEST_LETTERS = 300
"""Letters on pages of one kind from which these tell what is usual on them."""


class SheetKind(NamedTuple):
    """How a page was made: whether it was scanned, and whether what was scanned was typewritten."""

    scanned: bool
    typewritten: bool


def sheet_kinds_of(pages: Sequence[PageEvidence], typewritten: Set[int]) -> dict[int, SheetKind | None]:
    """The kind of each page by its number, ``typewritten`` being the numbers of those that are; None for pages of a kind of which there is
    too little to tell, which go with all others."""
    kinds = {page.number: SheetKind(page.cleaned is not None, page.number in typewritten) for page in pages}
    letters = Counter[SheetKind]()
    for page in pages:
        letters[kinds[page.number]] += sum(len(word.text) for line in page.lines for word in line.words)
    return {number: kind if letters[kind] >= FEWEST_LETTERS else None for number, kind in kinds.items()}
