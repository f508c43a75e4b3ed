"""Tables of DOCX (ISO/IEC 29500-1, 17.4), as grids without a gap."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from evenquill.core.docx_reading.cell_looks import cell_fill, cell_sides, table_lines
from evenquill.core.docx_reading.content import points
from evenquill.core.docx_reading.names import Element, W, is_on, value, whole
from evenquill.core.model import Align, Cell, Sides, TableBlock, TextBlock
from evenquill.core.model.cell_lines import with_usual_sides
from evenquill.core.model.ids import Ids

MOST_COLUMNS = 200
USUAL_WIDTH = 60.0
"""Points of a column of which nothing is said."""

_ALIGN = {"center": Align.CENTER, "right": Align.RIGHT, "end": Align.RIGHT}

ReadCell = Callable[[Element | None], tuple[TextBlock, ...]]
"""The paragraphs of a cell, one without text for none."""


@dataclass(slots=True)
class _Place:
    """A cell as it is read: where it begins, what it spans, what holds its text (None where a row leaves a place out), and the
    element of the last row that it is in."""

    row: int
    column: int
    columns: int
    holder: Element | None
    last: Element | None
    rows: int = 1


def table_of(element: Element, ids: Ids, read: ReadCell, section: str) -> TableBlock | None:
    """The table of ``w:tbl``; None for one without cells."""
    rows = [row for row in _children(element, "tr") if not _is_deleted(row)]
    places = _places(rows)
    if not places:
        return None
    columns = max(place.column + place.columns for place in places)
    grid = [points(one.get(f"{W}w")) for one in element.iterfind(f"{W}tblGrid/{W}gridCol")][:columns]
    widths = [width or USUAL_WIDTH for width in (*grid, *([0.0] * (columns - len(grid))))]
    taken = {(p.row + r, p.column + c) for p in places for r in range(p.rows) for c in range(p.columns)}
    gaps = [
        _Place(row, column, 1, None, None)
        for row in range(len(rows))
        for column in range(columns)
        if (row, column) not in taken
    ]
    properties = element.find(f"{W}tblPr")
    lines = table_lines(properties)
    name = ids.new()
    cells = tuple(
        Cell(
            ids.new(),
            place.row,
            place.column,
            read(place.holder),
            place.rows,
            place.columns,
            cell_sides(lines, place.holder, place.last, _edges(place, len(rows), columns)),
            cell_fill(place.holder),
        )
        for place in sorted((*places, *gaps), key=lambda place: (place.row, place.column))
    )
    headers = 0
    while headers < len(rows) and is_on(rows[headers].find(f"{W}trPr"), "tblHeader"):
        headers += 1
    table = TableBlock(
        name,
        tuple(widths),
        tuple(ids.new() for _ in rows),
        cells,
        header_rows=headers,
        align=_ALIGN.get(value(properties, "jc") or "", Align.LEFT),
        section=section,
    )
    return with_usual_sides(table)


def _edges(place: _Place, rows: int, columns: int) -> Sides:
    """The sides of a cell that are sides of its table."""
    at_edge = (
        (Sides.TOP, place.row == 0),
        (Sides.BOTTOM, place.row + place.rows == rows),
        (Sides.LEFT, place.column == 0),
        (Sides.RIGHT, place.column + place.columns == columns),
    )
    return Sides(sum(side for side, there in at_edge if there))


def _places(rows: list[Element]) -> list[_Place]:
    places: list[_Place] = []
    above: dict[int, _Place] = {}
    """By column the cell that goes on there from the row above."""
    for n, row in enumerate(rows):
        column = whole(value(row.find(f"{W}trPr"), "gridBefore"))
        here: dict[int, _Place] = {}
        for cell in _children(row, "tc"):
            properties = cell.find(f"{W}tcPr")
            span = max(whole(value(properties, "gridSpan"), 1), 1)
            if column + span > MOST_COLUMNS:
                break
            merged = properties.find(f"{W}vMerge") if properties is not None else None
            started = above.get(column)
            if (
                merged is not None
                and merged.get(f"{W}val") != "restart"
                and started is not None
                and started.columns == span
            ):
                started.rows += 1
                started.last = cell
                here[column] = started
            else:
                place = _Place(n, column, span, cell, cell)
                places.append(place)
                if merged is not None:
                    here[column] = place
            column += span
        above = here
    return places


def _children(parent: Element, name: str) -> list[Element]:
    """Rows or cells, those within content controls and marks of changes too."""
    found: list[Element] = []
    for child in parent:
        if child.tag == f"{W}{name}":
            found.append(child)
        elif child.tag in (f"{W}sdt", f"{W}sdtContent", f"{W}ins", f"{W}customXml"):
            found += _children(child, name)
    return found


def _is_deleted(row: Element) -> bool:
    return row.find(f"{W}trPr/{W}del") is not None
