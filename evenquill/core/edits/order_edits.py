"""Operations on the order of rows: moving, new rows, setting aside."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, Focus, splice
from evenquill.core.edits.kind_edits import DEEPEST_HEADING
from evenquill.core.edits.kinds import style_for
from evenquill.core.edits.lookup import place_of_row, text_row
from evenquill.core.edits.operations import Exclude, InsertParagraph, MoveBlock, MoveSection
from evenquill.core.errors import EditError
from evenquill.core.model import Document, Role, TextBlock
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import from_text


def move(document: Document, operation: MoveBlock, ids: Ids) -> Edit:
    at = place_of_row(document, operation.block)
    block = document.blocks[at]
    if operation.block in (operation.before, operation.after):
        raise EditError("A row cannot be moved beside itself.")
    out = splice(document, at, 1, ())
    if operation.before is not None:
        to = place_of_row(out.document, operation.before)
    elif operation.after is not None:
        to = place_of_row(out.document, operation.after) + 1
    else:
        to = len(out.document.blocks)
    back = splice(out.document, to, 0, (block,))
    return out.then(back)


def exclude(document: Document, operation: Exclude, ids: Ids) -> Edit:
    at = place_of_row(document, operation.block)
    return splice(document, at, 1, (replace(document.blocks[at], excluded=operation.excluded),))


def insert(document: Document, operation: InsertParagraph, ids: Ids) -> Edit:
    at = 0 if operation.after is None else place_of_row(document, operation.after) + 1
    style = style_for(document, Role.PARAGRAPH, 0)
    content = from_text(operation.text)
    # A row without a source of its own stands beside the place that it was put at.
    spots = document.blocks[at - 1].spots[-1:] if at else ()
    block = TextBlock(ids.new(), content=content, style=style.name, spots=spots)
    return splice(document, at, 0, (block,))._replace(focus=Focus(block.id, len(block.text)))


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


def move_section(document: Document, operation: MoveSection, ids: Ids) -> Edit:
    _, heading = text_row(document, operation.heading)
    if heading.role is not Role.HEADING:
        raise EditError("That row is not a heading.")
    places = section_of(document, operation.heading)
    moved = document.blocks[places.start : places.stop]
    if operation.before in {block.id for block in moved}:
        raise EditError("A section cannot be moved into itself.")
    out = splice(document, places.start, len(moved), ())
    to = len(out.document.blocks) if operation.before is None else place_of_row(out.document, operation.before)
    back = splice(out.document, to, 0, moved)
    return out.then(back)
