"""The index of a book: each entry is a paragraph, whatever room its lines leave."""

from __future__ import annotations

from tests.conftest import texts

ENTRIES = [
    "anchor, 4",
    "ballast, iron, and how it was stowed below the planks of the pier in the years before, 12, 19",
    "barge, 7, 81--84",
    "barometer, aneroid, 9",
    "beacon: lamps, 33",
    "beacon: repairs, 35, 36",
    "capstan, 40",
    "chain, length of, 41, 77",
    "clock, 3",
    "crane, steam, 50, 51, 52, 53, 54, 57, 61, 63, 66, 67, 70, 71, 72, 75, 78, 79, 80, 82, 85, 86, 88, 90, 91",
    "dredger, 20",
    "ferry, 1, 2",
]


def test_each_entry_of_an_index_is_a_paragraph(typeset, rebuilt):
    lines = "\n\n".join(f"#par(hanging-indent: 2em)[{entry}]" for entry in ENTRIES)
    source = f"#set page(columns: 2)\n#set par(spacing: 0.65em)\n#set text(8pt)\n{lines}"
    assert texts(rebuilt(typeset(source))) == [entry.replace("--", "–") for entry in ENTRIES]


def test_lines_that_end_in_years_are_none(typeset, rebuilt):
    text = (
        "The pier was built of oak by the board in the year 1821, it was rebuilt in stone in the year of storms, 1834, "
    )
    document = rebuilt(typeset(f"{3 * text}and stands."))
    assert len(texts(document)) == 1
