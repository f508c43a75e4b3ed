"""The operations on a document: what can be asked for, as values. ``apply`` does them.

None of them names what it makes: new rows and cells get their ids from the document's counter when the operation is applied.
"""

from __future__ import annotations

from enum import StrEnum

import msgspec

from evenquill.core.edits.copy_operations import PutRows
from evenquill.core.edits.fit_operations import FitPages
from evenquill.core.edits.style_operations import StyleOperation
from evenquill.core.edits.tab_operations import TabOperation
from evenquill.core.edits.table_operations import TableOperation
from evenquill.core.find import Search
from evenquill.core.model import (
    EQUATION,
    HANDWRITING,
    Align,
    DoubtKey,
    Equation,
    Inline,
    Role,
    Sides,
    Spot,
    TabStop,
    WordSpot,
)
from evenquill.core.model.equation import Node
from evenquill.core.sweep import SweepKind


class ReadRegion(msgspec.Struct, frozen=True):
    """What was read at a place: text and where its words stand. With tab stops it is a table: a line for each row, cells apart by tabs."""

    text: str
    words: tuple[WordSpot, ...] = ()
    tabs: tuple[TabStop, ...] = ()


class CutPicture(msgspec.Struct, frozen=True):
    """A picture that was cut out: SHA-256 of its bytes, and their type."""

    picture: str
    media: str


class EditText(msgspec.Struct, frozen=True, tag="edit_text", tag_field="op"):
    """Gives a text block other content."""

    block: str
    content: tuple[Inline, ...]


class SplitBlock(msgspec.Struct, frozen=True, tag="split", tag_field="op"):
    """Parts a text block at a character; the second half is a new block of the same kind."""

    block: str
    offset: int


class JoinBlocks(msgspec.Struct, frozen=True, tag="join", tag_field="op"):
    """Puts the text of ``second`` at the end of ``first`` with a space between, or none after a broken word."""

    first: str
    second: str


class JoinNeighbour(msgspec.Struct, frozen=True, tag="join_neighbour", tag_field="op"):
    """Joins a row of text with the one that its text goes on in, or ``back`` with the one that it goes on from; notes and rows that are
    set aside lie between without parting them."""

    block: str
    back: bool = False


class SetKind(msgspec.Struct, frozen=True, tag="set_kind", tag_field="op"):
    """Makes a text block a paragraph, heading, list item, note or another kind of text; ``level`` as in the block."""

    block: str
    role: Role
    level: int = 0
    ordered: bool = False


class ShiftLevel(msgspec.Struct, frozen=True, tag="shift_level", tag_field="op"):
    """Makes headings, items and entries of contents lists deeper (``by`` above 0) or less deep, as far as their kind allows."""

    blocks: tuple[str, ...]
    by: int


class MoveBlock(msgspec.Struct, frozen=True, tag="move", tag_field="op"):
    """Moves a block before another, else behind another, else to the end."""

    block: str
    before: str | None = None
    after: str | None = None


class Exclude(msgspec.Struct, frozen=True, tag="exclude", tag_field="op"):
    """Sets a block aside, or brings it back."""

    block: str
    excluded: bool


class InsertParagraph(msgspec.Struct, frozen=True, tag="insert", tag_field="op"):
    """Puts a new paragraph after a block, or first where ``after`` is None."""

    after: str | None = None
    text: str = ""


class AlignBlock(msgspec.Struct, frozen=True, tag="align", tag_field="op"):
    """Aligns a text block or a picture."""

    block: str
    align: Align


class SetSides(msgspec.Struct, frozen=True, tag="set_sides", tag_field="op"):
    """Draws lines above and below a row of text, or takes them away: it has those of ``sides``."""

    block: str
    sides: Sides


class ResizePicture(msgspec.Struct, frozen=True, tag="resize", tag_field="op"):
    """Sets the size of a picture, in points."""

    block: str
    width: float
    height: float


class ReplacePicture(msgspec.Struct, frozen=True, tag="replace_picture", tag_field="op"):
    """Puts another picture in the place of one, as wide as that, or ``width`` points, and as high as its shape asks for."""

    block: str
    picture: str
    media: str
    pixel_width: int
    pixel_height: int
    width: float | None = None


class DescribePicture(msgspec.Struct, frozen=True, tag="describe", tag_field="op"):
    """Sets the alternative text of a picture."""

    block: str
    alt: str


class SetAround(msgspec.Struct, frozen=True, tag="set_around", tag_field="op"):
    """Lets the text below a picture go around it, or stand below it."""

    block: str
    around: bool


class AddCaption(msgspec.Struct, frozen=True, tag="add_caption", tag_field="op"):
    """Puts a caption beside a picture or a table that has none."""

    block: str


class HandwritingAs(StrEnum):
    TEXT = "text"
    PICTURE = "picture"
    BOTH = "both"


class ChooseHandwriting(msgspec.Struct, frozen=True, tag="handwriting", tag_field="op"):
    """Keeps handwriting as its text, its picture, or both: that of one row, or of all where ``block`` is None.

    Handwriting comes as a picture and, behind it, the text that was read from it.
    """

    choice: HandwritingAs
    block: str | None = None


class CutNote(StrEnum):
    """What a picture that was cut out of a page shows."""

    NONE = ""
    HANDWRITING = HANDWRITING
    EQUATION = EQUATION


class SetRegion(msgspec.Struct, frozen=True, tag="region", tag_field="op"):
    """Gives a row another place on a page, or another nature: ``spot`` takes the place of the row's spot number ``place``.

    The row becomes the text that was read there, with its words, or the displayed ``equation``, or the picture that was cut out; ``note``
    says what that shows.
    """

    block: str
    place: int
    spot: Spot
    read: ReadRegion | None = None
    picture: CutPicture | None = None
    note: CutNote = CutNote.NONE
    equation: Equation | None = None


class AddRegion(msgspec.Struct, frozen=True, tag="add_region", tag_field="op"):
    """Makes a row of a place on a page: text that was read there, a displayed equation, or a picture that was cut out. It comes where its
    place on the page says."""

    spot: Spot
    read: ReadRegion | None = None
    picture: CutPicture | None = None
    equation: Equation | None = None


class RemoveRegion(msgspec.Struct, frozen=True, tag="remove_region", tag_field="op"):
    """Takes a row out of the document, text and all."""

    block: str


class WordAnswer(msgspec.Struct, frozen=True):
    """An answer to a query on a word: ``text`` in the place of what was ``read`` there; the same where the word is kept.

    The word is named by what it says and by its ``spot`` on the source, which no edit moves; ``start`` is where it began in the text of
    the block when the answer was given, for words without a spot. ``key`` names the doubt, ``typed`` says that the clerk wrote the
    answer by hand.
    """

    block: str
    read: str
    text: str
    start: int = 0
    spot: Spot | None = None
    key: DoubtKey | None = None
    typed: bool = False


class SettleWords(msgspec.Struct, frozen=True, tag="settle", tag_field="op"):
    """Answers queries on words, all as one step. Words that are kept or typed go into the document's own list."""

    answers: tuple[WordAnswer, ...]


class KeepAsItIs(msgspec.Struct, frozen=True, tag="keep", tag_field="op"):
    """Says of doubts that they are none."""

    doubts: tuple[DoubtKey, ...]


class MoveHeading(msgspec.Struct, frozen=True, tag="move_heading", tag_field="op"):
    """Moves a heading with all that belongs to it, up to the next heading of its level or above, before another row or to the end."""

    heading: str
    before: str | None = None


class RestartNumbering(msgspec.Struct, frozen=True, tag="restart", tag_field="op"):
    """Begins the numbers of a list anew at an item, or lets them run on from before where ``start`` is None."""

    block: str
    start: int | None = 1


class ReadRowAgain(msgspec.Struct, frozen=True, tag="row_again", tag_field="op"):
    """Gives a row the text and the words of a new reading of its places. Emphasis, links and marks of notes stay on the words that were
    read as before."""

    block: str
    read: ReadRegion


class OneFlow(msgspec.Struct, frozen=True, tag="one_flow", tag_field="op"):
    """Sets the whole document in one column, whatever the source has."""


class MakeEquations(msgspec.Struct, frozen=True, tag="make_equations", tag_field="op"):
    """Makes an equation of letters wherever they stand alone and slanted (or upright): in some rows, in all if none is named."""

    text: str
    tree: Node
    italic: bool = False
    blocks: tuple[str, ...] = ()


class MakePlain(msgspec.Struct, frozen=True, tag="make_plain", tag_field="op"):
    """Takes the whole document down to body, headings, lists, notes and clean tables in one typeface, that of its text if none is
    named."""

    font: str = ""


class SplitSentences(msgspec.Struct, frozen=True, tag="split_sentences", tag_field="op"):
    """Makes a row of each sentence of some rows, or of all: segments for translation."""

    blocks: tuple[str, ...] = ()


class JoinSentences(msgspec.Struct, frozen=True, tag="join_sentences", tag_field="op"):
    """Makes paragraphs again of rows that were cut into their sentences."""


class FoundPlace(msgspec.Struct, frozen=True):
    """Where something was found: the name of its place (``core.find.Hit``), and the character that it begins at."""

    place: str
    start: int


class ReplaceText(msgspec.Struct, frozen=True, tag="replace_text", tag_field="op"):
    """Puts ``text`` in the place of all that is found, or of what was found at some ``places``. Of a pattern, ``\\1`` and the like stand
    for what its groups have."""

    find: Search
    text: str
    places: tuple[FoundPlace, ...] = ()


class Sweep(msgspec.Struct, frozen=True, tag="sweep", tag_field="op"):
    """Puts all small faults of some kinds right; rows that are empty are set aside."""

    kinds: tuple[SweepKind, ...]


class Together(msgspec.Struct, frozen=True, tag="together", tag_field="op"):
    """Several operations as one step: what is done to all rows that are marked, or settles a doubt and says that it is settled."""

    steps: tuple[
        SetKind
        | ShiftLevel
        | Exclude
        | MoveBlock
        | AlignBlock
        | JoinBlocks
        | JoinNeighbour
        | SplitBlock
        | EditText
        | RestartNumbering
        | ChooseHandwriting
        | DescribePicture
        | SetAround
        | AddCaption
        | KeepAsItIs
        | PutRows,
        ...,
    ]


Operation = (
    EditText
    | SplitBlock
    | JoinBlocks
    | JoinNeighbour
    | SetKind
    | ShiftLevel
    | MoveBlock
    | Exclude
    | InsertParagraph
    | AlignBlock
    | SetSides
    | ResizePicture
    | ReplacePicture
    | DescribePicture
    | SetAround
    | AddCaption
    | ChooseHandwriting
    | SettleWords
    | KeepAsItIs
    | SetRegion
    | AddRegion
    | RemoveRegion
    | MoveHeading
    | RestartNumbering
    | OneFlow
    | TableOperation
    | StyleOperation
    | TabOperation
    | FitPages
    | PutRows
    | ReadRowAgain
    | MakeEquations
    | ReplaceText
    | Sweep
    | MakePlain
    | SplitSentences
    | JoinSentences
    | Together
)
