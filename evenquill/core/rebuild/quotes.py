"""Quotations and verse: text that stands in from the edges of the text around it."""

from __future__ import annotations

from evenquill.core.model import Align, Family, Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft

SET_IN = 1.0
"""Ems from the left edge of the column, at least."""

EVEN = 0.35
"""Share of the indent at the left by which that at the right may differ from it."""

FURTHEST = 0.4
"""Share of the column's width by which verse is set in, at most; what stands further right is an address or a date."""

FEWEST_LINES, FEWEST_WORDS = 3, 4.0
"""Lines of verse, and words in one on average; addresses have fewer."""


def find_quotes(drafts: list[AnyDraft], family: Family) -> None:
    """Makes quotations, and verse, of the paragraphs that are ones; they are of the ``family`` of running text. Boxes seldom are."""
    for draft in drafts:
        if not isinstance(draft, Draft) or draft.role is not Role.PARAGRAPH or draft.marker:
            continue
        if draft.type.family is not family:
            continue
        if draft.align in (Align.CENTER, Align.RIGHT) or any(line.tabbed for line in draft.lines):
            continue
        if draft.verse:
            if _is_verse(draft):
                draft.role = Role.VERSE
        elif _is_quotation(draft):
            draft.role = Role.QUOTE


def _is_quotation(draft: Draft) -> bool:
    indent = draft.indent
    return (
        len(draft.lines) > 1 and indent >= SET_IN * draft.lines[0].size and abs(draft.inset - indent) <= EVEN * indent
    )


def _is_verse(draft: Draft) -> bool:
    indent = draft.indent
    words = sum(len(line.words) for line in draft.lines)
    return (
        len(draft.lines) >= FEWEST_LINES
        and words >= FEWEST_WORDS * len(draft.lines)
        and SET_IN * draft.lines[0].size <= indent <= FURTHEST * (draft.right - draft.left)
    )
