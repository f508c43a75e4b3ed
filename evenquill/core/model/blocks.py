"""Blocks: the pieces that a document is made of, in order."""

from __future__ import annotations

from enum import StrEnum

import msgspec

from evenquill.core.model.geometry import Spot, WordSpot
from evenquill.core.model.styles import Align
from evenquill.core.model.text import Run, plain

HANDWRITING = "handwriting"
"""Note of a picture that is handwriting."""

EQUATION = "equation"
"""Note of a picture that is an equation."""

HANDWRITING_STYLE = "Handwriting"
"""Style of text that was read from handwriting."""


class Role(StrEnum):
    """What a text block is in the document."""

    PARAGRAPH = "paragraph"
    HEADING = "heading"
    LIST_ITEM = "list_item"
    NOTE = "note"
    ENDNOTE = "endnote"
    CAPTION = "caption"
    QUOTE = "quote"
    VERSE = "verse"
    CODE = "code"
    TERM = "term"
    DEFINITION = "definition"
    CONTENTS = "contents"


NOTES = frozenset({Role.NOTE, Role.ENDNOTE})
"""What stands apart from the text and is led to by marks: at the foot of the page, or at the end."""


class NumberFormat(StrEnum):
    BULLET = "bullet"
    DECIMAL = "decimal"
    LOWER_LETTER = "lower_letter"
    UPPER_LETTER = "upper_letter"
    LOWER_ROMAN = "lower_roman"
    UPPER_ROMAN = "upper_roman"


class Numbering(msgspec.Struct, frozen=True, omit_defaults=True):
    """How a list item is marked.

    ``pattern`` holds the mark with ``%`` for its number: ``%.``, ``(%)``; further ones before it stand for the numbers of the levels
    above: ``%.%``. For bullets it is the sign itself.
    ``start`` is the number at which a new sequence begins here, None where the item carries on.
    """

    format: NumberFormat = NumberFormat.BULLET
    pattern: str = "•"
    start: int | None = None

    @property
    def ordered(self) -> bool:
        return self.format is not NumberFormat.BULLET


class TabStop(msgspec.Struct, frozen=True, omit_defaults=True):
    """A tab stop, in points from the left margin; ``leader`` fills the way to it with dots."""

    at: float
    align: Align = Align.LEFT
    leader: bool = False


class TextBlock(msgspec.Struct, frozen=True, omit_defaults=True, tag="text"):
    """A paragraph, heading, list item, note, or another of the kinds of text.

    ``level`` is the level of a heading or of an entry of a contents list from 1, or the list depth from 0. ``align`` overrides the style's.
    ``words`` keep their character range in the plain text and their place on the source; ``spots`` are the
    pieces of the source that the block came from, one for each column or page. A block that is ``aside`` is
    kept, but not written out. ``columns`` is the number of columns side by side that it is set in.
    """

    id: str
    role: Role = Role.PARAGRAPH
    runs: tuple[Run, ...] = ()
    style: str = ""
    level: int = 0
    numbering: Numbering | None = None
    align: Align | None = None
    tabs: tuple[TabStop, ...] = ()
    page_break: bool = False
    spots: tuple[Spot, ...] = ()
    words: tuple[WordSpot, ...] = ()
    aside: bool = False
    columns: int = 1

    @property
    def text(self) -> str:
        return plain(self.runs)


class PictureBlock(msgspec.Struct, frozen=True, omit_defaults=True, tag="picture"):
    """A picture standing between paragraphs.

    ``picture`` is the SHA-256 of its bytes, which are kept beside the document; ``media`` their type.
    ``width`` and ``height`` in points as placed. ``note`` says what is special about it, for the clerk.
    """

    id: str
    picture: str
    media: str
    width: float
    height: float
    align: Align = Align.LEFT
    alt: str = ""
    note: str = ""
    page_break: bool = False
    spots: tuple[Spot, ...] = ()
    aside: bool = False
    columns: int = 1


Block = TextBlock | PictureBlock
