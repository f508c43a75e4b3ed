"""Elements of HTML as text."""

from __future__ import annotations

import re
from html import escape

_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ufffe\uffff]")
"""Characters that HTML must not hold (HTML Living Standard, 13.2.3.5)."""


def text_of(text: str) -> str:
    """Text between tags."""
    return escape(_CONTROL.sub("", text), quote=False)


def tag(name: str, inner: str = "", /, **attributes: str | int | None) -> str:
    """An element with what is in it; attributes that are None are left out, and ``_`` at the end of a name is dropped."""
    return f"{opening(name, **attributes)}{inner}</{name}>"


def opening(name: str, /, **attributes: str | int | None) -> str:
    """The tag that an element begins with; all there is of one without content."""
    said = "".join(
        f' {key.rstrip("_").replace("_", "-")}="{escape(_CONTROL.sub("", str(value)))}"'
        for key, value in attributes.items()
        if value is not None
    )
    return f"<{name}{said}>"
