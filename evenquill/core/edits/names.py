"""Names by which the clerk's decisions about doubts are remembered: the kind, the page and what was read, wherever it stands."""

from __future__ import annotations

LONGEST = 80
"""Characters of what was read that are enough to know it again."""


def doubt_name(kind: str, page: int, text: str) -> str:
    return f"{kind}|{page}|{text[:LONGEST]}"


def page_of(name: str) -> int:
    """The page in the name of a doubt, 0 where it names none."""
    page = name.split("|")[1] if name.count("|") >= 2 else ""
    return int(page) if page.isdecimal() else 0
