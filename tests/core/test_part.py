"""A part of a document: some of its pages, some of its rows."""

from __future__ import annotations

import io

import docx
import pytest

from evenquill import cli
from evenquill.core.model import Document, NoteRef, NumberFormat, Numbering, Role, Spot, Text
from evenquill.core.model.geometry import Box
from evenquill.core.part import WrongPages, of_pages, of_rows, pages_named
from evenquill.core.resolve.list_labels import list_labels
from evenquill.core.writers.docx import write_docx
from tests.core.blocks import block, table


def written(document: Document) -> list[str]:
    return [paragraph.text for paragraph in docx.Document(io.BytesIO(write_docx(document, lambda _: b""))).paragraphs]


@pytest.mark.parametrize(
    ("text", "pages"),
    [("2", {2}), ("1-3, 7", {1, 2, 3, 7}), (" 4 – 5;5 ", {4, 5}), ("9,", {9}), ("1,,2", {1, 2})],
)
def test_pages_are_understood(text, pages):
    assert pages_named(text, 9) == pages


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("", "No page"),
        (" , ", "No page"),
        ("a", "“a” is no page"),
        ("3-2", "no pages 3-2"),
        ("0", "no pages 0"),
        ("8-10", "has 9"),
    ],
)
def test_what_names_no_pages_is_refused_with_a_sentence(text, why):
    with pytest.raises(WrongPages, match=why):
        pages_named(text, 9)


def numbered(id: str, text: str, page: int):
    return block(id, text, page, role=Role.LIST_ITEM, numbering=Numbering(NumberFormat.DECIMAL, "%."))


def test_rows_that_begin_on_the_pages_are_written_and_nothing_is_lost():
    over = table("t", [["2.31", "0.87"]])
    spots = tuple(Spot(page, Box(0, 80, 200, 120)) for page in (1, 2))
    document = Document(
        blocks=(block("a", "First"), type(over)(over.id, over.widths, over.row_ids, over.cells, spots=spots), block("b", "Second", 2),
                block("n", ""), block("c", "Third", 3)),
    )  # fmt: skip
    part = of_pages(document, {2})
    assert [one.id for one in part.blocks if not one.excluded] == ["t", "b", "n"]
    assert [one.id for one in part.blocks] == [one.id for one in document.blocks]
    assert written(part) == ["Second", ""]


def test_items_keep_their_numbers_and_notes_go_with_what_calls_them():
    items = [numbered(f"i{n}", f"Item {n}", 1 + n // 3) for n in range(1, 7)]
    called = block("p", "The float", 2)
    called = type(called)(
        called.id,
        content=(*called.content, NoteRef("note", "1"), Text(" hangs")),
        style="Body text",
        spots=called.spots,
    )
    notes = (block("note", "In May.", 2, role=Role.NOTE), block("other", "In June.", 1, role=Role.NOTE))
    document = Document(blocks=(*items, called, *notes))
    part = of_rows(document, {"i2", "i5", "i6", "p"})
    labels = list_labels(part.blocks)
    assert {name: label for name, label in labels.items() if name in ("i2", "i5", "i6")} == {
        "i2": "2.",
        "i5": "5.",
        "i6": "6.",
    }
    assert [one.id for one in part.blocks if not one.excluded] == ["i2", "i5", "i6", "p", "note"]


def test_the_command_line_writes_some_pages(typeset, tmp_path, capsys):
    source = typeset(
        "#set page(width: 300pt, height: 200pt)\nFirst page.\n#pagebreak()\nSecond page.\n#pagebreak()\nThird page."
    )
    out = tmp_path / "part.docx"
    assert cli.main(["convert", str(source), "-o", str(out), "--pages", "2-3", "--workers", "1"]) == cli.DONE
    assert [paragraph.text for paragraph in docx.Document(str(out)).paragraphs] == ["Second page.", "Third page."]
    assert cli.main(["convert", str(source), "-o", str(out), "--pages", "4", "--workers", "1"]) == cli.BAD_SOURCE
    assert "There are no pages 4: the document has 3." in capsys.readouterr().err
    missing = tmp_path / "missing.pdf"  # what is not understood is refused before any source is opened
    assert cli.main(["convert", str(missing), "-o", str(out), "--pages", "two", "--workers", "1"]) == cli.WRONG_USE
    assert "“two” is no page." in capsys.readouterr().err


def test_a_note_that_only_a_row_left_out_calls_is_left_out_too():
    calls = block("p", "The float", 1)
    calls = type(calls)(calls.id, content=(*calls.content, NoteRef("note", "1")), style="Body text", spots=calls.spots)
    note, alone = block("note", "In May.", 2, role=Role.NOTE), block("alone", "Of nobody.", 2, role=Role.NOTE)
    part = of_pages(Document(blocks=(calls, block("b", "Second", 2), note, alone)), {2})
    assert [one.id for one in part.blocks if not one.excluded] == ["b", "alone"]


def test_numbers_hold_over_levels_and_gaps_in_a_long_list():
    items = [numbered(f"i{n}", f"Item {n}", 1) for n in range(3000)]
    deeper = [
        type(item)(item.id, role=item.role, level=n % 3 and 1, content=item.content, numbering=item.numbering)
        for n, item in enumerate(items)
    ]
    document = Document(blocks=tuple(deeper))
    full = list_labels(document.blocks)
    kept = {item.id for n, item in enumerate(deeper) if n % 7 and n % 5}
    labels = list_labels(of_rows(document, kept).blocks)
    assert labels == {name: full[name] for name in kept}
