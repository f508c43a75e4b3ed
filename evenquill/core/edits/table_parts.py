"""Tables joined, split and transposed."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, Focus, splice
from evenquill.core.edits.lookup import table_row
from evenquill.core.edits.table_lines import check_uncut, in_order, line_count, with_header, with_lines, without_lines
from evenquill.core.edits.table_operations import JoinTables, Line, SplitTable, TransposeTable
from evenquill.core.errors import EditError
from evenquill.core.model import NOTES, Block, Cell, Document, Spot, TableBlock, TextBlock
from evenquill.core.model.cell_lines import transposed, with_usual_sides
from evenquill.core.model.geometry import spots_by_page
from evenquill.core.model.ids import Ids


def join_tables(document: Document, operation: JoinTables, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    step = -1 if operation.back else 1
    beside = at + step
    while 0 <= beside < len(document.blocks) and _lies_between(document.blocks[beside]):
        beside += step
    other = document.blocks[beside] if 0 <= beside < len(document.blocks) else None
    if not isinstance(other, TableBlock):
        raise EditError(f"No table stands right {'before' if operation.back else 'after'} this one.")
    (first_at, first), (second_at, second) = sorted(((at, block), (beside, other)), key=lambda one: one[0])
    if _header(first) == _header(second) != []:
        second = without_lines(second, Line.ROW, range(second.header_rows))
    columns = max(len(first.widths), len(second.widths))
    first, second = (_with_columns(table, columns, ids) for table in (first, second))
    above = [replace(cell, sides=first.sides_of(cell)) for cell in first.cells]
    below = [replace(cell, row=cell.row + first.row_count, sides=second.sides_of(cell)) for cell in second.cells]
    whole = replace(
        with_usual_sides(replace(first, cells=(*above, *below))),
        row_ids=(*first.row_ids, *second.row_ids),
        spots=spots_by_page((*first.spots, *second.spots)),
        excluded=False,
    )
    between = document.blocks[first_at + 1 : second_at]
    edit = splice(document, first_at, second_at - first_at + 1, (whole, *between))
    return edit._replace(focus=Focus(whole.id))


def _lies_between(block: Block) -> bool:
    """Whether a block does not part the tables before and after it."""
    return block.excluded or (isinstance(block, TextBlock) and block.role in NOTES)


def _header(table: TableBlock) -> list[tuple[int, int, str]]:
    """What the header rows say; nothing where all rows would be header."""
    if table.header_rows >= table.row_count:
        return []
    return [(cell.row, cell.column, cell.text) for cell in table.cells if cell.row < table.header_rows]


def _with_columns(table: TableBlock, columns: int, ids: Ids) -> TableBlock:
    own = line_count(table, Line.COLUMN)
    return with_lines(table, Line.COLUMN, own, columns - own, ids) if columns > own else table


def split_table(document: Document, operation: SplitTable, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    row = operation.row
    if not 0 < row < block.row_count:
        raise EditError("A table is split before one of its rows, but not before the first.")
    check_uncut(block, Line.ROW, row)
    first = replace(block, row_ids=block.row_ids[:row], cells=tuple(cell for cell in block.cells if cell.row < row))
    below = tuple(replace(cell, row=cell.row - row) for cell in block.cells if cell.row >= row)
    second = replace(block, id=ids.new(), row_ids=block.row_ids[row:], cells=below, header_rows=0, page_break=False)
    halves = (with_header(first, block.header_rows), second)
    placed = tuple(replace(half, spots=_spots_of(half.cells) or block.spots) for half in halves)
    return splice(document, at, 1, placed)._replace(focus=Focus(second.id))


def _spots_of(cells: Sequence[Cell]) -> tuple[Spot, ...]:
    return spots_by_page(spot for cell in cells for text in cell.texts for spot in text.spots)


def transpose(document: Document, operation: TransposeTable, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    cells = in_order(
        replace(
            cell, row=cell.column, column=cell.row, rows=cell.columns, columns=cell.rows, sides=transposed(cell.sides)
        )
        for cell in block.cells
    )
    width = sum(block.widths) / block.row_count
    across = replace(
        block,
        cells=cells,
        row_ids=tuple(ids.new() for _ in block.widths),
        widths=(width,) * block.row_count,
        header_rows=0,
    )
    return splice(document, at, 1, (with_header(across, min(block.header_rows, 1)),))
