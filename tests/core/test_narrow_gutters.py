"""Columns with next to no gutter between them."""

from __future__ import annotations

from evenquill.core.layout.narrow_gutters import with_narrow_gutters
from tests.conftest import texts

SENTENCE = "The keeper wrote down what the gauge had shown at each tide, and the office kept what he wrote. "
OTHER = "Each spring a boat brought wire, paper and oil to the light, and took the books of the year with it. "


def columns(gutter: str, left: str, right: str) -> str:
    return f"""#set par(justify: true)
    #set text(overhang: false)
    #grid(columns: (1fr, 1fr), column-gutter: {gutter}, [{left}], [{right}])"""


def test_text_in_two_columns_is_read_down_each_though_the_gutter_is_little_wider_than_a_space(typeset, rebuilt):
    found = texts(rebuilt(typeset(columns("9pt", 4 * SENTENCE, 4 * OTHER), paper="a4")))
    assert found == [(4 * SENTENCE).strip(), (4 * OTHER).strip()]


def test_wide_spaces_at_no_one_place_part_no_line(typeset, read):
    narrow = f"#set par(justify: true)\n#set text(hyphenate: false)\n#block(width: 40mm)[{8 * SENTENCE}]"
    pages = read(typeset(narrow))
    assert with_narrow_gutters(pages) == pages


def test_marks_of_a_list_are_not_parted_from_its_items(typeset, read):
    items = "\n".join(f"+ {SENTENCE}" for _ in range(6))
    pages = read(typeset(f"#set enum(body-indent: 8pt)\n{items}"))
    assert with_narrow_gutters(pages) == pages


LONG = "Wasserstandsbeobachtungsstationen"


def paragraph_with(word: str, times: int, at: int) -> str:
    words = (times * SENTENCE).split()
    return " ".join([*words[:at], word, *words[at:]])


def test_a_word_too_long_for_its_column_does_not_join_the_columns(typeset, rebuilt):
    left, right = paragraph_with(LONG, 6, 25), (6 * OTHER).strip()
    source = f"""#set text(hyphenate: false)
    #grid(columns: (46mm, 46mm), column-gutter: 14pt, [{left}], [{right}])"""
    assert texts(rebuilt(typeset(source))) == [left, right]


def test_a_heading_close_to_the_next_column_is_no_line_of_both(typeset, rebuilt):
    heading = "#text(14pt, weight: 700)[#box(width: 47mm)[The state of the gauges]]"
    left = f"{(2 * SENTENCE).strip()}\n\n{heading}\n\n{(2 * OTHER).strip()}"
    right = (6 * OTHER).strip()
    source = f"#set text(hyphenate: false)\n#grid(columns: (46mm, 48mm), column-gutter: 13pt, [{left}], [{right}])"
    found = texts(rebuilt(typeset(source)))
    assert found == [(2 * SENTENCE).strip(), "The state of the gauges", (2 * OTHER).strip(), right]


def test_marks_that_hang_into_the_gutter_do_not_hide_it(typeset, rebuilt):
    items = "\n".join(f"+ {SENTENCE}" for _ in range(9))
    source = f'#set enum(numbering: "i.", number-align: end)\n#columns(2, gutter: 16pt)[{items}]'
    found = rebuilt(typeset(source, paper="a4"))
    assert texts(found) == [SENTENCE.strip()] * 9
