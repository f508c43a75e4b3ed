"""Named styles: what the paragraphs of a document have in common."""

from __future__ import annotations

from enum import StrEnum

import msgspec


class Align(StrEnum):
    LEFT = "left"
    RIGHT = "right"
    CENTER = "center"
    JUSTIFY = "justify"


class Family(StrEnum):
    """The three families that every word processor can show."""

    SERIF = "serif"
    SANS = "sans"
    MONO = "mono"


class ParagraphStyle(msgspec.Struct, frozen=True, omit_defaults=True):
    """A named look of paragraphs. Lengths in points; ``leading`` is the distance of baselines, 0 for single.

    ``font`` is the name of the source's font family where it had one, ``family`` what to fall back on.
    ``outline`` is the heading level from 1, or 0.
    """

    name: str
    font: str = ""
    family: Family = Family.SERIF
    size: float = 11.0
    bold: bool = False
    italic: bool = False
    color: str | None = None
    align: Align = Align.LEFT
    left: float = 0.0
    right: float = 0.0
    first: float = 0.0
    before: float = 0.0
    after: float = 0.0
    leading: float = 0.0
    outline: int = 0
    keep_next: bool = False
