"""Operations on the order of rows: moving, new rows, setting aside."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, Focus, splice
from evenquill.core.edits.kind_edits import DEEPEST_HEADING
from evenquill.core.edits.kinds import style_for
from evenquill.core.edits.lookup import place_of_row, text_row
from evenquill.core.edits.operations import Exclude, InsertParagraph, MoveBlock, MoveHeading
from evenquill.core.errors import EditError
from evenquill.core.model import Document, Role, TextBlock
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import from_text


def move(document: Document, operation: MoveBlock, ids: Ids) -> Edit:
    at = place_of_row(document, operation.block)
    if operation.block in (operation.before, operation.after):
        raise EditError("A row cannot be moved beside itself.")
    if operation.before is not None:
        to = place_of_row(document, operation.before)
    elif operation.after is not None:
        to = place_of_row(document, operation.after) + 1
    else:
        to = len(document.blocks)
    return _moved(document, range(at, at + 1), to)


def _moved(document: Document, places: range, to: int) -> Edit:
    """The blocks of some places put before the one at place ``to``, which is none of them.

    Where they leave the rest of their section they are in that which they come to; a section that is moved whole stays one.
    """
    blocks = document.blocks[places.start : places.stop]
    out = splice(document, places.start, len(blocks), ())
    to -= len(blocks) if to > places.start else 0
    own = {block.section for block in blocks}
    left = _sections_beside(out.document, places.start)
    come_to = _sections_beside(out.document, to)
    if len(own) == 1 and own & left and not own & come_to:
        blocks = tuple(replace(block, section="") for block in blocks)
    return out.then(splice(out.document, to, 0, blocks))


def _sections_beside(document: Document, at: int) -> set[str]:
    """The sections of the blocks before and behind a place."""
    return {block.section for block in document.blocks[max(at - 1, 0) : at + 1]}


def exclude(document: Document, operation: Exclude, ids: Ids) -> Edit:
    at = place_of_row(document, operation.block)
    return splice(document, at, 1, (replace(document.blocks[at], excluded=operation.excluded),))


def insert(document: Document, operation: InsertParagraph, ids: Ids) -> Edit:
    at = 0 if operation.after is None else place_of_row(document, operation.after) + 1
    style = style_for(document, Role.PARAGRAPH, 0)
    content = from_text(operation.text)
    # A row without a source of its own stands beside the place that it was put at.
    spots = document.blocks[at - 1].spots[-1:] if at else ()
    block = TextBlock(ids.new(), content=content, style=style.id, spots=spots)
    return splice(document, at, 0, (block,))._replace(focus=Focus(block.id, len(block.text)))


def places_under(document: Document, heading: str) -> range:
    """The places of a heading and of all that belongs to it. Raises KeyError where there is no such row."""
    at = document.index(heading)
    first = document.blocks[at]
    level = first.level if isinstance(first, TextBlock) and first.role is Role.HEADING else DEEPEST_HEADING + 1
    for end in range(at + 1, len(document.blocks)):
        block = document.blocks[end]
        if isinstance(block, TextBlock) and block.role is Role.HEADING and block.level <= level:
            return range(at, end)
    return range(at, len(document.blocks))


def move_heading(document: Document, operation: MoveHeading, ids: Ids) -> Edit:
    _, heading = text_row(document, operation.heading)
    if heading.role is not Role.HEADING:
        raise EditError("That row is not a heading.")
    places = places_under(document, operation.heading)
    if operation.before in {block.id for block in document.blocks[places.start : places.stop]}:
        raise EditError("A heading cannot be moved into what stands under it.")
    to = len(document.blocks) if operation.before is None else place_of_row(document, operation.before)
    return _moved(document, places, to)
