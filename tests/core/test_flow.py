"""Flow on small real pages: code, contents lists, notes, running heads, columns, headings over two lines; and nothing is ever lost."""

from __future__ import annotations

import io
import zipfile
from collections import Counter

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from evenquill.core.evidence import Line, PageEvidence, Type, Word
from evenquill.core.layout import find_furniture
from evenquill.core.model import BlockLink, Box, Family, Marks, NumberFormat, Role, TableBlock
from evenquill.core.model.inline import plain
from evenquill.core.model.numerals import roman_value, written
from evenquill.core.rebuild import rebuild
from evenquill.core.rebuild.running import running_parts
from evenquill.core.source import SourceFacts
from evenquill.core.writers.docx import write_docx
from tests.conftest import block_with, text_blocks, texts

PROSE = (
    "The float was found hard against the guide wire, and the trace for the two days is lost. The well was pumped dry, the "
    "orifice cleared of weed and the float hung again on a new wire. Levels before and after are given in the book."
)

CODE = """height = reading - 0.021
if reading < 0.15:
    note("dry")

return height"""


def test_code_keeps_its_lines_and_its_indentation(typeset, rebuilt):
    document = rebuilt(typeset(f"{PROSE}\n\n```\n{CODE}\n```\n\n{PROSE}"))
    assert texts(document, Role.CODE) == [CODE]
    assert texts(document, Role.PARAGRAPH) == [PROSE, PROSE]


QUANTILES = """     quantile ci.2.5 ci.97.5        se
0.25      595    561     627 15.386145
0.5       684    664     698  7.926196
0.75      737    722     759  8.625566"""

LEVELS = """gauge    level   time
pier      2.31   6:31
quay      2.29   6:40
lock      1.98   7:02
ferry     2.01   7:15"""


@pytest.mark.parametrize("code", [LEVELS, QUANTILES])
def test_code_in_columns_is_no_table_and_stays_row_by_row(typeset, rebuilt, code):
    document = rebuilt(typeset(f"{PROSE}\n\n```\n{code}\n```\n\n{PROSE}"))
    assert texts(document, Role.CODE) == [code]
    assert len(document.blocks) == 3


@pytest.mark.parametrize("size", [6, 9])
def test_lines_of_code_keep_their_numbers_and_an_empty_one_parts_none(typeset, rebuilt, size):
    """Set smaller than the code, or as large in the text's face."""
    numbers = f'#show raw.line: it => [#text(font: "Libertinus Serif", size: {size}pt)[#it.number] #h(6pt) #it.body]'
    document = rebuilt(typeset(f"{numbers}\n{PROSE}\n\n```\n{CODE}\n```\n\n{PROSE}"))
    (code,) = texts(document, Role.CODE)
    lines = code.split("\n")
    assert [line.split(maxsplit=1) for line in lines] == [
        [str(n), *([line.strip()] if line else [])] for n, line in enumerate(CODE.split("\n"), 1)
    ]
    assert lines[2].index("note") > lines[1].index("if")
    assert texts(document, Role.PARAGRAPH) == [PROSE, PROSE]


def test_a_name_in_a_fixed_width_that_ends_a_sentence_is_no_code(typeset, rebuilt):
    source = f"#set page(width: 300pt)\n#set par(justify: true)\n{PROSE} Since then the keeper has looked after it with `levels`."
    assert texts(rebuilt(typeset(source)), Role.CODE) == []


CONTENTS = """#set heading(numbering: "1.1")
#outline(title: [Contents])
#pagebreak()
= State of the gauges
{prose}
== The gauge on the North Pier, with its hut, its float and the clock that was cleaned in the spring of the year
{prose}
= What they cost
{prose}"""


def test_a_contents_list_is_entries_that_lead_to_their_headings(typeset, rebuilt):
    document = rebuilt(typeset(CONTENTS.format(prose=PROSE)))
    entries = [block for block in text_blocks(document) if block.role is Role.CONTENTS]
    assert [(entry.text, entry.level) for entry in entries] == [
        ("1 State of the gauges\t2", 1),
        (
            "1.1 The gauge on the North Pier, with its hut, its float and the clock that was cleaned in the spring of the year\t2",
            2,
        ),
        ("2 What they cost\t2", 1),
    ]
    with zipfile.ZipFile(io.BytesIO(write_docx(document, lambda _: b""))) as package:
        xml = package.read("word/document.xml").decode()
    assert 'TOC \\o "1-2"' in xml
    for heading in (block for block in text_blocks(document) if block.role is Role.HEADING and block.text[0].isdigit()):
        assert f'w:anchor="block_{heading.id}"' in xml
        assert f'w:name="block_{heading.id}"' in xml


def test_a_price_list_with_leaders_is_no_contents_list(typeset, rebuilt):
    prices = " \\ ".join(
        f"{name} #box(width: 1fr, repeat[.]) {price}"
        for name, price in (("Wire", 40), ("Float", 7), ("Clock", 21), ("Ink", 3))
    )
    assert texts(rebuilt(typeset(prices)), Role.CONTENTS) == []


def test_a_heading_over_two_lines_is_one_with_its_second_line_under_its_text(typeset, rebuilt):
    title = "The gauge on the North Pier with all that was found in its hut and in its well"
    source = f'#set page(width: 320pt)\n#set heading(numbering: "1.1")\n= Start\n{PROSE}\n== {title}\n{PROSE}'
    assert f"1.1 {title}" in texts(rebuilt(typeset(source)), Role.HEADING)


def test_a_chapter_label_goes_before_its_title(typeset, rebuilt):
    source = f"#text(16pt, weight: 700)[Chapter 2]\n\n#text(20pt, weight: 700)[The five gauges]\n\n{PROSE}"
    assert texts(rebuilt(typeset(source)), Role.HEADING) == ["Chapter 2\nThe five gauges"]


def test_addresses_broken_at_a_line_end_are_whole(typeset, rebuilt):
    address = "https://tides.example/records/north-pier/1974/september/spring-set/index"
    source = f"#set page(width: 260pt)\nAll heights are kept at {address} and may be had from the office at any time."
    assert address in texts(rebuilt(typeset(source)))[0]


def test_columns_come_out_as_columns_and_what_stands_across_does_not(typeset, rebuilt):
    column = " ".join(f"Sentence {n} tells of the pier and of the slip." for n in range(14))
    beside = f"#columns(2)[#set par(justify: true)\n{column}\n#colbreak()\n{column}]"
    document = rebuilt(typeset(f"= News of the harbour\n{PROSE}\n\n{beside}", paper="a4"))
    columns = {section.id: section.columns for section in document.sections}
    assert {columns[block.section] for block in text_blocks(document) if "Sentence" in block.text} == {2}
    assert columns[block_with(document, "News").section] == 1
    assert columns[block_with(document, "float").section] == 1


@pytest.mark.parametrize(
    ("text", "value"), [("iv", 4), ("XLII", 42), ("mix", 1009), ("iiii", 0), ("Iv", 0), ("", 0), ("gauge", 0)]
)
def test_roman_numbers(text, value):
    assert roman_value(text) == value


@given(st.integers(1, 199))
def test_roman_numbers_are_written_as_they_are_read(value):
    assert roman_value(written(value, NumberFormat.LOWER_ROMAN)) == value
    assert roman_value(written(value, NumberFormat.UPPER_ROMAN)) == value


WORDS = st.text(st.sampled_from("abcdefghijklmnoprstuvwxyzABCDE0123456789.,:;()•–*†"), min_size=1, max_size=9)
TYPES = (
    Type("Serif", Family.SERIF, 10.0),
    Type("Serif", Family.SERIF, 8.0),
    Type("Serif", Family.SERIF, 16.0, bold=True),
    Type("Mono", Family.MONO, 9.0),
)


@st.composite
def lines(draw) -> Line:
    """A line of words anywhere on a page, in one of the types, some words raised."""
    number = draw(st.sampled_from((0, 0, 0, 0, 1, 2, 3)))
    size = TYPES[number].size
    x = draw(st.sampled_from((50.0, 50.0, 62.0, 90.0, 230.0)))
    y = draw(st.integers(2, 46)) * 12.0
    made, at = [], x
    for text in draw(st.lists(WORDS, min_size=1, max_size=7)):
        raised = len(text) < 3 and at > x and draw(st.booleans())
        made.append(Word(text, at, at + len(text) * size / 2, number, int(Marks.SUPER) if raised else 0))
        at += len(text) * size / 2 + draw(st.sampled_from((size / 4, size / 4, size * 3)))
    return Line(Box(x, y - 0.8 * size, made[-1].x1, y + 0.2 * size), y, size, tuple(made))


@st.composite
def evidence(draw) -> list[PageEvidence]:
    pages = []
    for number in range(1, draw(st.integers(1, 3)) + 1):
        own = draw(st.lists(lines(), max_size=14, unique_by=lambda line: (line.baseline, line.box.x0)))
        pages.append(PageEvidence(number, 420.0, 595.0, types=TYPES, lines=tuple(own)))
    return pages


@given(evidence())
@settings(max_examples=250, deadline=None, suppress_health_check=[HealthCheck.too_slow])
def test_no_character_is_ever_lost_or_doubled(pages):
    document = rebuild(pages, SourceFacts(pages=len(pages)))
    # Headers that a table repeats on its next page are there once.
    assume(not any(isinstance(block, TableBlock) and len(block.spots) > 1 for block in document.blocks))
    furniture = find_furniture(pages)
    read: Counter[str] = Counter()
    for page in pages:
        for n, line in enumerate(page.lines):
            if n not in furniture.lines.get(page.number, ()):
                read.update(c for word in line.words for c in word.text if c not in JOINING)
    blocks = list(document.texts)
    kept = Counter(c for block in blocks for c in block.readable if c not in JOINING and not c.isspace())
    assert not kept - read
    marked = [block for block in blocks if block.role in (Role.LIST_ITEM, Role.NOTE)]
    # The marks of items and notes are their numbering.
    assert (read - kept).total() <= LONGEST_MARK * len(marked)


JOINING = ".…·-"
"""Leaders become tabs, hyphens at line ends join."""

LONGEST_MARK = 8


@given(evidence())
@settings(max_examples=100, deadline=None, suppress_health_check=[HealthCheck.too_slow])
def test_what_runs_at_head_and_foot_is_said_for_each_page(pages):
    furniture = find_furniture(pages)
    running = running_parts(furniture.pages, rebuild(pages, SourceFacts(pages=len(pages))).pages, {})
    parts = {part.id: part for part in running.parts}
    for page in furniture.pages:
        begun = [parts[start.part] for start in running.starts if start.page <= page.page]
        part = begun[-1] if begun else None
        for side, rows in (("header", page.head), ("footer", page.foot)):
            if rows:
                pairs = [pair for pair in (part.usual, part.even, part.first) if pair]
                said = [plain(getattr(pair, side).content).split() for pair in pairs if getattr(pair, side)]
                assert " ".join(piece.text for row in rows for piece in row).split() in said


def test_pages_of_other_sizes_and_without_text_are_laid_out():
    plain = PageEvidence(1, 420.0, 595.0, types=TYPES, lines=())
    wide = replace(plain, number=2, width=900.0, height=300.0)
    document = rebuild([plain, wide], SourceFacts(pages=2))
    assert document.blocks == ()
    assert [page.width for page in document.pages] == [420.0, 900.0]


def test_a_note_that_runs_over_the_page_is_one_note(typeset, rebuilt):
    long = (
        " ".join(f"Point {n} of the note is that the gauge was read by night and day," for n in range(1, 46))
        + " and that is all."
    )
    weeks = [f"{week} went by in its turn. {PROSE}" for week in map(number_in_words, range(1, 21))]
    noted = " The last word is noted." + f"#footnote[{long}]"
    source = "#set par(justify: true)\n" + "\n\n".join([*weeks[:4], weeks[4] + noted, *weeks[5:]])
    document = rebuilt(typeset(source))
    notes = [block for block in text_blocks(document) if block.role is Role.NOTE]
    assert [note.text for note in notes] == [long]
    assert len({spot.page for spot in notes[0].spots}) > 1
    text = " ".join(block.text for block in text_blocks(document) if block.role is Role.PARAGRAPH)
    assert all(week in text for week in weeks)


def number_in_words(n: int) -> str:
    """Something that no two paragraphs have in common."""
    return " ".join("abcdefghijklmnopqrst"[(n + k) % 20] * 3 for k in range(4)).capitalize()


def test_small_print_at_a_foot_does_not_carry_on_a_note_that_is_at_its_end(typeset, rebuilt):
    small = "#place(bottom)[#text(size: 8pt)[kept by the office of the keeper]]"
    source = f"{PROSE}#footnote[It was read at noon.]\n#pagebreak()\n{PROSE}\n{small}"
    document = rebuilt(typeset(source))
    assert texts(document, Role.NOTE) == ["It was read at noon."]
    assert any("kept by the office" in block.text for block in text_blocks(document))


REFERRING = """#set par(justify: true)
Heights are given in Table 2, and the float is drawn in Figure 1; there is no Table 7. {prose}

#figure(rect(width: 60pt, height: 30pt, fill: navy, stroke: none, radius: 6pt), caption: [The float of the gauge])

#figure([Depths in metres at noon.], kind: table, supplement: [Table], caption: [Depths])

#figure([Heights in metres at noon.], kind: table, supplement: [Table], caption: [Heights])

{prose}"""


def test_names_of_captioned_things_lead_to_their_captions(typeset, rebuilt):
    document = rebuilt(typeset(REFERRING.format(prose=PROSE)))
    captions = {block.text.split(":")[0]: block.id for block in text_blocks(document) if block.role is Role.CAPTION}
    assert set(captions) == {"Figure 1", "Table 1", "Table 2"}
    first = text_blocks(document)[0]
    assert [(run.text, run.link) for run in first.content if run.link] == [
        ("Table 2", BlockLink(captions["Table 2"])),
        ("Figure 1", BlockLink(captions["Figure 1"])),
    ]
    text_alone = replace(document, blocks=tuple(text_blocks(document)))
    with zipfile.ZipFile(io.BytesIO(write_docx(text_alone, lambda _: b""))) as docx:
        xml = docx.read("word/document.xml").decode()
    assert f'w:anchor="block_{captions["Table 2"]}"' in xml
    assert f'w:name="block_{captions["Table 2"]}"' in xml
    # A caption that is set aside is not led to.
    aside = tuple(replace(one, excluded=one.id == captions["Table 2"]) for one in text_alone.blocks)
    with zipfile.ZipFile(io.BytesIO(write_docx(replace(text_alone, blocks=aside), lambda _: b""))) as docx:
        assert f"block_{captions['Table 2']}" not in docx.read("word/document.xml").decode()
