"""What a paragraph is, judged against the document's own text: quotations, headings, items, marks of notes."""

from __future__ import annotations

import pytest

from evenquill.core.model import NoteRef, Role, Text
from evenquill.core.model.inline import OBJECT
from evenquill.core.reading.native.characters import UNREAD, _unusual
from tests.conftest import text_blocks, texts

TEXT = "The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote. "


def test_text_that_stands_in_like_all_text_is_no_quotation(typeset, rebuilt):
    letter = f"""#place(top + left, dx: -12mm)[Office of the harbour]
#place(top + right, dx: 12mm)[3 May 1974]
#v(14mm)
Dear Mira Sollen,

{2 * TEXT}

{3 * TEXT}

{2 * TEXT}

Yours sincerely,

Tove Arden"""
    document = rebuilt(typeset(f"#set page(margin: 24mm)\n{letter}"))
    assert texts(document, Role.QUOTE) == []
    assert texts(document, Role.HEADING) == []


def test_a_paragraph_that_stands_in_further_than_the_text_is_one(typeset, rebuilt):
    source = f"#set par(justify: true)\n{3 * TEXT}\n\n#pad(x: 12mm)[{3 * TEXT}]\n\n{3 * TEXT}"
    assert len(texts(rebuilt(typeset(source)), Role.QUOTE)) == 1


def test_a_list_of_one_item_is_a_list_where_others_are_set_alike(typeset, rebuilt):
    minutes = "\n\n".join(
        f"== {name}\n#pad(left: 8mm, enum({items}))"
        for name, items in (
            ("Announcements", "[The dean of the harbour is coming today.], [The dean has gone again.]"),
            ("Old business", "[The minutes of the last meeting were approved.]"),
            ("New business", "[We will read the gauges in the spring.], [We will paint the hut.], [We will rest.]"),
        )
    )
    items = texts(rebuilt(typeset(f"= Minutes\n{TEXT}\n\n{minutes}")), Role.LIST_ITEM)
    assert "The minutes of the last meeting were approved." in items
    assert len(items) == 6


def test_items_keep_their_depth_where_a_list_goes_on_in_the_next_column(typeset, rebuilt):
    answers = "\n  + ".join(("The first one of them", "The second one", "Neither of them"))
    questions = "\n".join(
        f'+ Which gauge was read at tide number {n}?\n  #set enum(numbering: "A.")\n  + {answers}' for n in range(1, 13)
    )
    document = rebuilt(typeset(f"#set page(columns: 2)\n{questions}"))
    items = [block for block in text_blocks(document) if block.role is Role.LIST_ITEM]
    assert {item.level for item in items if item.text.startswith("Which")} == {0}
    assert {item.level for item in items if not item.text.startswith("Which")} == {1}


def test_a_raised_mark_with_a_stop_calls_its_note_and_the_number_of_a_heading_does_not(typeset, rebuilt):
    source = f"""#set page(height: 120mm)
= 1 Gauges
{2 * TEXT} It was kept#super[2.]

= 2 Clocks
{TEXT}
#place(bottom + left)[#line(length: 30mm, stroke: 0.4pt) #text(8pt)[#super[2] It is kept in the hut of the North Pier to this day.]]"""
    document = rebuilt(typeset(source))
    assert "2 Clocks" in texts(document, Role.HEADING)
    (note,) = [block for block in text_blocks(document) if block.role is Role.NOTE]
    calls = [
        block
        for block in text_blocks(document)
        if any(isinstance(one, NoteRef) and one.note == note.id for one in block.content)
    ]
    assert [call.text[:10] for call in calls] == ["The keeper"]


@pytest.mark.parametrize(
    ("said", "called_behind"),
    [
        ("It was kept.°", "It was kept."),
        ("It was kept.'", "It was kept."),
        ("He said: “Keep it.”", "hut."),
        ("It was kept.° So was that.°", "hut."),
    ],
)
def test_a_mark_that_was_misread_calls_the_note_where_it_is_the_only_such_sign(typeset, rebuilt, said, called_behind):
    source = f"""#set page(height: 120mm)
{TEXT} {said} {TEXT} So is the log of the hut.
#place(bottom + left)[#line(length: 30mm, stroke: 0.4pt) #text(8pt)[#super[1] In the hut of the North Pier to this day.]]"""
    document = rebuilt(typeset(source))
    (note,) = [block for block in text_blocks(document) if block.role is Role.NOTE]
    (call,) = [block for block in text_blocks(document) if any(isinstance(one, NoteRef) for one in block.content)]
    assert call.text.partition(OBJECT)[0].endswith(called_behind)
    assert note.text.startswith("1" if called_behind == "hut." else "In the hut")


def test_codes_of_windows_latin_page_are_its_signs_and_no_controls():
    assert [_unusual(code, 0) for code in (0x93, 0x94, 0x96, 0x85)] == ["“", "”", "–", "…"]
    assert [_unusual(code, 0) for code in (0x81, 0x7F, 0x05)] == [UNREAD] * 3


def test_words_in_a_typeface_of_fixed_width_keep_it_among_others_and_code_has_it_from_its_style(typeset, rebuilt):
    code = "```\nfloat --free 3\nfloat --log\n```"
    source = (
        f"{TEXT}\n\nThe keeper types `float --free` and waits; then he types `float --log` too.\n\n{code}\n\n{TEXT}"
    )
    document = rebuilt(typeset(source))
    row = next(block for block in text_blocks(document) if block.text.startswith("The keeper types"))
    fixed = [run.text for run in row.content if isinstance(run, Text) and run.lettering.font]
    assert fixed == ["float --free", "float --log"]
    assert {run.lettering.font for run in row.content if isinstance(run, Text)} == {"", "DejaVu Sans Mono"}
    others = [run for block in text_blocks(document) if block is not row for run in block.content]
    assert not any(isinstance(run, Text) and run.lettering.font for run in others)
