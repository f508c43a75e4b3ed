"""Tables that no grid is drawn around: which rows of a column are a table's, judged row by row and decided together.

For each row a model tells how probable it is to be outside of tables, the first of one, one that names columns, a new row or the rest of
one; the most probable sequence (Viterbi 1967) says where tables begin and end.
"""

from __future__ import annotations

import itertools
import statistics
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from evenquill.core.evidence import Line, PageEvidence
from evenquill.core.fitted.trees import array_of, trees_of
from evenquill.core.layout.tables.aligned import aligned_table, column_stretches
from evenquill.core.layout.tables.edges import Edge, edges_of
from evenquill.core.layout.tables.even_rows import with_even_rows
from evenquill.core.layout.tables.headers import with_header
from evenquill.core.layout.tables.pieces import is_number, is_rest_of_number
from evenquill.core.layout.tables.placed import PlacedTable
from evenquill.core.layout.tables.row_features import ROW_CLASSES, ROW_FEATURES, Row, row_features, rows_in_pieces
from evenquill.core.layout.tables.sums import first_sum
from evenquill.core.model import Box, union
from evenquill.core.model.labels import is_caption
from evenquill.core.model.text import ends_sentence

OUTSIDE, FIRST_HEADER, FIRST_ROW, HEADER, NEXT, MORE = range(len(ROW_CLASSES))

FEWEST_RULES = 2
"""Rules along a table from which they tell how wide it is."""

RULE_MARGIN, RULED_SHARE = 6.0, 0.5
"""Points above and below a table within which a rule is its own, and share of its width that such a rule takes at least."""

FEWEST_RULED, MOSTLY = 3, 0.8
"""Stretches between rules, and their share that must be one row, to take each for a row."""

FEWEST_ENTRIES, LONGEST_PAGE = 4, 4
"""Rows of a contents list without dots, and figures of the number of a page."""

SENTENCE = 40
"""Characters of a sentence, at least."""

MOST_CODE = 0.9
"""Share of the letters of a page in a fixed width beyond which all of its text is, as a typewriter sets it."""

HEADERS = [FIRST_HEADER, HEADER]

NEVER = -1e6
"""The logarithm of the probability of what cannot be."""


class Region(NamedTuple):
    """The rows of a table: ``starts`` are the places of those that begin a row of it, ``header_rows`` how many of these name columns."""

    rows: tuple[Row, ...]
    starts: tuple[int, ...]
    header_rows: int


def tables_in_column(page: PageEvidence, lines: Sequence[Line]) -> tuple[list[PlacedTable], list[Line]]:
    """The tables among the lines of a column, and the lines that are in none."""
    rows = rows_in_pieces(lines, page.types)
    tables: list[PlacedTable] = []
    gone: set[int] = set()
    for region in regions_of(rows, page):
        table = _table_of(region, page)
        if table is not None and (table.ruled or not _is_code(region, page)):
            tables.append(table)
            gone |= {id(line) for row in region.rows for line in row.lines}
    return tables, [line for line in lines if id(line) not in gone]


def _is_code(region: Region, page: PageEvidence) -> bool:
    """Whether rows are set in a fixed width on a page that is not: what is in line there is so by spaces."""
    own = page.fixed_width_share([line for row in region.rows for line in row.lines])
    return own == 1 and page.fixed_width_share() <= MOST_CODE


def table_of(
    page: PageEvidence, lines: Sequence[Line], columns: Sequence[tuple[float, float]] = ()
) -> PlacedTable | None:
    """Lines that are known to be a table as one; None where they have no columns. ``columns`` are the left and right ends of these where
    they are known."""
    rows = rows_in_pieces(lines, page.types)
    if len(rows) < 2:
        return None
    chances = _chances(rows, page)
    chances[:, OUTSIDE] = NEVER
    chances[1:, [FIRST_HEADER, FIRST_ROW]] = NEVER
    found = most_probable(chances, array_of("row_follows"))
    return _table_of(_region(rows, found, page), page, columns)


def regions_of(rows: Sequence[Row], page: PageEvidence) -> Iterator[Region]:
    """The tables among the rows of a column, in order."""
    if sum(len(row.pieces) > 1 for row in rows) < 2:
        return
    chances = _chances(rows, page)
    found = most_probable(chances, array_of("row_follows"))
    found = [OUTSIDE if _begins_caption(row) else kind for row, kind in zip(rows, found, strict=True)]
    start = 0
    while start < len(rows):
        if found[start] in (OUTSIDE, MORE):
            start += 1
            continue
        end = start + 1
        while end < len(rows) and found[end] in (HEADER, NEXT, MORE):
            end += 1
        last = end
        while last > start + 1 and (
            _is_sentence_across(rows[last - 1], rows[start : last - 1])
            or (found[last - 1] == NEXT and _heads_nothing(rows[last - 1], rows[start : last - 1], page))
        ):
            last -= 1
        sums = start + first_sum(rows[start:last])
        kinds = with_even_rows(rows[start:sums], found[start:sums], chances[start:sums])
        yield _region(rows[start:sums], kinds, page)
        if sums < last:
            yield _region(rows[sums:last], [FIRST_ROW] + [NEXT] * (last - sums - 1), page)
        start = end


def _chances(rows: Sequence[Row], page: PageEvidence) -> NDArray[np.float32]:
    """For each row the logarithm of the probability of each class, of shape (rows, classes)."""
    measures = np.array(row_features(rows, page), np.float32).reshape(-1, len(ROW_FEATURES))
    return trees_of("rows").log_probabilities(measures)


def _begins_caption(row: Row) -> bool:
    """Whether a row is nothing but the beginning of a caption, which is no part of a table, but above or below one."""
    return len(row.pieces) == 1 and is_caption(row.pieces[0].text)


def _is_sentence_across(row: Row, above: Sequence[Row]) -> bool:
    """Whether a row is one sentence that lies over several columns of the rows above it: text that follows a table."""
    if len(row.pieces) > 1 or len(row.pieces[0].text) < SENTENCE or not ends_sentence(row.pieces[0].text):
        return False
    box = row.pieces[0].box
    stretches = column_stretches([other.pieces for other in above])
    return sum(x0 < box.x1 and box.x0 < x1 for x0, x1 in stretches) > 1


def _heads_nothing(row: Row, above: Sequence[Row], page: PageEvidence) -> bool:
    """Whether the last row of a table is one bold piece, as headings of groups are, where the other rows do not begin bold: it heads what
    follows the table."""
    if len(row.pieces) > 1 or not _is_bold(row.pieces[0], page):
        return False
    return sum(_is_bold(other.pieces[0], page) for other in above) <= len(above) / 2


def _is_bold(piece: Line, page: PageEvidence) -> bool:
    return all(page.types[word.type].bold for word in piece.words)


def _region(rows: Sequence[Row], kinds: Sequence[int], page: PageEvidence) -> Region:
    """Rows of these kinds as a table. A number below another is a row of its own: it is never the rest of that, nor is a row without bold
    text the rest of one that is bold in each column."""
    starts: list[int] = []
    for n, kind in enumerate(kinds):
        first = starts[-1] if starts else 0
        may_begin = _is_of_numbers(rows[n]) or _begins_in_first_column(rows[n], rows[first])
        if (
            kind != MORE
            or (may_begin and _has_numbers_over(rows[first:n], rows[n]))
            or (n and _all_bold(rows[n - 1], page) is True and _all_bold(rows[n], page) is False)
        ):
            starts.append(n)
    header = sum(kind in (FIRST_HEADER, HEADER) for kind in kinds)
    return Region(tuple(rows), tuple(starts), header)


def _all_bold(row: Row, page: PageEvidence) -> bool | None:
    """Whether all pieces of a row are bold, or none is; None where some are, or there is only one."""
    bold = [_is_bold(piece, page) for piece in row.pieces]
    return bold[0] if len(bold) > 1 and len(set(bold)) == 1 else None


def _is_of_numbers(row: Row) -> bool:
    values = row.pieces[1:]
    return bool(values) and sum(is_number(piece.text) for piece in values) > 0.5 * len(values)


def _begins_in_first_column(row: Row, start: Row) -> bool:
    """Whether a row begins below the first piece of one that starts, with a word that begins something."""
    first, upper = row.pieces[0], start.pieces[0]
    return len(start.pieces) > 1 and first.box.overlap_x(upper.box) > 0 and not first.text[:1].islower()


def _has_numbers_over(above: Sequence[Row], row: Row) -> bool:
    """Whether a number of a row stands below another one in the rows above it."""
    return any(
        is_number(upper.text)
        and is_number(piece.text)
        and not is_rest_of_number(upper.text, piece.text)
        and upper.box.overlap_x(piece.box) > 0
        for other in above
        for upper in other.pieces
        for piece in row.pieces[1:]
    )


def most_probable(chances: NDArray[np.float32], follows: NDArray[np.float32]) -> list[int]:
    """The most probable sequence of classes: ``chances`` (rows, classes) and ``follows`` (classes, classes) are logarithms."""
    best = chances[0].copy()
    best[[HEADER, NEXT, MORE]] = NEVER
    came: list[NDArray[np.intp]] = []
    for own in chances[1:]:
        steps = best[:, None] + follows + own
        # No table begins right behind the header of another: such a row is one more of that header.
        steps[HEADERS, HEADER] += np.logaddexp(own[HEADER], own[FIRST_HEADER]) - own[HEADER]
        steps[HEADERS, FIRST_HEADER] = NEVER
        came.append(steps.argmax(axis=0))
        best = steps.max(axis=0)
    path = [int(best.argmax())]
    for before in reversed(came):
        path.append(int(before[path[-1]]))
    return path[::-1]


def _table_of(region: Region, page: PageEvidence, columns: Sequence[tuple[float, float]] = ()) -> PlacedTable | None:
    """A region as a table: each of its rows from one start to the next, or from rule to rule where these part row from row; None where it
    has no columns, or is a contents list. ``columns`` are those that are known."""
    several = [row for row in region.rows if len(row.pieces) > 1]
    if _ends_with_pages(several):
        return None
    pieces = [piece for row in region.rows for piece in row.pieces]
    box = union(piece.box for piece in pieces)
    edges = _rules_across(box, page)
    rules = [edge.at for edge in edges]
    starts = region.starts[1:]
    if _part_rows(rules, region.rows):
        starts = tuple(n for n in starts if _is_another_line_of_figures(region.rows, n, rules))
        bands = sorted([*rules, *(_boundary(region.rows, n) for n in starts)])
    else:
        bands = [_boundary(region.rows, n) for n in starts]
    table = aligned_table(pieces, bands, columns)
    if table is None or table.rows < 2:
        return None
    return with_header(_as_wide_as_rules(table._replace(ruled=bool(rules)), edges), page, region.header_rows)


def _as_wide_as_rules(table: PlacedTable, rules: Sequence[Edge]) -> PlacedTable:
    """The table with its outer columns as far as most of its rules reach, where these reach further than its text."""
    if len(rules) < FEWEST_RULES:
        return table
    left = min(statistics.median(rule.start for rule in rules), table.edges[0])
    right = max(statistics.median(rule.end for rule in rules), table.edges[-1])
    cells = tuple(
        cell._replace(
            box=cell.box._replace(
                x0=left if cell.column == 0 else cell.box.x0, x1=right if cell.right == table.columns else cell.box.x1
            )
        )
        for cell in table.cells
    )
    box = table.box._replace(x0=min(left, table.box.x0), x1=max(right, table.box.x1))
    return table._replace(box=box, edges=(left, *table.edges[1:-1], right), cells=cells)


def _boundary(rows: Sequence[Row], n: int) -> float:
    """The height between a row and those above it."""
    bottom = max(row.bottom for row in rows[:n])
    if bottom <= rows[n].top:
        return (bottom + rows[n].top) / 2
    return (rows[n - 1].baseline + rows[n].baseline - 0.8 * rows[n].size) / 2


def _rules_across(box: Box, page: PageEvidence) -> list[Edge]:
    """The rules, and the sides of shaded areas, that run along or through a table."""
    return [
        edge
        for edge in edges_of(page).level
        if box.y0 - RULE_MARGIN <= edge.at <= box.y1 + RULE_MARGIN
        and min(edge.end, box.x1) - max(edge.start, box.x0) >= RULED_SHARE * box.width
    ]


def _part_rows(rules: Sequence[float], rows: Sequence[Row]) -> bool:
    """Whether rules part row from row: between most of them there is a column with a single piece, and another one."""
    stretches = column_stretches([row.pieces for row in rows])
    bands = [-1.0, *rules, float("inf")]
    filled = [own for own in (_pieces_between(rows, *band) for band in itertools.pairwise(bands)) if own]
    single = 0
    for own in filled:
        counts = [sum(x0 - 1 < piece.box.center_x < x1 + 1 for piece in own) for x0, x1 in stretches]
        used = [count for count in counts if count]
        single += len(used) > 1 and min(used) == 1
    return len(filled) >= FEWEST_RULED and single >= MOSTLY * len(filled)


def _is_another_line_of_figures(rows: Sequence[Row], n: int, rules: Sequence[float]) -> bool:
    """Whether a row has a label and its number below others that no rule parts it from: the sums below a ruled table."""
    row = rows[n]
    above = [other for other in rows[:n] if not any(other.baseline < at < row.baseline for at in rules)]
    return _is_of_numbers(row) and not is_number(row.pieces[0].text) and _has_numbers_over(above, row)


def _pieces_between(rows: Sequence[Row], top: float, bottom: float) -> list[Line]:
    return [piece for row in rows for piece in row.pieces if top < piece.box.center_y < bottom]


def _ends_with_pages(rows: Sequence[Row]) -> bool:
    """Whether rows end with numbers of pages, which do not fall: those of a contents list."""
    texts = [row.pieces[-1].text for row in rows]
    numbers = [int(text) for text in texts if text.isascii() and text.isdecimal() and len(text) <= LONGEST_PAGE]
    falls = sum(after < before for before, after in itertools.pairwise(numbers))
    return len(rows) >= FEWEST_ENTRIES and len(numbers) == len(rows) and not falls
