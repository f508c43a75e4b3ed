"""Texts of cells that are aligned by decimals, for formats that have tab stops for these."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from msgspec.structs import replace

from evenquill.core.model import Align, Tab, TableBlock, TabStop, TextBlock
from evenquill.core.model.decimals import DecimalPart, decimal_parts

CELL_PADDING = 4.0
"""Points between the sides of a cell and its text."""


def with_decimal_stops(
    table: TableBlock, widths: Sequence[float], size_of: Callable[[TextBlock], float], *, tab: bool = False
) -> TableBlock:
    """The table with a decimal tab stop in each text that is aligned by decimals, and a ``tab`` before it where a format wants one.

    ``widths`` of the columns are in points, ``size_of`` gives the size of type of a text.
    """
    parts = decimal_parts(table)
    if not parts:
        return table
    cells = []
    for cell in table.cells:
        room = sum(widths[cell.column : cell.column + cell.columns]) - 2 * CELL_PADDING
        texts = tuple(
            _at_stop(text, parts[text.id], room, size_of(text), tab=tab) if text.id in parts else text
            for text in cell.texts
        )
        cells.append(replace(cell, texts=texts))
    return replace(table, cells=tuple(cells))


def _at_stop(text: TextBlock, part: DecimalPart, room: float, size: float, *, tab: bool) -> TextBlock:
    at = round(max(room - size * part.width, 1.0), 1)
    content = (Tab(), *text.content) if tab and text.content else text.content
    return replace(text, align=Align.LEFT, tabs=(TabStop(at, Align.DECIMAL, sign=part.sign),), content=content)
