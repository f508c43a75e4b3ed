"""What the characters of a word say about it: mixes that no word has, and numbers with letters in them."""

from __future__ import annotations

import itertools
import re

from evenquill.core.languages import script_of_letter

ONE_LETTER_WORDS = frozenset("aAIàÀyYoOéÉeEuiåавзийікоєсуяАВЗИЙІКОЄСУЯηήοωΗΉΟΩ")
"""Letters that are words by themselves in one of the languages."""

_NUMBER_LIKE = re.compile(r"^[+\-−]?[\dOoIlSBZ|][\d.,:/OoIlSBZ|]*[%°]?$")
_CODE = re.compile(
    r"^[A-Z]{1,4}[-/ ]?\d+[a-z]?$|^[A-Z](\.\d+)+$|^\d+(st|nd|rd|th|er|e|ère|ème|\.|mm|cm|km|m|kg|g|h)?$|^\d+[-–/]\d+[a-z]?$"
)
_ROMAN = re.compile(r"^M*(CM|CD|D?C{0,3})(XC|XL|L?X{0,3})(IX|IV|V?I{0,3})$", re.IGNORECASE)
_PLAIN_NUMBER = re.compile(
    r"""^(\d+([.,]\d+)?
      |\d{1,3}([.,\s’']\d{3})+([.,]\d+)?  # in groups of three
      |\d{1,2}[./]\d{1,2}[./](\d{2}|\d{4})|\d{1,2}[:.]\d{2}([:.]\d{2})?  # dates and times
      |\d+[-–/]\d+
      |\d{1,2}(\.\d{1,2}){1,3}\.?  # sections
    )$""",
    re.VERBOSE,
)
_STOP_WITHIN = re.compile(r"[^\W\d_]{2}[.,][^\W\d_]{3}")
_INNER = re.compile(r"\w[^\w\s'’\-–.&/@:]\w")

LETTERS_FOR_DIGITS = {"O": "0", "o": "0", "I": "1", "l": "1", "|": "1", "S": "5", "B": "8", "Z": "2"}


def is_number(core: str) -> bool:
    """Whether a word is digits with their signs."""
    return bool(core) and core[0].isdigit() and not any(c.isalpha() for c in core)


def is_plain_number(core: str) -> bool:
    """Whether a number is written as numbers, dates and times are."""
    return bool(_PLAIN_NUMBER.match(core))


def number_form(core: str) -> str:
    """How a number is written, whatever it says: ``17.305`` as ``00.000``."""
    return re.sub(r"\d", "0", core)


def spoiled_number(core: str) -> str | None:
    """The number that a row of digits with letters among them was; None for other words."""
    if not _NUMBER_LIKE.match(core) or not any(c.isalpha() or c == "|" for c in core):
        return None
    digits = sum(c.isdigit() for c in core)
    if digits == 0 or digits < sum(c.isalpha() for c in core) or _CODE.match(core):
        return None
    return "".join(LETTERS_FOR_DIGITS.get(c, c) for c in core)


def is_code(core: str) -> bool:
    """Whether a word is of letters and digits as codes and measures are, or a Roman number."""
    return bool(_CODE.match(core) or _ROMAN.match(core))


def oddity(text: str, core: str) -> float:
    """How odd the mix of characters is, from 0 for none: digits within letters, signs within, capitals within, two scripts."""
    odd = 0.0
    if any(c.isdigit() for c in core) and any(c.isalpha() for c in core) and not is_code(core):
        odd += 1.0
    if _INNER.search(text) or (_STOP_WITHIN.search(core) and "www" not in core and "@" not in core):
        odd += 1.0
    if is_number(core) and not is_plain_number(core):
        odd += 1.0
    letters = [c for c in core if c.isalpha()]
    if len(letters) > 2 and any(c.isupper() for c in letters[1:]) and any(c.islower() for c in letters):
        changes = sum(a.islower() and b.isupper() for a, b in itertools.pairwise(letters))
        odd += 0.8 * min(changes, 2) + (0.5 if letters[0].islower() else 0.0)
    if len(letters) > 2 and letters[0].isupper() and letters[1].isupper() and all(c.islower() for c in letters[2:]):
        odd += 1.0
    if len(set(map(script_of_letter, letters))) > 1:
        odd += 1.0
    if not core:
        odd += 0.7
    elif len(core) == 1 and core.isalpha() and core not in ONE_LETTER_WORDS:
        odd += 0.5
    return odd
