"""Lines around the cells of tables of DOCX, and what cells are filled with: what cells say, else their table, else its style (ISO/IEC
29500-1, 17.4.39 and 17.4.67)."""

from __future__ import annotations

from typing import NamedTuple

from evenquill.core.colors import COLOR, WHITE
from evenquill.core.docx_reading.names import Element, W, value
from evenquill.core.model import Sides

PLAIN_STYLES = ("", "tablenormal", "normaltable")
"""Table styles without lines; all others have some."""

NO_LINE = ("nil", "none")


class TableLines(NamedTuple):
    """Which lines a table gives its cells: around itself, and between rows and columns."""

    outer: Sides
    between_rows: bool
    between_columns: bool


def table_lines(properties: Element | None) -> TableLines:
    """The lines that ``w:tblPr`` asks for; all where only a style is named that has some."""
    borders = properties.find(f"{W}tblBorders") if properties is not None else None
    if borders is None:
        styled = (value(properties, "tblStyle") or "").lower() not in PLAIN_STYLES
        return TableLines(Sides.ALL if styled else Sides.NONE, styled, styled)
    outer = Sides.NONE
    for side in Sides:
        if _given(borders, side):
            outer |= side
    return TableLines(outer, bool(_is_line(borders, "insideH")), bool(_is_line(borders, "insideV")))


def cell_sides(lines: TableLines, first: Element | None, last: Element | None, edges: Sides) -> Sides:
    """The sides of a cell that have a line: its first and its last ``w:tc`` say so, else its table; ``edges`` are those of its sides that
    are the table's own."""
    drawn = Sides.NONE
    for side in Sides:
        holder = last if side is Sides.BOTTOM else first
        borders = holder.find(f"{W}tcPr/{W}tcBorders") if holder is not None else None
        given = _given(borders, side) if borders is not None else None
        if given is None:
            inside = lines.between_rows if side in Sides.TOP | Sides.BOTTOM else lines.between_columns
            given = bool(lines.outer & side) if side & edges else inside
        if given:
            drawn |= side
    return drawn


def cell_fill(holder: Element | None) -> str:
    """The colour (``rrggbb``) that a cell is filled with, nothing for none, for white, and for what a theme would have to say (17.4.33)."""
    shading = holder.find(f"{W}tcPr/{W}shd") if holder is not None else None
    color = (shading.get(f"{W}fill") or "").lower() if shading is not None else ""
    return color if COLOR.fullmatch(color) and color != WHITE else ""


def _given(borders: Element, side: Sides) -> bool | None:
    """What is said of one side, which may be called by where text begins; None for nothing."""
    names = {
        Sides.LEFT: ("left", "start"),
        Sides.RIGHT: ("right", "end"),
        Sides.TOP: ("top",),
        Sides.BOTTOM: ("bottom",),
    }
    found = [given for name in names[side] if (given := _is_line(borders, name)) is not None]
    return found[0] if found else None


def _is_line(borders: Element, name: str) -> bool | None:
    kind = value(borders, name)
    return None if kind is None else kind not in NO_LINE
