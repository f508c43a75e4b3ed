"""Operations on places of the page: another outline, another nature, new regions."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits.equation_edits import check_equations
from evenquill.core.edits.inverse import Edit, Focus, splice
from evenquill.core.edits.kinds import style_for, styles_with
from evenquill.core.edits.lookup import place_of_row
from evenquill.core.edits.operations import AddRegion, CutPicture, ReadRegion, RemoveRegion, SetRegion
from evenquill.core.edits.picture_edits import SMALLEST_PICTURE
from evenquill.core.edits.table_text import lines_of, table_of_rows
from evenquill.core.errors import EditError
from evenquill.core.model import (
    Align,
    Block,
    Document,
    Equation,
    ParagraphStyle,
    PictureBlock,
    Role,
    Spot,
    TextBlock,
)
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import from_text

SAME_HEIGHT = 2.0
"""Points by which a row must begin lower than a new one to come behind it."""


def set_region(document: Document, operation: SetRegion, ids: Ids) -> Edit:
    at = place_of_row(document, operation.block)
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
        text = block if isinstance(block, TextBlock) else TextBlock(block.id, style=style.id)
        return splice(document, at, 1, *_as_read(document, replace(text, spots=spots), operation.read, ids))
    elif operation.equation is not None:
        text = block if isinstance(block, TextBlock) else TextBlock(block.id)
        return splice(document, at, 1, *_as_equation(document, replace(text, spots=spots), operation.equation))
    else:
        raise EditError("Nothing was read there.")
    return splice(document, at, 1, (changed,))


def add_region(document: Document, operation: AddRegion, ids: Ids) -> Edit:
    _check_spot(document, operation.spot)
    at = _place_on_page(document, operation.spot)
    name = ids.new()
    if operation.picture is not None:
        box, cut = operation.spot.box, operation.picture
        picture = PictureBlock(name, cut.picture, cut.media, box.width, box.height, spots=(operation.spot,))
        return splice(document, at, 0, (picture,))._replace(focus=Focus(name))
    if operation.equation is not None:
        made = _as_equation(document, TextBlock(name, spots=(operation.spot,)), operation.equation)
        return splice(document, at, 0, *made)._replace(focus=Focus(name))
    if operation.read is None:
        raise EditError("Nothing was read there.")
    style = style_for(document, Role.PARAGRAPH, 0)
    text = TextBlock(name, style=style.id, spots=(operation.spot,))
    return splice(document, at, 0, *_as_read(document, text, operation.read, ids))._replace(focus=Focus(name))


def _place_on_page(document: Document, spot: Spot) -> int:
    """The place of a new row: before the first row of the page that begins below it in its column, else behind the last row of the page,
    or of the pages before."""
    last = 0
    for at, block in enumerate(document.blocks):
        for other in block.spots:
            below = other.page == spot.page and other.box.y0 > spot.box.y0 + SAME_HEIGHT
            if below and other.box.overlap_x(spot.box) > 0:
                return at
        if block.spots and block.spots[0].page <= spot.page:
            last = at + 1
    return last


def remove_region(document: Document, operation: RemoveRegion, ids: Ids) -> Edit:
    return splice(document, place_of_row(document, operation.block), 1, ())


def _check_spot(document: Document, spot: Spot) -> None:
    if not 1 <= spot.page <= len(document.pages):
        raise EditError("The document has no such page.")
    if spot.box.width < SMALLEST_PICTURE or spot.box.height < SMALLEST_PICTURE:
        raise EditError("That place is too small.")


def _as_read(
    document: Document, block: TextBlock, read: ReadRegion, ids: Ids
) -> tuple[tuple[Block, ...], tuple[ParagraphStyle, ...]]:
    """A row with what was read in its place, as text or as a table; and the styles that the document then has."""
    text = replace(block, content=from_text(read.text), words=read.words, tabs=read.tabs)
    if not read.tabs:
        return (text,), document.styles
    style = style_for(document, Role.CELL, 0)
    styles = styles_with(document, style)
    table = table_of_rows(block.id, lines_of(text), style.id, ids)
    return (replace(table, spots=block.spots, section=block.section, page_break=block.page_break),), styles


def _as_equation(
    document: Document, block: TextBlock, equation: Equation
) -> tuple[tuple[Block, ...], tuple[ParagraphStyle, ...]]:
    """A row with a displayed equation, and the styles that the document then has."""
    check_equations((equation,))
    style = style_for(document, Role.EQUATION, 0)
    content = (replace(equation, display=True),)
    row = replace(
        block,
        role=Role.EQUATION,
        content=content,
        style=style.id,
        words=(),
        tabs=(),
        align=Align.CENTER,
        level=0,
        numbering=None,
    )
    return (row,), styles_with(document, style)


def _cut(block: PictureBlock, spot: Spot, picture: CutPicture) -> PictureBlock:
    return replace(
        block, picture=picture.picture, media=picture.media, width=spot.box.width, height=spot.box.height, drawing=""
    )
