"""Columns with next to no gutter between them."""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.evidence import Line, PageEvidence, Type, Word
from evenquill.core.layout.narrow_gutters import with_narrow_gutters
from evenquill.core.model import Box, Family
from tests.conftest import texts

PLAIN = Type("Serif", Family.SERIF, 10.0)

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


def row(y: float, *words: tuple[str, float], size: float = 10.0) -> Line:
    """A line of words at places, with letters half an em wide; those of larger type are of another look."""
    placed = tuple(Word(text, x, x + len(text) * size / 2, int(size > 10)) for text, x in words)
    return Line(Box(placed[0].x0, y - 0.8 * size, placed[-1].x1, y + 0.2 * size), y, size, placed)


def test_a_line_goes_on_no_further_than_where_another_column_begins():
    left = [row(100 + 12 * n, ("gauges and their keepers", 50)) for n in range(6)]
    right = [row(100 + 12 * n, ("the books of the year", 182)) for n in range(12)]
    heading = row(172, ("Programmes", 50), ("of", 111), ("parties", 126), size=12.0)
    joined = heading._replace(words=(*heading.words, Word("the", 182, 197, 0), Word("books", 200, 225, 0)))
    types = (PLAIN, PLAIN._replace(bold=True))
    page = PageEvidence(1, 400, 600, types=types, lines=(*left, *right[:6], joined, *right[7:], *left_below()))
    (cut,) = with_narrow_gutters([page])
    assert [line.text for line in cut.lines if line.baseline == 172] == ["Programmes of parties", "the books"]
    alone = replace(page, lines=(*left, joined))
    assert with_narrow_gutters([alone]) == [alone]


def left_below() -> list[Line]:
    return [row(190 + 12 * n, ("gauges and their keepers", 50)) for n in range(4)]


def test_marks_that_hang_into_the_gutter_do_not_hide_it(typeset, rebuilt):
    items = [f"+ {2 * SENTENCE}" for _ in range(8)]
    columns = "\n#colbreak()\n".join(f"#set enum(start: {start})\n" + "\n".join(items[:4]) for start in (1, 5))
    source = f'#set enum(numbering: "i.", number-align: end)\n#columns(2, gutter: 14pt)[{columns}]'
    assert texts(rebuilt(typeset(source, paper="a4"))) == [(2 * SENTENCE).strip()] * 8
