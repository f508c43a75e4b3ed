"""Quotations and verse: what the models of structure say of paragraphs."""

from __future__ import annotations

from evenquill.core.model import Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft

SAID = {"quotation": Role.QUOTE, "verse": Role.VERSE}


def find_quotes(drafts: list[AnyDraft]) -> None:
    """Makes quotations, and verse, of the paragraphs that are ones."""
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH:
            draft.role = SAID.get(draft.said, draft.role)
