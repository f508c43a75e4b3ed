"""Named styles: what the paragraphs of a document have in common."""

from __future__ import annotations

from collections.abc import Iterable
from enum import StrEnum

import msgspec


class Align(StrEnum):
    LEFT = "left"
    RIGHT = "right"
    CENTER = "center"
    JUSTIFY = "justify"
    DECIMAL = "decimal"
    """Only of texts in cells of a table, and of tab stops: by the decimal signs of numbers."""


class Family(StrEnum):
    """The three families that every word processor can show."""

    SERIF = "serif"
    SANS = "sans"
    MONO = "mono"


class StandIn(msgspec.Struct, frozen=True):
    """A typeface that may not be at hand, and the one that stands for it."""

    name: str
    stands: str


class ParagraphStyle(msgspec.Struct, frozen=True, omit_defaults=True):
    """A named look of paragraphs, as far as it differs from that of the style that it is based on: None is as there.

    Blocks hold on to ``id``; ``name`` is what it is called where that is not its id. Fields are those of ResolvedStyle; ``color`` is ""
    for that of the page.
    """

    id: str
    name: str = ""
    based_on: str = ""
    font: str | None = None
    family: Family | None = None
    size: float | None = None
    bold: bool | None = None
    italic: bool | None = None
    color: str | None = None
    align: Align | None = None
    left: float | None = None
    right: float | None = None
    first: float | None = None
    before: float | None = None
    after: float | None = None
    leading: float | None = None
    outline: int | None = None
    keep_next: bool | None = None


class ResolvedStyle(msgspec.Struct, frozen=True, omit_defaults=True):
    """The whole look that a style comes to. Lengths in points; ``leading`` is the distance of baselines, 0 for single.

    ``font`` is the name of the source's font family where it had one, ``family`` what to fall back on. ``color`` is six hexadecimal
    digits, None for that of the page. ``outline`` is the heading level from 1, or 0.
    """

    id: str
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


SINGLE = 1.2
"""Distance of baselines over the size of type where a style says none."""

BODY = ResolvedStyle("Body text", "Body text")
"""The style of text in a document that has none."""

_LOOK = ResolvedStyle.__struct_fields__[2:]


def resolved_styles(styles: Iterable[ParagraphStyle]) -> tuple[ResolvedStyle, ...]:
    """The styles with what they take over from those that they are based on."""
    known = {style.id: style for style in styles}
    return tuple(_resolved(style, known) for style in known.values())


def _resolved(style: ParagraphStyle, known: dict[str, ParagraphStyle]) -> ResolvedStyle:
    look: dict[str, object] = {}
    seen: set[str] = set()
    at: ParagraphStyle | None = style
    while at is not None and at.id not in seen:
        seen.add(at.id)
        for field in _LOOK:
            value = getattr(at, field)
            if value is not None:
                look.setdefault(field, value)
        at = known.get(at.based_on)
    color = look.pop("color", "") or None
    return msgspec.structs.replace(ResolvedStyle(style.id, style.name or style.id), color=color, **look)


def style_of(look: ResolvedStyle, base: ResolvedStyle = BODY) -> ParagraphStyle:
    """A style with a look, based on another one where that is not its own."""
    name = look.name if look.name != look.id else ""
    differing = {field: getattr(look, field) for field in _LOOK if getattr(look, field) != getattr(base, field)}
    if "color" in differing:
        differing["color"] = look.color or ""
    return msgspec.structs.replace(ParagraphStyle(look.id, name, "" if base is BODY else base.id), **differing)
