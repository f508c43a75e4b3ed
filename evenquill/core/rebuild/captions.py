"""Captions: lines that name and number a figure or table."""

from __future__ import annotations

from evenquill.core.model import Role
from evenquill.core.model.labels import is_caption
from evenquill.core.rebuild.drafts import AnyDraft, Draft


def find_captions(drafts: list[AnyDraft]) -> None:
    """Makes captions of the paragraphs that are said to be ones; where some begin with the name and number of a thing, only of such."""
    likely = [d for d in drafts if isinstance(d, Draft) and d.role is Role.PARAGRAPH and d.likely_role == "caption"]
    named = [draft for draft in likely if is_caption(draft.text)]
    for draft in named or likely:
        draft.role = Role.CAPTION
