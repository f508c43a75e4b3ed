"""Numbers before items that the recogniser misread."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.evidence import Cleaned, Line, PageEvidence, PageKind, Type, Word
from evenquill.core.model import Box, Family
from evenquill.core.rebuild.misread_marks import with_marks_put_right

TEXT = Type("Liberation Serif", Family.SERIF, 10.0)
CLEANED = Cleaned("picture", "image/jpeg", 0, 0.0, False, False, True, False, 0, 595.0, (1.0,) * 9)


def page_of(marks: list[str], *, gap: float = 15.0) -> PageEvidence:
    lines = []
    for n, mark in enumerate(marks):
        y = 100.0 + 14 * n
        words = (Word(mark, 70, 80, 0, confidence=0.9), Word("float", 80 + gap, 120, 0))
        lines.append(Line(Box(70, y - 9, 120, y + 3), y, 10.0, words))
    return PageEvidence(1, 595, 842, PageKind.SCANNED, (TEXT,), tuple(lines), cleaned=CLEANED)


def marks_in(page: PageEvidence) -> list[str]:
    return [line.words[0].text for line in page.lines]


@pytest.mark.parametrize(
    ("read", "right"),
    [
        (["i.", "ii.", "iu.", "iv."], ["i.", "ii.", "iii.", "iv."]),
        (["i,", "ii.", "iii.", "iv,"], ["i.", "ii.", "iii.", "iv."]),
        (["1.", "2.", "s.", "4."], ["1.", "2.", "3.", "4."]),
        (["(a)", "(b)", "(¢)", "(d)"], ["(a)", "(b)", "(c)", "(d)"]),
        (["A.", "B.", "©", "D."], ["A.", "B.", "C.", "D."]),
        (["D.", "E.", "E"], ["D.", "E.", "F."]),
        (["G.", "H.", "I"], ["G.", "H.", "I."]),
        (["I.", "Il.", "HI."], ["I.", "II.", "III."]),
        (["D.", "•", "F."], ["D.", "E.", "F."]),
        (["2.", "3.", "•", "•"], ["2.", "3.", "•", "•"]),
        (["iii.", "iv.", "i", "ii."], ["iii.", "iv.", "i.", "ii."]),
        (
            ["i.", "i.", "fi.", "li.", "i.", "fi.", "ili.", "iv."],
            ["i.", "i.", "ii.", "iii.", "i.", "ii.", "iii.", "iv."],
        ),
        (["•", "i", "ii,", "ii,"], ["•", "i.", "ii.", "iii."]),
        (["L", "2.", "3.", "4,"], ["1.", "2.", "3.", "4."]),
        (["(i)", "(ii)", "@)", "(ii)"], ["(i)", "(ii)", "(i)", "(ii)"]),
        (["1.", "2.", "The", "a)"], ["1.", "2.", "The", "a)"]),
        (["10", "15", "12", "18"], ["10", "15", "12", "18"]),
        (["The", "of", "a", "to"], ["The", "of", "a", "to"]),
    ],
)
def test_numbers_that_those_around_tell_are_put_right(read, right):
    (page,) = with_marks_put_right([page_of(read)])
    assert marks_in(page) == right
    for line, text in zip(page.lines, read, strict=True):
        first = line.words[0]
        assert [other.text for other in first.others] == ([text] if first.text != text else [])
        assert (first.confidence < 0.7) == (first.text != text)


def test_what_was_not_scanned_and_what_has_no_paper_behind_it_stays():
    read = ["i.", "ii.", "iu.", "iv."]
    native = replace(page_of(read), cleaned=None)
    assert with_marks_put_right([native, page_of(read, gap=3.0)]) == [native, page_of(read, gap=3.0)]


@pytest.mark.parametrize(
    ("read", "right"),
    [
        (["1,", "2.", "3."], ["1.", "2.", "3."]),
        (["The", "1,", "and", "2.", "3."], ["The", "1.", "and", "2.", "3."]),
        (["i", "ii", "iu", "in"], ["i", "ii", "iu", "in"]),
    ],
)
def test_numbers_with_a_sign_need_no_more_than_a_space_behind_them(read, right):
    (page,) = with_marks_put_right([page_of(read, gap=6.0)])
    assert marks_in(page) == right
