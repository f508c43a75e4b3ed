"""Captions: lines that name and number a figure or table."""

from __future__ import annotations

import re

from evenquill.core.model import Role
from evenquill.core.rebuild.drafts import AnyDraft, Draft

_WORDS = r"fig(?:ure|\.)?|table|plate|chart|map|photo|abb(?:ildung|\.)?|tab(?:elle|\.|leau)|bild|kuva|taulukko|tabell|figura|tabla|tabella"
LABEL = re.compile(rf"\b(?P<word>{_WORDS})\s*(?P<number>\d+(?:[.-]\d+)*[a-z]?)\b", re.I)
"""What a figure or table is called, in its caption and in the text."""

_CAPTION = re.compile(rf"^(?:{_WORDS})\s*\d+[a-z]?\s*[.:)–—-]", re.I)


def is_caption(text: str) -> bool:
    """Whether a paragraph's text begins as captions do."""
    return bool(_CAPTION.match(text))


def find_captions(drafts: list[AnyDraft]) -> None:
    """Makes captions of the paragraphs that are ones."""
    for draft in drafts:
        if isinstance(draft, Draft) and draft.role is Role.PARAGRAPH and is_caption(draft.text):
            draft.role = Role.CAPTION
