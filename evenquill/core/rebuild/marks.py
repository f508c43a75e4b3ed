"""List marks at the start of a line: bullets of any sign, numbers, letters, roman numerals, in brackets or not."""

from __future__ import annotations

import re
from typing import NamedTuple

from evenquill.core.layout.flow import FlowLine
from evenquill.core.model import NumberFormat
from evenquill.core.model.numerals import roman_value

BULLETS = frozenset("∗•◦▪▫‣⁃∙·●○■□◆◇►▶➢➤✓✔★☆❖→⇒»–—*-−")
"""Signs that are bullets wherever they begin a line."""

SIGNS = 0xE000
"""From here on (a private area of Unicode) stand bullets that are letters of sign fonts: they are no letters."""

CERTAIN = frozenset("•◦▪▫‣⁃∙●■□◆◇►▶➢➤✓✔☆❖")
"""Signs that begin nothing but items."""

MARK_GAP = 0.3
"""Ems between a mark that is a letter of a sign font and its text, at least."""

WIDE_GAP = 0.7
"""Ems between a mark that is nothing but a number or letter and its text, at least."""

_NAME = re.compile(r"[^\W\d_]{3}")
_NUMBERED = re.compile(r"^(?:(\(?)(\d{1,3}|[a-zA-Z]|[ivxlc]{1,6}|[IVXLC]{1,6})([.):])|(\[)(\d{1,3})(\]))$")
_BARE = re.compile(r"^()(\d{1,3}|[a-zA-Z]|[ivxlc]{1,6}|[IVXLC]{1,6})()$")
_OF_LEVELS = re.compile(r"^((?:[1-9]\d{0,2}\.){1,6})([1-9]\d{0,2})(\.?)$")


class ListMark(NamedTuple):
    """A mark as printed, and where the text after it begins."""

    text: str
    text_x: float


def list_mark(line: FlowLine, *, of_item: bool = False) -> ListMark | None:
    """The mark that a line begins with, if it may be one. A number without a sign behind it needs a wide gap, unless the line is known to
    be the first ``of_item``."""
    if len(line.words) < 2:
        return None
    first, second = line.words[0], line.words[1]
    gap = second.box.x0 - first.box.x1
    if not second.before:
        return None
    if _is_bullet(line, gap):
        sign = first.text if first.text in BULLETS else chr(SIGNS + ord(first.text) % 0x1000)
        return ListMark(sign, second.box.x0)
    bare = _BARE.match(first.text) and (gap > WIDE_GAP * line.size or (of_item and first.text.isdecimal()))
    if bare or _NUMBERED.match(first.text):
        return ListMark(first.text, second.box.x0)
    if _OF_LEVELS.match(first.text) and not any(
        word.before == "\t" for word in line.words[2:]
    ):  # a row of figures has tabs
        return ListMark(first.text, second.box.x0)
    return None


def is_of_levels(mark: str) -> bool:
    """Whether a mark holds the numbers of the levels above: ``2.1``, ``2.1.3.``."""
    return bool(_OF_LEVELS.match(mark))


def _is_bullet(line: FlowLine, gap: float) -> bool:
    first, second = line.words[0], line.words[1]
    if len(first.text) != 1:
        return False
    if first.text in BULLETS or 0xE000 <= ord(first.text) <= 0xF8FF or first.text == "\ufffd":
        return True
    # A letter code of a sign font: set in a font of its own, with a gap as after a mark. Fonts of letters have names that say so.
    other_font = first.type.font != second.type.font and all(
        word.type.font != first.type.font for word in line.words[1:]
    )
    of_letters = first.text.isascii() and bool(_NAME.search(first.type.font))
    may_be_sign = first.type.symbol or (other_font and not of_letters)
    return may_be_sign and gap > MARK_GAP * line.size and not first.text.isdigit()


class Number(NamedTuple):
    """A way to read a numbered mark; ``above`` are the numbers of the levels above that it holds, the highest first."""

    format: NumberFormat
    value: int
    pattern: str
    above: tuple[int, ...] = ()

    @property
    def path(self) -> tuple[int, ...]:
        return (*self.above, self.value)

    def follows(self, other: Number, by: int = 1) -> bool:
        """Whether it is the next number of the same kind, or the one ``by`` so many further on."""
        return (self.format, self.pattern, self.above, self.value) == (
            other.format,
            other.pattern,
            other.above,
            other.value + by,
        )


def readings(mark: str) -> list[Number]:
    """All ways to read a mark: ``i)`` is a letter or the roman one; none for a bullet."""
    match = _OF_LEVELS.match(mark)
    if match is not None:
        above = tuple(int(number) for number in match[1].split(".")[:-1])
        return [Number(NumberFormat.DECIMAL, int(match[2]), f"%{match[3]}", above)]
    match = _NUMBERED.match(mark) or _BARE.match(mark)
    if match is None:
        return []
    opening, body, closing = (group for group in match.groups() if group is not None)
    pattern = f"{opening}%{closing}"
    if body.isdigit():
        return [Number(NumberFormat.DECIMAL, int(body), pattern)]
    found = []
    lower = body.islower()
    value = roman_value(body)
    if value:
        form = NumberFormat.LOWER_ROMAN if lower else NumberFormat.UPPER_ROMAN
        found.append(Number(form, value, pattern))
    if len(body) == 1:
        form = NumberFormat.LOWER_LETTER if lower else NumberFormat.UPPER_LETTER
        found.append(Number(form, ord(body.lower()) - ord("a") + 1, pattern))
    return found


def follows_mark(above: str, below: str) -> bool:
    """Whether a mark may be the next number after another one, of the same kind."""
    return any(other.follows(one) for one in readings(above) for other in readings(below))
