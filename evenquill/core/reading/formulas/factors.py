"""Slanted letters side by side: quantities that are multiplied, or a word."""

from __future__ import annotations

LONGEST_FACTORS = 3
"""Slanted letters side by side that may be quantities multiplied; more are a word. Only single ones tell by themselves of a formula."""


_WORDS = (
    "am an as at be by do go he if in is it me my no of on or so to up us we da du er es ja wo zu de la le et un au en se si il lo al ma "
    "mi te tu av og på är om ze na za po od ve"
)
_SHORT_WORDS = frozenset(_WORDS.split())


def may_be_factors(text: str) -> bool:
    """Whether slanted letters side by side may be quantities that are multiplied, and no short word."""
    if len(text) > LONGEST_FACTORS:
        return False
    if not (text.islower() or text.istitle()):
        return True
    return text.lower() not in _SHORT_WORDS and not (len(text) == 3 and any(c in "aeiouy" for c in text.lower()))


def is_differential(text: str) -> bool:
    """Whether two letters are what integrals end with."""
    return len(text) == 2 and text[0] == "d"
