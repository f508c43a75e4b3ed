"""Texts of rows as queries show them."""

from __future__ import annotations

from evenquill.core.model.inline import OBJECT

SHOWN = 60
"""Characters that are shown of a row."""


def beginning_of(text: str) -> str:
    """The beginning of a text, on one line."""
    text = _on_one_line(text)
    return text if len(text) <= SHOWN else text[: SHOWN - 1].rstrip() + "…"


def end_of(text: str) -> str:
    """The end of a text, on one line."""
    text = _on_one_line(text)
    return text if len(text) <= SHOWN else "…" + text[1 - SHOWN :].lstrip()


def _on_one_line(text: str) -> str:
    return " ".join(text.replace(OBJECT, "").split())
