"""Captions: lines that name and number a figure or table."""

from __future__ import annotations

from evenquill.core.model import Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft


def find_captions(drafts: list[AnyDraft]) -> None:
    """Makes captions of the paragraphs that are ones."""
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH and draft.said == "caption":
            draft.role = Role.CAPTION
