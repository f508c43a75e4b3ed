"""What RTF is made of: text in plain letters, groups, and measures in twentieths of a point."""

from __future__ import annotations

import re

_SPECIAL = {"\\": "\\\\", "{": "\\{", "}": "\\}", "\u00a0": "\\~", "\u00ad": "\\-", "\u2011": "\\_"}
_CONTROL = re.compile(r"[\x00-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]")


def shown(text: str) -> str:
    """Text: whatever is not plain ASCII by its number, in halves where it is beyond 16 bits."""
    return "".join(_shown(character) for character in _CONTROL.sub("", text))


def _shown(character: str) -> str:
    special = _SPECIAL.get(character)
    if special is not None:
        return special
    if " " <= character < "\x7f":
        return character
    data = character.encode("utf-16-le")
    units = [int.from_bytes(data[n : n + 2], "little", signed=True) for n in range(0, len(data), 2)]
    return "".join(f"\\u{unit}\\'3f" for unit in units)


def twips(points: float) -> int:
    """Twentieths of a point."""
    return round(points * 20)


def flag(name: str, wanted: bool) -> str:
    """A code that is said only where it is wanted."""
    return f"\\{name}" if wanted else ""


def group(inner: str) -> str:
    return "{" + inner + "}"


def ignorable(name: str, inner: str) -> str:
    """A group that readers skip which do not know its name."""
    return "{\\*\\" + name + " " + inner + "}"


def field(instruction: str, result: str) -> str:
    """What a reader works out anew, and what it shows until then."""
    return "{\\field{\\*\\fldinst " + instruction + "}{\\fldrslt " + result + "}}"
