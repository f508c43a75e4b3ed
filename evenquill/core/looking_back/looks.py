"""What may look otherwise in the result than in the source."""

from __future__ import annotations

from enum import StrEnum

import msgspec

from evenquill.core.model import Align, Box

SCALE = 2.5
"""Pixels of a point at which pages are looked at: at 180 dots an inch strokes of small print are two pixels thick. At 108 the noise in how
thick they are was two to four times as large."""

ASKED = 0.3
"""Likelihood from which a difference is asked about."""


class LookKind(StrEnum):
    """What differs."""

    BOLDER = "bolder"
    """The source is bolder."""
    LIGHTER = "lighter"
    MARK = "mark"
    """The source has a mark before the row."""
    NO_MARK = "no mark"
    PLACE = "place"
    """The row, or a cell, stands elsewhere."""
    SIGN = "sign"
    """The source has a sign between the words of the row."""
    MISSING = "missing"
    """Something of the source beside its rows is not in the result."""


class LookDoubt(msgspec.Struct, frozen=True, omit_defaults=True):
    """A place on a page of the source that looks otherwise in the result, and how likely that is a fault (0 to 1). ``measure`` is by how
    much it differs, in the unit of its kind; ``align`` is the side that the row stands on in the source, where that is plain, ``ends`` are
    the places of the first and the last word of those that it is about, where it is about some of a row."""

    kind: LookKind
    page: int
    box: Box
    measure: float
    likelihood: float
    align: Align | None = None
    ends: tuple[Box, Box] | None = None


class LookedBack(msgspec.Struct, frozen=True, omit_defaults=True):
    """What was seen when a document was looked back at: by the ids of rows and of texts in cells what looks otherwise there; how many rows
    were ``compared``, and how many of these look ``alike``."""

    doubts: dict[str, tuple[LookDoubt, ...]] = {}
    compared: int = 0
    alike: int = 0
