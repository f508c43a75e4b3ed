"""Columns drawn on the page: text becomes a table, and a table is given other columns, by where the words stand."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.edits import CutAtEdges, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import Box, Document, Marks, Spot, TableBlock, Text, TextBlock, WordSpot
from evenquill.core.model.grid import grid_faults
from tests.core.blocks import block


def printed(name: str, *words: tuple[str, float, float], text: str = "") -> TextBlock:
    """A row of words that stand at places (x, y) of the page, 6 points for each letter."""
    text = text or " ".join(word for word, _, _ in words)
    spots, at = [], 0
    for word, x, y in words:
        at = text.index(word, at)
        spots.append(WordSpot(at, at + len(word), 1, Box(x, y, x + 6 * len(word), y + 10)))
        at += len(word)
    box = Box(10, min(y for _, _, y in words), 200, max(y for _, _, y in words) + 10)
    return TextBlock(name, content=(Text(text),), words=tuple(spots), spots=(Spot(1, box),))


def shown(document: Document, at: int = 0) -> list[list[str]]:
    table = document.blocks[at]
    assert isinstance(table, TableBlock)
    assert not list(grid_faults(table))
    return [[cell.text for cell in table.cells if cell.row == row] for row in range(table.row_count)]


ROWS = (
    printed("a", ("Order", 10, 10), ("no.", 45, 10), ("91-0362", 110, 11)),
    # Read as one paragraph: a line for each row of the page.
    printed("b", ("Date", 10, 30), ("11", 110, 30), ("June", 130, 30), ("For", 10, 50), ("Gauges", 110, 50)),
)


def test_rows_of_text_become_a_table_with_a_row_for_each_line():
    document = Document(blocks=(*ROWS, block("z", "Below")))
    edit = apply(document, CutAtEdges(("a", "b"), (100.0,)))
    assert shown(edit.document) == [["Order no.", "91-0362"], ["Date", "11 June"], ["For", "Gauges"]]
    table = edit.document.blocks[0]
    assert table.widths == (90, 54)
    assert edit.focus.block == table.id
    assert [word.box.x0 for word in table.cells[3].texts[0].words] == [110, 130]
    assert undo(edit.document, edit.inverse) == document


def test_lines_can_be_drawn_elsewhere_later():
    document = apply(Document(blocks=ROWS), CutAtEdges(("a", "b"), (100.0,))).document
    (table,) = document.blocks
    edit = apply(document, CutAtEdges((table.id,), (40.0, 126.0)))
    assert shown(edit.document) == [["Order", "no.", "91-0362"], ["Date", "11", "June"], ["For", "", "Gauges"]]
    assert undo(edit.document, edit.inverse) == document
    again = apply(edit.document, CutAtEdges((table.id,), (100.0,))).document
    assert shown(again) == shown(document)


def test_looks_stay_on_their_words_and_signs_between_words_are_kept():
    row = printed("a", ("Date:", 10, 10), ("11", 110, 10), ("June", 140, 10), text="Date: … 11 – June!")
    row = replace(row, content=(Text("Date:", Marks.BOLD), Text(" … 11 – June!")))
    document = apply(Document(blocks=(row,)), CutAtEdges(("a",), (100.0, 130.0))).document
    assert shown(document) == [["Date: …", "11 –", "June!"]]
    assert document.blocks[0].cells[0].texts[0].content[0] == Text("Date:", Marks.BOLD)


def test_what_was_typed_stays_in_its_column():
    document = apply(Document(blocks=ROWS), CutAtEdges(("a", "b"), (100.0,))).document
    (table,) = document.blocks
    typed = replace(table.cells[5].texts[0], content=(Text("typed"),), words=(), spots=())
    document = replace(document, blocks=(table.with_text(typed),))
    assert shown(apply(document, CutAtEdges((table.id,), (40.0, 126.0))).document)[2] == ["For", "typed", ""]


@pytest.mark.parametrize(
    ("blocks", "edges", "says"),
    [
        (("a",), (), "Draw a line"),
        (("a",), (float("inf"),), "Draw a line"),
        ((), (100.0,), "follow one another"),
        (("a", "z"), (100.0,), "follow one another"),
        (("z", "i"), (100.0,), "stands on the page"),
        (("i",), (100.0,), "stands on the page"),
        (("gone",), (100.0,), "no longer there"),
    ],
)
def test_what_cannot_be_cut_says_why(blocks, edges, says):
    document = Document(blocks=(*ROWS, block("z", "Below"), TextBlock("i", content=(Text("typed"),))))
    with pytest.raises(EditError, match=says):
        apply(document, CutAtEdges(blocks, edges))
