"""The rows of a table that name its columns."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Sequence

from evenquill.core.evidence import PageEvidence
from evenquill.core.layout.tables.pieces import is_number
from evenquill.core.layout.tables.placed import PlacedCell, PlacedTable
from evenquill.core.model import Box

HEADER_ROWS = 4
"""Rows that may name the columns, at most."""

APART = 0.5
"""Share of the rows that may look as those of the header do, if that is to say something."""

CLOSER = 0.9
"""Distance of two lines of one row over that to the next row, at most."""

NUMBERS = 0.5
"""Share of cells with a number under a row of words, to make that a header."""


def with_header(table: PlacedTable, page: PageEvidence, least: int = 0) -> PlacedTable:
    """The table with the rows counted that name its columns: bold or shaded ones at its top where the others are not, or words over
    numbers; ``least`` are known to. In them, what stands alone in its column takes all of them."""
    count = min(max(_header_rows(table, page), least), table.rows - 1)
    if not count:
        return table
    while True:  # a cell that reaches further down is of the header as a whole
        reach = max(cell.bottom for cell in table.cells if cell.row < count)
        if reach <= count or reach >= table.rows:
            break
        count = reach
    return _with_tall_headings(_with_whole_headings(table._replace(header_rows=count)))


def _header_rows(table: PlacedTable, page: PageEvidence) -> int:
    rows: list[list[PlacedCell]] = [[] for _ in range(table.rows)]
    for cell in table.cells:
        if cell.lines:
            rows[cell.row].append(cell)
    told = [_is_bold(row, page) for row in rows]
    if not (told[0] and sum(told) <= max(APART * len(told), 1)):
        shades = [_is_shaded(row, page.boxes) for row in rows]
        told = shades if shades[0] and sum(shades) <= max(APART * len(shades), 1) else [False]
    count = len(list(itertools.takewhile(bool, told)))
    if count:
        return min(_without_headings_of_groups(rows, count), HEADER_ROWS)
    first, body = rows[0], [cell for row in rows[1:] for cell in row]
    words = bool(first) and not any(is_number(_text(cell)) for cell in first if cell.column)
    numbers = [cell for cell in body if cell.column and is_number(_text(cell))]
    return int(words and len(numbers) >= NUMBERS * max(sum(1 for cell in body if cell.column), 1))


def _without_headings_of_groups(rows: Sequence[Sequence[PlacedCell]], count: int) -> int:
    """How many of the first rows are a header if its last one is the heading of a group of rows, as further down there are others."""
    heads = [len(row) == 1 and row[0].column == 0 for row in rows]
    return count - 1 if count > 1 and heads[count - 1] and any(heads[count:]) else count


def _text(cell: PlacedCell) -> str:
    return " ".join(line.text for line in cell.lines)


def _is_bold(row: Sequence[PlacedCell], page: PageEvidence) -> bool:
    words = [word for cell in row for line in cell.lines for word in line.words]
    return bool(words) and all(page.types[word.type].bold for word in words)


def _is_shaded(row: Sequence[PlacedCell], boxes: Sequence[Box]) -> bool:
    return bool(row) and all(
        any(
            box.holds_middle(cell.box) and box.height < 1.6 * cell.box.height + 4 and box.overlap_x(cell.box) > 0
            for box in boxes
        )
        for cell in row
    )


def _with_whole_headings(table: PlacedTable) -> PlacedTable:
    """Rows of a header of which one has next to nothing are the lines of one row: its headings are broken where they like."""
    header = [cell for cell in table.cells if cell.row < table.header_rows]
    filled = Counter(cell.row for cell in header if cell.lines)
    several = table.header_rows > 1 and all(cell.rows == cell.columns == 1 for cell in header)
    scarce = min(filled[row] for row in range(table.header_rows)) < APART * table.columns
    if not several or not (scarce or _are_lines_of_one(table, header)):
        return table
    whole = []
    for column in range(table.columns):
        stacked = [cell for cell in header if cell.column == column]
        box = stacked[0].box._replace(y1=stacked[-1].box.y1)
        whole.append(PlacedCell(0, column, 1, 1, box, tuple(line for cell in stacked for line in cell.lines)))
    less = table.header_rows - 1
    rest = [cell._replace(row=cell.row - less) for cell in table.cells if cell.row >= table.header_rows]
    return table._replace(cells=(*whole, *rest), header_rows=1)


def _are_lines_of_one(table: PlacedTable, header: Sequence[PlacedCell]) -> bool:
    """Whether rows of a header are lines of one: each has nothing but below what the one above has, which stand closer than the body does,
    and no rule parts them."""
    columns = [{cell.column for cell in header if cell.row == row and cell.lines} for row in range(table.header_rows)]
    if len(columns[0]) < table.columns or len(columns[-1]) == table.columns or table.ruled:
        return False
    baselines = [
        min((line.baseline for cell in table.cells if cell.row == row for line in cell.lines), default=0.0)
        for row in range(table.header_rows + 1)
    ]
    gaps = [below - above for above, below in itertools.pairwise(baselines)]
    nested = all(below <= above for above, below in itertools.pairwise(columns))
    return nested and max(gaps[:-1]) < CLOSER * gaps[-1]


def _with_tall_headings(table: PlacedTable) -> PlacedTable:
    """Where headings have headings under them, those that stand alone in their column take all the rows of the header."""
    header = [cell for cell in table.cells if cell.row < table.header_rows]
    spanned = any(cell.columns > 1 and cell.lines for cell in header)
    if table.header_rows < 2 or not spanned or (table.ruled and any(cell.rows > 1 for cell in header)):
        return table
    cells = [cell for cell in table.cells if cell.row >= table.header_rows]
    for column, own in itertools.groupby(sorted(header, key=lambda cell: (cell.column, cell.row)), lambda c: c.column):
        stacked = list(own)
        filled = [cell for cell in stacked if cell.lines]
        alone = len(stacked) == table.header_rows and all(cell.columns == 1 for cell in stacked) and len(filled) == 1
        if alone:
            box = stacked[0].box._replace(y1=stacked[-1].box.y1)
            cells.append(PlacedCell(0, column, table.header_rows, 1, box, filled[0].lines))
        else:
            cells += stacked
    return _without_empty_rows(table._replace(cells=tuple(sorted(cells))))


def _without_empty_rows(table: PlacedTable) -> PlacedTable:
    """The table without rows of its header in which nothing but taller cells stand: those were centred between two rows."""
    filled = {cell.row for cell in table.cells if cell.lines and (cell.rows == 1 or cell.row >= table.header_rows)}
    empty = [row for row in range(table.header_rows) if row not in filled]
    cells = []
    for cell in table.cells:
        above = sum(row < cell.row for row in empty)
        within = sum(cell.row <= row < cell.bottom for row in empty)
        if cell.rows > within:
            cells.append(cell._replace(row=cell.row - above, rows=cell.rows - within))
    return table._replace(cells=tuple(cells), header_rows=table.header_rows - len(empty))
