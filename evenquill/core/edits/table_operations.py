"""The operations on a table's rows, columns and cells, as values. Places in it are counted from 0."""

from __future__ import annotations

from enum import StrEnum

import msgspec

from evenquill.core.model import Align


class Line(StrEnum):
    """What a table is cut into, one way or the other."""

    ROW = "row"
    COLUMN = "column"


class WidthsBy(StrEnum):
    """What tells the widths of columns: all the same, as much as their text needs, or as now but as wide together as the page's text."""

    EVEN = "even"
    CONTENT = "content"
    PAGE = "page"


class CellLines(StrEnum):
    """Which lines cells get: around each, none, around all together, above the upper ones, below the lower ones."""

    ALL = "all"
    NONE = "none"
    AROUND = "around"
    ABOVE = "above"
    BELOW = "below"


class CellMarks(StrEnum):
    """What stands before the lines of cells that are lists."""

    BULLETS = "bullets"
    NUMBERS = "numbers"
    NONE = "none"


class SetHeaderRows(msgspec.Struct, frozen=True, tag="header_rows", tag_field="op"):
    """Says how many rows at the top of a table name its columns; they are repeated on each page."""

    block: str
    rows: int


class TableToRows(msgspec.Struct, frozen=True, tag="table_to_rows", tag_field="op"):
    """Makes rows of text of a table, one for each of its rows, cells apart by tabs. The first keeps the id of the table."""

    block: str


class RowsToTable(msgspec.Struct, frozen=True, tag="rows_to_table", tag_field="op"):
    """Makes a table of rows of text that follow one another: a row each, cut into cells at its tabs."""

    blocks: tuple[str, ...]


class CutAtEdges(msgspec.Struct, frozen=True, tag="cut_at_edges", tag_field="op"):
    """Makes a table of rows of text that follow one another, each line of the page a row, or gives a table other columns: cut at
    ``edges``, in points from the left of the page. Cells are made of what was read, by where each word stands."""

    blocks: tuple[str, ...]
    edges: tuple[float, ...]


class InsertLines(msgspec.Struct, frozen=True, tag="insert_lines", tag_field="op"):
    """Puts empty rows or columns before the one at a place, or behind the last. They look like those that they stand beside."""

    block: str
    line: Line
    at: int
    count: int = 1


class RemoveLines(msgspec.Struct, frozen=True, tag="remove_lines", tag_field="op"):
    """Takes rows or columns out, text and all. Cells that reach beyond them become smaller."""

    block: str
    line: Line
    at: int
    count: int = 1


class MoveLines(msgspec.Struct, frozen=True, tag="move_lines", tag_field="op"):
    """Moves ``count`` rows or columns from a place to before the one at place ``to``, counted as they stand now."""

    block: str
    line: Line
    at: int
    to: int
    count: int = 1


class RemoveEmptyLines(msgspec.Struct, frozen=True, tag="remove_empty_lines", tag_field="op"):
    """Takes out all rows and columns without any text."""

    block: str


class MergeCells(msgspec.Struct, frozen=True, tag="merge_cells", tag_field="op"):
    """Makes one cell of all in a rectangle; it grows where it would cut others. Each text stays a paragraph of its own."""

    block: str
    row: int
    column: int
    rows: int
    columns: int


class SplitCell(msgspec.Struct, frozen=True, tag="split_cell", tag_field="op"):
    """Makes a cell of several places one for each of them, and one of a single place two beside each other."""

    block: str
    row: int
    column: int


class SplitColumn(msgspec.Struct, frozen=True, tag="split_column", tag_field="op"):
    """Makes two columns of one: cells are cut between their two numbers, others stay in the first; merged cells take both."""

    block: str
    column: int


class FillCells(msgspec.Struct, frozen=True, tag="fill_cells", tag_field="op"):
    """Writes texts into cells, row by row, from a place on. The table grows as far as they need."""

    block: str
    row: int
    column: int
    texts: tuple[tuple[str, ...], ...]


class JoinTables(msgspec.Struct, frozen=True, tag="join_tables", tag_field="op"):
    """Puts the rows of the next table under those of a table, or ``back`` its own under those of the one before. A header that is said
    again is left out."""

    block: str
    back: bool = False


class SplitTable(msgspec.Struct, frozen=True, tag="split_table", tag_field="op"):
    """Makes two tables of one: the second begins with the row at a place."""

    block: str
    row: int


class TransposeTable(msgspec.Struct, frozen=True, tag="transpose", tag_field="op"):
    """Makes columns of a table's rows."""

    block: str


class AlignColumns(msgspec.Struct, frozen=True, tag="align_columns", tag_field="op"):
    """Aligns all text in columns that follow one another."""

    block: str
    column: int
    align: Align
    columns: int = 1


class SetColumnWidths(msgspec.Struct, frozen=True, tag="column_widths", tag_field="op"):
    """Gives each column a width, in points."""

    block: str
    widths: tuple[float, ...]


class ArrangeColumns(msgspec.Struct, frozen=True, tag="arrange_columns", tag_field="op"):
    """Gives the columns new widths."""

    block: str
    by: WidthsBy


class RuleTable(msgspec.Struct, frozen=True, tag="rule_table", tag_field="op"):
    """Draws lines around all cells, or none."""

    block: str
    ruled: bool


class RuleCells(msgspec.Struct, frozen=True, tag="rule_cells", tag_field="op"):
    """Draws lines at cells in a rectangle, or takes them off; other lines that they have stay."""

    block: str
    row: int
    column: int
    rows: int
    columns: int
    lines: CellLines


class ListCells(msgspec.Struct, frozen=True, tag="list_cells", tag_field="op"):
    """Makes lists of the cells in a rectangle, an item of each line, or takes the marks of their items off."""

    block: str
    row: int
    column: int
    rows: int
    columns: int
    marks: CellMarks


class ShadeCells(msgspec.Struct, frozen=True, tag="shade_cells", tag_field="op"):
    """Fills cells in a rectangle with a colour (``rrggbb``), or with none."""

    block: str
    row: int
    column: int
    rows: int
    columns: int
    color: str = ""


TableOperation = (
    SetHeaderRows
    | TableToRows
    | RowsToTable
    | CutAtEdges
    | InsertLines
    | RemoveLines
    | MoveLines
    | RemoveEmptyLines
    | MergeCells
    | SplitCell
    | SplitColumn
    | FillCells
    | JoinTables
    | SplitTable
    | TransposeTable
    | AlignColumns
    | SetColumnWidths
    | ArrangeColumns
    | RuleTable
    | RuleCells
    | ShadeCells
    | ListCells
)
