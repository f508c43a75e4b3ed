"""Operations on tables as wholes: header rows, lines, and rows of text made of them and the other way."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, Focus, splice
from evenquill.core.edits.kinds import style_for, styles_with
from evenquill.core.edits.lookup import table_row, text_row
from evenquill.core.edits.table_operations import RowsToTable, RuleTable, SetHeaderRows, TableToRows
from evenquill.core.edits.table_text import rows_of_table, table_of_rows
from evenquill.core.errors import EditError
from evenquill.core.model import Document, Role
from evenquill.core.model.ids import Ids


def set_header_rows(document: Document, operation: SetHeaderRows, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    if not 0 <= operation.rows < block.row_count:
        raise EditError("A header has fewer rows than its table.")
    if any(cell.row < operation.rows < cell.row + cell.rows for cell in block.cells):
        raise EditError("A cell there goes on below that row.")
    return splice(document, at, 1, (replace(block, header_rows=operation.rows),))


def rule_table(document: Document, operation: RuleTable, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    cells = tuple(replace(cell, sides=None) for cell in block.cells)
    return splice(document, at, 1, (replace(block, ruled=operation.ruled, cells=cells),))


def table_to_rows(document: Document, operation: TableToRows, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    style = style_for(document, Role.PARAGRAPH, 0)
    rows = rows_of_table(block, style.id)
    named = [row if n == 0 else replace(row, id=ids.new()) for n, row in enumerate(rows)]
    return splice(document, at, 1, tuple(named))


def rows_to_table(document: Document, operation: RowsToTable, ids: Ids) -> Edit:
    found = [text_row(document, block) for block in operation.blocks]
    places = [at for at, _ in found]
    if not found or places != list(range(places[0], places[0] + len(places))):
        raise EditError("Only rows that follow one another can become a table.")
    rows = [block for _, block in found]
    if not any("\t" in row.text for row in rows):
        raise EditError("These rows have no tabs to cut them into cells at.")
    style = style_for(document, Role.CELL, 0)
    styles = styles_with(document, style)
    table = table_of_rows(ids.new(), rows, style.id, ids)
    return splice(document, places[0], len(rows), (table,), styles)._replace(focus=Focus(table.id))
