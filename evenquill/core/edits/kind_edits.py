"""Operations that give rows another kind, level, alignment or numbering."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits import cell_lists
from evenquill.core.edits.equation_edits import content_for
from evenquill.core.edits.inverse import Edit, splice, with_sections_changed, with_text_changed
from evenquill.core.edits.kinds import style_for, styles_with, usual_numbering
from evenquill.core.edits.lookup import any_text, place_of_text, text_row
from evenquill.core.edits.operations import AlignBlock, OneFlow, RestartNumbering, SetKind, SetSides, ShiftLevel
from evenquill.core.edits.words import moved_words
from evenquill.core.errors import EditError
from evenquill.core.model import (
    Align,
    Document,
    Inline,
    Marks,
    Numbering,
    PictureBlock,
    ResolvedStyle,
    Role,
    TextBlock,
)
from evenquill.core.model.blocks import DEEPEST_LIST
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import joined, plain
from evenquill.core.model.sides import ABOVE_AND_BELOW

DEEPEST_HEADING = 9
LEVELS = {
    Role.HEADING: (1, DEEPEST_HEADING),
    Role.LIST_ITEM: (0, DEEPEST_LIST),
    Role.CONTENTS: (1, DEEPEST_HEADING),
}
"""The highest and the deepest level of what has levels."""


def set_kind(document: Document, operation: SetKind, ids: Ids) -> Edit:
    at, block = text_row(document, operation.block)
    role = operation.role
    if role is Role.CELL:
        raise EditError("Cells are parts of tables. Make a table of the rows.")
    lowest, deepest = LEVELS.get(role, (0, 0))
    level = min(max(operation.level, lowest), deepest)
    style = style_for(document, role, level)
    numbering = _numbering(document, at, level, operation.ordered) if role is Role.LIST_ITEM else None
    content = content_for(role, block)
    words = moved_words(block.words, block.text, plain(content))
    if role is Role.EQUATION and block.role is not role:
        words = words[:1]  # words that have become one sign
    changed = replace(
        block,
        role=role,
        level=level,
        numbering=numbering,
        style=style.id,
        align=None,
        content=_without_whole_emphasis(content, style),
        words=words,
        doubts=tuple(doubt for doubt in block.doubts if doubt.role is None),
    )
    return splice(document, at, 1, (changed,), styles_with(document, style))


def shift_level(document: Document, operation: ShiftLevel, ids: Ids) -> Edit:
    edit = Edit(document, ())
    for name in operation.blocks:
        at, block = any_text(edit.document, name)
        if edit.document.blocks[at].id != name:
            edit = edit.then(cell_lists.shift_in_cell(edit.document, at, name, operation.by))
            continue
        bounds = LEVELS.get(block.role)
        level = block.level + operation.by
        if bounds is None or not bounds[0] <= level <= bounds[1]:
            continue
        ordered = block.numbering is not None and block.numbering.ordered
        shifted = set_kind(edit.document, SetKind(name, block.role, level, ordered), ids)
        edit = edit.then(shifted)
    if not edit.inverse:
        raise EditError("That row cannot be set deeper or less deep.")
    return edit


def _without_whole_emphasis(runs: tuple[Inline, ...], style: ResolvedStyle) -> tuple[Inline, ...]:
    """Text that was bold (or italic) as a whole is as its new style has it, and not emphasised against it."""
    whole = Marks.NONE
    for mark, in_style in ((Marks.BOLD, style.bold), (Marks.ITALIC, style.italic)):
        if in_style and runs and all(mark in run.marks for run in runs):
            whole |= mark
    return joined(replace(run, marks=run.marks & ~whole) for run in runs)


def _numbering(document: Document, at: int, level: int, ordered: bool) -> Numbering:
    """The numbering of the item before on that level, where it is of the kind; else a new sequence."""
    for block in reversed(document.blocks[:at]):
        if not isinstance(block, TextBlock) or block.excluded:
            continue
        if block.role is not Role.LIST_ITEM or block.level < level:
            break
        if block.level == level and block.numbering is not None and block.numbering.ordered is ordered:
            return replace(block.numbering, start=None)
    usual = usual_numbering(level, ordered=ordered)
    return replace(usual, start=1) if ordered else usual


def align(document: Document, operation: AlignBlock, ids: Ids) -> Edit:
    at = place_of_text(document, operation.block)
    block = document.blocks[at]
    if block.id != operation.block:
        return with_text_changed(document, at, replace(any_text(document, operation.block)[1], align=operation.align))
    if operation.align is Align.DECIMAL:
        raise EditError("Only cells of tables are aligned by decimals.")
    if isinstance(block, PictureBlock) and operation.align is Align.CENTER:
        block = replace(block, around=False)  # text goes along one side alone
    return splice(document, at, 1, (replace(block, align=operation.align),))


def set_sides(document: Document, operation: SetSides, ids: Ids) -> Edit:
    at, block = text_row(document, operation.block)
    if operation.sides & ~ABOVE_AND_BELOW:
        raise EditError("A row has lines above and below alone.")
    return splice(document, at, 1, (replace(block, sides=operation.sides),))


def restart(document: Document, operation: RestartNumbering, ids: Ids) -> Edit:
    at, block = text_row(document, operation.block)
    if block.numbering is None or not block.numbering.ordered:
        raise EditError("That row has no number.")
    if operation.start is not None and operation.start < 0:
        raise EditError("Numbers begin at 0 or above.")
    changed = replace(block, numbering=replace(block.numbering, start=operation.start))
    return splice(document, at, 1, (changed,))


def one_flow(document: Document, operation: OneFlow, ids: Ids) -> Edit:
    if all(section.columns == 1 for section in document.sections):
        raise EditError("The document is in one column already.")
    return with_sections_changed(document, tuple(replace(section, columns=1) for section in document.sections))
