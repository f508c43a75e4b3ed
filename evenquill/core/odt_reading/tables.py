"""Tables of OpenDocument (part 3, 9), as grids without a gap."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import NamedTuple

from evenquill.core.model import Align, Cell, TableBlock, TextBlock
from evenquill.core.model.cell_lines import with_usual_sides
from evenquill.core.model.ids import Ids
from evenquill.core.odt_reading.names import FO, STYLE, TABLE, Element, color, points, whole
from evenquill.core.odt_reading.styles import Styles

MOST_COLUMNS, MOST_ROWS = 200, 20_000
MOST_REPEATED = 200
"""Empty rows or columns that are taken one by one; spreadsheets say by such numbers that the rest of a sheet is empty."""

USUAL_WIDTH = 60.0
"""Points of a column of which nothing is said."""

_ALIGN = {"center": Align.CENTER, "right": Align.RIGHT}
_ROWS = frozenset(f"{TABLE}{name}" for name in ("table-rows", "table-row-group"))
_COLUMNS = frozenset(f"{TABLE}{name}" for name in ("table-columns", "table-header-columns", "table-column-group"))

ReadCell = Callable[[Element | None], tuple[TextBlock, ...]]
"""The paragraphs of a cell, one without text for none."""


class _Row(NamedTuple):
    element: Element
    header: bool


class _Place(NamedTuple):
    """A cell: where it begins, what it spans, and its element; None where a row leaves a place out."""

    row: int
    column: int
    rows: int
    columns: int
    element: Element | None


def table_of(element: Element, styles: Styles, ids: Ids, read: ReadCell, section: str) -> TableBlock | None:
    """The table of ``table:table``; None for one without cells."""
    rows = list(_rows(element, header=False))[:MOST_ROWS]
    places = _places(rows)
    if not places:
        return None
    columns = max(place.column + place.columns for place in places)
    widths = [*_widths(element, styles)][:columns]
    widths += [USUAL_WIDTH] * (columns - len(widths))
    taken = {(p.row + r, p.column + c) for p in places for r in range(p.rows) for c in range(p.columns)}
    gaps = [
        _Place(row, column, 1, 1, None)
        for row in range(len(rows))
        for column in range(columns)
        if (row, column) not in taken
    ]
    name = ids.new()
    cells = tuple(
        Cell(
            ids.new(),
            place.row,
            place.column,
            read(place.element),
            place.rows,
            place.columns,
            styles.sides("table-cell", _style_of(place, rows), "table-cell"),
            _fill(styles, _style_of(place, rows)),
        )
        for place in sorted((*places, *gaps), key=lambda place: (place.row, place.column))
    )
    side = styles.value("table", element.get(f"{TABLE}style-name", ""), "table", f"{TABLE}align") or ""
    table = TableBlock(
        name,
        tuple(widths),
        tuple(ids.new() for _ in rows),
        cells,
        header_rows=_headers(rows),
        align=_ALIGN.get(side, Align.LEFT),
        section=section,
    )
    return with_usual_sides(table)


def _headers(rows: list[_Row]) -> int:
    count = 0
    while count < len(rows) and rows[count].header:
        count += 1
    return count


def _rows(element: Element, *, header: bool) -> Iterator[_Row]:
    for child in element:
        if child.tag == f"{TABLE}table-row":
            times = whole(child.get(f"{TABLE}number-rows-repeated"), 1)
            for _ in range(max(times if times <= MOST_REPEATED else 1, 1)):
                yield _Row(child, header)
        elif child.tag == f"{TABLE}table-header-rows":
            yield from _rows(child, header=True)
        elif child.tag in _ROWS:
            yield from _rows(child, header=header)


def _widths(element: Element, styles: Styles) -> Iterator[float]:
    for child in element:
        if child.tag == f"{TABLE}table-column":
            style = child.get(f"{TABLE}style-name", "")
            width = points(styles.value("table-column", style, "table-column", f"{STYLE}column-width")) or USUAL_WIDTH
            yield from [width] * min(max(whole(child.get(f"{TABLE}number-columns-repeated"), 1), 1), MOST_COLUMNS)
        elif child.tag in _COLUMNS:
            yield from _widths(child, styles)


def _places(rows: list[_Row]) -> list[_Place]:
    places: list[_Place] = []
    taken: set[tuple[int, int]] = set()
    for n, row in enumerate(rows):
        column = 0
        for cell in row.element:
            if cell.tag not in (f"{TABLE}table-cell", f"{TABLE}covered-table-cell"):
                continue
            times = max(whole(cell.get(f"{TABLE}number-columns-repeated"), 1), 1)
            if column + times > MOST_COLUMNS:  # the empty rest of a sheet
                break
            for _ in range(times):
                if cell.tag == f"{TABLE}table-cell" and (n, column) not in taken:
                    place = _place(n, column, cell, len(rows), taken)
                    places.append(place)
                    taken |= {(n + r, column + c) for r in range(place.rows) for c in range(place.columns)}
                column += 1
    return places


def _place(row: int, column: int, cell: Element, rows: int, taken: set[tuple[int, int]]) -> _Place:
    """A cell with what it spans, as far as no other one is there."""
    down = min(max(whole(cell.get(f"{TABLE}number-rows-spanned"), 1), 1), rows - row)
    across = min(max(whole(cell.get(f"{TABLE}number-columns-spanned"), 1), 1), MOST_COLUMNS - column)
    if any((row + r, column + c) in taken for r in range(down) for c in range(across)):
        down = across = 1
    return _Place(row, column, down, across, cell)


def _style_of(place: _Place, rows: list[_Row]) -> str:
    """The style of a cell, its own or that of its row."""
    row = rows[place.row].element.get(f"{TABLE}default-cell-style-name", "")
    return place.element.get(f"{TABLE}style-name", row) if place.element is not None else row


def _fill(styles: Styles, style: str) -> str:
    found = color(styles.value("table-cell", style, "table-cell", f"{FO}background-color"))
    return "" if found == "ffffff" else found
