"""The operations on named styles, as values."""

from __future__ import annotations

import msgspec

from evenquill.core.model import Align, ResolvedStyle


class StyleLook(msgspec.Struct, frozen=True, omit_defaults=True):
    """What a style is to be like; None leaves it as it is. Lengths in points, ``leading`` 0 for single lines, ``color`` six hexadecimal
    digits or "" for that of the page."""

    name: str | None = None
    font: str | None = None
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
    keep_next: bool | None = None


class ChangeStyle(msgspec.Struct, frozen=True, tag="change_style", tag_field="op"):
    """Gives a style another look or name: all rows that have it follow, and the styles that are based on it as far as they say nothing
    else."""

    style: str
    look: StyleLook


class ApplyStyle(msgspec.Struct, frozen=True, tag="apply_style", tag_field="op"):
    """Gives rows, or texts in cells, a style. A row becomes of the kind that rows of the style are."""

    blocks: tuple[str, ...]
    style: str


class MergeStyles(msgspec.Struct, frozen=True, tag="merge_styles", tag_field="op"):
    """Gives all that has a style another one, and takes the first out of the document."""

    style: str
    into: str


class NewStyle(msgspec.Struct, frozen=True, tag="new_style", tag_field="op"):
    """Makes a style of the look of a row, with what is the same in all of its text, and gives it to the row."""

    block: str
    name: str


class SetStandIn(msgspec.Struct, frozen=True, tag="stand_in", tag_field="op"):
    """Says which typeface stands for one of a ``name`` where that is not at hand; none leaves it to the application."""

    name: str
    stands: str = ""


class TakeStyles(msgspec.Struct, frozen=True, tag="take_styles", tag_field="op"):
    """Gives the styles of the document the looks of others, such as those of another document or of a template: headings by their
    level, the text that of the first, all others by their name."""

    styles: tuple[ResolvedStyle, ...]


StyleOperation = ChangeStyle | ApplyStyle | MergeStyles | NewStyle | TakeStyles | SetStandIn
