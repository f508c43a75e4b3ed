"""Rows that were copied, in this document or in another one, put in with their formatting."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec.structs import replace

from evenquill.core.edits.copy_operations import PutRows
from evenquill.core.edits.inverse import Edit, Focus, splice
from evenquill.core.edits.kinds import style_for
from evenquill.core.edits.lookup import place_of_row
from evenquill.core.edits.style_edits import check_taken, free_name
from evenquill.core.edits.tab_edits import checked_stops
from evenquill.core.errors import EditError
from evenquill.core.model import (
    NOTES,
    BlockLink,
    Cell,
    Document,
    Field,
    Inline,
    InlinePicture,
    Marks,
    NoteRef,
    ParagraphStyle,
    ResolvedStyle,
    Role,
    Spot,
    TableBlock,
    Text,
    TextBlock,
)
from evenquill.core.model.grid import grid_faults
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import harmless, joined
from evenquill.core.model.styles import BODY, style_of

MOST_ROWS, MOST_CELLS = 2_000, 50_000
"""Rows, and cells in them, that are put in at once."""


def put_rows(document: Document, operation: PutRows, ids: Ids) -> Edit:
    at = 0 if operation.after is None else place_of_row(document, operation.after) + 1
    if not operation.blocks:
        raise EditError("Nothing was copied that can be put in here.")
    cells = sum(len(block.cells) for block in operation.blocks if isinstance(block, TableBlock))
    if len(operation.blocks) > MOST_ROWS or cells > MOST_CELLS:
        raise EditError(f"At most {MOST_ROWS} rows and {MOST_CELLS} cells are put in at once.")
    # A row without a source of its own stands beside the place that it was put at.
    spots = document.blocks[at - 1].spots[-1:] if at else ()
    styles, names = _with_styles(document, operation.styles)
    whole = replace(document, styles=styles)
    made = tuple(_copied(block, whole, names, spots, ids) for block in operation.blocks)
    edit = splice(document, at, 0, made, styles if styles != document.styles else None)
    return edit._replace(focus=Focus(made[-1].id, 0))


def _with_styles(
    document: Document, looks: tuple[ResolvedStyle, ...]
) -> tuple[tuple[ParagraphStyle, ...], dict[str, str]]:
    """The document's styles with those looks that it has none of by their name; and which of its styles each look is."""
    styles = list(document.styles or (style_of(BODY),))
    known = {name.casefold(): style.id for style in styles for name in (style.id, document.style(style.id).name)}
    names: dict[str, str] = {}
    for look in looks:
        if look.name.casefold() not in known:
            check_taken(look)
            name = free_name(document, look.name, "")
            styles.append(style_of(replace(look, id=name, name=name), document.body_style))
            known[look.name.casefold()] = name
        names[look.id] = known[look.name.casefold()]
    return tuple(styles), names


def _copied(
    block: TextBlock | TableBlock, document: Document, names: Mapping[str, str], spots: tuple[Spot, ...], ids: Ids
) -> TextBlock | TableBlock:
    if isinstance(block, TextBlock):
        return _copied_text(block, document, names, spots, ids)
    named = replace(
        block,
        id=ids.new(),
        row_ids=tuple(ids.new() for _ in block.row_ids),
        cells=tuple(_copied_cell(cell, document, names, spots, ids) for cell in block.cells),
        spots=spots,
        page_break=False,
        excluded=False,
        section="",
    )
    if next(grid_faults(named), ""):
        raise EditError("What was copied is no whole table.")
    return named


def _copied_cell(cell: Cell, document: Document, names: Mapping[str, str], spots: tuple[Spot, ...], ids: Ids) -> Cell:
    texts = tuple(_copied_text(text, document, names, spots, ids) for text in cell.texts)
    return replace(cell, id=ids.new(), texts=texts)


def _copied_text(
    text: TextBlock, document: Document, names: Mapping[str, str], spots: tuple[Spot, ...], ids: Ids
) -> TextBlock:
    """The text without what it has of its document: places, doubts, notes and references. A note becomes a paragraph."""
    role = Role.PARAGRAPH if text.role in NOTES else text.role
    style = names.get(text.style) if role is text.role else None
    return replace(
        text,
        id=ids.new(),
        role=role,
        content=joined(one for item in text.content for one in _copied_item(item)),
        style=style or style_for(document, role, text.level).id,
        numbering=text.numbering if role in (Role.LIST_ITEM, Role.CELL) else None,
        tabs=checked_stops(text.tabs),
        spots=spots,
        words=(),
        doubts=(),
        excluded=False,
        page_break=False,
        section="",
    )


def _copied_item(item: Inline) -> tuple[Inline, ...]:
    if isinstance(item, NoteRef):
        return (Text(item.mark, Marks.SUPER),)
    if isinstance(item, Field | InlinePicture):
        return ()
    if isinstance(item.link, BlockLink):
        item = replace(item, link=None)
    return (harmless(item),)
