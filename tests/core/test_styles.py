"""The set of styles, list levels and heading levels, from drafts made by hand."""

from __future__ import annotations

from collections import Counter

import numpy as np
import pytest

from evenquill.core.evidence import Type
from evenquill.core.layout.flow import FlowLine, FlowWord
from evenquill.core.model import Align, Box, Family, NumberFormat, Role
from evenquill.core.model.labels import is_caption
from evenquill.core.rebuild.drafts import Draft, set_text
from evenquill.core.rebuild.facts import Facts
from evenquill.core.rebuild.headings import find_headings
from evenquill.core.rebuild.levels import ranks_of
from evenquill.core.rebuild.lists import find_lists
from evenquill.core.rebuild.marks import list_mark
from evenquill.core.rebuild.styles import make_styles
from evenquill.core.source import OutlineEntry

TEXT = Type("Serif", Family.SERIF, 11.0)
BOLD = TEXT._replace(bold=True)
LARGE = BOLD._replace(size=16.0)
SMALL = TEXT._replace(size=9.0)
FACTS = Facts(TEXT, {11.0: 13.0}, Counter(), None, "en")


def line(text: str, look: Type = TEXT, x: float = 50.0, y: float = 100.0, page: int = 1) -> FlowLine:
    words = []
    at = x
    for n, word in enumerate(text.split(" ")):
        width = len(word) * look.size / 2
        words.append(FlowWord(word, " " if n else "", look, 0, None, Box(at, y - 8, at + width, y + 3)))
        at += width + look.size / 3
    return FlowLine(page, Box(x, y - 8, words[-1].box.x1, y + 3), x, words[-1].box.x1, y, look.size, tuple(words))


def draft(*lines: FlowLine, gap: float = 0.0, align: Align = Align.LEFT, likely_role: str = "text") -> Draft:
    made = Draft(list(lines), 50.0, 500.0, gap, align=align, likely_role=likely_role)
    mark = list_mark(lines[0])
    if mark:
        made.marker, made.mark_x, made.text_x = mark.text, lines[0].x0, mark.text_x
    return made


def finished(drafts: list[Draft], outline: tuple[OutlineEntry, ...] = ()) -> list[Draft]:
    find_lists(drafts)
    for one in drafts:
        set_text(one, FACTS)
    find_headings(drafts, TEXT.size, outline)
    return drafts


def heading(text: str, look: Type) -> Draft:
    return draft(line(text, look), likely_role="heading")


def two_lines(name: str, first: float = 50.0, rest: float = 50.0, **more) -> Draft:
    return draft(line(f"{name} begins here", x=first), line("and goes on to its end", x=rest, y=113), **more)


def test_paragraphs_of_one_look_share_a_style_and_its_usual_spacing():
    drafts = [two_lines("one", gap=6), two_lines("two", gap=6.5), two_lines("three", gap=30)]
    (style,) = make_styles(finished(drafts), FACTS)
    assert (style.name, style.size, style.before, style.leading) == ("Body text", 11, 6.5, 13)


def test_the_style_of_most_words_is_body_text_and_comes_first():
    drafts = [two_lines("small", gap=0) for _ in range(6)]
    for one in drafts[:2]:
        one.lines = [each._replace(words=tuple(w._replace(type=SMALL) for w in each.words)) for each in one.lines]
    names = [style.id for style in make_styles(finished(drafts), FACTS)]
    assert names == ["Body text", "Small text"]


@pytest.mark.parametrize(
    ("first", "rest", "name"),
    [(66, 50, "first line indented"), (80, 80, "set in"), (50, 70, "hanging")],
)
def test_indents_are_in_the_style_and_its_name(first, rest, name):
    plain = [two_lines(f"plain {n} and more words here") for n in range(4)]
    other = [two_lines(f"other {n}", first, rest) for n in range(3)]
    styles = make_styles(finished([*plain, *other]), FACTS)
    assert len(styles) == 2
    assert name in styles[1].name
    assert styles[1].left == pytest.approx(rest - 50, abs=0.5)
    assert styles[1].first == pytest.approx(first - rest, abs=0.5)


def test_headings_of_a_level_share_one_style():
    drafts = [heading("North pier", LARGE), two_lines("text"), heading("Ferry slip", LARGE), two_lines("more")]
    styles = make_styles(finished(drafts), FACTS)
    (found,) = [style for style in styles if style.outline]
    assert (found.name, found.bold, found.size, found.keep_next) == ("Heading 1", True, 16, True)


def test_two_sizes_of_headings_are_two_levels_and_bold_text_size_is_a_third():
    drafts = []
    for size in (20.0, 14.0, 11.0, 14.0, 11.0):
        drafts += [heading("Some title", BOLD._replace(size=size)), two_lines("text")]
    found = [one.level for one in finished(drafts) if one.role is Role.HEADING]
    assert found == [1, 2, 3, 2, 3]


def test_looks_are_one_level_only_if_each_two_of_them_are():
    odds = np.full((3, 3, 3), 1 / 3)  # below, same, above
    for one, other, own in ((0, 1, (0.3, 0.4, 0.3)), (1, 2, (0.1, 0.7, 0.2)), (0, 2, (0.0, 0.2, 0.8))):
        odds[one, other], odds[other, one] = own, own[::-1]
    assert ranks_of(odds) == [1, 1, 2]


def test_titles_in_the_outline_are_headings_whatever_they_look_like():
    outline = (OutlineEntry(2, "1.2  Quiet Title", 1),)
    drafts = finished([draft(line("Quiet title")), two_lines("text")], outline)
    assert (drafts[0].role, drafts[0].level) == (Role.HEADING, 2)


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("Figure 3. The hut", True),
        ("Table 12: Heights", True),
        ("Abb. 4 – Der Pegel", True),
        ("Taulukko 2. Korkeudet", True),
        ("Figure skating is no caption", False),
        ("Table of contents", False),
    ],
)
def test_captions_are_known_by_their_number(text, expected):
    assert is_caption(text) is expected


def item(text: str, x: float = 60.0, y: float = 100.0, page: int = 1) -> Draft:
    return draft(line(text, x=x, y=y, page=page), likely_role="item")


def levels(drafts: list[Draft]) -> list[tuple[int, str]]:
    return [(one.level, one.text) for one in finished(drafts) if one.role is Role.LIST_ITEM]


def test_depth_is_where_the_mark_stands():
    drafts = [item("• a"), item("– b", 80), item("– c", 80), item("▪ d", 100), item("• e")]
    assert levels(drafts) == [(0, "a"), (1, "b"), (1, "c"), (2, "d"), (0, "e")]


def test_a_list_goes_on_after_one_paragraph_and_begins_anew_after_two():
    drafts = finished(
        [item("1. a"), two_lines("between"), item("2. b"), two_lines("x"), two_lines("y"), item("1. c"), item("2. d")]
    )
    starts = [one.numbering.start for one in drafts if one.numbering]
    assert starts == [1, None, 1, None]


def test_letters_and_roman_numbers_are_told_by_what_follows():
    roman = finished([item("i) a"), item("ii) b"), item("iii) c")])
    assert {one.numbering.format for one in roman} == {NumberFormat.LOWER_ROMAN}
    letters = finished([item("g) x"), item("h) a"), item("i) b"), item("j) c")])
    assert letters[2].numbering is None or letters[2].numbering.format is NumberFormat.LOWER_LETTER


def test_a_list_over_a_page_end_keeps_its_depth_though_its_marks_stand_elsewhere():
    drafts = [item("• a"), item("– b", 80), item("• c", 40, page=2), item("– d", 60, page=2)]
    assert levels(drafts) == [(0, "a"), (1, "b"), (0, "c"), (1, "d")]


def test_letters_without_a_sign_are_marks_only_in_their_order():
    def items(*marks: str) -> list[Role]:
        drafts = [draft(line(f"{mark} select the node", x=50.0), likely_role="item") for mark in marks]
        for one, mark in zip(drafts, marks, strict=True):
            one.marker, one.mark_x, one.text_x = mark, 50.0, 80.0
        return [one.role for one in finished(drafts)]

    assert items("a", "b", "c") == [Role.LIST_ITEM] * 3
    assert items("n", "p", "u", "t") == [Role.PARAGRAPH] * 4  # keys
    assert items("14") == [Role.PARAGRAPH]
    assert items("1", "2") == [Role.LIST_ITEM] * 2


def test_bullets_of_strange_fonts_become_ours_and_dashes_stay():
    sign = line("x the key", x=60)
    sign = sign._replace(
        words=(
            sign.words[0]._replace(type=TEXT._replace(font="Signs", symbol=True)),
            sign.words[1]._replace(box=sign.words[1].box._replace(x0=80)),
            *sign.words[2:],
        )
    )
    (one,) = finished([draft(sign, likely_role="item")])
    assert (one.role, one.text, one.numbering.pattern) == (Role.LIST_ITEM, "the key", "•")
    (dash,) = finished([item("— so it is")])
    assert dash.numbering.pattern == "–"


def test_the_mark_belongs_to_the_strip_though_not_to_the_text():
    (one,) = finished([item("• the key of the hut")])
    assert one.spots[0].box.x0 == 60
    assert one.text == "the key of the hut"
