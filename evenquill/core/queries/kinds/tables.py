"""Doubts about the shape of tables: two that may be one, rows and columns without text, columns that may be two."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from evenquill.core.edits import JoinTables, RemoveEmptyLines, SplitColumn
from evenquill.core.edits.operations import Operation
from evenquill.core.edits.table_columns import TWO_NUMBERS
from evenquill.core.edits.table_lines import empty_lines
from evenquill.core.model import NOTES, Block, TableBlock, TextBlock
from evenquill.core.queries.query import Fix, Kind, Query
from evenquill.core.queries.shortened import beginning_of
from evenquill.core.queries.view import View

CUT = Kind("cut table", "table that may go on in the next one", "tables that may go on in the next one", 37)
EMPTY = Kind("empty lines", "table with empty rows or columns", "tables with empty rows or columns", 38)
MERGED = Kind("merged column", "column that may be two", "columns that may be two", 39)
KINDS = (CUT, EMPTY, MERGED)

PROBABLY, PERHAPS = 0.6, 0.4

FEWEST, SHARE = 4, 0.7
"""Cells of a column with two numbers, at least, and their share of those that say something."""

WIDTHS = 0.15
"""Share of the whole width by which columns of two halves of a table differ, at most."""


def find(view: View) -> Iterator[Query]:
    blocks = view.document.blocks
    for block in view.blocks:
        if not isinstance(block, TableBlock) or block.excluded:
            continue
        after = _table_after(blocks, view.document.places[block.id])
        if after is not None and _may_go_on(block, after):
            why = "another table of as many columns follows at once"
            yield _query(CUT, block, PROBABLY, why, "join the two tables", JoinTables(block.id))
            continue
        column = _merged_column(block)
        if column is not None:
            why = f"most cells of column {column + 1} have two numbers"
            yield _query(MERGED, block, PERHAPS, why, "make two columns of it", SplitColumn(block.id, column))
        elif any(empty_lines(block)):
            yield _query(
                EMPTY, block, PERHAPS, "a row or a column has no text", "take them out", RemoveEmptyLines(block.id)
            )


def _table_after(blocks: Sequence[Block], place: int) -> TableBlock | None:
    for block in blocks[place + 1 :]:
        if isinstance(block, TableBlock) and not block.excluded:
            return block
        if not (block.excluded or (isinstance(block, TextBlock) and block.role in NOTES)):
            return None
    return None


def _may_go_on(table: TableBlock, after: TableBlock) -> bool:
    """Whether a table goes on in the next one, on another page or in another column: as many columns, about as wide."""
    if len(table.widths) != len(after.widths) or not table.spots or not after.spots:
        return False
    last, first = table.spots[-1], after.spots[0]
    elsewhere = first.page != last.page or first.box.y1 < last.box.y0
    wholes = sum(table.widths), sum(after.widths)
    alike = all(abs(a / wholes[0] - b / wholes[1]) < WIDTHS for a, b in zip(table.widths, after.widths, strict=True))
    return elsewhere and alike


def _merged_column(table: TableBlock) -> int | None:
    """The first column in which most cells have two numbers."""
    for column in range(len(table.widths)):
        texts = [
            cell.text.strip()
            for cell in table.cells
            if cell.column == column and cell.columns == 1 and cell.row >= table.header_rows and cell.text.strip()
        ]
        two = [text for text in texts if TWO_NUMBERS.fullmatch(text)]
        if len(two) >= FEWEST and len(two) >= SHARE * len(texts):
            return column
    return None


def _query(kind: Kind, block: TableBlock, likelihood: float, reason: str, label: str, operation: Operation) -> Query:
    said = beginning_of(" ".join(text.text for text in block.texts[:8]))
    return Query(
        kind=kind.name,
        page=block.spots[-1].page if block.spots else 0,
        text=said,
        likelihood=likelihood,
        reason=reason,
        block=block.id,
        spots=block.spots[-1:],
        context=said,
        fixes=(Fix(label, operation),),
        keep="it is right",
    )
