"""Text found and replaced in all of a document."""

from __future__ import annotations

import time

import pytest
from msgspec.structs import replace

from evenquill.core.edits import FoundPlace, ReplaceText, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.find import Search, hits
from evenquill.core.model import Document, Equation, Marks, ParagraphStyle, Role, Text, TextBlock
from evenquill.core.model.equation import Identifier
from evenquill.core.model.sections import Running, RunningPair, RunningPart
from tests.core.blocks import block, table


@pytest.fixture
def document() -> Document:
    return Document(
        styles=(ParagraphStyle("Body text"), ParagraphStyle("Remark")),
        blocks=(
            block("a", "The float of the North Pier"),
            replace(block("b", "floats, the keeper’s own"), style="Remark"),
            table("t", [["Float", "2.31"], ["pier\u00a0no. 2", "0.87"]]),
            block("n", "a note on floating", role=Role.NOTE),
            replace(block("x", "float"), excluded=True),
        ),
        running=(
            RunningPart(
                "p", RunningPair(header=Running((Text("North Pier"),), "Header")), even=RunningPair(footer=None)
            ),
        ),
    )


def found(document: Document, search: Search) -> list[tuple[str, str]]:
    return [(hit.place, hit.text) for hit in hits(document, search)]


def test_text_is_found_in_rows_cells_notes_and_running_heads_but_not_in_what_is_set_aside(document):
    assert found(document, Search("float")) == [("a", "float"), ("b", "float"), ("t.0.0", "Float"), ("n", "float")]
    assert found(document, Search("pier")) == [("a", "Pier"), ("t.1.0", "pier"), ("running/p/usual/header", "Pier")]
    assert found(document, Search("float", case=True, whole_words=True)) == [("a", "float")]
    hit = next(hits(document, Search("North P")))
    assert (hit.row, hit.start, hit.before, hit.behind) == (0, 17, "The float of the ", "ier")


def test_signs_that_are_typed_find_those_that_are_printed(document):
    assert found(document, Search("keeper's")) == [("b", "keeper’s")]
    assert found(document, Search("pier no")) == [("t.1.0", "pier\u00a0no")]
    assert found(document, Search(".31")) == [("t.0.1", ".31")]
    assert found(document, Search("North.", pattern=True)) == [("a", "North "), ("running/p/usual/header", "North ")]


def test_a_hit_knows_where_it_stands_on_the_page(document):
    (hit,) = hits(document, Search("the North"))
    words = {word.start: word.box for word in document.blocks[0].words}
    assert hit.page == 1
    assert (hit.box.x0, hit.box.x1) == (words[13].x0, words[17].x1)


def test_styles_and_marks_are_found_with_a_text_and_without(document):
    assert found(document, Search("float", style="Remark")) == [("b", "float")]
    assert found(document, Search(style="Remark")) == [("b", "floats, the keeper’s own")]
    bold = TextBlock("m", content=(Text("one "), Text("two", Marks.BOLD), Text(" two"), Text("!", Marks.BOLD)))
    document = replace(document, blocks=(bold,), running=())
    assert found(document, Search("two", marks=Marks.BOLD)) == [("m", "two")]
    assert found(document, Search(marks=Marks.BOLD)) == [("m", "two"), ("m", "!")]


def test_all_is_replaced_as_one_step_and_keeps_its_look(document):
    marked = replace(
        document.blocks[0], content=(Text("The "), Text("float", Marks.ITALIC), Text(" of the North Pier"))
    )
    document = replace(document, blocks=(marked, *document.blocks[1:]))
    edit = apply(document, ReplaceText(Search("float"), "buoy"))
    after = edit.document
    assert after.blocks[0].content == (Text("The "), Text("buoy", Marks.ITALIC), Text(" of the North Pier"))
    assert [block.text for block in after.blocks if isinstance(block, TextBlock)][1:] == [
        "buoys, the keeper’s own",
        "a note on buoying",
        "float",
    ]
    assert after.blocks[2].cells[0].text == "buoy"
    assert after.blocks[2].cells[1] is document.blocks[2].cells[1]
    assert undo(after, edit.inverse) == document
    words = {word.start: word.end for word in after.blocks[1].words}
    assert words[0] == 6


def test_several_in_one_row_and_running_heads_are_replaced_and_put_back(document):
    edit = apply(document, ReplaceText(Search("e"), "EE"))
    assert edit.document.blocks[0].text == "ThEE float of thEE North PiEEr"
    assert edit.document.running[0].usual.header.content == (Text("North PiEEr"),)
    assert undo(edit.document, edit.inverse) == document


def test_some_are_replaced_and_only_where_they_still_are(document):
    edit = apply(document, ReplaceText(Search("float"), "buoy", (FoundPlace("n", 10), FoundPlace("a", 4))))
    assert found(edit.document, Search("buoy")) == [("a", "buoy"), ("n", "buoy")]
    with pytest.raises(EditError, match="no longer there"):
        apply(document, ReplaceText(Search("float"), "buoy", (FoundPlace("n", 10), FoundPlace("a", 5))))
    with pytest.raises(EditError, match="what text"):
        apply(document, ReplaceText(Search(style="Remark"), ""))
    for nothing in (ReplaceText(Search("zebra"), "x"), ReplaceText(Search("float", case=True), "float")):
        with pytest.raises(EditError, match="nothing to replace"):
            apply(document, nothing)


def test_patterns_take_their_groups_along(document):
    numbers = ReplaceText(Search(r"(\d)\.(\d\d)", pattern=True), r"\1,\2 m")
    after = apply(document, numbers).document
    assert [cell.text for cell in after.blocks[2].cells] == ["Float", "2,31 m", "pier\u00a0no. 2", "0,87 m"]
    for wrong, becomes in ((r"(\d", ""), ("*", ""), (r"(\d)", r"\7")):
        with pytest.raises(EditError, match="not understood"):
            apply(document, ReplaceText(Search(wrong, pattern=True), becomes))
    assert found(document, Search("x*", pattern=True)) == []
    with pytest.raises(EditError, match="Say what"):
        list(hits(document, Search()))
    with pytest.raises(EditError, match="At most"):
        list(hits(document, Search("a" * 501)))


def test_a_pattern_that_would_take_for_ever_is_given_up():
    document = Document(blocks=(block("a", "a" * 40 + "!"),))
    start = time.monotonic()
    with pytest.raises(EditError, match="too long"):
        list(hits(document, Search(r"(a|aa)+$|(a+)+$", pattern=True)))
    assert time.monotonic() - start < 20


def test_a_pattern_that_would_take_all_memory_is_refused(document):
    with pytest.raises(EditError, match="repeats too much"):
        list(hits(document, Search("(?:(?:(?:a?){500}){500}){500}", pattern=True)))
    assert found(document, Search(r"\d\.\d{2,4}", pattern=True)) == [("t.0.1", "2.31"), ("t.1.1", "0.87")]


def test_equations_are_never_replaced_by_text():
    content = (Text("Let "), Equation(Identifier("n")), Text(" be"))
    document = Document(blocks=(TextBlock("a", content=content),))
    assert found(document, Search(r"Let.*", pattern=True)) == []
    assert found(document, Search(r"\w+", pattern=True)) == [("a", "Let"), ("a", "be")]
    after = apply(document, ReplaceText(Search("Let"), "With")).document
    assert after.blocks[0].content[1:] == content[1:]
