"""Small faults found and swept out, kind by kind."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.edits import Sweep, apply, undo
from evenquill.core.errors import EditError
from evenquill.core.model import Document, Role
from evenquill.core.sweep import SweepKind, faults
from tests.core.blocks import block, table


def swept(kind: SweepKind, *texts: str, language: str = "en") -> list[str]:
    document = Document(language=language, blocks=tuple(block(f"b{n}", text) for n, text in enumerate(texts)))
    try:
        edit = apply(document, Sweep((kind,)))
    except EditError:
        return list(texts)
    assert undo(edit.document, edit.inverse) == document
    assert [one for one, _ in faults(edit.document, frozenset({kind}))] == []
    return [one.text for one in edit.document.blocks]


@pytest.mark.parametrize(
    ("kind", "before", "after"),
    [
        (SweepKind.SPACES, "two  spaces   here", "two spaces here"),
        (SweepKind.ENDS, " at both ends ", "at both ends"),
        (SweepKind.BEFORE_SIGNS, "wet , cold ; dark .", "wet, cold; dark."),
        (SweepKind.BEFORE_SIGNS, "a .5 m pipe, see :ref and …", "a .5 m pipe, see :ref and …"),
        (SweepKind.TABS, "\tindented\tby a tab\t", "indented\tby a tab"),
        (SweepKind.BREAKS, "\nlines\nwithin\n", "lines\nwithin"),
        (SweepKind.WORDS, "The the keeper went went home", "The keeper went home"),
        (SweepKind.WORDS, "he said that that was it; ha-ha ha", "he said that that was it; ha-ha ha"),
    ],
)
def test_a_kind_of_fault_is_put_right_and_what_is_none_is_left(kind, before, after):
    assert swept(kind, before) == [after]


def test_signs_have_spaces_before_them_where_the_language_says_so():
    assert swept(SweepKind.BEFORE_SIGNS, "Quoi ? Oui , ici .", language="fr") == ["Quoi ? Oui, ici."]


def test_straight_quotes_become_those_of_the_language_where_most_are_curly():
    curly = "“One” “two” “three” and the keeper’s"
    assert swept(SweepKind.QUOTES, curly, 'He said "no" and wasn\'t it 5" wide') == [
        curly,
        'He said “no” and wasn’t it 5" wide',
    ]
    assert swept(SweepKind.QUOTES, "„Eins“ „zwei“", 'Er sagte "nein".', language="de")[1] == "Er sagte „nein“."
    assert swept(SweepKind.QUOTES, 'All are "straight" here') == ['All are "straight" here']


def test_dashes_are_made_as_most_of_them_are():
    texts = ("one – two – three", "four - five", "six — seven", "2 - 3 and well-known")
    assert swept(SweepKind.DASHES, *texts) == [
        "one – two – three",
        "four – five",
        "six – seven",
        "2 - 3 and well-known",
    ]


def test_empty_rows_are_set_aside_and_code_is_left_alone():
    code = replace(block("c", "if  x :"), role=Role.CODE)
    document = Document(blocks=(block("a", "One  two"), block("e", " "), code, table("t", [["", "x  y"]])))
    edit = apply(document, Sweep((SweepKind.EMPTY_ROWS, SweepKind.SPACES)))
    assert [one.excluded for one in edit.document.blocks] == [False, True, False, False]
    assert edit.document.blocks[0].text == "One two"
    assert edit.document.blocks[2] is code
    assert [cell.text for cell in edit.document.blocks[3].cells] == ["", "x y"]
    assert undo(edit.document, edit.inverse) == document
    with pytest.raises(EditError, match="nothing to sweep"):
        apply(edit.document, Sweep((SweepKind.EMPTY_ROWS, SweepKind.SPACES)))
