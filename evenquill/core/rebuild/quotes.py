"""Quotations and verse: what the models of structure say of paragraphs, and text that stands in evenly from both edges."""

from __future__ import annotations

from evenquill.core.model import Align, Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft

ROLES_BY_NAME = {"quotation": Role.QUOTE, "verse": Role.VERSE}

RUNNING_TEXT = frozenset(("text", "item", "meaning", "quotation"))
"""What text that is set in may have been taken for."""

SET_IN = 1.0
"""Ems from the left edge of the column, at least."""

EVEN = 0.35
"""Share of the indent at the left by which that at the right may differ from it."""


def find_quotes(drafts: list[AnyDraft]) -> None:
    """Makes quotations, and verse, of the paragraphs that are ones."""
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH:
            edge = draft.align in (Align.LEFT, Align.JUSTIFY)
            if draft.likely_role in RUNNING_TEXT and edge and not draft.marker and _is_set_in_evenly(draft):
                draft.role = Role.QUOTE
            elif len(draft.lines) > 1:
                draft.role = ROLES_BY_NAME.get(draft.likely_role, draft.role)


def _is_set_in_evenly(draft: Draft) -> bool:
    indent = draft.indent
    return (
        len(draft.lines) > 1 and indent >= SET_IN * draft.lines[0].size and abs(draft.inset - indent) <= EVEN * indent
    )
