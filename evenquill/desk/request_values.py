"""Numbers in addresses: read as what they are, or refused with a sentence."""

from __future__ import annotations

import math

from flask import request

from evenquill.desk.endpoints import ApiError

LONGEST = 9
"""Digits; there are no longer numbers of pages, rows or places."""


def whole_number(text: str) -> int | None:
    """A number from 0 in plain digits, None for anything else."""
    return int(text) if text.isascii() and text.isdecimal() and len(text) <= LONGEST else None


def whole_parameter(name: str, usual: int) -> int:
    """A whole number among the parameters of the request; raises ApiError for anything else."""
    given = request.args.get(name)
    if given is None:
        return usual
    number = whole_number(given.removeprefix("-"))
    if number is None:
        raise ApiError(400, "request", f"“{name}” takes a whole number.")
    return -number if given.startswith("-") else number


def number_parameter(name: str, usual: float) -> float:
    """A finite number among the parameters of the request; raises ApiError for anything else."""
    try:
        value = float(request.args.get(name, usual))
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise ApiError(400, "request", f"“{name}” takes a number.")
    return value
