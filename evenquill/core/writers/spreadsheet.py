"""Tables as a spreadsheet reads them: XLSX, a sheet for each, or CSV."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Mapping, Sequence

from babel.numbers import NumberFormatError, parse_decimal
from openpyxl import Workbook
from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter

from evenquill.core.model import Align, Cell, Equation, Inline, TableBlock
from evenquill.core.model.equation import text_of
from evenquill.core.model.inline import readable
from evenquill.core.resolve.list_labels import list_labels

XLSX_MEDIA = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
CSV_MEDIA = "text/csv; charset=utf-8"

POINTS_PER_LETTER = 5.5
"""A column's width in a spreadsheet is counted in figures of its usual typeface."""

LONGEST = 32_767
"""Characters of a cell in XLSX."""

_NUMBER = re.compile(r"[-+−]?(0|[1-9][\d.,’' \u00a0\u202f]*\d|[1-9])([.,]\d+)?")
_COMMAND = tuple("=+-@\t\r")


def xlsx(tables: Sequence[TableBlock], language: str) -> bytes:
    """A workbook with a sheet for each table. What is a number in the ``language`` (two letters) is one there, with as many decimals."""
    book = Workbook()
    for sheet in list(book.worksheets):
        book.remove(sheet)
    for n, table in enumerate(tables, start=1):
        sheet = book.create_sheet(f"Table {n}")
        for k, width in enumerate(table.widths, start=1):
            sheet.column_dimensions[get_column_letter(k)].width = max(width / POINTS_PER_LETTER, 4)
        labels = list_labels((table,))
        for cell in table.cells:
            text = ILLEGAL_CHARACTERS_RE.sub("", _text(cell, labels))[:LONGEST]
            number = _number(text, language)
            at = sheet.cell(cell.row + 1, cell.column + 1)
            if number is None:
                at.value = text or None
                # Text that begins like a formula is text.
                at.data_type = "s"
            else:
                value, decimals = number
                at.value = value
                at.number_format = f"0.{'0' * decimals}" if decimals else "0"
            at.alignment = Alignment(
                horizontal=_HORIZONTAL.get(cell.texts[0].align or ""), vertical="top", wrap_text="\n" in text
            )
            if cell.row < table.header_rows:
                at.font = Font(bold=True)
            if cell.rows * cell.columns > 1:
                sheet.merge_cells(
                    start_row=cell.row + 1,
                    start_column=cell.column + 1,
                    end_row=cell.row + cell.rows,
                    end_column=cell.column + cell.columns,
                )
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


_HORIZONTAL: dict[str, str] = {
    Align.LEFT: "left",
    Align.RIGHT: "right",
    Align.CENTER: "center",
    Align.DECIMAL: "right",
}


def csv_of(table: TableBlock, language: str) -> bytes:
    """A table as CSV (RFC 4180, UTF-8 with a mark of its byte order); a merged cell says its text in the first of its places.

    Spreadsheets run what begins like a formula: such text, where it is no number, is given an apostrophe.
    """
    rows = [[""] * len(table.widths) for _ in table.row_ids]
    labels = list_labels((table,))
    for cell in table.cells:
        text = _text(cell, labels)
        if text.startswith(_COMMAND) and _number(text, language) is None:
            text = f"'{text}"
        rows[cell.row][cell.column] = text
    out = io.StringIO()
    csv.writer(out).writerows(rows)
    return b"\xef\xbb\xbf" + out.getvalue().encode()


def _text(cell: Cell, labels: Mapping[str, str]) -> str:
    marks = (f"{labels[text.id]} " if text.id in labels else "" for text in cell.texts)
    return "\n".join("".join((mark, *_said(text.content))) for mark, text in zip(marks, cell.texts, strict=True))


def _said(content: Iterable[Inline]) -> Iterable[str]:
    for item in content:
        yield text_of(item.tree) if isinstance(item, Equation) else readable((item,))


def _number(text: str, language: str) -> tuple[float, int] | None:
    """A number with its decimals; None for what is none, or would lose something as one: zeros before it, more figures than are kept."""
    plain = text.strip()
    if not _NUMBER.fullmatch(plain) or sum(c.isdigit() for c in plain) > 15:
        return None
    try:
        value = parse_decimal(plain.replace("−", "-"), locale=language or "en", strict=True)
    except (NumberFormatError, ValueError):
        return None
    exponent = value.as_tuple().exponent
    return float(value), -exponent if isinstance(exponent, int) and exponent < 0 else 0
