"""Blocks: the pieces that a document is made of, in order."""

from __future__ import annotations

from enum import StrEnum

import msgspec

from evenquill.core.model.geometry import Box, Spot, WordSpot
from evenquill.core.model.inline import Inline, plain, readable
from evenquill.core.model.sides import Sides
from evenquill.core.model.styles import Align

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
    CELL = "cell"
    EQUATION = "equation"


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


DEEPEST_LIST = 8
"""Depths of items are 0 to 8, as formats of word processors have them (ECMA-376 part 1, 17.9.3)."""


class TabStop(msgspec.Struct, frozen=True, omit_defaults=True):
    """A tab stop, in points from the left margin; ``leader`` fills the way to it with dots, ``sign`` is that before decimals where it is
    by these."""

    at: float
    align: Align = Align.LEFT
    leader: bool = False
    sign: str = ""


class StructureDoubt(msgspec.Struct, frozen=True, omit_defaults=True):
    """What may be wrong with how a block came about, and how likely (0 to 1): it is of another ``role``, or, without one, something new
    begins within it, at the word at ``box`` on a page, or, without that, it carries on the text before it."""

    likelihood: float
    role: Role | None = None
    level: int = 0
    box: Box | None = None
    page: int = 0


class TextBlock(msgspec.Struct, frozen=True, omit_defaults=True, tag="text"):
    """A paragraph, heading, list item, note, or another of the kinds of text.

    ``level`` is the level of a heading or of an entry of a contents list from 1, or the list depth from 0. A text of a cell that has a
    ``numbering`` is an item of a list within that cell. ``align`` overrides the style's.
    ``words`` keep their character range in the plain text and their place on the source; ``spots`` are the
    pieces of the source that the block came from, one for each column or page. A block that is ``excluded`` is
    kept, but not written out. ``section`` is the id of the section that it is in, ``language`` (two letters) the one that it is in where
    that is not the document's. ``doubts`` are about how it was put together. One that ``goes_on`` is a
    sentence of the paragraph of the row before it. ``sides`` are those of its sides that
    have a line: the upper and the lower one; a text of a cell has none.
    """

    id: str
    role: Role = Role.PARAGRAPH
    content: tuple[Inline, ...] = ()
    style: str = ""
    level: int = 0
    numbering: Numbering | None = None
    align: Align | None = None
    tabs: tuple[TabStop, ...] = ()
    page_break: bool = False
    spots: tuple[Spot, ...] = ()
    words: tuple[WordSpot, ...] = ()
    excluded: bool = False
    section: str = ""
    language: str = ""
    doubts: tuple[StructureDoubt, ...] = ()
    goes_on: bool = False
    sides: Sides = Sides.NONE

    @property
    def is_item(self) -> bool:
        """Whether it is an item of a list, in a row of its own or in a cell."""
        return self.role is Role.LIST_ITEM or (self.role is Role.CELL and self.numbering is not None)

    @property
    def text(self) -> str:
        """The plain text, one character for each element that is not text."""
        return plain(self.content)

    @property
    def readable(self) -> str:
        """The text as it reads, with the marks of notes as they are printed."""
        return readable(self.content)


SVG_MEDIA = "image/svg+xml"


class PictureBlock(msgspec.Struct, frozen=True, omit_defaults=True, tag="picture"):
    """A picture standing between paragraphs.

    ``picture`` is the SHA-256 of its bytes, which are kept beside the document; ``media`` their type.
    ``drawing`` is that of the same picture as SVG, "" where there is none. ``width`` and ``height`` in points as placed. ``note`` says what
    is special about it, for the clerk. ``around`` says that the text below goes around it, at the side that its alignment leaves free.
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
    excluded: bool = False
    section: str = ""
    drawing: str = ""
    around: bool = False

    @property
    def sharpest(self) -> tuple[str, str]:
        """The picture as it is sharp at every size, if it is known so, and its media type."""
        return (self.drawing, SVG_MEDIA) if self.drawing else (self.picture, self.media)


class Cell(msgspec.Struct, frozen=True, omit_defaults=True):
    """A cell of a table: the grid place of its upper left corner, from 0, and its paragraphs, at least one; ``rows`` and ``columns``
    are how many it takes, ``sides`` those that have a line, None for as the table says;
    ``fill`` is the colour (``rrggbb``) that it is filled with, if any."""

    id: str
    row: int
    column: int
    texts: tuple[TextBlock, ...]
    rows: int = 1
    columns: int = 1
    sides: Sides | None = None
    fill: str = ""

    @property
    def text(self) -> str:
        return "\n".join(block.text for block in self.texts)


class TableBlock(msgspec.Struct, frozen=True, omit_defaults=True, tag="table"):
    """A table. ``widths`` of its columns are in points; ``row_ids`` name its rows; ``cells`` are in order, row by row, and leave no
    place of the grid out (``model.grid``).

    The first ``header_rows`` are repeated on each page that the table runs over; ``ruled`` if lines are drawn around all cells that do
    not say otherwise.
    ``spots`` are its parts on the source, one for each page.
    """

    id: str
    widths: tuple[float, ...]
    row_ids: tuple[str, ...]
    cells: tuple[Cell, ...]
    header_rows: int = 0
    ruled: bool = True
    align: Align = Align.LEFT
    page_break: bool = False
    spots: tuple[Spot, ...] = ()
    excluded: bool = False
    section: str = ""

    def widths_within(self, room: float) -> list[float]:
        """The widths of the columns, in proportion narrower where together they are wider than there is room for."""
        scale = min(1.0, room / max(sum(self.widths), 1.0))
        return [width * scale for width in self.widths]

    def sides_of(self, cell: Cell) -> Sides:
        """The sides of one of its cells that have a line."""
        if cell.sides is not None:
            return cell.sides
        return Sides.ALL if self.ruled else Sides.NONE

    @property
    def row_count(self) -> int:
        return len(self.row_ids)

    @property
    def texts(self) -> tuple[TextBlock, ...]:
        """The paragraphs of all cells in order."""
        return tuple(text for cell in self.cells for text in cell.texts)

    def with_text(self, changed: TextBlock) -> TableBlock:
        """The table with a paragraph in the place of the one with its id."""
        return msgspec.structs.replace(self, cells=tuple(_with_text(cell, changed) for cell in self.cells))


def _with_text(cell: Cell, changed: TextBlock) -> Cell:
    if all(text.id != changed.id for text in cell.texts):
        return cell
    texts = tuple(changed if text.id == changed.id else text for text in cell.texts)
    return msgspec.structs.replace(cell, texts=texts)


Block = TextBlock | PictureBlock | TableBlock


def texts_of(block: Block) -> tuple[TextBlock, ...]:
    """The text blocks that a block consists of: itself, or the paragraphs of a table's cells; none for a picture."""
    if isinstance(block, TextBlock):
        return (block,)
    return block.texts if isinstance(block, TableBlock) else ()


def names_of(block: Block) -> tuple[str, ...]:
    """The id of a block, and those of the texts in its cells."""
    return (block.id, *(text.id for text in texts_of(block) if text is not block))


def with_changed(block: Block, changed: TextBlock) -> Block:
    """The block with a text block in the place of the one in it with its id: that itself, or a table with it in a cell."""
    return block.with_text(changed) if isinstance(block, TableBlock) else changed
