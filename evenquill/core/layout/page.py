"""The chain from a page's evidence to its columns: furniture out, notes apart, columns in order, rows composed."""

from __future__ import annotations

import itertools
import statistics
from bisect import bisect_right
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from evenquill.core.evidence import Line, PageEvidence, PlacedPicture, Type
from evenquill.core.layout.columns import Band, in_columns
from evenquill.core.layout.contents import FEWEST_LED, Entry, contents_of, may_lead_to_page
from evenquill.core.layout.flow import FlowEquation, FlowLine, flow_lines
from evenquill.core.layout.furniture import Furniture
from evenquill.core.layout.items import Item
from evenquill.core.layout.note_features import NotesBefore
from evenquill.core.layout.notes import NOTHING_BEFORE, FootArea, find_notes, with_lone_marks
from evenquill.core.layout.panels import panels_of
from evenquill.core.layout.pictures_beside import top_of
from evenquill.core.layout.pictures_in_lines import with_pictures_in_lines
from evenquill.core.layout.tables import PlacedTable, ruled_tables, tables_in_column
from evenquill.core.layout.tables.carried import OpenTable, in_columns_before, rest_of_table
from evenquill.core.layout.tables.flow_table import FlowTable, flow_table
from evenquill.core.layout.type_area import with_type_areas
from evenquill.core.model import Box, Family, union

NOTE_TAGS = frozenset({"Note", "FENote"})
"""Tags of notes (ISO 32000-1, 14.8.4.4; ISO 32000-2)."""

DROP_CAP = 1.8
"""Size of a drop cap over that of the line it begins, at least."""


FEWEST_FOR_MARGIN = 8
"""Rows of a column from which notes in its margin can be told."""

MARGIN_SHARE = 0.15
"""Share of a column's rows that may be notes in the margin."""


CLOSE_TO_EDGE = 0.5
"""Ems from the first start within which lines begin at one edge."""

SAME_EDGE, FEWEST_FLUSH, FLUSH_SHARE = 1.5, 4, 0.2
"""Points within which lines end at one edge; rows, and their share, that must do so to make it the column's."""


class Column(NamedTuple):
    """Lines, pictures, tables and displayed equations from top to bottom; ``left`` and ``right`` are the edges that its lines keep to,
    ``beside`` is the number of columns side by side, itself counted. ``alone`` if nothing stands beside it, ``turned`` if its text stands
    on its side. ``carries_contents`` if the column before ends with a contents list."""

    page: int
    left: float
    right: float
    items: tuple[FlowLine | PlacedPicture | FlowTable | FlowEquation, ...]
    beside: int = 1
    alone: bool = False
    turned: bool = False
    carries_contents: bool = False

    @property
    def contents(self) -> dict[int, Entry]:
        """The entries of contents lists in it, by the id of their first line."""
        lines = [item for item in self.items if isinstance(item, FlowLine)]
        return contents_of(lines, self.left, self.right, carried=self.carries_contents)


class PageLayout(NamedTuple):
    """``notes`` are footnotes with their marks (none where none was found), ``carried`` are the lines that carry on the last note of the
    page before."""

    number: int
    width: float
    height: float
    text_box: Box
    columns: tuple[Column, ...]
    notes: tuple[tuple[str, tuple[FlowLine, ...]], ...]
    carried: tuple[FlowLine, ...] = ()


class Open(NamedTuple):
    """What the column before ends with and may go on: a table, a contents list."""

    table: OpenTable | None = None
    contents: bool = False


NOTHING_OPEN = Open()


class Known(NamedTuple):
    """What is known of the whole document when a page is laid out: the size of its text, left edges of columns on other pages (None
    where they have not been found yet), and what the page before ends with."""

    text_size: float
    edges: tuple[float, ...] | None = None
    before: Open = NOTHING_OPEN


def lay_out(pages: Sequence[PageEvidence], furniture: Furniture, text: Type) -> list[PageLayout]:
    """All pages; what is known of columns from most of them helps with those that have few lines. ``text`` is the look of most letters."""
    layouts = _one_after_another(pages, furniture, [Known(text.size)] * len(pages))
    edges = _column_edges(layouts)
    if any(edges):
        layouts = _one_after_another(pages, furniture, [Known(text.size, own) for own in _of_others(edges)])
    running = {page.number: [page.lines[n] for n in furniture.lines.get(page.number, ())] for page in pages}
    return with_type_areas(layouts, running)


def _one_after_another(pages: Sequence[PageEvidence], furniture: Furniture, known: Sequence[Known]) -> list[PageLayout]:
    """The pages laid out, the numbers of notes running on from page to page."""
    layouts: list[PageLayout] = []
    before = NOTHING_BEFORE
    for page, own in zip(pages, known, strict=True):
        left_open = _open_after(layouts[-1].columns) if layouts else NOTHING_OPEN
        layout, foot = _with_notes(page, furniture, own._replace(before=left_open), before)
        layouts.append(layout)
        before = before.and_then(foot.notes, foot.carried)
    return layouts


def _open_after(columns: Sequence[Column]) -> Open:
    """What the last one of several columns ends with."""
    if not columns or not columns[-1].items:
        return NOTHING_OPEN
    last = columns[-1].items[-1]
    if isinstance(last, FlowTable):
        return Open(OpenTable(last, columns[-1].left))
    return Open(contents=any(entry.as_read[-1] is last for entry in columns[-1].contents.values()))


def _column_edges(layouts: Sequence[PageLayout]) -> list[list[float]]:
    """For each page the left edges of columns that stand beside others."""
    return [
        [
            column.left
            for before, column in itertools.pairwise(layout.columns)
            if column.beside > 1 and before.beside == column.beside and before.right < column.left
        ]
        for layout in layouts
    ]


def _of_others(edges: Sequence[Sequence[float]]) -> list[tuple[float, ...]]:
    """For each page the edges on all others, those that are nearly the same once."""
    places = sorted((edge, page) for page, own in enumerate(edges) for edge in own)
    groups: list[list[tuple[float, int]]] = []
    for place in places:
        if groups and place[0] - groups[-1][0][0] <= 1.0:
            groups[-1].append(place)
        else:
            groups.append([place])
    return [tuple(group[0][0] for group in groups if any(of != page for _, of in group)) for page in range(len(edges))]


def lay_out_page(page: PageEvidence, furniture: Furniture, text_size: float) -> PageLayout:
    """One page by itself: its columns in reading order, and its notes."""
    return _with_notes(page, furniture, Known(text_size), NOTHING_BEFORE)[0]


class _Parts(NamedTuple):
    """What a page consists of once heads and feet are out: what stands upright, lines by angle, notes."""

    items: list[Item]
    turned: list[list[Line]]
    foot: FootArea


def bands_of(pages: Sequence[PageEvidence], furniture: Furniture, text_size: float) -> Iterator[list[Band]]:
    """For each page the columns that its upright lines stand in, before tables without a grid are looked for."""
    before = NOTHING_BEFORE
    for page in pages:
        parts = _parts(page, furniture, Known(text_size), before)
        before = before.and_then(parts.foot.notes, parts.foot.carried)
        yield in_columns(parts.items, page.rules, boxes=panels_of(page))


def _parts(page: PageEvidence, furniture: Furniture, known: Known, before: NotesBefore) -> _Parts:
    lines = lines_of_text(page, furniture, known.text_size)
    foot = find_notes(lines, known.text_size, before, page.rules, tags_of_notes(page))
    in_notes = {id(line) for group in (foot.carried, *(group for _, group in foot.notes)) for line in group}
    lines = _with_drop_caps([line for line in lines if id(line) not in in_notes])
    items, lines = items_of(page, lines)
    angles = sorted({line.angle for line in lines if line.angle})
    turned = [[line for line in lines if line.angle == angle] for angle in angles]
    return _Parts(items, turned, foot)


def items_of(page: PageEvidence, lines: list[Line]) -> tuple[list[Item], list[Line]]:
    """What stands upright on a page, tables with a grid among it; and the lines, turned ones too, that are in no such table."""
    tables, lines = ruled_tables(page, lines)
    items = [
        *(Item(line.box, line) for line in lines if not line.angle),
        *(Item(picture.box, picture) for picture in page.pictures),
        *(Item(table.box, table) for table in tables),
    ]
    return items, lines


def lines_of_text(page: PageEvidence, furniture: Furniture, text_size: float) -> list[Line]:
    """The lines of a page without what runs at its head and foot, the marks of notes in the lines that they belong to."""
    gone = furniture.lines.get(page.number, frozenset())
    return with_lone_marks([line for i, line in enumerate(page.lines) if i not in gone], text_size)


def tags_of_notes(page: PageEvidence) -> frozenset[int]:
    """Places of the page's tags that are those of notes."""
    return frozenset(n for n, tag in enumerate(page.tags) if tag.kind in NOTE_TAGS)


def _with_notes(
    page: PageEvidence, furniture: Furniture, known: Known, before: NotesBefore
) -> tuple[PageLayout, FootArea]:
    """A page, and the lines of its notes; ``before`` is what is known of notes on the pages before."""
    items, turned, foot = _parts(page, furniture, known, before)
    columns = _in_order(page, items, turned, known)
    text_box = union(item.box for item in items) if items else Box(0, 0, page.width, page.height)
    notes = tuple((mark, tuple(flow_lines(page, list(group)))) for mark, group in foot.notes)
    carried = tuple(flow_lines(page, list(foot.carried))) if foot.carried else ()
    return PageLayout(page.number, page.width, page.height, text_box, tuple(columns), notes, carried), foot


def _in_order(page: PageEvidence, items: list[Item], turned: Sequence[list[Line]], known: Known) -> list[Column]:
    """The columns of a page, with text that stands on its side where it has its stretch of the page for itself, else at the end."""
    boxes = [union(line.box for line in group) for group in turned]
    for n, box in enumerate(boxes):
        if items and not any(item.box.overlap_y(box) > 0 for item in items):
            middle = box.center_y
            above = [item for item in items if item.box.center_y < middle]
            below = [item for item in items if item.box.center_y >= middle]
            before = [turned[k] for k, other in enumerate(boxes) if k != n and other.center_y < middle]
            behind = [turned[k] for k, other in enumerate(boxes) if k != n and other.center_y >= middle]
            return [
                *_in_order(page, above, before, known),
                _turned_column(page, turned[n]),
                *_in_order(page, below, behind, known),
            ]
    columns: list[Column] = []
    for band in in_columns(items, page.rules, known.edges, panels_of(page)):
        columns.append(_column(page, band, _open_after(columns) if columns else known.before))
    return [*columns, *(_turned_column(page, group) for group in turned)]


def _column(page: PageEvidence, band: Band, before: Open) -> Column:
    """A band of a page as a column; ``before`` is what the column before ends with."""
    items = band.items
    lines = [item.content for item in items if isinstance(item.content, Line)]
    equations = [FlowEquation(flow_lines(page, [line])[0]) for line in lines if _is_displayed(page, line)]
    lines = [line for line in lines if not _is_displayed(page, line)]
    listed = _lines_of_contents(page, lines, carried=before.contents)
    level = [line for line in lines if id(line) not in listed]
    aligned, lines = tables_in_column(page, level)
    if before.table is not None:
        aligned = _in_columns_before(before.table, page, items, aligned, level)
        aligned, lines = _with_rest(before.table, items, aligned, lines, page.types)
    rows = flow_lines(page, [*lines, *listed.values()])
    placed = [item.content for item in items if isinstance(item.content, PlacedPicture)]
    rows, pictures = with_pictures_in_lines(rows, placed)
    ruled = [item.content for item in items if isinstance(item.content, PlacedTable)]
    tables = [flow_table(page, table) for table in (*ruled, *aligned)]
    content: list[FlowLine | PlacedPicture | FlowTable | FlowEquation] = [*rows, *pictures, *tables, *equations]
    in_order = sorted(rows, key=lambda row: row.baseline)
    content.sort(key=lambda item: top_of(item, in_order) if isinstance(item, PlacedPicture) else item.box.y0)
    left = min(item.box.x0 for item in items)
    right = max(item.box.x1 for item in items)
    if rows:
        within = _without_margin_notes(rows)
        left, right = _left_edge(within), _right_edge(within)
    return Column(page.number, left, right, tuple(content), band.beside, band.alone, carries_contents=before.contents)


def _lines_of_contents(page: PageEvidence, lines: Sequence[Line], *, carried: bool) -> dict[int, Line]:
    """The lines of a column, by their ids, that are of a contents list: no table is looked for among them."""
    if not carried and sum(map(may_lead_to_page, lines)) < FEWEST_LED:
        return {}
    rows = flow_lines(page, list(lines))
    entries = contents_of(rows, min(row.x0 for row in rows), _right_edge(rows), carried=carried) if rows else {}
    boxes = [line.box for entry in entries.values() for line in entry.as_read]
    return {id(line): line for line in lines if any(box.holds_middle(line.box) for box in boxes)}


def _is_displayed(page: PageEvidence, line: Line) -> bool:
    """Whether a line is a displayed equation."""
    place = line.words[0].equation if len(line.words) == 1 else None
    return place is not None and page.equations[place].display


def _in_columns_before(
    before: OpenTable, page: PageEvidence, items: Sequence[Item], tables: list[PlacedTable], lines: Sequence[Line]
) -> list[PlacedTable]:
    """The tables of a column, the one that begins it in the columns of the table before where it has others, or cells over several of
    them, and its words stand in those."""
    if not tables or min(item.box.y0 for item in items) < tables[0].box.y0:
        return tables
    if tables[0].columns == len(before.table.edges) - 1 and all(cell.columns == 1 for cell in tables[0].cells):
        return tables
    own = [line for line in lines if tables[0].box.holds_middle(line.box)]
    found = in_columns_before(before, page, own, min(item.box.x0 for item in items))
    return tables if found is None else [found, *tables[1:]]


def _with_rest(
    before: OpenTable, items: Sequence[Item], tables: list[PlacedTable], lines: list[Line], types: Sequence[Type]
) -> tuple[list[PlacedTable], list[Line]]:
    """The tables of a column with what carries on the one before at its top, and the lines that are in none."""
    others = [item.box for item in items if not isinstance(item.content, Line)] + [table.box for table in tables]
    end = min((box.y0 for box in others), default=float("inf"))
    rest = rest_of_table(before, lines, types, min(item.box.x0 for item in items), end)
    if rest is None:
        return tables, lines
    return [rest, *tables], [line for line in lines if not rest.box.holds_middle(line.box)]


def _left_edge(rows: list[FlowLine]) -> float:
    """Where lines begin: the middle of the starts that are close to the first, which tells little alone on a scan."""
    first = min(rows, key=lambda row: row.x0)
    return statistics.median(row.x0 for row in rows if row.x0 <= first.x0 + CLOSE_TO_EDGE * first.size)


def _right_edge(rows: list[FlowLine]) -> float:
    """Where most lines end, if few of them run beyond it (a long address that could not be broken); else where the longest ends.

    Lines of code end where they like.
    """
    prose = [row for row in rows if any(word.type.family is not Family.MONO for word in row.words)]
    ends = sorted(row.x1 for row in prose or rows)
    common, most = ends[-1], 0
    for n, end in enumerate(ends):
        alike = bisect_right(ends, end + SAME_EDGE) - n
        if alike >= most:
            common, most = ends[n + alike - 1], alike
    beyond = sum(end > common for end in ends)
    settled = most >= max(FEWEST_FLUSH, FLUSH_SHARE * len(ends)) and beyond <= MARGIN_SHARE * len(ends)
    return common if settled else ends[-1]


def _without_margin_notes(rows: list[FlowLine]) -> list[FlowLine]:
    """The rows without the few that stand wholly beyond the ends of nearly all others: they tell nothing of the column's edges."""
    if len(rows) < FEWEST_FOR_MARGIN:
        return rows
    ends = sorted(row.x1 for row in rows)
    starts = sorted(row.x0 for row in rows)
    outer = int(MARGIN_SHARE * len(rows))
    right, left = ends[-1 - outer], starts[outer]
    return [row for row in rows if row.x0 < right and row.x1 > left]


def _turned_column(page: PageEvidence, lines: list[Line]) -> Column:
    rows = flow_lines(page, lines)
    return Column(page.number, min(row.x0 for row in rows), max(row.x1 for row in rows), tuple(rows), turned=True)


def _with_drop_caps(lines: list[Line]) -> list[Line]:
    """A large first letter put at the head of the line beside its top."""
    caps = [line for line in lines if len(line.text) <= 2 and line.text.isalpha() and not line.angle]
    out = list(lines)
    for cap in caps:
        beside = [
            line
            for line in out
            if line is not cap
            and not line.angle
            and cap.size > DROP_CAP * line.size
            and 0 <= line.box.x0 - cap.box.x1 < 2 * line.size
            and line.box.overlap_y(cap.box) > 0.3 * line.box.height
        ]
        if not beside:
            continue
        first = min(beside, key=lambda line: line.baseline)
        letter = cap.words[0]._replace(type=first.words[0].type)
        joined = first._replace(
            box=first.box._replace(x0=cap.box.x0),
            words=(letter, first.words[0]._replace(glued=True), *first.words[1:]),
        )
        replaced = {id(line): _reaching_to(line, cap.words[0].x0) for line in beside} | {id(first): joined}
        out = [replaced.get(id(line), line) for line in out if line is not cap]
    return out


def _reaching_to(line: Line, x0: float) -> Line:
    """The line as if it began at ``x0``: text beside a drop cap is not indented."""
    return line._replace(words=(line.words[0]._replace(x0=x0), *line.words[1:]))
