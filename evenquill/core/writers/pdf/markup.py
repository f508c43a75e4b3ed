"""The markup of typst, made of strings and calls, so that no text can be taken for markup."""

from __future__ import annotations

import re

_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ufffe\uffff]")


def string(text: str) -> str:
    """A string of typst's code."""
    kept = _CONTROL.sub("", text).replace("\\", "\\\\").replace('"', '\\"').replace("\n", " ")
    return f'"{kept}"'


def shown(text: str) -> str:
    """Text as content."""
    return f"#{string(text)}" if text else ""


def call(function: str, inner: str = "", /, **arguments: str | None) -> str:
    """A call in markup, with content behind its arguments; those that are None are left out, and ``_`` in their names is ``-``."""
    return f"#{applied(function, inner, **arguments)}"


def applied(function: str, inner: str = "", /, **arguments: str | None) -> str:
    """A call in code."""
    said = ", ".join(f"{name.replace('_', '-')}: {value}" for name, value in arguments.items() if value is not None)
    return f"{function}({said})[{inner}]"


def points(value: float) -> str:
    """A length."""
    return f"{value:.2f}pt"


def colour(value: str) -> str:
    """A colour from ``rrggbb``."""
    return f'rgb("#{value}")'


def array(values: list[str]) -> str:
    """An array; one of a single value needs a comma."""
    return f"({', '.join(values)}{',' if len(values) == 1 else ''})"
