"""Letters put together with accents of their own, marks across the text, typefaces that claim too much weight, notes of all sorts."""

from __future__ import annotations

import numpy as np
import pytest

from evenquill.core.evidence import Line, PageEvidence, Type, Word
from evenquill.core.layout.note_features import NOTE_FEATURES, NotesBefore, calls_of, note_features, note_mark
from evenquill.core.layout.notes import find_notes
from evenquill.core.model import Box, Family, Marks, NoteRef, RemarkKind, Role
from evenquill.core.queries import find_queries
from evenquill.core.reading.native.accents import with_accents
from evenquill.core.reading.native.across import parted_by_crossing
from evenquill.core.rebuild.prepared import prepared
from tests.conftest import text_blocks, texts

TEXT = (
    "The float was found hard against the guide wire, and the trace for the two days is lost. The well was pumped dry, the "
    "orifice cleared of weed and the float hung again on a new wire before the evening tide came in over the sill."
)


def boxes(*spans: tuple[float, float], lift: float = 0.0) -> np.ndarray:
    return np.array([(x0, 10.0 - lift * n, x1, 20.0 - lift * n) for n, (x0, x1) in enumerate(spans)])


@pytest.mark.parametrize(
    ("characters", "spans", "read"),
    [
        (["´", "e", "t"], [(0.5, 4.5), (0, 5), (5, 8)], "ét"),
        (["C", "¸", "a"], [(0, 7), (1.5, 5.5), (7, 12)], "Ça"),
        (["¨", "ı"], [(0, 4), (0.5, 3.5)], "ï"),
        (["ă", "t", ",", "i"], [(0, 5), (5, 9), (5.8, 8), (9, 12)], "ăți"),
        (["t", ",", "i"], [(0, 4), (4, 6), (6, 9)], "t,i"),
        (["a", "`", "b"], [(0, 5), (5, 8), (8, 13)], "a`b"),  # a quotation mark between two letters
        (["¨", "q"], [(0, 5), (0, 5)], "¨q"),  # no such letter
    ],
)
def test_an_accent_over_a_letter_is_part_of_it(characters, spans, read):
    found, gone = with_accents(characters, boxes(*spans))
    assert "".join(text for n, text in enumerate(found) if n not in gone) == read


def test_an_accent_of_a_capital_is_raised_and_stands_elsewhere_in_the_file():
    places = np.array([(0.0, 10.0, 7.0, 20.0), (7.0, 10.0, 12.0, 20.0), (1.5, 7.5, 5.5, 17.5)])
    found, gone = with_accents(["U", "b", "¨"], places)
    assert (found[0], gone) == ("Ü", [2])


def row(text: str, x: float, y: float, size: float = 10.0, raised: str = "") -> Line:
    words, at = [], x
    for word in text.split(" "):
        bare, mark = (
            (word[: -len(raised)], raised) if raised and word.endswith(raised) and word != raised else (word, "")
        )
        words.append(Word(bare, at, at + len(bare) * size / 2, 0))
        at = words[-1].x1
        if mark:
            words.append(Word(mark, at, at + size / 4, 0, int(Marks.SUPER), True))
            at += size / 4
        at += size / 4
    return Line(Box(x, y - 0.8 * size, words[-1].x1, y + 0.2 * size), y, size, tuple(words))


def test_what_is_printed_large_across_lines_is_no_line():
    lines = [row("The float was found hard against the guide wire again", 50, 100 + 12 * n) for n in range(20)]
    mark = row("Sample", 60, 240, size=90)
    kept, across = parted_by_crossing([*lines[:9], mark, *lines[9:]])
    assert across == (mark,)
    assert kept == tuple(lines)
    title = row("Gauges", 60, 80, size=40)
    assert parted_by_crossing([title, *lines])[1] == ()


def test_a_mark_across_the_text_is_set_aside_and_said(typeset, read, rebuilt):
    source = "\n\n".join([TEXT] * 9)
    path = typeset(f"#set page(background: text(90pt, fill: luma(225))[Draft])\n{source}")
    (page,) = read(path)
    assert [line.text for line in page.hidden] == ["Draft"]
    assert [remark.kind for remark in page.remarks] == [RemarkKind.ACROSS]
    document = rebuilt(path)
    assert [block.text for block in text_blocks(document) if not block.excluded] == [TEXT] * 9
    assert "across" in {query.kind for query in find_queries(document)}


def test_a_large_oblique_word_is_a_mark_though_it_crosses_nothing(typeset, read, rebuilt):
    path = typeset(f"#place(center + horizon, rotate(-35deg, text(60pt, fill: luma(200))[Draft]))\n= Gauges\n{TEXT}")
    (page,) = read(path)
    assert [line.text for line in page.hidden] == ["Draft"]
    assert [block.text for block in text_blocks(rebuilt(path)) if not block.excluded] == ["Gauges", TEXT]


def test_small_oblique_words_stay(typeset, read):
    (page,) = read(typeset(f"{TEXT}\n\n#v(2cm) #rotate(-40deg)[Pier]"))
    assert "Pier" in {line.text for line in page.lines}
    assert page.hidden == ()


def looks(*types: Type, lines: list[Line]) -> list[PageEvidence]:
    return [PageEvidence(1, 420, 595, types=types, lines=tuple(lines))]


def test_a_text_that_only_its_stems_call_bold_is_not():
    heavy = Type("Garamond", Family.SERIF, 10, bold=True, face="ABCDEF+Garamond")
    named = Type("Garamond", Family.SERIF, 10, bold=True, face="ABCDEF+Garamond-Bold")
    lines = [row("The float was found hard", 50, 100 + 12 * n) for n in range(5)]
    lines[0] = replace_type(lines[0], 1)
    assert weights_of(looks(heavy, named, lines=lines)) == [False, True]
    assert weights_of(looks(replace_look(heavy, bold=False), heavy, lines=lines)) == [False, True]


def weights_of(pages: list[PageEvidence]) -> list[bool]:
    ((page,), _) = prepared(pages)
    return [look.bold for look in page.types]


def replace_type(line: Line, place: int) -> Line:
    return line._replace(words=tuple(word._replace(type=place) for word in line.words))


def replace_look(look: Type, **changes: bool) -> Type:
    return look._replace(**changes)


def foot_page(*notes: Line) -> list[Line]:
    lines = [row("The float was found hard against the guide wire again.", 50, 100 + 12 * n) for n in range(20)]
    lines[4] = row("The float was found hard against the guide wire*", 50, 148)
    lines[9] = row("The float was found hard against the guide wire†", 50, 208)
    return [*lines, *notes]


def test_notes_called_by_signs_are_found_and_matched():
    notes = [
        row("*The wire was renewed in May.", 50, 500, 8),
        row("†Levels are those of the staff at the slip,", 50, 510, 8),
        row("which was moved in the spring.", 50, 520, 8),
    ]
    area = find_notes(foot_page(*notes), 10.0)
    assert [(mark, len(lines)) for mark, lines in area.notes] == [("*", 1), ("†", 2)]


def test_the_asterisk_of_formulas_calls_notes_too():
    text = [
        row("The float was found hard against the guide∗", 50, 100),
        row("wire on the second of the month.", 50, 112),
    ]
    (note,) = find_notes([*text, row("∗ Not for the first time.", 50, 600, size=8)], 10.0).notes
    assert note[0] == "∗"


def test_a_line_with_a_sign_that_nothing_calls_in_the_middle_is_none():
    lines = foot_page()
    lines[12] = row("*The wire was renewed in May again and again.", 50, 244)
    assert find_notes(lines, 10.0).notes == ()


def test_what_calls_notes_is_raised_a_sign_or_a_word():
    called = list(calls_of(row("The gauge wire12 stood, in 7 cases,", 50, 100, raised="12")))
    assert [(call.mark, call.weight) for call in called] == [("12", 3), ("7", 1)]
    assert [call.mark for call in calls_of(row("The wire† broke", 50, 100))] == ["†"]
    assert note_mark(row("*The wire", 50, 100)) == "*"
    assert note_mark(row("The wire", 50, 100)) == ""


def test_each_line_has_all_its_measures():
    lines = foot_page(row("*The wire was renewed in May.", 50, 500, 8))
    (rows,) = note_features([lines], 10.0, NotesBefore(), (), frozenset())
    assert {len(measures) for measures in rows} == {len(NOTE_FEATURES)}


@pytest.mark.parametrize("numbering", ['"1"', '"*"'])
@pytest.mark.parametrize("rule", ["", "#set footnote.entry(separator: none)\n"])
def test_footnotes_are_notes_tied_to_their_marks(typeset, rebuilt, numbering, rule):
    notes = "#footnote[The wire was renewed in May.]", "#footnote[Levels are those of the staff.]"
    source = f"#set footnote(numbering: {numbering})\n{rule}{TEXT}{notes[0]}\n\n{TEXT}{notes[1]}\n\n{TEXT}"
    document = rebuilt(typeset(source))
    assert texts(document, Role.NOTE) == ["The wire was renewed in May.", "Levels are those of the staff."]
    called = [item for block in text_blocks(document) for item in block.content if isinstance(item, NoteRef)]
    assert len(called) == 2


def test_a_note_that_goes_on_at_the_foot_of_the_next_page_is_one(typeset, rebuilt):
    long = " ".join([TEXT] * 4)
    source = f"#set page(height: 110mm)\n{TEXT}#footnote[{long}]\n\n{TEXT}\n\n{TEXT}\n\n{TEXT}\n\n{TEXT}"
    document = rebuilt(typeset(source))
    assert len(document.pages) > 1
    (note,) = texts(document, Role.NOTE)
    assert note == long
