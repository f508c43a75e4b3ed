"""Elements of HTML as text that is XML too."""

from __future__ import annotations

import re
from collections.abc import Mapping
from html import escape

_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ufffe\uffff]")
"""Characters that HTML must not hold (HTML Living Standard, 13.2.3.5)."""


def text_of(text: str) -> str:
    """Text between tags."""
    return escape(_CONTROL.sub("", text), quote=False)


def tag(name: str, inner: str = "", /, **attributes: str | int | None) -> str:
    """An element with what is in it; attributes that are None are left out, and ``_`` at the end of a name is dropped."""
    return f"<{name}{_said(attributes)}>{inner}</{name}>"


def void(name: str, /, **attributes: str | int | None) -> str:
    """An element in which there is nothing, as XML wants it too."""
    return f"<{name}{_said(attributes)} />"


def _said(attributes: Mapping[str, str | int | None]) -> str:
    return "".join(
        f' {key.rstrip("_").replace("_", "-")}="{escape(_CONTROL.sub("", str(value)))}"'
        for key, value in attributes.items()
        if value is not None
    )
