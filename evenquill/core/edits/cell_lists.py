"""Lists within cells of tables by hand: lines made items, and items split, joined and set deeper."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, Focus, splice
from evenquill.core.edits.kinds import usual_numbering
from evenquill.core.edits.lookup import any_text, table_row
from evenquill.core.edits.table_lines import bounds_of, cells_touching
from evenquill.core.edits.table_operations import CellMarks, ListCells
from evenquill.core.edits.table_text import lines_of
from evenquill.core.errors import EditError
from evenquill.core.model import Cell, Document, TableBlock, TextBlock
from evenquill.core.model.blocks import DEEPEST_LIST
from evenquill.core.model.cutting import cut_block, join_blocks, parting_between
from evenquill.core.model.ids import Ids


def list_cells(document: Document, operation: ListCells, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    marked = {cell.id for cell in cells_touching(block, *bounds_of(block, operation))}
    cells = tuple(
        replace(cell, texts=tuple(_marked(cell, operation.marks, ids))) if cell.id in marked else cell
        for cell in block.cells
    )
    if cells == block.cells:
        raise EditError("These cells are just so.")
    return splice(document, at, 1, (replace(block, cells=cells),))


def _marked(cell: Cell, marks: CellMarks, ids: Ids) -> Iterator[TextBlock]:
    """The texts of a cell as items, each line one of its own, or as no items."""
    if marks is CellMarks.NONE:
        yield from (replace(text, numbering=None, level=0) for text in cell.texts)
        return
    ordered = marks is CellMarks.NUMBERS
    for text in cell.texts:
        if text.numbering is not None and text.numbering.ordered is ordered:
            yield text
            continue
        for line in _lines(text, ids):
            yield replace(line, numbering=usual_numbering(line.level, ordered=ordered))


def _lines(text: TextBlock, ids: Ids) -> Iterator[TextBlock]:
    """The lines of a text that have something in them, or an empty one, the first with its id."""
    lines = lines_of(text)
    said = [line for line in lines if line.text.strip()] or lines[:1]
    for n, line in enumerate(said):
        part = cut_block(line, 0)
        yield replace(part, id=ids.new()) if n else part


def split_in_cell(document: Document, at: int, name: str, offset: int, ids: Ids) -> Edit:
    """Parts a text of a cell of the table at place ``at`` in two, one below the other."""
    table, cell, text = _place(document, at, name)
    first, second = cut_block(text, 0, offset), replace(cut_block(text, offset), id=ids.new())
    if second.numbering is not None:
        second = replace(second, numbering=replace(second.numbering, start=None))
    n = cell.texts.index(text)
    return _with_texts(document, at, table, cell, (*cell.texts[:n], first, second, *cell.texts[n + 1 :]), second.id, 0)


def join_in_cell(document: Document, at: int, name: str, *, back: bool) -> Edit:
    """Joins a text of a cell with the one below it, or ``back`` with the one above it. The first item that is joined back is no item any
    more."""
    table, cell, text = _place(document, at, name)
    n = cell.texts.index(text) - back
    if n < 0 and text.numbering is not None:
        plain = (replace(text, numbering=None, level=0), *cell.texts[1:])
        return _with_texts(document, at, table, cell, plain, text.id, 0)
    if not 0 <= n < len(cell.texts) - 1:
        raise EditError("There is no text beside it in its cell to join it with.")
    first, second = cell.texts[n : n + 2]
    parting = parting_between(first, second)
    whole = join_blocks(first, second, parting)
    texts = (*cell.texts[:n], whole, *cell.texts[n + 2 :])
    return _with_texts(document, at, table, cell, texts, whole.id, len(first.text) + len(parting))


def shift_in_cell(document: Document, at: int, name: str, by: int) -> Edit:
    """Sets an item of a cell deeper, or less deep where ``by`` is negative."""
    table, _, text = _place(document, at, name)
    level = text.level + by
    if text.numbering is None or not 0 <= level <= DEEPEST_LIST:
        raise EditError("That row cannot be set deeper or less deep.")
    shifted = replace(text, level=level, numbering=usual_numbering(level, ordered=text.numbering.ordered))
    return splice(document, at, 1, (table.with_text(shifted),))


def _place(document: Document, at: int, name: str) -> tuple[TableBlock, Cell, TextBlock]:
    _, text = any_text(document, name)
    table = document.blocks[at]
    assert isinstance(table, TableBlock)
    return table, next(cell for cell in table.cells if text in cell.texts), text


def _with_texts(
    document: Document, at: int, table: TableBlock, cell: Cell, texts: tuple[TextBlock, ...], name: str, offset: int
) -> Edit:
    """The table with other texts in a cell; the clerk goes on in the one with a ``name``."""
    cells = tuple(replace(one, texts=texts) if one is cell else one for one in table.cells)
    return splice(document, at, 1, (replace(table, cells=cells),))._replace(focus=Focus(name, offset))
