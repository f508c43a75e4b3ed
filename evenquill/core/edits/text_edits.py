"""Operations on the text of rows: typing, splitting, joining, reading again."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits import cell_lists
from evenquill.core.edits.equation_edits import check_equations, with_equations_changed
from evenquill.core.edits.inverse import Edit, Focus, splice, with_text_changed
from evenquill.core.edits.lookup import any_text, text_row
from evenquill.core.edits.operations import EditText, JoinBlocks, JoinNeighbour, ReadRowAgain, SplitBlock
from evenquill.core.edits.words import moved_words, read_again_text
from evenquill.core.errors import EditError
from evenquill.core.model import NOTES, Document, TextBlock
from evenquill.core.model.cutting import cut_block, join_blocks, parting_between
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import harmless, joined, plain


def edit_text(document: Document, operation: EditText, ids: Ids) -> Edit:
    at, block = any_text(document, operation.block)
    content = joined(map(harmless, operation.content))
    check_equations(content)
    words = with_equations_changed(moved_words(block.words, block.text, plain(content)), block.content, content)
    return with_text_changed(document, at, replace(block, content=content, words=words))


def split(document: Document, operation: SplitBlock, ids: Ids) -> Edit:
    at, block = any_text(document, operation.block)
    if not 0 <= operation.offset <= len(block.text):
        raise EditError("The row has no such place to split it at.")
    if document.blocks[at].id != block.id:
        return cell_lists.split_in_cell(document, at, block.id, operation.offset, ids)
    first = cut_block(block, 0, operation.offset)
    second = cut_block(block, operation.offset)
    second = replace(second, id=ids.new(), page_break=False, doubts=tuple(doubt for doubt in block.doubts if doubt.box))
    if second.numbering is not None and second.numbering.start is not None:
        second = replace(second, numbering=replace(second.numbering, start=None))
    return splice(document, at, 1, (first, second))._replace(focus=Focus(second.id))


def join(document: Document, operation: JoinBlocks, ids: Ids) -> Edit:
    at, first = text_row(document, operation.first)
    at_second, second = text_row(document, operation.second)
    if at_second <= at:
        raise EditError("Only rows that follow one another can be joined.")
    between = document.blocks[at + 1 : at_second]
    if any(isinstance(block, TextBlock) and block.role not in NOTES and not block.excluded for block in between):
        raise EditError("Only rows that follow one another can be joined.")
    parting = parting_between(first, second)
    whole = join_blocks(first, second, parting)
    focus = Focus(first.id, len(first.text) + len(parting))
    return splice(document, at, at_second - at + 1, (whole, *between))._replace(focus=focus)


def join_neighbour(document: Document, operation: JoinNeighbour, ids: Ids) -> Edit:
    at, block = any_text(document, operation.block)
    if document.blocks[at].id != block.id:
        return cell_lists.join_in_cell(document, at, block.id, back=operation.back)
    step = -1 if operation.back else 1
    beside = at + step
    while 0 <= beside < len(document.blocks):
        other = document.blocks[beside]
        if not other.excluded and not (isinstance(other, TextBlock) and other.role in NOTES):
            break
        beside += step
    if not 0 <= beside < len(document.blocks) or not isinstance(document.blocks[beside], TextBlock):
        raise EditError("There is no row of text beside it to join it with.")
    pair = (document.blocks[beside].id, block.id) if operation.back else (block.id, document.blocks[beside].id)
    return join(document, JoinBlocks(*pair), ids)


def read_again(document: Document, operation: ReadRowAgain, ids: Ids) -> Edit:
    at, block = text_row(document, operation.block)
    if not operation.read.text.strip():
        raise EditError("Nothing could be read there; the row stays as it was.")
    return splice(document, at, 1, (read_again_text(block, operation.read.text, operation.read.words),))
