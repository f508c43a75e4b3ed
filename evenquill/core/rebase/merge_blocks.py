"""What a block is, besides its words, merged from three sides: what the clerk has changed stands, everything else is as it is read now."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.model import Block, Cell, TableBlock, TextBlock
from evenquill.core.rebase.tokens import Conflict, merged_text

KIND = ("role", "level", "numbering", "style", "align")
"""Fields of a text that are changed together, by giving it another kind."""

ALONE = ("tabs", "page_break", "excluded", "language", "sides")


def merged_block(base: TextBlock | None, mine: TextBlock | None, theirs: TextBlock) -> TextBlock:
    """``theirs`` with the kind and the flags that the clerk has changed; a row that the clerk has made
    (no ``base``) keeps all of its own."""
    if mine is None:
        return theirs
    out = replace(theirs, id=mine.id)
    kind_changed = base is None or any(getattr(base, name) != getattr(mine, name) for name in KIND)
    names = [*(KIND if kind_changed else ()), *ALONE]
    changed = {
        name: getattr(mine, name)
        for name in names
        if base is None or name in KIND or getattr(base, name) != getattr(mine, name)
    }
    return replace(out, **changed)


def merged_table(base: Block, mine: Block, theirs: Block) -> tuple[Block, list[Conflict]] | None:
    """A table merged cell by cell, None where the three are not tables of one shape with one paragraph in each cell."""
    if not (isinstance(base, TableBlock) and isinstance(mine, TableBlock) and isinstance(theirs, TableBlock)):
        return None
    if not _shape(base) == _shape(mine) == _shape(theirs):
        return None
    conflicts: list[Conflict] = []
    cells: list[Cell] = []
    for known, own, read in zip(_in_order(base), _in_order(mine), _in_order(theirs), strict=True):
        merged = merged_text(known.texts[0], own.texts[0], read.texts[0])
        conflicts += merged.conflicts
        sides = own.sides if own.sides != known.sides else read.sides
        fill = own.fill if own.fill != known.fill else read.fill
        cells.append(
            replace(own, sides=sides, fill=fill, texts=(merged_block(known.texts[0], own.texts[0], merged.block),))
        )
    changed = {
        name: getattr(mine, name)
        for name in ("header_rows", "align", "page_break", "excluded", "ruled", "widths")
        if getattr(mine, name) != getattr(base, name)
    }
    whole = replace(theirs, id=mine.id, row_ids=mine.row_ids, cells=tuple(cells))
    return replace(whole, **changed), conflicts


def _shape(table: TableBlock) -> list[tuple[int, int, int, int, bool]]:
    return [(cell.row, cell.column, cell.rows, cell.columns, len(cell.texts) == 1) for cell in _in_order(table)]


def _in_order(table: TableBlock) -> list[Cell]:
    return sorted(table.cells, key=lambda cell: (cell.row, cell.column))


def merged_picture(base: Block, mine: Block, theirs: Block) -> Block:
    """``theirs`` with what the clerk has changed of a picture."""
    names = ("picture", "media", "width", "height", "align", "alt", "note", "page_break", "excluded")
    changed = {name: getattr(mine, name) for name in names if getattr(mine, name) != getattr(base, name)}
    if "picture" in changed:
        changed["drawing"] = getattr(mine, "drawing", "")
    return replace(theirs, id=mine.id, **changed)
