"""Numbers and months as languages write them, by the locale data that come with Babel (Unicode CLDR)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from decimal import Decimal
from functools import cache

from babel import Locale, UnknownLocaleError
from babel.dates import get_month_names
from babel.numbers import NumberFormatError, format_decimal, get_group_symbol, parse_decimal

from evenquill.core.languages import KNOWN

OTHER_WAYS = ("en", "de", "fr", "de_CH")
"""Ways to write numbers beside that of the text's own language: point or comma before decimals; comma, point, space or apostrophe
between thousands."""

_CURRENCIES = re.compile(r"[€$£¥]|\b(?:EUR|USD|GBP|CHF|SEK|NOK|DKK)\b")
_SPACES = re.compile(r"\s")
_APOSTROPHES = re.compile(r"['’]")
_MINUS = re.compile(r"^[−–]")


def parsed(text: str, locale: str) -> Decimal | None:
    """The value of a number as a locale writes it, None where it does not write numbers so."""
    number = _with_group_sign(_MINUS.sub("-", _CURRENCIES.sub("", text).strip()), locale)
    try:
        return parse_decimal(number, locale=locale, strict=True)
    except NumberFormatError:
        return None


def _with_group_sign(number: str, locale: str) -> str:
    """The number with the very sign that the locale has between thousands, where it has one like it."""
    group = get_group_symbol(locale)
    if _SPACES.match(group):
        return _SPACES.sub(group, number)
    return _APOSTROPHES.sub(group, number) if group in "'’" else number


def written_like(value: Decimal, locale: str, example: str) -> str:
    """A number as a locale writes it, in groups if the example has them, with as many decimals as the value has."""
    exponent = value.as_tuple().exponent
    decimals = max(-exponent, 0) if isinstance(exponent, int) else 0
    whole = "#,##0" if get_group_symbol(locale) in _with_group_sign(example, locale) else "0"
    written: str = format_decimal(value, format=f"{whole}.{'0' * decimals}" if decimals else whole, locale=locale)
    return written


def ways_to_write(language: str) -> Iterator[str]:
    """Locales in which a text in a language (two letters) may write its numbers, its own first."""
    try:
        own = str(Locale.parse(language)) if language else ""
    except (UnknownLocaleError, ValueError):
        own = ""
    yield from dict.fromkeys((*((own,) if own else ()), *OTHER_WAYS))


@cache
def days_by_month() -> dict[str, int]:
    """How many days a month has at most, by its name in each language that is known, in lower case."""
    days = (31, 29, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)
    names: dict[str, int] = {}
    for language in KNOWN:
        for context in ("format", "stand-alone"):
            for number, name in get_month_names("wide", context, locale=language.short).items():
                names[name.casefold()] = days[number - 1]
    return names
