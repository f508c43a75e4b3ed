"""Questions about plain text that many parts ask: letters alone, ends of sentences, broken words."""

from __future__ import annotations

from evenquill.core.model.inline import OBJECT


def letters_of(text: str) -> str:
    """The letters alone, without case: for titles that are compared whatever their signs and numbers."""
    return "".join(c for c in text.casefold() if c.isalpha())


def letters_and_digits_of(text: str) -> str:
    """Letters and digits alone, without case."""
    return "".join(c for c in text.casefold() if c.isalnum())


NOTE_SIGNS = "*∗†‡§¶‖"
"""Signs that call notes, in the order in which they are used, alone or doubled; typefaces for formulas have an asterisk of their own."""

TERMINAL, CLOSING = frozenset(".!?:;…"), "\"'”’»)]"
"""Signs that end a sentence, or a part of one that may stand alone; and those that may follow them."""


def ends_sentence(text: str) -> bool:
    """Whether a text ends as a sentence does; the mark of a note behind the stop does not matter."""
    return text.rstrip(CLOSING + OBJECT)[-1:] in TERMINAL


HYPHENS = "-\u2010\u00ad"
"""Signs that may break a word at the end of a line; the last one is soft, and not seen elsewhere."""


def ends_broken(text: str) -> bool:
    """Whether a line ends in the middle of a word, or at a real hyphen."""
    return len(text) > 1 and text[-1] in HYPHENS and not text[-2].isspace() and text[-2] not in HYPHENS
