"""A document that was delivered, edited elsewhere and brought back: its changes are found, and taken over one by one or all at once."""

from __future__ import annotations

import io

import docx
import pytest
from docx.enum.text import WD_ALIGN_PARAGRAPH
from docx.oxml import OxmlElement
from docx.oxml.ns import qn
from msgspec.structs import replace
from test_formats import DOCUMENT, picture_bytes, text

from evenquill.core.docx_reading import read_docx
from evenquill.core.edits import Together, apply, undo
from evenquill.core.model import Align, Document, Marks, NoteRef, ParagraphStyle, Role, Text, TextBlock
from evenquill.core.model.ids import ids_in
from evenquill.core.returned import ChangeKind, ReturnedChange, changes_of
from evenquill.core.writers.docx import write_docx
from tests.conftest import grid, tables

STYLES = (
    *DOCUMENT.styles,
    ParagraphStyle("Heading 1", based_on="Body text", size=16, bold=True, outline=1),
    ParagraphStyle("Heading 2", based_on="Body text", size=14, bold=True, outline=2),
)
PROOF = replace(
    DOCUMENT,
    styles=STYLES,
    blocks=(
        text("h", "Gauges of the north", role=Role.HEADING, level=1, style="Heading 1"),
        *DOCUMENT.blocks[1:],
        text("last", "The last row of the log."),
    ),
)


def delivered(document: Document = PROOF) -> bytes:
    return write_docx(document, lambda _: picture_bytes())


def changes_after(edit, pictures, proof: Document = PROOF, before: Document = PROOF) -> tuple[ReturnedChange, ...]:
    """What is found after a file of ours was edited by another program."""
    data = delivered(before)
    file = docx.Document(io.BytesIO(data))
    edit(file)
    out = io.BytesIO()
    file.save(out)
    return changes_of(proof, read_docx(data, pictures), read_docx(out.getvalue(), pictures))


def row(file, said: str):
    return next(paragraph for paragraph in file.paragraphs if said in paragraph.text)


def taken(proof: Document, changes) -> Document:
    """The document with changes taken over as one step, which is undone in one."""
    steps = tuple(step for change in changes if change.operation for step in change.operation.steps)
    edit = apply(proof, Together(steps))
    assert undo(edit.document, edit.inverse) == proof
    return edit.document


def rows_of(document: Document) -> list[str]:
    return [block.text for block in document.blocks if isinstance(block, TextBlock) and not block.excluded]


def test_a_file_that_was_not_edited_has_no_changes(pictures):
    assert changes_after(lambda file: None, pictures) == ()


def test_words_that_were_changed_are_shown_and_taken_over_with_their_marks_and_notes(pictures):
    def edit(file):
        run = next(run for run in row(file, "float").runs if run.text == "float")
        run.text, run.italic = "buoy", True

    (change,) = changes_after(edit, pictures)
    assert (change.kind, change.row, change.also_here) == (ChangeKind.WORDS, "p", False)
    assert change.before.startswith("The float was hard")
    assert change.after.startswith("The buoy was hard")
    (after,) = [block for block in taken(PROOF, [change]).blocks if block.id == "p"]
    assert next(item for item in after.content if item.text == "buoy").marks == Marks.BOLD | Marks.ITALIC
    assert [item.note for item in after.content if isinstance(item, NoteRef)] == ["n"]


def test_a_row_that_was_taken_out_is_set_aside_and_new_ones_are_put_in_their_place(pictures):
    def edit(file):
        row(file, "Said long ago").insert_paragraph_before("A row from elsewhere", style="Heading 2")
        gone = row(file, "# no heading")._p
        gone.getparent().remove(gone)

    removed, added = changes_after(edit, pictures)
    assert (removed.kind, removed.before) == (ChangeKind.REMOVED, "# no heading")
    assert (added.kind, added.after) == (ChangeKind.ADDED, "A row from elsewhere")
    after = taken(PROOF, [removed, added])
    rows = rows_of(after)
    assert "# no heading" not in rows
    assert rows[rows.index("Said long ago.") - 1] == "A row from elsewhere"
    new = next(block for block in after.texts if block.text == "A row from elsewhere")
    assert (new.role, new.level) == (Role.HEADING, 2)
    assert len(set(ids_in(after))) == len(list(ids_in(after)))


def test_another_kind_and_another_side_are_found(pictures):
    def edit(file):
        row(file, "The last row").style = file.styles["heading 2"]
        row(file, "- no item").alignment = WD_ALIGN_PARAGRAPH.RIGHT

    changes = changes_after(edit, pictures)
    assert [(change.kind, change.row, change.before, change.after) for change in changes] == [
        (ChangeKind.ALIGNMENT, "w1", "left", "right"),
        (ChangeKind.KIND, "last", "paragraph", "heading, level 2"),
    ]
    after = {block.id: block for block in taken(PROOF, changes).blocks}
    assert after["w1"].align is Align.RIGHT
    assert (after["last"].role, after["last"].level) == (Role.HEADING, 2)


def test_cells_are_changed_one_by_one_and_a_table_with_a_new_row_as_a_whole(pictures):
    def one_cell(file):
        file.tables[0].cell(1, 1).paragraphs[0].runs[0].text = "2,40"

    (change,) = changes_after(one_cell, pictures)
    assert (change.kind, change.row, change.before, change.after) == (ChangeKind.WORDS, "t", "2,31", "2,40")
    assert grid(tables(taken(PROOF, [change]))[0])[1] == ["North pier", "2,40"]

    def one_row(file):
        cells = file.tables[0].add_row().cells
        cells[0].text, cells[1].text = "Ferry slip", "1,98"

    (change,) = changes_after(one_row, pictures)
    assert change.kind is ChangeKind.TABLE
    after = [table for table in tables(taken(PROOF, [change])) if not table.excluded]
    assert [grid(table)[-1] for table in after] == [["Ferry slip", "1,98"]]


def test_what_was_changed_here_since_is_said_and_left_where_nothing_was_changed_elsewhere(pictures):
    blocks = [
        replace(block, content=(Text("The last row of our log."),)) if block.id == "last" else block
        for block in PROOF.blocks
        if block.id != "signs"
    ]
    proof = replace(PROOF, blocks=tuple(blocks))

    def edit(file):
        row(file, "The last row").runs[0].text = "The very last row of the log."

    (change,) = changes_after(edit, pictures, proof=proof)
    assert (change.row, change.also_here) == ("last", True)
    assert rows_of(taken(proof, [change]))[-1] == "The very last row of the log."


def test_many_changes_are_taken_over_as_one_step(pictures):
    blocks = tuple(text(f"r{n}", f"Reading {n} of the gauge at the pier was fair.") for n in range(60))
    proof = Document(styles=DOCUMENT.styles, blocks=blocks)

    def edit(file):
        for n, paragraph in enumerate(file.paragraphs):
            if n % 3 == 0:
                paragraph.runs[0].text = paragraph.text.replace("fair", "foul")
            elif n % 10 == 1:
                paragraph._p.getparent().remove(paragraph._p)

    changes = changes_after(edit, pictures, proof=proof, before=proof)
    assert {change.kind for change in changes} == {ChangeKind.WORDS, ChangeKind.REMOVED}
    rows = rows_of(taken(proof, changes))
    assert sum("foul" in said for said in rows) == 20
    assert len(rows) == 60 - 4


@pytest.mark.parametrize("wanted", [ChangeKind.DESCRIPTION])
def test_what_a_picture_shows_is_taken_over(pictures, wanted):
    def edit(file):
        file.inline_shapes[0]._inline.docPr.set("descr", "A sheet of the tide")

    (change,) = changes_after(edit, pictures)
    assert (change.kind, change.after) == (wanted, "A sheet of the tide")
    assert next(block for block in taken(PROOF, [change]).blocks if block.id == "i").alt == "A sheet of the tide"


def test_that_text_goes_around_a_picture_is_taken_over(pictures):
    def edit(file):
        frame = OxmlElement("w:framePr")
        frame.set(qn("w:wrap"), "around")
        frame.set(qn("w:xAlign"), "right")
        file.inline_shapes[0]._inline.getparent().getparent().getparent().get_or_add_pPr().insert(0, frame)

    changes = changes_after(edit, pictures)
    assert ("text above and below", "text around") in [(change.before, change.after) for change in changes]
    assert next(block for block in taken(PROOF, changes).blocks if block.id == "i").around
