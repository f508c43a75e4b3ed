"""Which tables a page has: by their rules first, then, in each column of the page, by what stands in line."""

from __future__ import annotations

import itertools
import re
import statistics
from collections.abc import Iterator, Sequence

from evenquill.core.layout.flow import LEADER_DOTS
from evenquill.core.layout.tables.aligned import HEADER_ROWS, aligned_table, column_stretches
from evenquill.core.layout.tables.edges import TOUCH, Edge, connected, edges_of
from evenquill.core.layout.tables.pieces import in_pieces, rows_of
from evenquill.core.layout.tables.placed import PlacedCell, PlacedTable
from evenquill.core.layout.tables.ruled import grid_table
from evenquill.core.model import Box, Family
from evenquill.core.reading.evidence import Line, PageEvidence

SAME_ENDS = 4.0
"""Points by which the ends of rules above and below a table may differ."""

FEWEST_ROWS, FEWEST_COLUMNS = 3, 3
"""In a table that no rules show; one of two columns must have numbers."""

ROW_GAP = 2.7
"""Ems between the baselines of two rows, at most, where no rules bound the table."""

NUMBERS = 0.75
"""Share of a column's cells that are numbers, to call it a column of them."""

LONG = 45
"""Characters; pieces as long are prose."""

IN_LINE = 0.6
"""Share of a column's pieces that share their left or right edge or their middle."""

LABELS = 0.5
"""Share of first pieces that end with a colon: pairs of label and value are no table."""

SHADED, LIGHTER = 0.7, 0.5
"""Share of a row that boxes shade to make it a header; share of rows that may be shaded if that is to say something."""

_NUMBER = re.compile(r"^[(+\-−–±]?[\d.,:  /%°]*\d[\d.,:  /%°)*]*\s?[\w%°£$€]{0,3}$|^[-–—.]+$")
_DOTS = re.compile(r"^[.…·]+$")


def ruled_tables(page: PageEvidence, lines: Sequence[Line]) -> tuple[list[PlacedTable], list[Line]]:
    """Tables that are drawn with rules, and the lines that are in none."""
    tables: list[PlacedTable] = []
    rest = list(lines)
    left_over: list[Edge] = []
    groups = connected(edges_of(page)) if page.rules or page.boxes else []
    groups.sort(key=lambda group: -len(group.level) * len(group.upright))
    for group in groups:
        table = grid_table(group, rest) if len(group.level) + len(group.upright) > 3 else None
        if table is None:
            left_over += group.level
            continue
        tables.append(_with_header(table, page))
        rest = _without(rest, table)
    for region in _between_rules(left_over):
        table = _table_between(region, rest)
        if table is not None:
            tables.append(_with_header(table, page))
            rest = _without(rest, table)
    return tables, rest


def _without(lines: Sequence[Line], table: PlacedTable) -> list[Line]:
    """The lines that do not stand in a table."""
    return [line for line in lines if not table.box.holds_middle(line.box)]


def _between_rules(edges: Sequence[Edge]) -> Iterator[list[Edge]]:
    """Level rules over each other that begin and end alike, with shorter ones that lie between them; at least two."""
    left = sorted(edges)
    while left:
        first = left.pop(0)
        group = [first, *(edge for edge in left if _same_ends(edge, first))]
        if len(group) < 2:
            continue
        within = [edge for edge in left if group[0].at < edge.at < group[-1].at and _lies_under(edge, first)]
        left = [edge for edge in left if edge not in group and edge not in within]
        yield group


def _same_ends(edge: Edge, other: Edge) -> bool:
    return abs(edge.start - other.start) <= SAME_ENDS and abs(edge.end - other.end) <= SAME_ENDS


def _lies_under(edge: Edge, other: Edge) -> bool:
    return other.start - TOUCH <= edge.start and edge.end <= other.end + TOUCH


def _table_between(rules: Sequence[Edge], lines: Sequence[Line]) -> PlacedTable | None:
    """The table that level rules bound, with a row above the first of them where only what names the columns has a rule below it."""
    box = Box(rules[0].start - TOUCH, rules[0].at, rules[0].end + TOUCH, rules[-1].at)
    whole = [line for line in lines if box.holds_middle(line.box) and not line.angle]
    inside = [piece for line in whole for piece in in_pieces(line)]
    rows = rows_of(inside)
    if len(rows) < 2 or sum(len(row) > 1 for row in rows) < max(2, 0.5 * len(rows)):
        return None
    if _is_prose(rows):
        return None
    bands = [rule.at for rule in rules]
    filled = sum(
        any(above < line.box.center_y < below for line in inside) for above, below in itertools.pairwise(bands)
    )
    each = filled >= 3 and len(rows) <= 2.5 * filled
    table = aligned_table(inside, bands[1:-1], ruled=each)
    if table is None or table.rows < 2:
        return None
    return table._replace(box=Box(min(box.x0, table.box.x0), box.y0, max(box.x1, table.box.x1), box.y1))


def _is_prose(rows: Sequence[Sequence[Line]]) -> bool:
    """Whether most pieces are as long as lines of text in columns."""
    lengths = [len(line.text) for row in rows for line in row]
    return sum(length >= LONG for length in lengths) > 0.5 * len(lengths)


def aligned_tables(page: PageEvidence, lines: Sequence[Line]) -> tuple[list[PlacedTable], list[Line]]:
    """Tables in a column of a page that nothing but the places of their pieces show, and the lines that are in none."""
    tables: list[PlacedTable] = []
    rest = list(lines)
    rows = rows_of([line for line in lines if not line.angle])
    for start, end in _stretches_of_pieces(rows):
        table = _table_of(rows[start:end], page)
        if table is not None:
            tables.append(_with_header(table, page))
            inside = {id(line) for row in rows[start:end] for line in row}
            rest = [line for line in rest if id(line) not in inside]
    return tables, rest


def _stretches_of_pieces(rows: Sequence[Sequence[Line]]) -> Iterator[tuple[int, int]]:
    """Stretches of rows close under each other that have several pieces, with single ones between that lie under a piece above."""
    start = 0
    while start < len(rows):
        if not _has_pieces(rows[start]):
            start += 1
            continue
        end = last = start + 1
        while end < len(rows):
            row = rows[end]
            if row[0].baseline - rows[end - 1][0].baseline > ROW_GAP * row[0].size:
                break
            if _has_pieces(row):
                last = end + 1
            elif not _lies_under_a_piece(row[0], rows[end - 1], rows[start]):
                break
            end += 1
        # What goes on in cells of the last row.
        while last < end and rows[last][0].baseline - rows[last - 1][0].baseline < 1.4 * rows[last][0].size:
            if rows[last][0].box.x0 < rows[start][1].box.x0 - SAME_ENDS:
                break
            last += 1
        yield start, last
        start = max(last, start + 1)


def _has_pieces(row: Sequence[Line]) -> bool:
    """Whether a row is of several pieces, without a row of dots that leads the eye."""
    dots = sum(len(word.text) for line in row for word in line.words if _DOTS.match(word.text))
    return len(row) > 1 and dots < LEADER_DOTS


def _lies_under_a_piece(line: Line, above: Sequence[Line], first: Sequence[Line]) -> bool:
    """Whether a single piece begins as one above it does, beside the first one of the table."""
    return line.box.x0 > first[0].box.x0 + SAME_ENDS and any(
        abs(line.box.x0 - piece.box.x0) < SAME_ENDS or line.box.overlap_x(piece.box) > 0.6 * line.box.width
        for piece in above
    )


def _table_of(rows: Sequence[Sequence[Line]], page: PageEvidence) -> PlacedTable | None:
    """Rows as a table, if they are one by the looks of it: several columns that keep their edges, short pieces, no pairs of label and
    value, no code."""
    several = [row for row in rows if len(row) > 1]
    if len(several) < FEWEST_ROWS or _is_prose(rows):
        return None
    stretches = column_stretches(rows)
    if len(stretches) < 2:
        return None
    pieces = [[line for row in rows for line in row if x0 - 1 < line.box.center_x < x1 + 1] for x0, x1 in stretches]
    numeric = [_is_numeric(own) for own in pieces]
    if len(stretches) < FEWEST_COLUMNS and not (numeric[1] and not numeric[0] and _in_line(pieces[1])):
        return None
    if sum(row[0].text.endswith(":") for row in several) > LABELS * len(several):
        return None
    if sum(map(_in_line, pieces)) < len(pieces) - 1 or (not any(numeric) and len(several) < FEWEST_ROWS + 1):
        return None
    if _is_code(rows, page):
        return None
    return aligned_table([line for row in rows for line in row])


def _is_numeric(pieces: Sequence[Line]) -> bool:
    """Whether most of a column, without what names it, is numbers."""
    body = pieces[1:] if len(pieces) > 3 else pieces
    return bool(body) and sum(bool(_NUMBER.match(line.text)) for line in body) >= NUMBERS * len(body)


def _in_line(pieces: Sequence[Line]) -> bool:
    """Whether most pieces of a column keep one edge, or one middle."""
    if len(pieces) < 2:
        return True
    return any(
        _most_alike(values) >= IN_LINE * len(values)
        for values in (
            [line.box.x0 for line in pieces],
            [line.box.x1 for line in pieces],
            [line.box.center_x for line in pieces],
        )
    )


def _most_alike(values: Sequence[float]) -> int:
    return max(sum(abs(value - other) < 1.5 for other in values) for value in values)


def _is_code(rows: Sequence[Sequence[Line]], page: PageEvidence) -> bool:
    """Whether the rows are in a fixed width where most of the page is not."""
    return _fixed([line for row in rows for line in row], page) > 0.5 > _fixed(page.lines, page)


def _fixed(lines: Sequence[Line], page: PageEvidence) -> float:
    """Share of words in a fixed width."""
    words = [word for line in lines for word in line.words]
    return sum(page.types[word.type].family is Family.MONO for word in words) / max(len(words), 1)


def _with_header(table: PlacedTable, page: PageEvidence) -> PlacedTable:
    """The table with the rows counted that name its columns: bold or shaded ones at its top where the others are not, or words over
    numbers. In them, what stands alone in its column takes all of them."""
    count = min(_header_rows(table, page), table.rows - 1)
    if not count:
        return table
    while True:  # a cell that reaches further down is of the header as a whole
        reach = max(cell.bottom for cell in table.cells if cell.row < count)
        if reach <= count or reach >= table.rows:
            break
        count = reach
    return _with_tall_headings(table._replace(header_rows=count))


def _header_rows(table: PlacedTable, page: PageEvidence) -> int:
    rows: list[list[PlacedCell]] = [[] for _ in range(table.rows)]
    for cell in table.cells:
        if cell.lines:
            rows[cell.row].append(cell)
    told = [_is_bold(row, page) for row in rows]
    if not (told[0] and sum(told) <= max(LIGHTER * len(told), 1)):
        shades = [_is_shaded(row, page.boxes) for row in rows]
        told = shades if shades[0] and sum(shades) <= max(LIGHTER * len(shades), 1) else [False]
    count = len(list(itertools.takewhile(bool, told)))
    if count:
        return min(count, HEADER_ROWS)
    first, body = rows[0], [cell for row in rows[1:] for cell in row]
    words = bool(first) and not any(_NUMBER.match(_text(cell)) for cell in first if cell.column)
    numbers = [cell for cell in body if cell.column and _NUMBER.match(_text(cell))]
    return int(words and len(numbers) >= 0.5 * max(sum(1 for cell in body if cell.column), 1))


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
    return table._replace(cells=tuple(sorted(cells)))


def typical_size(table: PlacedTable) -> float:
    """The usual size of letters in a table, in points."""
    return statistics.median(line.size for cell in table.cells for line in cell.lines)
