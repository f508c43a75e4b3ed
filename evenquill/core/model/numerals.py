"""Numbers as they are printed: decimal and roman ones, letters of the alphabet."""

from __future__ import annotations

import re

from evenquill.core.model.blocks import NumberFormat

_VALUES = {"i": 1, "v": 5, "x": 10, "l": 50, "c": 100, "d": 500, "m": 1000}
_ROMAN = re.compile(r"m{0,3}(cm|cd|d?c{0,3})(xc|xl|l?x{0,3})(ix|iv|v?i{0,3})")
_STEPS = ((100, "c"), (90, "xc"), (50, "l"), (40, "xl"), (10, "x"), (9, "ix"), (5, "v"), (4, "iv"), (1, "i"))


def roman_value(text: str) -> int:
    """The value of a roman numeral, 0 where the text is none."""
    lower = text.lower()
    if not lower or text not in (lower, text.upper()) or not _ROMAN.fullmatch(lower):
        return 0
    values = [_VALUES[c] for c in lower]
    return sum(-v if i + 1 < len(values) and values[i + 1] > v else v for i, v in enumerate(values))


def written(value: int, form: NumberFormat) -> str:
    """A number as it is printed in a format; decimal where the format has no such number."""
    if form in (NumberFormat.LOWER_LETTER, NumberFormat.UPPER_LETTER) and 1 <= value <= 26:
        letter = chr(ord("a") + value - 1)
        return letter if form is NumberFormat.LOWER_LETTER else letter.upper()
    if form in (NumberFormat.LOWER_ROMAN, NumberFormat.UPPER_ROMAN) and 0 < value < 200:
        out = ""
        for step, sign in _STEPS:
            while value >= step:
                out, value = out + sign, value - step
        return out if form is NumberFormat.LOWER_ROMAN else out.upper()
    return str(value)
