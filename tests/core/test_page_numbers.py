"""Which of the numbers in heads and feet are the page's own."""

from __future__ import annotations

import pytest

from evenquill.core.evidence import Type
from evenquill.core.layout.edge_rows import EdgeRow, Piece
from evenquill.core.layout.page_numbers import PAGE_NUMBER, PageNumber, page_numbers, with_field
from evenquill.core.model import Family, NumberFormat
from evenquill.core.model.text import letters_and_digits_of, letters_of

LOOK = Type("Serif", Family.SERIF, 9.0)


def row(page: int, *texts: str) -> EdgeRow:
    pieces = tuple(Piece(text, n) for n, text in enumerate(texts))
    return EdgeRow(page, (0,), pieces, texts, LOOK, 800.0, False, 20.0, 500.0)


def test_the_number_that_runs_on_is_the_pages_own():
    rows = [row(page, "Chapter 3", f"{page + 20}") for page in (1, 2, 3)]
    assert {page: number.value for page, number in page_numbers(rows).items()} == {1: 21, 2: 22, 3: 23}


def test_a_number_that_stands_still_is_none():
    assert page_numbers([row(page, "Report 1974") for page in (1, 5)]) == {}


@pytest.mark.parametrize("text", ["- 7 -", "vii", "7"])
def test_a_row_that_is_nothing_else_is_a_page_number_though_no_other_page_agrees(text):
    assert page_numbers([row(4, text)])[4].value == 7


@pytest.mark.parametrize("one", ["I", "l", "ı"])
def test_a_one_that_was_read_as_a_letter_is_the_number_before_two(one):
    rows = [row(1, f"Page {one}"), row(2, "Page 2")]
    numbers = page_numbers(rows)
    assert [(number.value, number.format) for number in numbers.values()] == [
        (1, NumberFormat.DECIMAL),
        (2, NumberFormat.DECIMAL),
    ]
    assert with_field(f"Page {one} of 2", numbers[1]) == f"Page {PAGE_NUMBER} of 2"


def test_a_roman_one_before_a_roman_two_is_one():
    numbers = page_numbers([row(1, "I"), row(2, "II")])
    assert {number.format for number in numbers.values()} == {NumberFormat.UPPER_ROMAN}


def test_roman_numbers_in_the_middle_of_words_are_none():
    assert page_numbers([row(page, "Volume i of the log") for page in (1, 2)]) == {}


@pytest.mark.parametrize(
    ("text", "number", "expected"),
    [
        ("Page 12 of 112", PageNumber(12, NumberFormat.DECIMAL), f"Page {PAGE_NUMBER} of 112"),
        ("Section 1.12", PageNumber(12, NumberFormat.DECIMAL), "Section 1.12"),
        ("iv", PageNumber(4, NumberFormat.LOWER_ROMAN), PAGE_NUMBER),
        ("Gauges", None, "Gauges"),
    ],
)
def test_the_field_takes_the_place_of_that_number_alone(text, number, expected):
    assert with_field(text, number) == expected


def test_titles_are_folded_to_letters_and_digits():
    assert letters_of("2.1 Ärger – am Pier…") == "ärgerampier"
    assert letters_and_digits_of("2.1 Pier!") == "21pier"
