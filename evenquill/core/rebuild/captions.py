"""Captions: lines that name and number a figure or table."""

from __future__ import annotations

import re

_CAPTION = re.compile(
    r"^(fig(ure|\.)?|table|plate|chart|map|photo|abb(ildung|\.)?|tab(elle|\.|leau)|bild|kuva|taulukko|tabell|figura|tabla|tabella)"
    r"\s*\d+[a-z]?\s*[.:)–—-]",
    re.I,
)


def is_caption(text: str) -> bool:
    """Whether a paragraph's text begins as captions do."""
    return bool(_CAPTION.match(text))
