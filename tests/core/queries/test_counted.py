"""Columns that count on from row to row: their numbers confirm one another, and one that does not is asked about."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.model import Document, TableBlock
from evenquill.core.queries import find_queries
from tests.core.blocks import table


def unsure(days: list[str], **more) -> Document:
    """A table of days and heights as a recogniser read it that was sure of none."""
    made = table(
        "t", [["Day", "Height"], *([day, f"{n * n % 7}.{n}1"] for n, day in enumerate(days))], header_rows=1, **more
    )
    cells = tuple(
        replace(cell, texts=tuple(replace(text, words=tuple(word._replace(confidence=0.4) for word in text.words)) for text in cell.texts))
        for cell in made.cells
    )  # fmt: skip
    return Document(language="en", blocks=(replace(made, cells=cells),))


def asked(document: Document) -> dict[str, tuple[str, ...]]:
    """What is asked about in the first column, by its text, with the answers."""
    (found,) = (block for block in document.blocks if isinstance(block, TableBlock))
    texts = {text.id: text.text for cell in found.cells if cell.column == 0 for text in cell.texts}
    return {texts[query.block]: query.answers for query in find_queries(document) if query.block in texts}


@pytest.mark.parametrize(
    "days",
    [
        ["1", "2", "3", "4", "5"],
        ["1.", "2.", "3.", "4."],
        ["1970", "1975", "1980", "1985", "1990"],
        ["4", "3", "2", "1"],
    ],
)
def test_numbers_that_count_on_are_not_asked_about(days):
    assert set(asked(unsure(days))) <= {"Day"}


@pytest.mark.parametrize(
    "days", [["1", "2", "4", "7", "5"], ["1", "2", "3"], ["5", "5", "5", "5"], ["1", "2", "", "3", "4"]]
)
def test_numbers_that_do_not_count_on_are(days):
    assert set(asked(unsure(days))) >= {day for day in days if day}


def test_a_number_that_jumps_is_asked_about_with_the_right_one():
    found = asked(unsure(["11", "12", "18", "14", "15", "16", "17", "18"]))
    assert found["18"] == ("13",)
    assert not found.keys() & {"14", "15", "16", "17"}
