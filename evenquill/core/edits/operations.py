"""The operations on a document.

``apply`` takes a document and an operation and returns the changed document with the steps that undo it. Blocks are values:
what an operation does not touch is the very same object afterwards, which is how the store knows what to write.
"""

from __future__ import annotations

from collections.abc import Callable
from enum import StrEnum
from typing import Any, NamedTuple

import msgspec
from msgspec.structs import replace

from evenquill.core.edits.kinds import style_for
from evenquill.core.edits.tables import lines_of, rows_of_table, table_of_rows
from evenquill.core.edits.words import core_of, moved_words, with_text
from evenquill.core.errors import EditError
from evenquill.core.model import (
    EQUATION,
    HANDWRITING,
    HANDWRITING_STYLE,
    NOTES,
    Align,
    Block,
    Document,
    Marks,
    NumberFormat,
    Numbering,
    ParagraphStyle,
    PictureBlock,
    Role,
    Run,
    Settled,
    Spot,
    TableBlock,
    TabStop,
    TextBlock,
    WordSpot,
    texts_of,
    with_changed,
)
from evenquill.core.model.cutting import cut_block, join_blocks
from evenquill.core.model.text import joined, plain

DEEPEST_HEADING = 9
DEEPEST_LIST = 8
LEVELS = {
    Role.HEADING: (1, DEEPEST_HEADING),
    Role.LIST_ITEM: (0, DEEPEST_LIST),
    Role.CONTENTS: (1, DEEPEST_HEADING),
}
"""The highest and the deepest level of what has levels."""

SMALLEST_PICTURE = 4.0
LARGEST_PICTURE = 5000.0
"""Points."""


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
    """Gives a text block other runs."""

    block: str
    runs: tuple[Run, ...]


class SplitBlock(msgspec.Struct, frozen=True, tag="split", tag_field="op"):
    """Parts a text block at a character; the second half is a new block ``new_id`` of the same kind."""

    block: str
    offset: int
    new_id: str


class JoinBlocks(msgspec.Struct, frozen=True, tag="join", tag_field="op"):
    """Puts the text of ``second`` at the end of ``first`` with a space between, or none after a broken word."""

    first: str
    second: str


class SetKind(msgspec.Struct, frozen=True, tag="set_kind", tag_field="op"):
    """Makes a text block a paragraph, heading, list item, note or another kind of text; ``level`` as in the block."""

    block: str
    role: Role
    level: int = 0
    ordered: bool = False


class MoveBlock(msgspec.Struct, frozen=True, tag="move", tag_field="op"):
    """Moves a block before another, or to the end where ``before`` is None."""

    block: str
    before: str | None = None


class SetAside(msgspec.Struct, frozen=True, tag="set_aside", tag_field="op"):
    """Sets a block aside, or brings it back."""

    block: str
    aside: bool


class InsertParagraph(msgspec.Struct, frozen=True, tag="insert", tag_field="op"):
    """Puts a new paragraph after a block, or first where ``after`` is None."""

    new_id: str
    after: str | None = None
    text: str = ""


class AlignBlock(msgspec.Struct, frozen=True, tag="align", tag_field="op"):
    """Aligns a text block or a picture."""

    block: str
    align: Align


class ResizePicture(msgspec.Struct, frozen=True, tag="resize", tag_field="op"):
    """Sets the size of a picture, in points."""

    block: str
    width: float
    height: float


class ReplacePicture(msgspec.Struct, frozen=True, tag="replace_picture", tag_field="op"):
    """Puts another picture in the place of one; it keeps the width and takes the height that its shape asks for."""

    block: str
    picture: str
    media: str
    pixel_width: int
    pixel_height: int


class DescribePicture(msgspec.Struct, frozen=True, tag="describe", tag_field="op"):
    """Sets the alternative text of a picture."""

    block: str
    alt: str


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

    The row becomes the text that was read there, with its words, or the picture that was cut out; ``note`` says what that shows.
    """

    block: str
    place: int
    spot: Spot
    read: ReadRegion | None = None
    picture: CutPicture | None = None
    note: CutNote = CutNote.NONE


class AddRegion(msgspec.Struct, frozen=True, tag="add_region", tag_field="op"):
    """Makes a row of a place on a page, before another row or at the end: text that was read there, or a picture that was cut out."""

    new_id: str
    spot: Spot
    before: str | None = None
    read: ReadRegion | None = None
    picture: CutPicture | None = None


class RemoveRegion(msgspec.Struct, frozen=True, tag="remove_region", tag_field="op"):
    """Takes a row out of the document, text and all."""

    block: str


class WordAnswer(msgspec.Struct, frozen=True):
    """An answer to a query on a word: ``text`` in the place of what was ``read`` there; the same where the word is kept.

    ``query`` names the doubt by itself (``Query.name``), ``typed`` says that the clerk wrote the answer by hand.
    """

    block: str
    start: int
    end: int
    read: str
    text: str
    query: str = ""
    typed: bool = False


class SettleWords(msgspec.Struct, frozen=True, tag="settle", tag_field="op"):
    """Answers queries on words, all as one step. Words that are kept or typed go into the document's own list."""

    answers: tuple[WordAnswer, ...]


class KeepAsItIs(msgspec.Struct, frozen=True, tag="keep", tag_field="op"):
    """Says of doubts, by their names, that they are none."""

    queries: tuple[str, ...]


class MoveSection(msgspec.Struct, frozen=True, tag="move_section", tag_field="op"):
    """Moves a heading with all that belongs to it, up to the next heading of its level or above, before another row or to the end."""

    heading: str
    before: str | None = None


class RestartNumbering(msgspec.Struct, frozen=True, tag="restart", tag_field="op"):
    """Begins the numbers of a list anew at an item, or lets them run on from before where ``start`` is None."""

    block: str
    start: int | None = 1


class OneFlow(msgspec.Struct, frozen=True, tag="one_flow", tag_field="op"):
    """Sets the whole document in one column, whatever the source has."""


class SetHeaderRows(msgspec.Struct, frozen=True, tag="header_rows", tag_field="op"):
    """Says how many rows at the top of a table name its columns; they are repeated on each page."""

    block: str
    rows: int


class TableToRows(msgspec.Struct, frozen=True, tag="table_to_rows", tag_field="op"):
    """Makes rows of text of a table, one for each of its rows, cells apart by tabs. The first keeps the table's name, the others are
    given those in ``new_ids``, one for each row behind it."""

    block: str
    new_ids: tuple[str, ...]


class RowsToTable(msgspec.Struct, frozen=True, tag="rows_to_table", tag_field="op"):
    """Makes a table of rows of text that follow one another: a row each, cut into cells at its tabs."""

    new_id: str
    blocks: tuple[str, ...]


class Together(msgspec.Struct, frozen=True, tag="together", tag_field="op"):
    """Several operations as one step: what is done to all rows that are marked, or settles a doubt and says that it is settled."""

    steps: tuple[
        SetKind
        | SetAside
        | MoveBlock
        | AlignBlock
        | JoinBlocks
        | SplitBlock
        | EditText
        | RestartNumbering
        | ChooseHandwriting
        | KeepAsItIs,
        ...,
    ]


class Restore(msgspec.Struct, frozen=True, tag="restore", tag_field="op"):
    """Puts ``blocks`` in the place of ``count`` blocks from place ``at``: a step of an inverse.

    ``styles`` are the document's styles then, ``settled`` what was settled; None where they have not changed.
    """

    at: int
    count: int
    blocks: tuple[Block, ...]
    styles: tuple[ParagraphStyle, ...] | None = None
    settled: Settled | None = None


class RestoreText(msgspec.Struct, frozen=True, tag="restore_text", tag_field="op"):
    """Puts a text back into its cell of the table at place ``at``: a step of an inverse, which leaves the other cells alone."""

    at: int
    text: TextBlock


Undoing = Restore | RestoreText
"""A step of an inverse."""

Operation = (
    EditText
    | SplitBlock
    | JoinBlocks
    | SetKind
    | MoveBlock
    | SetAside
    | InsertParagraph
    | AlignBlock
    | ResizePicture
    | ReplacePicture
    | DescribePicture
    | ChooseHandwriting
    | SettleWords
    | KeepAsItIs
    | SetRegion
    | AddRegion
    | RemoveRegion
    | MoveSection
    | RestartNumbering
    | OneFlow
    | SetHeaderRows
    | TableToRows
    | RowsToTable
    | Together
)


class Edit(NamedTuple):
    """A changed document and the steps that undo the change, in the order in which to take them."""

    document: Document
    inverse: tuple[Undoing, ...]


def apply(document: Document, operation: Operation) -> Edit:
    """The document after the operation. Raises EditError where the operation does not fit."""
    return _APPLY[type(operation)](document, operation)


def undo(document: Document, inverse: tuple[Undoing, ...]) -> Document:
    """The document before the operation that the inverse belongs to."""
    for step in inverse:
        if isinstance(step, RestoreText):
            document = _with_changed(document, step.at, step.text).document
        else:
            document = _splice(document, step.at, step.count, step.blocks, step.styles, step.settled).document
    return document


def _splice(
    document: Document,
    at: int,
    count: int,
    blocks: tuple[Block, ...],
    styles: tuple[ParagraphStyle, ...] | None = None,
    settled: Settled | None = None,
) -> Edit:
    """Every operation comes down to this: some blocks in a row give way to others."""
    old = document.blocks
    changed = replace(document, blocks=(*old[:at], *blocks, *old[at + count :]))
    inverse = Restore(at, len(blocks), old[at : at + count])
    if styles is not None and styles != document.styles:
        changed = replace(changed, styles=styles)
        inverse = replace(inverse, styles=document.styles)
    if settled is not None and settled != document.settled:
        changed = replace(changed, settled=settled)
        inverse = replace(inverse, settled=document.settled)
    return Edit(changed, (inverse,))


def _place(document: Document, block: str) -> int:
    """The place of a row; text in a cell is none."""
    at = _place_of_text(document, block)
    if document.blocks[at].id != block:
        raise EditError("That is text in a table. It can only be changed there, or the table as a whole.")
    return at


def _place_of_text(document: Document, block: str) -> int:
    """The place of a row, or of the table that has a text in a cell."""
    try:
        return document.index(block)
    except KeyError:
        raise EditError("That row is no longer there.") from None


def _text(document: Document, block: str) -> tuple[int, TextBlock]:
    """A row of text and its place."""
    at = _place(document, block)
    found = document.blocks[at]
    if not isinstance(found, TextBlock):
        raise EditError(_no_text(found))
    return at, found


def _no_text(block: Block) -> str:
    """Why a row cannot be changed as text."""
    if isinstance(block, TableBlock):
        return "That row is a table. Its text is in its cells."
    return "That row is a picture and has no text."


def _any_text(document: Document, block: str) -> tuple[int, TextBlock]:
    """A row of text, or text in a cell, and the place of its row."""
    at = _place_of_text(document, block)
    found = next((text for text in texts_of(document.blocks[at]) if text.id == block), None)
    if found is None:
        raise EditError(_no_text(document.blocks[at]))
    return at, found


def _with_changed(document: Document, at: int, text: TextBlock) -> Edit:
    """The document with a text block changed that is the row at a place, or in a cell of it."""
    block = document.blocks[at]
    edit = _splice(document, at, 1, (with_changed(block, text),))
    if not isinstance(block, TableBlock):
        return edit
    before = next(one for one in block.texts if one.id == text.id)
    return Edit(edit.document, (RestoreText(at, before),))


def _table(document: Document, block: str) -> tuple[int, TableBlock]:
    at = _place(document, block)
    found = document.blocks[at]
    if not isinstance(found, TableBlock):
        raise EditError("That row is no table.")
    return at, found


def _picture(document: Document, block: str) -> tuple[int, PictureBlock]:
    at = _place(document, block)
    found = document.blocks[at]
    if not isinstance(found, PictureBlock):
        raise EditError("That row is not a picture.")
    return at, found


def _check_new(document: Document, *new_ids: str) -> None:
    known = document.order
    if len(set(new_ids)) < len(new_ids) or any(not new_id or new_id in known for new_id in new_ids):
        raise EditError("A new row needs a name that no other row has.")


def _edit_text(document: Document, operation: EditText) -> Edit:
    at, block = _any_text(document, operation.block)
    runs = joined(operation.runs)
    words = moved_words(block.words, block.text, plain(runs))
    return _with_changed(document, at, replace(block, runs=runs, words=words))


def _split(document: Document, operation: SplitBlock) -> Edit:
    at, block = _text(document, operation.block)
    _check_new(document, operation.new_id)
    if not 0 <= operation.offset <= len(block.text):
        raise EditError("The row has no such place to split it at.")
    first = cut_block(block, 0, operation.offset)
    second = replace(cut_block(block, operation.offset), id=operation.new_id, page_break=False)
    if second.numbering is not None and second.numbering.start is not None:
        second = replace(second, numbering=replace(second.numbering, start=None))
    return _splice(document, at, 1, (first, second))


def _join(document: Document, operation: JoinBlocks) -> Edit:
    at, first = _text(document, operation.first)
    at_second, second = _text(document, operation.second)
    if at_second <= at:
        raise EditError("Only rows that follow one another can be joined.")
    between = document.blocks[at + 1 : at_second]
    if any(isinstance(block, TextBlock) and block.role not in NOTES and not block.aside for block in between):
        raise EditError("Only rows that follow one another can be joined.")
    parting = "" if not first.text or not second.text or first.text[-1] in "-\u00ad\n" else " "
    whole = join_blocks(first, second, parting)
    return _splice(document, at, at_second - at + 1, (whole, *between))


def _set_kind(document: Document, operation: SetKind) -> Edit:
    at, block = _text(document, operation.block)
    role = operation.role
    if role is Role.CELL:
        raise EditError("Cells are parts of tables. Make a table of the rows.")
    lowest, deepest = LEVELS.get(role, (0, 0))
    level = min(max(operation.level, lowest), deepest)
    style = style_for(document, role, level)
    numbering = _numbering(document, at, level, operation.ordered) if role is Role.LIST_ITEM else None
    styles = document.styles if style in document.styles else (*document.styles, style)
    changed = replace(
        block,
        role=role,
        level=level,
        numbering=numbering,
        style=style.name,
        align=None,
        runs=_without_whole_emphasis(block.runs, style),
    )
    return _splice(document, at, 1, (changed,), styles)


def _without_whole_emphasis(runs: tuple[Run, ...], style: ParagraphStyle) -> tuple[Run, ...]:
    """Text that was bold (or italic) as a whole is as its new style has it, and not emphasised against it."""
    whole = Marks.NONE
    for mark, in_style in ((Marks.BOLD, style.bold), (Marks.ITALIC, style.italic)):
        if in_style and runs and all(mark in run.marks for run in runs):
            whole |= mark
    return joined(replace(run, marks=run.marks & ~whole) for run in runs)


def _numbering(document: Document, at: int, level: int, ordered: bool) -> Numbering:
    """The numbering of the item before on that level, where it is of the kind; else a new sequence."""
    for block in reversed(document.blocks[:at]):
        if not isinstance(block, TextBlock) or block.aside:
            continue
        if block.role is not Role.LIST_ITEM or block.level < level:
            break
        if block.level == level and block.numbering is not None and block.numbering.ordered is ordered:
            return replace(block.numbering, start=None)
    if ordered:
        form, pattern = [(NumberFormat.DECIMAL, "%."), (NumberFormat.LOWER_LETTER, "%)")][level % 2]
        return Numbering(form, pattern, 1)
    return Numbering(NumberFormat.BULLET, ("•", "◦", "▪")[level % 3])


def _move(document: Document, operation: MoveBlock) -> Edit:
    at = _place(document, operation.block)
    block = document.blocks[at]
    if operation.before == operation.block:
        raise EditError("A row cannot be moved before itself.")
    out = _splice(document, at, 1, ())
    to = len(out.document.blocks) if operation.before is None else _place(out.document, operation.before)
    back = _splice(out.document, to, 0, (block,))
    return Edit(back.document, (*back.inverse, *out.inverse))


def _set_aside(document: Document, operation: SetAside) -> Edit:
    at = _place(document, operation.block)
    return _splice(document, at, 1, (replace(document.blocks[at], aside=operation.aside),))


def _insert(document: Document, operation: InsertParagraph) -> Edit:
    _check_new(document, operation.new_id)
    at = 0 if operation.after is None else _place(document, operation.after) + 1
    style = style_for(document, Role.PARAGRAPH, 0)
    runs = (Run(operation.text),) if operation.text else ()
    # A row without a source of its own stands beside the place that it was put at.
    spots = document.blocks[at - 1].spots[-1:] if at else ()
    return _splice(document, at, 0, (TextBlock(operation.new_id, runs=runs, style=style.name, spots=spots),))


def _align(document: Document, operation: AlignBlock) -> Edit:
    at = _place_of_text(document, operation.block)
    block = document.blocks[at]
    if block.id != operation.block:
        return _with_changed(document, at, replace(_any_text(document, operation.block)[1], align=operation.align))
    return _splice(document, at, 1, (replace(block, align=operation.align),))


def _resize(document: Document, operation: ResizePicture) -> Edit:
    at, block = _picture(document, operation.block)
    width, height = operation.width, operation.height
    if not (SMALLEST_PICTURE <= width <= LARGEST_PICTURE and SMALLEST_PICTURE <= height <= LARGEST_PICTURE):
        raise EditError(f"A picture can be from {SMALLEST_PICTURE:g} to {LARGEST_PICTURE:g} points wide and high.")
    return _splice(document, at, 1, (replace(block, width=width, height=height),))


def _replace_picture(document: Document, operation: ReplacePicture) -> Edit:
    at, block = _picture(document, operation.block)
    if operation.pixel_width < 1 or operation.pixel_height < 1:
        raise EditError("The new picture has no size.")
    height = round(block.width * operation.pixel_height / operation.pixel_width, 1)
    changed = replace(block, picture=operation.picture, media=operation.media, height=height, note="")
    return _splice(document, at, 1, (changed,))


def _describe(document: Document, operation: DescribePicture) -> Edit:
    at, block = _picture(document, operation.block)
    return _splice(document, at, 1, (replace(block, alt=operation.alt),))


def _handwriting(document: Document, operation: ChooseHandwriting) -> Edit:
    places = [at for at, block in enumerate(document.blocks) if is_handwriting(block)]
    if operation.block is not None:
        chosen = document.blocks[_place(document, operation.block)]
        places = [at for at in places if document.blocks[at].spots == chosen.spots]
    if not places:
        raise EditError("There is no handwriting here.")
    first, last = places[0], places[-1]
    blocks = list(document.blocks[first : last + 1])
    for at in places:
        block = blocks[at - first]
        away = HandwritingAs.TEXT if isinstance(block, PictureBlock) else HandwritingAs.PICTURE
        if block.aside != (operation.choice is away):
            blocks[at - first] = replace(block, aside=operation.choice is away)
    return _splice(document, first, len(blocks), tuple(blocks))


def _settle(document: Document, operation: SettleWords) -> Edit:
    by_text: dict[str, list[WordAnswer]] = {}
    for answer in operation.answers:
        by_text.setdefault(answer.block, []).append(answer)
    if not by_text:
        raise EditError("There is nothing to settle.")
    found = sorted((_any_text(document, block) for block in by_text), key=lambda one: one[0])
    kept = [answer.query for answer in operation.answers if answer.text == answer.read and answer.query]
    listed = [core_of(answer.text) for answer in operation.answers if answer.text == answer.read or answer.typed]
    settled = Settled(
        tuple(dict.fromkeys((*document.settled.kept, *kept))),
        tuple(dict.fromkeys((*document.settled.words, *(word for word in listed if word.isalpha())))),
    )
    steps: list[Undoing] = []
    for at, before in found:
        text = before
        for answer in sorted(by_text[text.id], key=lambda answer: -answer.start):
            if text.text[answer.start : answer.end] != answer.read:
                raise EditError("That word is no longer there.")
            if answer.text != answer.read:
                text = with_text(text, answer.start, answer.end, answer.text)
        if text is not before:
            edit = _with_changed(document, at, text)
            document, steps = edit.document, [*edit.inverse, *steps]
    last = _splice(document, found[0][0], 0, (), settled=settled)
    return Edit(last.document, (*last.inverse, *steps))


def _set_region(document: Document, operation: SetRegion) -> Edit:
    at = _place(document, operation.block)
    block = document.blocks[at]
    if not 0 <= operation.place < max(len(block.spots), 1):
        raise EditError("That row has no such place on the page.")
    _check_spot(document, operation.spot)
    if len(block.spots) > 1:
        raise EditError("This row comes from several places. Split it first.")
    spots = (operation.spot,)
    changed: Block
    if operation.picture is not None:
        base = block if isinstance(block, PictureBlock) else PictureBlock(block.id, "", "", 0, 0)
        note = operation.note.value or base.note
        changed = _cut(replace(base, note=note, spots=spots), operation.spot, operation.picture)
    elif operation.read is not None:
        style = style_for(document, Role.PARAGRAPH, 0)
        text = block if isinstance(block, TextBlock) else TextBlock(block.id, style=style.name)
        return _splice(document, at, 1, *_as_read(document, replace(text, spots=spots), operation.read))
    else:
        raise EditError("Nothing was read there.")
    return _splice(document, at, 1, (changed,))


def _add_region(document: Document, operation: AddRegion) -> Edit:
    _check_new(document, operation.new_id)
    _check_spot(document, operation.spot)
    at = len(document.blocks) if operation.before is None else _place(document, operation.before)
    block: Block
    if operation.picture is not None:
        box = operation.spot.box
        block = PictureBlock(
            operation.new_id,
            operation.picture.picture,
            operation.picture.media,
            box.width,
            box.height,
            spots=(operation.spot,),
        )
    elif operation.read is not None:
        style = style_for(document, Role.PARAGRAPH, 0)
        text = TextBlock(operation.new_id, style=style.name, spots=(operation.spot,))
        return _splice(document, at, 0, *_as_read(document, text, operation.read))
    else:
        raise EditError("Nothing was read there.")
    return _splice(document, at, 0, (block,))


def _remove_region(document: Document, operation: RemoveRegion) -> Edit:
    return _splice(document, _place(document, operation.block), 1, ())


def _check_spot(document: Document, spot: Spot) -> None:
    if not 1 <= spot.page <= len(document.pages):
        raise EditError("The document has no such page.")
    if spot.box.width < SMALLEST_PICTURE or spot.box.height < SMALLEST_PICTURE:
        raise EditError("That place is too small.")


def _as_read(
    document: Document, block: TextBlock, read: ReadRegion
) -> tuple[tuple[Block, ...], tuple[ParagraphStyle, ...]]:
    """A row with what was read in its place, as text or as a table; and the styles that the document then has."""
    text = replace(block, runs=(Run(read.text),) if read.text else (), words=read.words, tabs=read.tabs)
    if not read.tabs:
        return (text,), document.styles
    style = style_for(document, Role.CELL, 0)
    styles = document.styles if style in document.styles else (*document.styles, style)
    table = table_of_rows(block.id, lines_of(text), style.name)
    return (replace(table, spots=block.spots, columns=block.columns, page_break=block.page_break),), styles


def _cut(block: PictureBlock, spot: Spot, picture: CutPicture) -> PictureBlock:
    return replace(block, picture=picture.picture, media=picture.media, width=spot.box.width, height=spot.box.height)


def _keep(document: Document, operation: KeepAsItIs) -> Edit:
    kept = tuple(dict.fromkeys((*document.settled.kept, *operation.queries)))
    return _splice(document, 0, 0, (), settled=replace(document.settled, kept=kept))


def section_of(document: Document, heading: str) -> range:
    """The places of a heading and of all that belongs to it. Raises KeyError where there is no such row."""
    at = document.index(heading)
    first = document.blocks[at]
    level = first.level if isinstance(first, TextBlock) and first.role is Role.HEADING else DEEPEST_HEADING + 1
    for end in range(at + 1, len(document.blocks)):
        block = document.blocks[end]
        if isinstance(block, TextBlock) and block.role is Role.HEADING and block.level <= level:
            return range(at, end)
    return range(at, len(document.blocks))


def _move_section(document: Document, operation: MoveSection) -> Edit:
    _, heading = _text(document, operation.heading)
    if heading.role is not Role.HEADING:
        raise EditError("That row is not a heading.")
    places = section_of(document, operation.heading)
    moved = document.blocks[places.start : places.stop]
    if operation.before in {block.id for block in moved}:
        raise EditError("A section cannot be moved into itself.")
    out = _splice(document, places.start, len(moved), ())
    to = len(out.document.blocks) if operation.before is None else _place(out.document, operation.before)
    back = _splice(out.document, to, 0, moved)
    return Edit(back.document, (*back.inverse, *out.inverse))


def _restart(document: Document, operation: RestartNumbering) -> Edit:
    at, block = _text(document, operation.block)
    if block.numbering is None or not block.numbering.ordered:
        raise EditError("That row has no number.")
    if operation.start is not None and operation.start < 0:
        raise EditError("Numbers begin at 0 or above.")
    changed = replace(block, numbering=replace(block.numbering, start=operation.start))
    return _splice(document, at, 1, (changed,))


def _one_flow(document: Document, operation: OneFlow) -> Edit:
    places = [at for at, block in enumerate(document.blocks) if block.columns > 1]
    if not places:
        raise EditError("The document is in one column already.")
    first, last = places[0], places[-1]
    blocks = (replace(block, columns=1) if block.columns > 1 else block for block in document.blocks[first : last + 1])
    return _splice(document, first, last + 1 - first, tuple(blocks))


def _set_header_rows(document: Document, operation: SetHeaderRows) -> Edit:
    at, block = _table(document, operation.block)
    if not 0 <= operation.rows < block.row_count:
        raise EditError("A header has fewer rows than its table.")
    if any(cell.row < operation.rows < cell.row + cell.rows for cell in block.cells):
        raise EditError("A cell there goes on below that row.")
    return _splice(document, at, 1, (replace(block, header_rows=operation.rows),))


def _table_to_rows(document: Document, operation: TableToRows) -> Edit:
    at, block = _table(document, operation.block)
    style = style_for(document, Role.PARAGRAPH, 0)
    rows = rows_of_table(block, style.name)
    if len(operation.new_ids) < len(rows) - 1:
        raise EditError("A new row needs a name that no other row has.")
    _check_new(document, *operation.new_ids)
    named = [replace(row, id=name) for row, name in zip(rows, (block.id, *operation.new_ids), strict=False)]
    return _splice(document, at, 1, tuple(named))


def _rows_to_table(document: Document, operation: RowsToTable) -> Edit:
    _check_new(document, operation.new_id)
    found = [_text(document, block) for block in operation.blocks]
    places = [at for at, _ in found]
    if not found or places != list(range(places[0], places[0] + len(places))):
        raise EditError("Only rows that follow one another can become a table.")
    rows = [block for _, block in found]
    if not any("\t" in row.text for row in rows):
        raise EditError("These rows have no tabs to cut them into cells at.")
    style = style_for(document, Role.CELL, 0)
    styles = document.styles if style in document.styles else (*document.styles, style)
    return _splice(document, places[0], len(rows), (table_of_rows(operation.new_id, rows, style.name),), styles)


def _together(document: Document, operation: Together) -> Edit:
    if not operation.steps:
        raise EditError("No rows are marked.")
    inverse: tuple[Undoing, ...] = ()
    for step in operation.steps:
        edit = apply(document, step)
        document, inverse = edit.document, (*edit.inverse, *inverse)
    return Edit(document, inverse)


def is_handwriting(block: Block) -> bool:
    """Whether a row is the picture of handwriting, or the text that was read from one."""
    if isinstance(block, PictureBlock):
        return block.note == HANDWRITING
    return isinstance(block, TextBlock) and block.style == HANDWRITING_STYLE


_APPLY: dict[type, Callable[[Document, Any], Edit]] = {
    EditText: _edit_text,
    SplitBlock: _split,
    JoinBlocks: _join,
    SetKind: _set_kind,
    MoveBlock: _move,
    SetAside: _set_aside,
    InsertParagraph: _insert,
    AlignBlock: _align,
    ResizePicture: _resize,
    ReplacePicture: _replace_picture,
    DescribePicture: _describe,
    ChooseHandwriting: _handwriting,
    SettleWords: _settle,
    KeepAsItIs: _keep,
    SetRegion: _set_region,
    AddRegion: _add_region,
    RemoveRegion: _remove_region,
    MoveSection: _move_section,
    RestartNumbering: _restart,
    OneFlow: _one_flow,
    SetHeaderRows: _set_header_rows,
    TableToRows: _table_to_rows,
    RowsToTable: _rows_to_table,
    Together: _together,
}
