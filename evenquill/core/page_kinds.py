"""What kind of document pages make, told from their evidence."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from evenquill.core.evidence import PageEvidence, PageKind, TextLayer
from evenquill.core.source import PDF, WORD_FILES


def kind_of(pages: Sequence[PageEvidence]) -> str:
    """Native, scanned or mixed."""
    kinds = {page.kind for page in pages}
    return "mixed" if len(kinds) > 1 else next(iter(kinds), PageKind.NATIVE).value


def kinds_in_words(pages: Sequence[PageEvidence], media: Collection[str] = (PDF,)) -> str:
    """What kind of document the pages of files of some ``media`` types make, for the docket."""
    if media and WORD_FILES.issuperset(media):
        return "word-processor file"
    scanned = [page for page in pages if page.kind is PageKind.SCANNED]
    if not scanned:
        return "native"
    if all(page.layer is TextLayer.NONE for page in scanned):
        how = "scanned, no text"
    elif all(page.layer is TextLayer.DROPPED for page in scanned if page.layer is not TextLayer.NONE):
        how = "scanned by a machine that added its own text, which does not fit and was dropped"
    else:
        how = "scanned by a machine that added its own text"
    if len(scanned) == len(pages):
        return how
    return f"mixed: {len(scanned)} of {len(pages)} pages {how}"
