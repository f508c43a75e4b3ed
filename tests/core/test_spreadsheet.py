"""Tables for spreadsheets, read again by independent readers."""

from __future__ import annotations

import csv
import io

import openpyxl
import pytest
from msgspec.structs import replace

from evenquill.core.edits import AlignColumns, MergeCells, apply
from evenquill.core.model import Align, Document, Equation, Text
from evenquill.core.model.equation import Identifier
from evenquill.core.writers.spreadsheet import csv_of, xlsx
from tests.core.blocks import table

ROWS = [
    ["Station", "Height", "Share", "Order"],
    ["North pier", "1.234,50", "−0,5", "007"],
    ["=1+1", "2,31", "Ferry, “slip”", "3.4.1978"],
]


def written(*tables, language="de"):
    return openpyxl.load_workbook(io.BytesIO(xlsx(tables, language)))


def test_numbers_of_the_language_are_numbers_and_everything_else_is_the_text_that_it_was():
    sheet = written(replace(table("t", ROWS), header_rows=1)).active
    assert [[cell.value for cell in row] for row in sheet.rows] == [
        ["Station", "Height", "Share", "Order"],
        ["North pier", 1234.5, -0.5, "007"],
        ["=1+1", 2.31, "Ferry, “slip”", "3.4.1978"],
    ]
    assert sheet["A3"].data_type == "s"
    assert (sheet["B2"].number_format, sheet["C2"].number_format) == ("0.00", "0.0")
    assert sheet["A1"].font.bold
    assert not sheet["A2"].font.bold


@pytest.mark.parametrize(
    ("text", "language", "value"),
    [
        ("1,234.50", "en", 1234.5),
        ("1.234", "de", 1234),
        ("1.234", "en", 1.234),
        ("12,5", "en", "12,5"),
        ("1234567890123456", "en", "1234567890123456"),
        ("0", "en", 0),
        ("1O4", "en", "1O4"),
        ("+49 30", "de", "+49 30"),
        ("12\u00a0500", "fr", "12\u00a0500"),
        ("", "en", None),
        ("a\x07b", "en", "ab"),
    ],
)
def test_what_is_a_number_is_told_by_the_language(text, language, value):
    assert written(table("t", [["x", text]]), language=language).active["B1"].value == value


def test_merged_cells_alignment_equations_and_several_tables():
    document = Document(blocks=(table("t", ROWS), table("u", [["p"]])))
    document = apply(document, AlignColumns("t", 1, Align.RIGHT)).document
    document = apply(document, MergeCells("t", 0, 0, 1, 2)).document
    first, second = document.blocks
    changed = replace(second.texts[0], content=(Text("at "), Equation(Identifier("n"))))
    book = written(first, second.with_text(changed))
    assert book.sheetnames == ["Table 1", "Table 2"]
    assert [str(one) for one in book["Table 1"].merged_cells.ranges] == ["A1:B1"]
    assert book["Table 1"]["A1"].value == "Station\nHeight"
    assert book["Table 1"]["B2"].alignment.horizontal == "right"
    assert book["Table 2"]["A1"].value == "at n"


def test_comma_separated_values_are_read_back_and_what_would_run_is_marked():
    rows = list(csv.reader(io.StringIO(csv_of(table("t", ROWS), "de").decode("utf-8-sig"))))
    assert rows == [ROWS[0], ["North pier", "1.234,50", "−0,5", "007"], ["'=1+1", *ROWS[2][1:]]]
    assert list(csv.reader(io.StringIO(csv_of(table("t", [["-2,5", "-2+3", "@x"]]), "de").decode("utf-8-sig")))) == [
        ["-2,5", "'-2+3", "'@x"]
    ]
