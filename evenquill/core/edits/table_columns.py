"""Columns of a table given widths and alignment."""

from __future__ import annotations

import math
import re

from msgspec.structs import replace

from evenquill.core.edits.inverse import Edit, splice
from evenquill.core.edits.lookup import table_row
from evenquill.core.edits.table_lines import empty_like, in_order
from evenquill.core.edits.table_operations import AlignColumns, ArrangeColumns, SetColumnWidths, SplitColumn, WidthsBy
from evenquill.core.errors import EditError
from evenquill.core.model import Align, Cell, Document, TableBlock, TextBlock
from evenquill.core.model.cutting import cut_block
from evenquill.core.model.ids import Ids
from evenquill.core.model.sections import USUAL_PAGE

NARROWEST, WIDEST = 6.0, 1500.0
"""Points of a column, and of a table."""

LETTER_WIDTH = 0.5
"""Width of a letter in ems, as a mean of typefaces."""

_FIGURES = r"[-+−]?\d[\d.,’'/:-]*%?"
TWO_NUMBERS = re.compile(rf"({_FIGURES})\s+({_FIGURES})")
"""Two numbers that stand beside each other."""

CELL_SIDES = 12.0
"""Points between the text of a cell and its edges, both sides together."""


def align_columns(document: Document, operation: AlignColumns, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    columns = range(operation.column, operation.column + operation.columns)
    if not len(columns) or columns.start < 0 or columns.stop > len(block.widths):
        raise EditError("The table has no such column.")
    # What names a column of numbers stands at the side at which these end.
    of_header = Align.RIGHT if operation.align is Align.DECIMAL else operation.align
    cells = tuple(
        _with_align(cell, of_header if cell.row < block.header_rows else operation.align)
        if cell.column in columns
        else cell
        for cell in block.cells
    )
    return splice(document, at, 1, (replace(block, cells=cells),))


def _with_align(cell: Cell, align: Align) -> Cell:
    return replace(cell, texts=tuple(replace(text, align=align) for text in cell.texts))


def set_column_widths(document: Document, operation: SetColumnWidths, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    if len(operation.widths) != len(block.widths):
        raise EditError("Each column needs a width.")
    if not all(math.isfinite(width) and width >= NARROWEST for width in operation.widths):
        raise EditError(f"A column is at least {NARROWEST:.0f} points wide.")
    if sum(operation.widths) > WIDEST:
        raise EditError(f"A table is at most {WIDEST:.0f} points wide.")
    return splice(document, at, 1, (replace(block, widths=operation.widths),))


def arrange_columns(document: Document, operation: ArrangeColumns, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    page = page_width(document, block)
    whole = sum(block.widths)
    match operation.by:
        case WidthsBy.EVEN:
            widths = (whole / len(block.widths),) * len(block.widths)
        case WidthsBy.PAGE:
            widths = tuple(width * page / whole for width in block.widths)
        case WidthsBy.CONTENT:
            widths = widths_within(_needed(document, block), page)
    return splice(document, at, 1, (replace(block, widths=tuple(round(width, 2) for width in widths)),))


def split_column(document: Document, operation: SplitColumn, ids: Ids) -> Edit:
    at, block = table_row(document, operation.block)
    column = operation.column
    if not 0 <= column < len(block.widths):
        raise EditError("The table has no such column.")
    cells: list[Cell] = []
    for cell in block.cells:
        if cell.column > column:
            cells.append(replace(cell, column=cell.column + 1))
        elif cell.column + cell.columns <= column:
            cells.append(cell)
        elif cell.columns > 1:
            cells.append(replace(cell, columns=cell.columns + 1))
        else:
            first, second = _halves(cell, ids)
            cells += [replace(cell, texts=first), replace(cell, id=ids.new(), column=column + 1, texts=second)]
    half = block.widths[column] / 2
    widths = (*block.widths[:column], half, half, *block.widths[column + 1 :])
    return splice(document, at, 1, (replace(block, cells=in_order(cells), widths=widths),))


def _halves(cell: Cell, ids: Ids) -> tuple[tuple[TextBlock, ...], tuple[TextBlock, ...]]:
    """What stays in a cell, and what goes into the one beside it: all from the second number of its only paragraph on."""
    text = cell.texts[0]
    match = TWO_NUMBERS.fullmatch(text.text.strip()) if len(cell.texts) == 1 else None
    if match is None:
        return cell.texts, (empty_like(text, ids),)
    lead = len(text.text) - len(text.text.lstrip())
    first = cut_block(text, 0, lead + match.end(1))
    second = replace(cut_block(text, lead + match.start(2)), id=ids.new())
    return (first,), (second,)


def page_width(document: Document, table: TableBlock) -> float:
    """Points of a column of text in the section that a table is in."""
    section = next((one for one in document.sections if one.id == table.section), None)
    return section.setup.text_width / section.columns if section else USUAL_PAGE.text_width


def _needed(document: Document, table: TableBlock) -> list[float]:
    """Widths of the columns at which their texts stand in one line each; cells of several columns tell nothing."""
    needed = [NARROWEST + CELL_SIDES] * len(table.widths)
    for cell in table.cells:
        if cell.columns > 1:
            continue
        for text in cell.texts:
            longest = max(map(len, text.text.split("\n")))
            width = LETTER_WIDTH * document.style(text.style).size * longest + CELL_SIDES
            needed[cell.column] = max(needed[cell.column], width)
    return needed


def widths_within(needed: list[float], most: float) -> tuple[float, ...]:
    """Widths that are ``most`` together at most: columns that need less than their share keep what they need, the others share the rest
    by what they need."""
    if sum(needed) <= most:
        return tuple(needed)
    kept: set[int] = set()
    while True:
        rest = most - sum(needed[n] for n in kept)
        open_columns = [n for n in range(len(needed)) if n not in kept]
        small = {n for n in open_columns if needed[n] <= rest / len(open_columns)}
        if not small:
            break
        kept |= small
    wanted = sum(needed[n] for n in open_columns)
    return tuple(width if n in kept else width * rest / wanted for n, width in enumerate(needed))
