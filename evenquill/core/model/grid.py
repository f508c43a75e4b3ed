"""The grid of a table: what must hold of its rows, columns and cells."""

from __future__ import annotations

from collections.abc import Iterator

from evenquill.core.model.blocks import TableBlock


def grid_faults(table: TableBlock) -> Iterator[str]:
    """What is wrong with a table, in sentences for developers; nothing for a sound one.

    Each place of the grid belongs to exactly one cell, each row has an id, no id comes twice, cells have at least one paragraph.
    """
    rows, columns = len(table.row_ids), len(table.widths)
    taken: dict[tuple[int, int], str] = {}
    for cell in table.cells:
        if cell.rows < 1 or cell.columns < 1:
            yield f"cell {cell.id} takes no place"
        if cell.row < 0 or cell.column < 0 or cell.row + cell.rows > rows or cell.column + cell.columns > columns:
            yield f"cell {cell.id} reaches out of {rows} rows and {columns} columns"
        if not cell.texts:
            yield f"cell {cell.id} has no paragraph"
        for row in range(cell.row, cell.row + cell.rows):
            for column in range(cell.column, cell.column + cell.columns):
                if (row, column) in taken:
                    yield f"cells {taken[row, column]} and {cell.id} share row {row}, column {column}"
                taken[row, column] = cell.id
    for row in range(rows):
        for column in range(columns):
            if (row, column) not in taken:
                yield f"row {row}, column {column} belongs to no cell"
    if not 0 <= table.header_rows <= rows:
        yield f"{table.header_rows} header rows of {rows}"
    names = [*table.row_ids, *(cell.id for cell in table.cells), *(text.id for text in table.texts)]
    if len(set(names)) < len(names):
        yield "an id comes twice"
