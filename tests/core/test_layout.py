"""Layout by itself: rows, columns, running heads and notes from lines that are made by hand."""

from __future__ import annotations

import itertools

import pytest
from msgspec.structs import replace

from evenquill.core.evidence import Line, LinkArea, PageEvidence, PictureKind, PlacedPicture, Rule, Type, Word
from evenquill.core.layout.columns import Item, columns_by, in_columns
from evenquill.core.layout.flow import flow_lines
from evenquill.core.layout.furniture import find_furniture
from evenquill.core.layout.gutters import Gutter
from evenquill.core.layout.notes import find_notes
from evenquill.core.layout.page import lay_out_page
from evenquill.core.layout.page_numbers import PAGE_NUMBER
from evenquill.core.layout.running import HeadAndFoot, RunningText, running_stretches
from evenquill.core.model import Box, Family, Marks, NumberFormat, UrlLink

PLAIN = Type("Serif", Family.SERIF, 10.0)
WIDTH, HEIGHT = 420.0, 595.0
EM = 10.0


def line(text: str, x: float, y: float, size: float = 10.0, marks: dict[str, int] | None = None) -> Line:
    """A line whose letters are half an em wide, with its baseline at ``y``."""
    words = []
    at = x
    for word in text.split(" "):
        width = len(word) * size / 2
        words.append(Word(word, at, at + width, 0, (marks or {}).get(word, 0)))
        at += width + size / 4
    return Line(Box(x, y - 0.8 * size, words[-1].x1, y + 0.2 * size), y, size, tuple(words))


def page(*lines: Line, number: int = 1, **more) -> PageEvidence:
    return PageEvidence(number, WIDTH, HEIGHT, types=(PLAIN,), lines=lines, **more)


def texts(lines) -> list[str]:
    return [one.text for one in lines]


def prose(x: float, top: float, count: int, name: str) -> list[Line]:
    """Lines of a column, all but the last as long as one another."""
    return [line(f"{name} line {n:02} of thirty characters", x, top + 12 * n) for n in range(count)]


def test_pieces_on_a_baseline_are_one_row_with_a_tab_for_a_wide_gap():
    rows = flow_lines(page(), [line("Value", 200, 100), line("Label:", 50, 100), line("Below", 50, 112)])
    assert texts(rows) == ["Label:\tValue", "Below"]
    assert rows[0].tabbed
    assert not rows[1].tabbed


def test_a_number_in_front_is_parted_by_a_space():
    (row,) = flow_lines(page(), [line("2.1", 50, 100), line("North pier", 50 + 15 + 1.5 * EM, 100)])
    assert row.text == "2.1 North pier"


def test_gaps_of_stretched_prose_are_spaces_and_those_of_figures_are_tabs():
    (row,) = flow_lines(page(), [line("half-year.", 50, 100), line("This half-year", 115, 100)])
    assert row.text == "half-year. This half-year"
    (row,) = flow_lines(page(), [line("28.98", 50, 100), line("1.41", 90, 100), line("163.4", 125, 100)])
    assert row.text == "28.98\t1.41\t163.4"


def test_leader_dots_become_a_tab_that_has_them():
    (row,) = flow_lines(page(), [line("Results . . . . . .", 50, 100), line("7", 300, 100)])
    assert row.text == "Results\t7"
    assert row.words[-1].leader


def test_three_dots_are_an_ellipsis_and_stay():
    (row,) = flow_lines(page(), [line("And so ...", 50, 100)])
    assert row.text == "And so ..."


def test_links_come_with_their_address():
    linked = line("Ask here", 50, 100)
    linked = linked._replace(words=(linked.words[0], linked.words[1]._replace(link=0)))
    (row,) = flow_lines(page(links=(LinkArea(Box(0, 0, 1, 1), UrlLink("https://a.example")),)), [linked])
    assert [word.link for word in row.words] == [None, UrlLink("https://a.example")]


def items(*lines: Line) -> list[Item]:
    return [Item(one.box, one) for one in lines]


def test_two_columns_of_prose_are_two():
    left, right = prose(40, 60, 8, "left"), prose(230, 66, 8, "right")
    columns = in_columns(items(*right, *left), ())
    assert [len(column.items) for column in columns] == [8, 8]
    assert {item.content.text.split()[0] for item in columns[0].items} == {"left"}


def test_words_set_far_apart_in_narrow_columns_are_no_columns_of_their_own():
    left, right = [], prose(230, 66, 12, "right")
    for n in range(12):
        if n % 3:
            left.append(line(f"left column of a text {n}", 40, 60 + 12 * n))
        else:  # justified: its words stand apart, and are read as pieces of a row
            left += [line("left", 40, 60 + 12 * n), line("column", 92, 60 + 12 * n), line("further", 150, 60 + 12 * n)]
    columns = in_columns(items(*right, *left), ())
    assert [len(column.items) for column in columns] == [len(left), 12]


def test_the_last_lines_of_two_columns_are_known_by_those_of_other_pages():
    left, right = prose(40, 60, 2, "left"), [line("and the right one", 240, 60), line("ends here too.", 230, 72)]
    assert [len(column.items) for column in in_columns(items(*left, *right), (), known=(230.0,))] == [2, 2]


def test_marks_of_items_far_from_their_text_are_no_column_whatever_the_judge_says():
    left, right = prose(40, 60, 9, "left"), prose(270, 60, 9, "right")
    marks = [line(f"{mark})", 230, 60 + 36 * n) for n, mark in enumerate("abc")]
    bands = columns_by(items(*left, *marks, *right), lambda gutters, own: [1.0] * len(gutters))
    assert [len(band.items) for band in bands] == [9, 3 + 9]


def test_what_stands_across_columns_parts_them():
    head = line("A heading that reaches across both of the columns", 40, 40)
    middle = line("Another one that reaches across both of the columns", 40, 172)
    blocks = [prose(40, 60, 8, "a"), prose(230, 60, 8, "b"), prose(40, 192, 8, "c"), prose(230, 192, 8, "d")]
    columns = in_columns(items(head, middle, *[one for block in blocks for one in block]), ())
    order = [column.items[0].content.text.split()[0] for column in columns]
    assert order == ["A", "a", "b", "Another", "c", "d"]


def test_a_heading_at_the_left_below_columns_begins_what_goes_across_below_it():
    def order(top: float) -> list[str]:
        left, right = prose(40, 60, 4, "a"), prose(230, 60, 4, "b")
        heading, across = (
            line("Heading", 40, top, size=12),
            line("Text that goes across below both of the columns", 40, 140),
        )
        bands = columns_by(items(*left, heading, *right, across), lambda gutters, own: [1.0] * len(gutters))
        return [
            item.content.text.split()[0] for band in bands for item in sorted(band.items, key=lambda item: item.box.y0)
        ]

    assert order(124) == [*"aaaabbbb", "Heading", "Text"]
    assert order(109) == [*"aaaa", "Heading", *"bbbb", "Text"]  # nearer to its column


@pytest.mark.parametrize("kind", [PictureKind.WATERMARK, PictureKind.RASTER])
def test_what_came_over_the_text_parts_no_columns_and_a_picture_does(kind):
    left, right = prose(40, 60, 12, "left"), prose(230, 60, 12, "right")
    over = Item(Box(170, 95, 280, 165), PlacedPicture(Box(170, 95, 280, 165), "0" * 64, "image/png", kind))
    columns = in_columns([*items(*left, *right), over], ())
    whole = [len([item for item in column.items if item is not over]) for column in columns] == [12, 12]
    assert whole == (kind is PictureKind.WATERMARK)
    assert sum(over in column.items for column in columns) == 1


def test_dirt_between_columns_parts_them_no_less():
    left, right = prose(40, 60, 12, "left"), prose(230, 60, 12, "right")
    dirt = line("•", 222, 120)
    columns = in_columns(items(*left, dirt, *right), ())
    assert [len(column.items) for column in columns] == [13, 12]


def test_a_leader_stands_across_columns_as_any_line_does():
    rows = [line(f"Fatal {n}", 40, 60 + 14 * n) for n in range(3)]
    leaders = [line("." * 43, 90, 60 + 14 * n) for n in range(3)]
    values = [line("33.67", 370, 60 + 14 * n) for n in range(3)]
    left, right = prose(40, 110, 30, "left"), prose(230, 110, 30, "right")
    gutters: list[Gutter] = []
    columns_by(
        items(*rows, *leaders, *values, *left, *right), lambda found, own: gutters.extend(found) or [0.0] * len(found)
    )
    assert [gutter.top for gutter in gutters if gutter.right == 230 and gutter.lines == 30] == [
        pytest.approx(102, abs=12)
    ]


def test_three_columns_are_three():
    narrow = [
        [line(f"{name} words of a narrow column", x, 60 + 12 * n) for n in range(9)]
        for name, x in (("a", 10), ("b", 180), ("c", 350))
    ]
    columns = in_columns(items(*[one for column in narrow for one in column]), ())
    assert [column.items[0].content.text[0] for column in columns] == ["a", "b", "c"]


def test_a_table_is_no_columns():
    cells = [line(f"{n}.{k}", 40 + 90 * k, 60 + 12 * n) for n in range(10) for k in range(4)]
    assert len(in_columns(items(*cells), ())) == 1


@pytest.mark.parametrize("pieces", [(40, 400), (40, 226, 400), (40, 120, 227, 310, 400)])
def test_rules_across_the_gutter_make_it_a_table(pieces):
    left, right = prose(40, 60, 8, "left"), prose(230, 60, 8, "right")
    rules = tuple(
        Rule(Box(x0, 60 + 24 * n, x1, 60.5 + 24 * n)) for n in range(1, 4) for x0, x1 in itertools.pairwise(pieces)
    )
    assert len(in_columns(items(*left, *right), rules)) == 1


def test_rules_that_end_at_the_gutter_make_it_no_table():
    left, right = prose(40, 60, 8, "left"), prose(230, 60, 8, "right")
    rules = tuple(
        Rule(Box(x0, 60 + 24 * n, x1, 60.5 + 24 * n)) for n in range(1, 4) for x0, x1 in ((40, 214), (230, 400))
    )
    assert len(in_columns(items(*left, *right), rules)) == 2


def test_an_empty_page_has_no_columns():
    assert in_columns([], ()) == []


def body(number: int) -> list[Line]:
    """Text that differs from page to page, so that only what is around it repeats."""
    return [line(f"Page body {'abcdefgh'[number]} row {'pqrstuvw'[n]} says this", 50, 90 + 12 * n) for n in range(8)]


def book(heads, feet, pages: int = 4) -> list[PageEvidence]:
    return [
        page(
            *([line(heads(n), 50, 40)] if heads(n) else []),
            *body(n),
            *([line(feet(n), 200, 560)] if feet(n) else []),
            number=n + 1,
        )
        for n in range(pages)
    ]


def stretches(pages: list[PageEvidence]):
    return running_stretches(find_furniture(pages).pages)


def said(text: RunningText | None) -> str:
    return "" if text is None else "\n".join("\t".join(piece.text for piece in row) for row in text.rows)


def test_heads_and_feet_are_found_and_numbers_counted_from_what_is_printed():
    pages = book(lambda n: "Harbour Board", lambda n: f"Page {n + 11}")
    found = find_furniture(pages)
    assert all(len(lines) == 2 for lines in found.lines.values())
    (whole,) = running_stretches(found.pages)
    assert said(whole.usual.head) == "Harbour Board"
    assert said(whole.usual.foot) == f"Page {PAGE_NUMBER}"
    assert whole.start == 11


def test_a_first_page_without_them_is_plain():
    pages = book(lambda n: "Harbour Board" if n else "", lambda n: f"{n}" if n else "")
    (whole,) = stretches(pages)
    assert whole.first == HeadAndFoot()
    assert whole.start == 0
    assert 1 not in find_furniture(pages).lines


def test_heads_that_change_with_the_chapter_are_parts():
    pages = book(lambda n: f"Chapter {'ABC'[n // 3]}", lambda n: str(n + 1), pages=8)
    found = stretches(pages)
    assert [(part.page, said(part.usual.head)) for part in found] == [
        (1, "Chapter A"),
        (4, "Chapter B"),
        (7, "Chapter C"),
    ]
    assert all(said(part.usual.foot) == PAGE_NUMBER and part.start is None for part in found)


def test_odd_and_even_heads_are_told_apart():
    pages = book(lambda n: "The board" if n % 2 else "Its gauges", lambda n: "", pages=6)
    (whole,) = stretches(pages)
    assert said(whole.usual.head) == "Its gauges"
    assert whole.even is not None
    assert said(whole.even.head) == "The board"


def test_roman_numbers_before_decimal_ones_are_a_part_of_their_own():
    pages = book(lambda n: "", lambda n: ("i", "ii", "iii", "1", "2", "3")[n], pages=6)
    found = stretches(pages)
    assert [(part.page, part.format, part.start) for part in found] == [
        (1, NumberFormat.LOWER_ROMAN, None),
        (4, NumberFormat.DECIMAL, 1),
    ]


def test_a_head_that_names_the_section_is_found_by_its_place_and_the_section():
    pages = book(lambda n: f"Of the {('harbour', 'harbour', 'staircase', 'harbour')[n]}", lambda n: "")
    title = line("Of the staircase", 50, 200, size=14)
    pages[2] = replace(pages[2], lines=(*pages[2].lines, title))
    assert set(find_furniture(pages).lines) == {1, 2, 3, 4}


def test_a_line_on_one_page_only_is_text():
    found = find_furniture(book(lambda n: "Once only" if n == 2 else "", lambda n: ""))
    assert found.lines == {}
    assert running_stretches(found.pages) == []


def test_what_stands_apart_at_the_edges_of_a_single_page_runs():
    (alone,) = book(lambda n: "Harbour Board", lambda n: "1", pages=1)
    assert find_furniture([alone]).lines[1] == {0, len(alone.lines) - 1}


def test_pages_that_say_nothing_else_keep_what_they_say():
    pages = [page(line(f"Page number {n}", 50, 60), number=n) for n in range(1, 9)]
    assert find_furniture(pages).lines == {}


def test_repeated_lines_far_from_the_edges_are_text():
    pages = [page(*body(n), line("The same words", 50, 300), number=n + 1) for n in range(4)]
    assert find_furniture(pages).lines == {}


def note_page() -> list[Line]:
    text = line("given up long ago.1 and more", 50, 100, marks={})
    mark = text.words[2]._replace(text="1", marks=int(Marks.SUPER), glued=True)
    text = text._replace(words=(*text.words[:2], mark, *text.words[3:]))
    return [text, *body(0)[2:6]]


def test_a_note_is_found_by_its_mark_and_takes_its_lines():
    note = line("1 It stood at the coal", 60, 540, size=8)
    more = line("berth.", 50, 550, size=8)
    area = find_notes([*note_page(), note, more], 10.0)
    assert [(mark, texts(lines)) for mark, lines in area.notes] == [("1", ["1 It stood at the coal", "berth."])]


def test_a_word_in_the_margin_does_not_set_notes_in():
    rule = Rule(Box(150, 525, 250, 525.5))
    text = [one._replace(box=one.box._replace(x0=one.box.x0 + 100)) for one in note_page()]
    text = [
        one._replace(words=tuple(word._replace(x0=word.x0 + 100, x1=word.x1 + 100) for word in one.words))
        for one in text
    ]
    more = [line(f"and the text of the page goes on {n}", 150, 150 + 12 * n) for n in range(14)]
    notes = [line("1 It stood at the coal", 160, 540, size=8), line("berth, as was said.", 150, 550, size=8)]
    margin = line("tides", 50, 174)
    area = find_notes(sorted([*text, *more, margin, *notes], key=lambda one: one.baseline), 10.0, rules=(rule,))
    assert [(mark, len(lines)) for mark, lines in area.notes] == [("1", 2)]


def test_small_print_below_a_rule_is_a_note_though_its_mark_was_not_read():
    rule = Rule(Box(50, 525, 150, 525.5))
    first = line("'It stood at the coal berth, where nobody looked after it for years.", 50, 540, size=8)
    area = find_notes([*note_page(), first, line("as was said then.", 50, 550, size=8)], 10.0, rules=(rule,))
    assert [(mark, len(lines)) for mark, lines in area.notes] == [("", 2)]


@pytest.mark.parametrize(
    "foot",
    [
        line("2 Nobody refers to this", 60, 540, size=8),  # no mark in the text
        line("Small print only", 60, 540, size=8),  # no mark of its own
    ],
)
def test_what_is_not_a_note_stays_text(foot):
    assert find_notes([*note_page(), foot], 10.0).notes == ()


def test_a_page_is_laid_out_with_pictures_in_their_place():
    picture = PlacedPicture(Box(50, 200, 300, 300), "0" * 64, "image/png", PictureKind.RASTER)
    above, below = line("Above it", 50, 190), line("Below it", 50, 320)
    evidence = page(below, above, pictures=(picture,))
    layout = lay_out_page(evidence, find_furniture([evidence]), 10.0)
    (column,) = layout.columns
    assert [getattr(item, "text", "picture") for item in column.items] == ["Above it", "picture", "Below it"]
    assert layout.text_box == Box(50, above.box.y0, 300, below.box.y1)


def test_a_drop_cap_goes_with_the_first_line_and_its_neighbours_are_not_indented():
    cap = line("L", 50, 130, size=36)
    first = line("ong before there was a board", 80, 108)
    second = line("the height was a quarrel and", 80, 120)
    third = line("nobody could say whose it was", 50, 144)
    evidence = page(cap, first, second, third)
    layout = lay_out_page(evidence, find_furniture([evidence]), 10.0)
    rows = layout.columns[0].items
    assert texts(rows) == [
        "Long before there was a board",
        "the height was a quarrel and",
        "nobody could say whose it was",
    ]
    assert [row.x0 for row in rows] == [50, 50, 50]


def test_turned_text_comes_after_the_upright_and_is_not_lost():
    turned = Line(Box(390, 100, 400, 300), 398, 10, (Word("Margin", -300, -270, 0), Word("note", -265, -245, 0)), 90)
    evidence = page(*body(0), turned)
    layout = lay_out_page(evidence, find_furniture([evidence]), 10.0)
    assert texts(layout.columns[-1].items) == ["Margin note"]
