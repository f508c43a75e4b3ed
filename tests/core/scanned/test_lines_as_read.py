"""What is put right in a line after it was recognised: heights, spaces, points, stray signs, two readings of one line."""

from __future__ import annotations

import numpy as np
import pytest
from lettersets import BASELINE, X_HEIGHT, boxes_of, letters, line_read, pieces_of_boxes, read_as, text_line

from evenquill.core.reading.scanned.alignment import columns_of
from evenquill.core.reading.scanned.heights import (
    InkUnder,
    letter_heights,
    with_ends_at_letters,
    with_seen_heights,
    with_seen_signs,
)
from evenquill.core.reading.scanned.ink import pieces_of
from evenquill.core.reading.scanned.marks import are_side_by_side
from evenquill.core.reading.scanned.points import decimal_of, with_points, with_unread_signs
from evenquill.core.reading.scanned.recognition import _rows, better
from evenquill.core.reading.scanned.segments import Layer
from evenquill.core.reading.scanned.spacing import (
    Spaces,
    beside_capitals_or_figures,
    missed_spaces,
    parted_at,
    pitch_of,
    spaces_of,
    with_seen_spaces,
)
from evenquill.core.reading.scanned.stray_signs import without_stray_signs
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol, mean_confidence

BARE = np.full((130, 200), 230, np.uint8)
"""The picture of a line of which nothing is seen but its ink."""


def columns(boxed):
    """Ends of the ink of letters."""
    return columns_of(np.array(boxes_of(boxed), np.int32))


def misread(line, wrong: str) -> ReadLine:
    """The line as read, with other characters on the same ink."""
    characters = iter(wrong.replace(" ", ""))
    return line._replace(
        words=tuple(
            word._replace(symbols=tuple(symbol._replace(text=next(characters)) for symbol in word.symbols))
            for word in line.words
        )
    )


def with_height(boxed, n, top, foot=0.0):
    name, x0, x1, _, _ = boxed[n]
    return [*boxed[:n], (name, x0, x1, top, foot), *boxed[n + 1 :]]


@pytest.mark.parametrize(
    ("text", "wrong"),
    [
        ("W 4", "w 4"),
        ("SW 3 rain", "sw 3 rain"),
        ("Vane", "vane"),
        ("over the staff", "Over the Staff"),
        ("50 Cod", "50 cod"),
    ],
)
def test_letters_of_one_shape_are_capital_or_small_by_their_height(text, wrong):
    line, pieces = line_read(text)
    assert with_seen_heights(misread(line, wrong), pieces).text == text


def test_no_capital_comes_after_a_small_letter():
    """A serif or a speck may make a w look tall; within a word that is no reason."""
    boxed = with_height(letters("two gauges"), 1, 1.4)
    line, pieces = line_read("two gauges", boxed)
    assert with_seen_heights(line, pieces).text == "two gauges"


def test_a_line_that_does_not_tell_is_left_as_it_is():
    line, pieces = line_read("xvo")
    assert with_seen_heights(misread(line, "XvO"), pieces).text == "XvO"


@pytest.mark.parametrize(
    ("sign", "top", "foot", "right"),
    [
        ("”", 0.25, 0.0, "."),
        ("'", 0.25, -0.25, ","),
        (".", 1.45, 1.2, "’"),
        ("’", 1.45, 1.1, "’"),
        (",", 0.2, -0.25, ","),
    ],
)
def test_signs_are_told_by_where_they_hang_or_lie(sign, top, foot, right):
    boxed = with_height(letters("gauge."), 5, top, foot)
    line, pieces = line_read("gauge" + sign, boxed)
    assert with_seen_heights(line, pieces).text == "gauge" + right


@pytest.mark.parametrize(
    ("text", "foot", "right"),
    [("gauge I", 0.0, "gauge I"), ("pole", 0.0, "pole"), ("In May", 0.0, "In May"), ("a I b", -0.3, "a | b")],
)
def test_an_upright_stroke_is_a_letter_where_it_stands_as_one(text, foot, right):
    place = next(n for n, c in enumerate(text.replace(" ", "")) if c in "Il")
    line, pieces = line_read(text, with_height(letters(text), place, 1.45, foot))
    wrong = text.replace("I", "|").replace("l", "|")
    assert with_seen_heights(misread(line, wrong), pieces).text == right


def test_a_dot_between_two_words_is_no_dash():
    for size, text in (((4, 4), "tide gauge"), ((9, 4), "tide-gauge")):
        boxed = letters("tide-gauge")
        x0 = boxed[4][1]
        sign = (x0, BASELINE - 0.5 * X_HEIGHT - size[1] / 2, x0 + size[0], BASELINE - 0.5 * X_HEIGHT + size[1] / 2)
        boxes = [*boxes_of(boxed[:4]), sign, *boxes_of(boxed[5:])]
        pieces = pieces_of_boxes(boxes)
        read = read_as("tide-gauge", [*boxed[:4], ("-", x0, x0 + size[0], 0.6, 0.4), *boxed[5:]])
        assert with_seen_signs(ReadLine(text_line(pieces), read), pieces).text == text


def test_heights_of_letters_that_touch_are_not_believed():
    boxed = letters("hen")
    line, pieces = line_read("hen", boxed)
    assert letter_heights(line, pieces) == (pytest.approx([X_HEIGHT, X_HEIGHT]), pytest.approx([29], abs=1))
    joined = pieces_of_boxes([(boxed[0][1], 70, boxed[1][2], 100), *boxes_of(boxed[2:])])
    assert letter_heights(ReadLine(text_line(joined), line.words), joined) == (pytest.approx([X_HEIGHT]), [])


def test_a_letter_that_touches_the_next_tells_no_height():
    """An a that has run into an l is as high as that: the line would seem to have tall small letters."""
    boxed = letters("Signals")
    a, tall = boxed[4], boxed[5]
    run_together = (a[1], BASELINE - tall[3] * X_HEIGHT, tall[2], float(BASELINE))
    pieces = pieces_of_boxes([*boxes_of(boxed[:4]), run_together, *boxes_of(boxed[6:])])
    line = ReadLine(text_line(pieces), read_as("signals", boxed))
    small, _ = letter_heights(line, pieces)
    assert max(small[1:]) == pytest.approx(X_HEIGHT)
    assert with_seen_heights(line, pieces).text == "Signals"


def test_the_piece_under_a_character_is_found_unless_there_are_two():
    pieces = pieces_of_boxes([(10, 80, 30, 100), (40, 80, 60, 100), (45, 70, 55, 75)])
    under = InkUnder(text_line(pieces).pieces, pieces)
    assert under(Symbol("a", 12, 28, 1.0)) == 0
    assert under(Symbol("i", 42, 58, 1.0)) is None
    assert under(Symbol("x", 200, 210, 1.0)) is None


def test_a_space_that_was_missed_is_seen_and_one_that_is_none_is_closed():
    told, _ = line_read("the keeper of the tide gauge at the ferry slip reads the staff at noon each day")
    spaces = spaces_of([told] * 3)
    assert 0.2 < spaces.limit < spaces.usual < 0.9
    boxed = letters("lime mill")
    run = ReadLine(text_line(pieces_of_boxes(boxes_of(boxed))), read_as("limemill", boxed))
    (place,) = missed_spaces(run, spaces, columns(boxed))
    assert boxed[3][2] < place < boxed[4][1]
    assert parted_at(run, [place]).text == "lime mill"
    close = letters("harbour", gap=0.05)
    parted = ReadLine(run.line, read_as("har bour", close))
    assert with_seen_spaces(parted).text == "harbour"
    assert missed_spaces(parted, spaces, columns(close)) == []


def test_letterspaced_letters_are_one_word_and_a_wider_gap_parts_two():
    spaces = Spaces(0.6, 0.35)
    boxed = letters("TIDE TABLES", gap=0.45, space=1.4)
    line = ReadLine(text_line(pieces_of_boxes(boxes_of(boxed))), read_as("TIDETABLES", boxed))
    (place,) = missed_spaces(line, spaces, columns(boxed))
    assert parted_at(line, [place]).text == "TIDE TABLES"
    close = letters("TIDE TABLES", gap=0.1, space=0.5)
    usual = ReadLine(text_line(pieces_of_boxes(boxes_of(close))), read_as("TIDETABLES", close))
    assert parted_at(usual, missed_spaces(usual, spaces, columns(close))).text == "TIDE TABLES"


def test_only_what_is_free_of_ink_is_a_space():
    """Letters that touch are placed by guess: a gap between their places is none if there is ink."""
    boxed = letters("lime")
    placed_badly = [boxed[0], (*boxed[1][:2], boxed[1][1] + 2, *boxed[1][3:]), *boxed[2:]]
    line = ReadLine(text_line(pieces_of_boxes(boxes_of(boxed))), read_as("lime", placed_badly))
    assert missed_spaces(line, Spaces(0.4, 0.2), columns(boxed)) == []


def test_a_gap_that_is_nearly_a_space_parts_figures_and_no_words():
    boxed = letters("ab 11 42", space=0.5)
    spaces = Spaces(0.65, 0.35)
    figures = ReadLine(text_line(pieces_of_boxes(boxes_of(boxed))), read_as("ab1142", boxed))
    cuts = missed_spaces(figures, spaces, columns(boxed))
    assert parted_at(figures, cuts).text == "ab 11 42"
    assert beside_capitals_or_figures(figures, cuts) == cuts
    words = letters("stamf ord", space=0.5)
    sure = ReadLine(text_line(pieces_of_boxes(boxes_of(words))), read_as("stamford", words))
    sure = sure._replace(words=tuple(word._replace(confidence=0.96) for word in sure.words))
    assert missed_spaces(sure, spaces, columns(words)) == []
    doubtful = sure._replace(words=tuple(word._replace(confidence=0.6) for word in sure.words))
    cuts = missed_spaces(doubtful, spaces, columns(words))
    assert len(cuts) == 1
    assert beside_capitals_or_figures(doubtful, cuts) == []


def test_the_room_around_the_signs_of_an_address_is_no_space():
    boxed = letters("stairs.example", gap=0.1)
    # In type of one width a dot stands in the middle of its place.
    apart = [*boxed[:6], (".", boxed[6][1] + 13, boxed[6][2] + 13, 0.25, 0.0)]
    apart += [(c, x0 + 26, x1 + 26, t, f) for c, x0, x1, t, f in boxed[7:]]
    line = ReadLine(text_line(pieces_of_boxes(boxes_of(apart))), read_as("stairs.example", apart, confidence=0.7))
    assert (apart[6][1] - apart[5][2]) / X_HEIGHT > 0.6
    assert missed_spaces(line, Spaces(0.6, 0.35), columns(apart)) == []
    assert missed_spaces(line, Spaces(0.45, 0.25), columns(apart)) != []


def test_in_type_of_one_width_a_space_is_a_place_left_free():
    def typed(text):
        boxed = [(c, 10.0 + 26 * n, 10.0 + 26 * n + (6 if c in "il." else 18), 1.0, 0.0) for n, c in enumerate(text)]
        return [one for one in boxed if one[0] != " "]

    text = "no repair will be made till spring"
    boxed = typed(text)
    # Narrow letters stand in the middle of their places.
    boxed = [(c, x0 + (6 if c in "il." else 0), x1 + (6 if c in "il." else 0), t, f) for c, x0, x1, t, f in boxed]
    line = ReadLine(text_line(pieces_of_boxes(boxes_of(boxed))), read_as(text, boxed))
    assert pitch_of(line) == pytest.approx(26, abs=0.5)
    assert missed_spaces(line, Spaces(0.6, 0.5), columns(boxed)) == []
    run = line._replace(words=(ReadWord(tuple(s for word in line.words for s in word.symbols), 0.9),))
    assert len(missed_spaces(run, Spaces(0.6, 0.5), columns(boxed))) == text.count(" ")
    assert with_seen_spaces(line).text == text


def test_a_line_of_letters_of_all_widths_has_no_pitch():
    line, _ = line_read("William will fill in the whole of the minute")
    assert pitch_of(line) == 0.0


def test_a_point_between_digits_is_seen_though_it_was_not_read():
    boxed = letters("4.03")
    line = ReadLine(text_line(pieces_of_boxes(boxes_of(boxed))), read_as("403", [boxed[0], *boxed[2:]]))
    pointed = with_points(line, pieces_of_boxes(boxes_of(boxed)), BARE)
    assert pointed.text == "4.03"
    assert pointed.words[0].confidence < line.words[0].confidence
    # A dot over the baseline is dirt, and one beside letters is none.
    high = with_height(boxed, 1, 1.0, 0.8)
    assert with_points(line, pieces_of_boxes(boxes_of(high)), BARE).text == "403"
    name = ReadLine(line.line, read_as("abc", [boxed[0], *boxed[2:]]))
    assert with_points(name, pieces_of_boxes(boxes_of(boxed)), BARE).text == "abc"


@pytest.mark.parametrize(
    ("dots", "text", "grey", "said"),
    [
        ([0.1], "4 03", 140, "4.03"),
        ([0.1, 0.8], "4 03", 140, "4:03"),
        ([0.1, 0.8], "403", 140, "4:03"),
        ([0.1], "4 03", 215, "4 03"),
        ([0.8], "4 03", 140, "4 03"),
        ([0.1, 0.4, 0.7, 1.0], "4 03", 140, "4 03"),
        ([0.1], "a bc", 140, "a bc"),
        ([], "4 03", 140, "4 03"),
    ],
)
def test_points_and_colons_too_faint_to_be_ink_are_seen_between_digits(dots, text, grey, said):
    boxed = letters("4.03")
    figures = [boxed[0], *boxed[2:]]
    picture = BARE.copy()
    for x0, y0, x1, y1 in boxes_of(figures):
        picture[int(y0) : int(y1), int(x0) : int(x1)] = 60
    middle = int((boxed[1][1] + boxed[1][2]) / 2)
    for rise in dots:
        row = int(BASELINE - rise * X_HEIGHT)
        picture[row - 2 : row + 3, middle - 2 : middle + 3] = grey
    pieces = pieces_of_boxes(boxes_of(figures))
    assert with_points(ReadLine(text_line(pieces), read_as(text, figures)), pieces, picture).text == said


@pytest.mark.parametrize(
    ("text", "decimal", "said"),
    [
        ("1.4 03", "", "1.4 03"),
        ("4 03.5", "", "4 03.5"),
        ("1.403 03", "", "1.403,03"),
        ("1.403 035", "", "1.403.035"),
        ("1 403.5", "", "1,403.5"),
        ("4 03", ",", "4,03"),
        ("4 035", ",", "4.035"),
    ],
)
def test_a_faint_dot_is_the_sign_that_its_number_has_there(text, decimal, said):
    before, after = text.split()
    head, tail = letters(before, start=10), letters(after, start=0.6 * X_HEIGHT + letters(before, start=10)[-1][2])
    picture = BARE.copy()
    for x0, y0, x1, y1 in boxes_of([*head, *tail]):
        picture[int(y0) : int(y1), int(x0) : int(x1)] = 60
    middle = int((head[-1][2] + tail[0][1]) / 2)
    picture[BASELINE - 5 : BASELINE, middle - 2 : middle + 3] = 140
    pieces = pieces_of_boxes(boxes_of([*head, *tail]))
    line = ReadLine(text_line(pieces), read_as(text, [*head, *tail]))
    assert with_points(line, pieces, picture, decimal).text == said


@pytest.mark.parametrize(
    ("texts", "sign"), [(["7,50", "1.250,30", "3,14"], ","), (["7.50", "12.5.2014"], "."), (["750"], "")]
)
def test_the_sign_before_decimals_is_that_of_most_numbers(texts, sign):
    assert decimal_of([line_read(text)[0] for text in texts]) == sign


def test_numbers_with_a_space_between_them_stay_apart():
    boxed = letters("4 03")
    pieces = pieces_of_boxes([*boxes_of(boxed), (34, BASELINE - 5, 38, BASELINE)])
    line = ReadLine(text_line(pieces), read_as("4 03", letters("4 03", space=1.2)))
    assert with_points(line, pieces, BARE).text == "4 03"


def test_a_point_that_was_read_as_the_last_letter_of_a_roman_number_is_one():
    boxed = letters("i.")
    pieces = pieces_of_boxes(boxes_of(boxed))
    pointed = with_points(ReadLine(text_line(pieces), read_as("ii", boxed)), pieces, BARE)
    assert pointed.text == "i."
    assert pointed.words[0].confidence < 0.9
    assert with_points(ReadLine(text_line(pieces), read_as("on", boxed)), pieces, BARE).text == "on"
    whole = letters("ii")
    pieces = pieces_of_boxes(boxes_of(whole))
    assert with_points(ReadLine(text_line(pieces), read_as("ii", whole)), pieces, BARE).text == "ii"


def drawn_pieces(*parts):
    """Pieces whose ink is these rectangles (left, top, right, bottom), each piece a list of them."""
    ink = np.zeros((140, 220), np.uint8)
    for x0, y0, x1, y1 in parts:
        ink[y0:y1, x0:x1] = 1
    return pieces_of(ink)


@pytest.mark.parametrize(
    ("sign", "unread"),
    [
        ((), ""),
        (((62, 96, 66, 100),), "."),  # free behind the letter
        (((62, 95, 66, 106),), ","),
        (((60, 95, 68, 100),), "."),  # run into its foot
        (((56, 99, 60, 105),), ","),  # and below it
        (((60, 84, 68, 88),), ""),  # a hook higher up is the letter's own
    ],
)
def test_a_sign_at_the_end_of_a_word_is_seen_even_where_it_touches_its_letter(sign, unread):
    pieces = drawn_pieces((10, 80, 30, 100), (40, 80, 60, 100), *sign)
    line = ReadLine(text_line(pieces), (ReadWord((Symbol("u", 10, 30, 0.9), Symbol("n", 40, 60, 0.9)), 0.9),))
    assert with_unread_signs(line, pieces).words[0].unread == unread
    # A letter that goes below the line by itself tells nothing of a sign that touches it.
    tailed = line._replace(words=(ReadWord((Symbol("u", 10, 30, 0.9), Symbol("p", 40, 60, 0.9)), 0.9),))
    free = bool(sign) and sign[0][0] > 60
    assert with_unread_signs(tailed, pieces).words[0].unread == (unread if free else "")


def test_a_stop_that_was_taken_for_the_last_letter_is_a_stop():
    pieces = drawn_pieces((10, 80, 30, 100), (62, 96, 66, 100))
    line = ReadLine(text_line(pieces), (ReadWord((Symbol("n", 10, 30, 0.9), Symbol("g", 62, 66, 0.9)), 0.9),))
    assert with_unread_signs(line, pieces).words[0].unread == "."


def test_dirt_beside_a_line_is_tidied_away_and_signs_in_their_place_stay():
    for text in (". the gauge", "_ the gauge", "the gauge ~", "the gauge ,"):
        line, _ = line_read(text)
        assert without_stray_signs(line, dirty=False).text == "the gauge"
    # A broad sign whose ink is a dot is dirt; as broad as it should be, it is one.
    for width, text in ((3.0, "the gauge"), (16.0, "the gauge «")):
        boxed = letters("the gauge «")
        name, x0, _, top, foot = boxed[-1]
        line, _ = line_read("the gauge «", [*boxed[:-1], (name, x0, x0 + width, top, foot)])
        assert without_stray_signs(line, dirty=False).text == text
    for text in ("the gauge.", "‘the gauge’", "-0.01", "no."):
        assert without_stray_signs(line_read(text)[0], dirty=False).text == text
    typed = letters("To:", gap=0.7)
    assert without_stray_signs(line_read("To:", typed)[0], dirty=False).text == "To:"
    far = letters("0.01:")
    name, x0, x1, top, foot = far[-1]
    line, _ = line_read("0.01:", [*far[:-1], (name, x0 + 18, x1 + 18, top, foot)])
    assert without_stray_signs(line, dirty=False).text == "0.01"


@pytest.mark.parametrize(("dirt", "start"), [((2, 91, 5, 94), 10.0), ((7, 91, 9, 94), 7.0), (None, 10.0)])
def test_a_line_begins_where_its_first_letter_does(dirt, start):
    boxed = letters("the gauge")
    pieces = pieces_of_boxes([*boxes_of(boxed), *([dirt] if dirt else [])])
    first, *others = read_as("the gauge", boxed)
    widened = first.symbols[0]._replace(x0=2.0)
    line = ReadLine(text_line(pieces), (first._replace(symbols=(widened, *first.symbols[1:])), *others))
    tidy = with_ends_at_letters(line, pieces)
    assert tidy.words[0].x0 == start
    assert tidy.words[-1].x1 == boxed[-1][2]
    assert tidy.text == "the gauge"


def test_the_surer_of_two_readings_is_taken_word_by_word():
    boxed = letters("spring tide")
    first = line_read("sprimg tide", boxed)[0]
    second = line_read("spring tlde", boxed)[0]
    sure = [(0.4, 0.9), (0.8, 0.5)]
    one, two = (
        line._replace(words=tuple(w._replace(confidence=c) for w, c in zip(line.words, values, strict=True)))
        for line, values in zip((first, second), sure, strict=True)
    )
    assert better(one, two).text == "spring tide"
    whole = line_read("springtide", boxed, confidence=0.99)[0]
    assert better(one, whole).text == "springtide"
    assert better(whole, one).text == "springtide"
    assert mean_confidence([whole]) == pytest.approx(0.99)
    assert mean_confidence([]) == 0.0


def test_short_pieces_of_a_row_are_read_together_and_long_ones_alone():
    def at(x, pieces, baseline=BASELINE, x_height=X_HEIGHT):
        boxes = [(x + 24 * n, baseline - x_height, x + 24 * n + 18, baseline) for n in range(pieces)]
        line = text_line(pieces_of_boxes(boxes), x_height)
        return line._replace(a=float(baseline))

    cells = [at(0, 5), at(300, 4), at(600, 5)]
    below = at(0, 5, baseline=160)
    large = at(900, 4, x_height=2 * X_HEIGHT)
    rows = _rows([cells[2], below, cells[0], large, cells[1]])
    assert [[round(line.x0) for line in row] for row in rows] == [[0, 300, 600], [900], [0]]
    prose = [at(0, 60), at(1500, 60)]
    assert [len(row) for row in _rows(prose)] == [1, 1]
    # A row longer than the recogniser likes is cut.
    wide = [at(500 * n, 12) for n in range(8)]
    assert [len(row) for row in _rows(wide)] == [6, 2]


@pytest.mark.parametrize(
    ("sign", "top", "foot", "right"),
    [
        (":", 0.6, 0.35, "0.01"),  # one speck beside the number is no colon
        (":", 0.25, 0.0, "0.01."),
        ("-", 0.7, 0.45, "0.01"),  # as high as wide is no dash
        ("”", 0.25, 0.0, "0.01."),
    ],
)
def test_a_sign_at_the_end_needs_the_ink_that_it_is_made_of(sign, top, foot, right):
    boxed = with_height(letters("0.01."), 4, top, foot)
    line, pieces = line_read("0.01" + sign, boxed)
    assert with_seen_signs(line, pieces).text == right


def test_a_real_colon_and_a_real_dash_stay():
    boxed = letters("gauge")
    x0 = boxed[-1][2] + 3
    colon = [*boxed, (":", x0, x0 + 5, 0.25, 0.0), ("", x0, x0 + 5, 0.9, 0.65)]
    pieces = pieces_of_boxes(boxes_of(colon))
    line = ReadLine(text_line(pieces), read_as("gauge:", colon))
    assert with_seen_signs(line, pieces).text == "gauge:"
    dash = [*boxed, ("-", x0, x0 + 9, 0.6, 0.45)]
    line, pieces = line_read("gauge-", dash)
    assert with_seen_signs(line, pieces).text == "gauge-"


@pytest.mark.parametrize(("foot", "sign"), [(0.0, "."), (-0.25, ",")])
def test_ink_behind_a_word_that_was_not_read_is_kept_in_mind(foot, sign):
    boxed = letters("the wire")
    x0 = boxed[-1][2] + 2
    pieces = pieces_of_boxes(boxes_of([*boxed, (".", x0, x0 + 5, 0.25, foot)]))
    line = ReadLine(text_line(pieces), read_as("the wire", boxed))
    assert [word.unread for word in with_unread_signs(line, pieces).words] == ["", sign]
    read = ReadLine(text_line(pieces), read_as("the wire.", [*boxed, (".", x0, x0 + 5, 0.25, foot)]))
    assert [word.unread for word in with_unread_signs(read, pieces).words] == ["", ""]


def test_a_second_reading_that_differs_is_the_rival_of_the_first():
    first, _ = line_read("the wjre")
    second, _ = line_read("the wire", confidence=0.97)
    both = better(first, second)
    assert [(word.text, word.rival) for word in both.words] == [("the", ""), ("wire", "wjre")]
    assert [(word.text, word.rival) for word in better(second, first).words] == [("the", ""), ("wire", "wjre")]


@pytest.mark.parametrize(
    ("text", "dirty", "right"), [(".able", True, "able"), (".able", False, ".able"), (".Able", True, ".Able")]
)
def test_on_a_dirty_page_a_stop_close_before_the_first_letter_is_dirt(text, dirty, right):
    boxed = letters(text)
    boxed[0] = (".", boxed[1][1] - 5, boxed[1][1] - 1, *boxed[0][3:])
    assert without_stray_signs(line_read(text, boxed)[0], dirty=dirty).text == right


@pytest.mark.parametrize(
    ("figures", "alike"),
    [
        ((("1", 10, 19, 1.4, 0), ("3", 22, 34, 1.4, 0)), True),
        ((("1", 10, 19, 1.4, 0), ("3", 22, 34, 0.7, 0)), False),  # of two heights
        ((("1", 10, 19, 1.4, 0), ("3", 22, 34, 1.9, 0.5)), False),  # not level
        ((("1", 10, 19, 0.5, 0), ("3", 22, 34, 0.5, 0)), False),  # too small
        ((("1", 10, 19, 1.4, 0),), False),
    ],
)
def test_two_figures_side_by_side_are_no_dirt_however_unsure_they_are(figures, alike):
    pieces = pieces_of_boxes(boxes_of(figures))
    text = "".join(figure for figure, *_ in figures)
    line = ReadLine(text_line(pieces), read_as(text, figures, confidence=0.38))
    assert are_side_by_side(Layer(pieces, [line.line], np.array([], np.int64)), [line], X_HEIGHT) is alike
