"""Blocks of a few lines beside each other: each is read for itself where its lines stand at other distances than those beside it."""

from __future__ import annotations

import pytest

from evenquill.core.model import Document
from tests.conftest import tables, texts

SENDER = ("Ada Quell", "Harbour office", "Tide Street 4", "Stillwater")
DATES = ("Skerrin, 4 March", "Our sign 17", "Your letter 9", "Page one")
TEXT = "The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote. "


def lines(rows: tuple[str, ...], x: str, distance: float, size: float, side: str = "left") -> str:
    return "".join(
        f"#place(dx: {x}, dy: {n * distance}pt, box(width: 60mm, align({side}, text({size}pt)[{row}])))"
        for n, row in enumerate(rows)
    )


def all_words(document: Document) -> str:
    """The text of a document, tables last, its words with a space between them."""
    cells = (cell.text for table in tables(document) for cell in table.cells)
    return " ".join(" ".join([*texts(document), *cells]).split())


@pytest.mark.parametrize("side", ["left", "right"])
def test_blocks_whose_lines_stand_at_other_distances_are_read_one_after_the_other(typeset, rebuilt, side):
    source = lines(SENDER, "0mm", 13, 10) + lines(DATES, "100mm", 10.5, 8, side)
    document = rebuilt(typeset(f"{source}\n#v(80pt)\n{4 * TEXT}"))
    assert not tables(document)
    assert all_words(document).startswith(f"{' '.join(SENDER)} {' '.join(DATES)} The keeper")


def test_labels_and_values_stay_together(typeset, rebuilt):
    source = lines(SENDER, "0mm", 13, 10) + lines(DATES, "100mm", 13, 8)
    document = rebuilt(typeset(f"{source}\n#v(80pt)\n{4 * TEXT}"))
    said = all_words(document)
    assert all(f"{label} {value}" in said for label, value in zip(SENDER, DATES, strict=True))


def test_rows_with_more_lines_in_one_cell_stay_rows(typeset, rebuilt):
    """Values in the middle of labels of two lines: they stand at other distances than the lines of these."""
    rows = "".join(f"[Gauge number {n} at the\\ northern quay], [{17 + n}.{n}0]," for n in range(1, 6))
    document = rebuilt(
        typeset(f"#table(columns: 2, stroke: none, column-gutter: 30mm, align: horizon, row-gutter: 0pt, {rows})")
    )
    said = all_words(document)
    assert said.index("18.10") < said.index("number 3")
