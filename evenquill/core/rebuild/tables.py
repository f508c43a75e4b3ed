"""Tables: paragraphs of cells, how cells are aligned, and tables that run over pages."""

from __future__ import annotations

import itertools
import statistics
from collections import defaultdict
from collections.abc import Callable, Sequence

from msgspec.structs import replace

from evenquill.core.layout.page import Column
from evenquill.core.layout.tables.flow_table import FlowCell, FlowTable
from evenquill.core.layout.tables.pieces import is_number
from evenquill.core.model import Align, Box, Marks, Role, union
from evenquill.core.model.decimals import decimal_place, decimal_sign
from evenquill.core.model.inline import joined
from evenquill.core.rebuild.broken_rows import carry_on_row
from evenquill.core.rebuild.drafts import AnyDraft, CellDraft, Draft, TableDraft
from evenquill.core.rebuild.facts import Facts

SAME_EDGE = 1.5
"""Points by which text in one column of a table may miss its edge."""

MOST_PADDING = 8.0
"""Points between the side of a cell and its text, at most."""

SAME_PLACE = 6.0
"""Points by which the columns of a table may stand elsewhere on its next page."""

SAME_SHARE = 0.35
"""The same as a share of the narrowest column: what edges without lines are is known from the text beside them."""

MOST_NUMBERS = 0.7
"""Share of the cells of a column that are numbers, from which it is one of numbers."""

FEW_BOLD = 0.5
"""Share of the cells of a row or a column that are bold, below which that is not its look."""

MOSTLY = 0.5
"""Share of a header's cells that are set in one way, from which it is."""

MOST_REPEATED = 4
"""Rows that are repeated on each page of a table, at most."""

NARROWEST = 12.0
"""Points: the least width of a column as it is written."""


def cell_columns(table: FlowTable) -> list[Column]:
    """For each cell of a table the column of a page that it is to its paragraphs: the stretch that text may fill in it."""
    ends: dict[int, float] = {}
    for cell in table.cells:
        if cell.lines:
            own = max(line.box.x1 for line in cell.lines)
            last = cell.column + cell.columns
            ends[last] = max(ends.get(last, own), own)
    return [_cell_column(table, cell, ends) for cell in table.cells]


def _cell_column(table: FlowTable, cell: FlowCell, ends: dict[int, float]) -> Column:
    if not cell.lines:
        return Column(table.page, cell.box.x0, cell.box.x1, ())
    left = min(line.x0 for line in cell.lines)
    end = ends[cell.column + cell.columns]
    if table.ruled:
        padding = min(max(left - cell.box.x0, 0.0), MOST_PADDING)
        end = cell.box.x1 - padding
    return Column(table.page, left, end, cell.lines)


def align_cells(cells: Sequence[CellDraft], table: FlowTable) -> None:
    """Aligns the paragraphs of cells: those below the header as most of their column, others by where they stand in their own."""
    columns: dict[int, list[tuple[CellDraft, FlowCell]]] = defaultdict(list)
    for draft, cell in zip(cells, table.cells, strict=True):
        if cell.lines and cell.columns == 1 and cell.row >= table.header_rows:
            columns[cell.column].append((draft, cell))
    usual = {column: _shared_edge([cell for _, cell in own]) for column, own in columns.items()}
    for draft, cell in zip(cells, table.cells, strict=True):
        shared = usual.get(cell.column)
        below = cell.row >= table.header_rows
        if shared and cell.columns == 1 and (below or _is_in_line(cell, shared, columns[cell.column])):
            align = shared
        else:
            align = _own_edge(cell, Align.RIGHT if shared is Align.DECIMAL else shared or Align.LEFT)
        for text in draft.drafts:
            text.align = align


def _is_in_line(cell: FlowCell, edge: Align, column: Sequence[tuple[CellDraft, FlowCell]]) -> bool:
    """Whether the text of a cell ends, or has its middle, where that of the cells of its column does; beginning alike says less, since
    what fills a column begins so too."""
    if edge is Align.LEFT or not cell.lines:
        return False

    def place(box: Box) -> float:
        return box.x1 if edge is Align.RIGHT else box.center_x

    usual = statistics.median(place(line.box) for _, other in column for line in other.lines)
    return all(abs(place(line.box) - usual) <= SAME_EDGE for line in cell.lines)


def _shared_edge(cells: Sequence[FlowCell]) -> Align | None:
    """The edge, or the middle, at which the text of a column's cells is in line; None where that cannot be told."""
    if len(cells) < 2:
        return None
    if _are_in_line_by_decimals(cells):
        return Align.DECIMAL
    lines = [line.box for cell in cells for line in cell.lines]
    if max(box.width for box in lines) - min(box.width for box in lines) < SAME_EDGE:
        cell = cells[0]
        return _own_edge(cell, None)
    spreads = {
        Align.LEFT: _spread([box.x0 for box in lines]),
        Align.RIGHT: _spread([box.x1 for box in lines]),
        Align.CENTER: _spread([box.center_x for box in lines]),
    }
    return min(spreads, key=lambda align: spreads[align])


def _are_in_line_by_decimals(cells: Sequence[FlowCell]) -> bool:
    """Whether the decimal signs of a column's numbers are in line, and their ends, for their decimals are not equally long, are not."""
    numbers = [cell.lines[0] for cell in cells if len(cell.lines) == 1 and is_number(cell.lines[0].text)]
    sign = decimal_sign(line.text for line in numbers)
    if not sign or len(numbers) < MOST_NUMBERS * len(cells):
        return False
    places = [line.box.x0 + line.box.width * decimal_place(line.text, sign) for line in numbers]
    apart = _spread(places)
    return apart <= SAME_EDGE and all(
        _spread(ends) > max(2 * apart, SAME_EDGE)
        for ends in ([line.box.x0 for line in numbers], [line.box.x1 for line in numbers])
    )


def _spread(values: Sequence[float]) -> float:
    """How far values lie from their middle on average; to a tenth of a point, since the first of what is equal counts."""
    middle = statistics.median(values)
    return round(sum(abs(value - middle) for value in values) / len(values), 1)


def _own_edge(cell: FlowCell, usual: Align | None) -> Align:
    """By which side of a cell its text stands, or its column's usual one where it fills it."""
    left = min((line.box.x0 for line in cell.lines), default=cell.box.x0) - cell.box.x0
    right = cell.box.x1 - max((line.box.x1 for line in cell.lines), default=cell.box.x1)
    if abs(left - right) <= 2 * SAME_EDGE:
        return usual if usual is not None and left < MOST_PADDING else Align.CENTER
    return Align.LEFT if left < right else Align.RIGHT


def with_steady_weight(drafts: Sequence[AnyDraft]) -> None:
    """Takes its weight from text in single cells that was recognised as bold where neither its row nor its column is: a few letters alone
    tell little of how thick they are printed."""
    for table in drafts:
        if isinstance(table, TableDraft):
            bold = {id(cell): _is_bold(cell) for cell in table.cells if cell.drafts}
            rows, columns = _share_of_bold(table, bold, by_row=True), _share_of_bold(table, bold, by_row=False)
            for cell in table.cells:
                alone = rows.get(cell.row, 0.0) < FEW_BOLD and columns.get(cell.column, 0.0) < FEW_BOLD
                if (
                    bold.get(id(cell))
                    and alone
                    and any(word.confidence < 1 for text in cell.drafts for word in text.words)
                ):
                    for text in cell.drafts:
                        text.content = joined(replace(run, marks=run.marks & ~Marks.BOLD) for run in text.content)


def _is_bold(cell: CellDraft) -> bool:
    return all(Marks.BOLD in run.marks for text in cell.drafts for run in text.content)


def _has_bold(cell: CellDraft) -> bool:
    return any(Marks.BOLD in run.marks for text in cell.drafts for run in text.content)


def _share_of_bold(table: TableDraft, bold: dict[int, bool], *, by_row: bool) -> dict[int, float]:
    """For each row, or column, the share of its cells with text that are bold."""
    groups: dict[int, list[bool]] = defaultdict(list)
    for cell in table.cells:
        if id(cell) in bold:
            groups[cell.row if by_row else cell.column].append(bold[id(cell)])
    return {place: sum(values) / len(values) for place, values in groups.items()}


def join_tables(drafts: list[AnyDraft], facts: Facts) -> list[AnyDraft]:
    """The drafts with tables that go on at the top of the next column or page, or right below, made one; a header that is repeated there
    is there once, and a row that is cut in two is one."""
    out: list[AnyDraft] = []
    for draft in drafts:
        before = _table_before(out, draft) if isinstance(draft, TableDraft) else None
        if before is not None and isinstance(draft, TableDraft) and _goes_on(before, draft):
            _append(before, draft, facts)
        else:
            out.append(draft)
    return out


def _table_before(drafts: Sequence[AnyDraft], draft: TableDraft) -> TableDraft | None:
    """The table that nothing but notes parts a table from: at the end of the page or column before, or close above."""
    last = next((one for one in reversed(drafts) if not (isinstance(one, Draft) and one.role is Role.NOTE)), None)
    if not isinstance(last, TableDraft):
        return None
    end, start = last.spots[-1], draft.spots[0]
    if end.page == start.page:
        below = start.box.y0 >= end.box.y1 - SAME_EDGE
        near = start.box.y0 - end.box.y1 <= _pitch(draft) if below else start.box.x0 >= end.box.x1
    else:
        near = draft.page_top and end.page == start.page - 1
    return last if near else None


def _pitch(table: TableDraft) -> float:
    """The height of a table's rows in points, on average."""
    return table.spots[0].box.height / table.row_count


def _goes_on(before: TableDraft, draft: TableDraft) -> bool:
    """Whether two tables have the same columns: as many, with the same header or in the same places. One with a header of its own, each
    column named, is another table; where the header of the first stands out, what is set as other rows are is none."""
    if len(before.edges) != len(draft.edges):
        return False
    if _repeated_rows(before, draft):
        return True
    own_header = draft.header_rows and not (_header_stands_out(before) and _header_is_set_as_rest(draft))
    if own_header and before.header_rows and _names_all_columns(draft):
        return False
    shifts = {0.0, draft.left - before.left, draft.edges[0] - before.edges[0]}
    return any(_same_places(before, draft, shift) for shift in shifts)


def _header_stands_out(table: TableDraft) -> bool:
    """Whether the rows of a table's header are bold or stand on a ground, and its other rows do not."""
    header, rest = _header_and_rest(table)
    if _share(header, _is_bold) > MOSTLY >= _share(rest, _is_bold):
        return True
    # Every other row may stand on a ground.
    filled = {cell.fill for cell in header} - {""}
    return len(filled) == 1 and not filled & {cell.fill for cell in rest}


def _header_is_set_as_rest(table: TableDraft) -> bool:
    """Whether the rows of a table's header have no more bold words than its other rows, and no other ground."""
    header, rest = _header_and_rest(table)
    fills = {cell.fill for cell in header} - {""}
    return _share(header, _has_bold) <= _share(rest, _has_bold) and fills <= {cell.fill for cell in rest}


def _header_and_rest(table: TableDraft) -> tuple[list[CellDraft], list[CellDraft]]:
    cells = [cell for cell in table.cells if cell.drafts]
    return [c for c in cells if c.row < table.header_rows], [c for c in cells if c.row >= table.header_rows]


def _share(cells: Sequence[CellDraft], is_set_so: Callable[[CellDraft], bool]) -> float:
    return sum(map(is_set_so, cells)) / max(len(cells), 1)


def _names_all_columns(table: TableDraft) -> bool:
    """Whether the rows of a table's header have words in each of its columns, and no numbers."""
    header = [cell for cell in table.cells if cell.row < table.header_rows and cell.drafts]
    if any(is_number(text.text) for cell in header for text in cell.drafts):
        return False
    named = {column for cell in header for column in range(cell.column, cell.column + cell.columns)}
    return len(named) == len(table.edges) - 1


def _same_places(before: TableDraft, draft: TableDraft, shift: float) -> bool:
    """Whether each column begins, ends or has its middle where that of the other table does, ``shift`` points further right; or stands
    between the same edges, the outer ones aside where nothing is drawn there."""
    edges = list(zip(before.edges, draft.edges, strict=True))
    drawn = edges if before.ruled and draft.ruled else edges[1:-1]
    slack = max(SAME_PLACE, SAME_SHARE * min(b - a for a, b in itertools.pairwise(before.edges)))
    if all(abs(b - a - shift) <= slack for a, b in drawn):
        return True
    upper, lower = _column_boxes(before), _column_boxes(draft)
    shared = upper.keys() & lower.keys()
    in_line = all(lower[column].out_of_line(upper[column], shift) <= SAME_PLACE for column in shared)
    return in_line and len(shared) == len(before.edges) - 1


def _column_boxes(table: TableDraft) -> dict[int, Box]:
    """Where the text of each column below the header stands, on the last page of a table."""
    page = table.spots[-1].page
    boxes: dict[int, list[Box]] = defaultdict(list)
    for cell in table.cells:
        if cell.columns == 1 and cell.row >= table.header_rows:
            boxes[cell.column] += [line.box for text in cell.drafts for line in text.lines if line.page == page]
    return {column: union(own) for column, own in boxes.items() if own}


def _repeated_rows(before: TableDraft, draft: TableDraft) -> int:
    """How many rows at the top of a table are said again at the top of the one that carries it on: those of its header, or as many as
    are alike."""
    most = min(max(before.header_rows, MOST_REPEATED), before.row_count - 1, draft.row_count)
    for count in range(most, 0, -1):
        rows = _text_of_rows(before, count)
        whole = all(cell.row + cell.rows <= count for cell in before.cells if cell.row < count)
        if whole and any(text for _, _, text in rows) and _text_of_rows(draft, count) == rows:
            return count
    return 0


def _append(before: TableDraft, draft: TableDraft, facts: Facts) -> None:
    """Puts the rows of a table behind those of the one that it carries on."""
    repeated = _repeated_rows(before, draft)
    before.header_rows = max(before.header_rows, repeated)
    known = repeated + carry_on_row(before, draft, repeated, facts)
    shift = before.row_count - known
    for cell in draft.cells:
        if cell.row >= known:
            cell.row += shift
            before.cells.append(cell)
    for cell, again in zip(before.cells, draft.cells, strict=False):
        if again.row >= repeated or cell.row >= before.header_rows:
            break
        for text, same in zip(cell.drafts, again.drafts, strict=False):
            text.spots = (*text.spots, *same.spots)
    before.spots = (*before.spots, *draft.spots)


def _text_of_rows(table: TableDraft, count: int) -> list[tuple[int, int, str]]:
    """What stands in the first rows, cell by cell."""
    return [
        (cell.row, cell.column, " ".join(text.text for text in cell.drafts)) for cell in table.cells if cell.row < count
    ]


def cut_widths(draft: TableDraft) -> tuple[float, ...]:
    """The widths of a table's columns in points, none too narrow to write in."""
    return tuple(
        round(max(right - left, NARROWEST), 1) for left, right in zip(draft.edges, draft.edges[1:], strict=False)
    )
