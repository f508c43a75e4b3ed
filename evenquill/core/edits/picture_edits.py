"""Operations on pictures, and on handwriting, which is a picture and a text."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, splice
from evenquill.core.edits.lookup import picture_row, place_of_row
from evenquill.core.edits.operations import (
    ChooseHandwriting,
    DescribePicture,
    HandwritingAs,
    ReplacePicture,
    ResizePicture,
    SetAround,
)
from evenquill.core.errors import EditError
from evenquill.core.model import HANDWRITING, HANDWRITING_STYLE, Align, Block, Document, PictureBlock, TextBlock
from evenquill.core.model.ids import Ids

SMALLEST_PICTURE = 4.0
LARGEST_PICTURE = 5000.0
"""Points."""

_SIZES = f"A picture can be from {SMALLEST_PICTURE:g} to {LARGEST_PICTURE:g} points wide and high."


def resize(document: Document, operation: ResizePicture, ids: Ids) -> Edit:
    at, block = picture_row(document, operation.block)
    width, height = operation.width, operation.height
    if not (SMALLEST_PICTURE <= width <= LARGEST_PICTURE and SMALLEST_PICTURE <= height <= LARGEST_PICTURE):
        raise EditError(_SIZES)
    return splice(document, at, 1, (replace(block, width=width, height=height),))


def replace_picture(document: Document, operation: ReplacePicture, ids: Ids) -> Edit:
    at, block = picture_row(document, operation.block)
    if operation.pixel_width < 1 or operation.pixel_height < 1:
        raise EditError("The new picture has no size.")
    width = block.width if operation.width is None else operation.width
    if not SMALLEST_PICTURE <= width <= LARGEST_PICTURE:
        raise EditError(_SIZES)
    height = round(width * operation.pixel_height / operation.pixel_width, 1)
    changed = replace(
        block, picture=operation.picture, media=operation.media, width=width, height=height, note="", drawing=""
    )
    return splice(document, at, 1, (changed,))


def describe(document: Document, operation: DescribePicture, ids: Ids) -> Edit:
    at, block = picture_row(document, operation.block)
    return splice(document, at, 1, (replace(block, alt=operation.alt),))


def set_around(document: Document, operation: SetAround, ids: Ids) -> Edit:
    """One in the middle goes to the left, as text goes along one side alone."""
    at, block = picture_row(document, operation.block)
    align = Align.LEFT if operation.around and block.align is Align.CENTER else block.align
    return splice(document, at, 1, (replace(block, around=operation.around, align=align),))


def handwriting(document: Document, operation: ChooseHandwriting, ids: Ids) -> Edit:
    places = [at for at, block in enumerate(document.blocks) if is_handwriting(block)]
    if operation.block is not None:
        chosen = document.blocks[place_of_row(document, operation.block)]
        places = [at for at in places if document.blocks[at].spots == chosen.spots]
    if not places:
        raise EditError("There is no handwriting here.")
    first, last = places[0], places[-1]
    blocks = list(document.blocks[first : last + 1])
    for at in places:
        block = blocks[at - first]
        away = HandwritingAs.TEXT if isinstance(block, PictureBlock) else HandwritingAs.PICTURE
        if block.excluded != (operation.choice is away):
            blocks[at - first] = replace(block, excluded=operation.choice is away)
    return splice(document, first, len(blocks), tuple(blocks))


def is_handwriting(block: Block) -> bool:
    """Whether a row is the picture of handwriting, or the text that was read from one."""
    if isinstance(block, PictureBlock):
        return block.note == HANDWRITING
    return isinstance(block, TextBlock) and block.style == HANDWRITING_STYLE
