"""Parts of the reader of formulas by themselves: which words are sure, what is a bar, what is dirt, fences at rules, what is a formula."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from evenquill.core.model import Box
from evenquill.core.model.equation import Letterform
from evenquill.core.model.inline import OBJECT
from evenquill.core.reading.scanned.formulas.bars import at_gaps, parted_bars
from evenquill.core.reading.scanned.formulas.candidates import FEATURES, MEASURED, likelihood, weights, with_derived
from evenquill.core.reading.scanned.formulas.dots_over import is_dirt, with_dots_over
from evenquill.core.reading.scanned.formulas.grouping import symbols_among
from evenquill.core.reading.scanned.formulas.loose import sure_words
from evenquill.core.reading.scanned.formulas.placing import Placed, em_of_formulas, placed
from evenquill.core.reading.scanned.formulas.seen_symbols import Seen
from evenquill.core.reading.scanned.formulas.symbols import NOTHING, card, is_mathematical, network_input, number_of
from evenquill.core.reading.scanned.formulas.tall_fences import fence_at
from evenquill.core.reading.scanned.ink import pieces_of
from evenquill.core.reading.scanned.text_line import TextLine
from evenquill.core.reading.scanned.words import ReadLine, ReadWord, Symbol

EM = 40.0
STROKE = 4.0


def line_of(*words: tuple[str, float], y: float = 100.0, x: float = 0.0) -> ReadLine:
    """A line of words, each with its confidence, ten pixels a letter."""
    read = []
    for text, confidence in words:
        symbols = tuple(Symbol(c, x + 10 * n, x + 10 * n + 9, confidence) for n, c in enumerate(text))
        read.append(ReadWord(symbols, confidence))
        x += 10 * len(text) + 12
    line = TextLine(np.arange(3), 0, int(y) - 20, int(x), int(y), y, 0.0, 18.0)
    return ReadLine(line, tuple(read))


def sure_of(line: ReadLine, *others: ReadLine) -> list[str]:
    return [line.words[n].text for n in sure_words([line, *others], ("eng",))[0]]


@pytest.mark.parametrize(
    ("words", "expected"),
    [
        # In text short words, figures and dates are as sure as the words around them; what formulas look like is not.
        (
            ["The", "level", "of", "the", "Northern", "sea", "measured", "on", "3.4.1978", "is", "x"],
            ["The", "level", "of", "the", "Northern", "sea", "measured", "on", "3.4.1978", "is"],
        ),
        (["where", "the", "value", "f(x)", "is", "known"], ["where", "the", "value", "is", "known"]),
        (["where", "the", "value", "n=5", "is", "known"], ["where", "the", "value", "is", "known"]),
        (["take", "the", "value", "x2", "of", "the", "gauge"], ["take", "the", "value", "of", "the", "gauge"]),
        (["take", "the", "value", "uy", "of", "the", "gauge"], ["take", "the", "value", "of", "the", "gauge"]),
        # Beside such signs a short word that no language has is letters with their scripts; a name of a place alone in text is none.
        (["where", "the", "value", "EAij", "+", "is", "known"], ["where", "the", "value", "is", "known"]),
        (["where", "the", "value", "Ovay", "is", "known"], ["where", "the", "value", "Ovay", "is", "known"]),
        # By itself a word has to be one of the language, a common one if it is short; the name of a function is part of a formula.
        (["otherwise"], ["otherwise"]),
        (["if"], []),
        (["and"], ["and"]),
        (["fin"], []),
        (["xqzv"], []),
        (["sin", "ab"], []),
        (["(mva"], []),
    ],
)
def test_words_are_sure_in_text_and_by_themselves(words, expected):
    assert sure_of(line_of(*((word, 0.95) for word in words))) == expected


def test_unsure_words_are_looked_at_again():
    assert sure_of(line_of(("The", 0.95), ("level", 0.6), ("of", 0.95), ("the", 0.95), ("sea", 0.95))) == [
        "The",
        "of",
        "the",
        "sea",
    ]


def test_rows_of_figures_are_those_of_tables_and_a_figure_alone_may_be_a_numerator():
    cells = [line_of((text, 0.9), x=200 * n) for n, text in enumerate(("2.31", "14", "-0.5"))]
    assert sure_of(*cells) == ["2.31"]
    assert sure_of(cells[0]) == []
    below = line_of(("14", 0.9), ("15", 0.9), y=160)
    assert sure_of(cells[0], below) == []
    assert sure_words(cells, ("eng",), figures=False) == [[], [], []]


def placed_as(text: str, box: Box, form: Letterform = Letterform.UPRIGHT, *, sure: float = 0.95) -> Placed:
    number = number_of(text, form)
    shares = np.full(len(card().classes), 1e-4, np.float32)
    shares[number] = sure
    return Placed(Seen((), box, shares), card().classes[number], EM, box.y1, sure)


def seen_as(
    text: str, x: float, size: float, baseline: float, form: Letterform = Letterform.UPRIGHT, *, nothing: float = 0.0
) -> Seen:
    """A symbol as large as typefaces have it, seen surely but for a share of being none."""
    number = number_of(text, form)
    is_a = card().classes[number]
    y1 = baseline - is_a.bottom * size
    shares = np.full(len(card().classes), 1e-5, np.float32)
    shares[number], shares[number_of(NOTHING)] = 0.95, nothing or 1e-5
    return Seen((), Box(x, y1 - is_a.height * size, x + is_a.width * size, y1), shares)


ITALIC = Letterform.ITALIC


def test_the_size_of_formulas_is_told_by_their_symbols_whatever_the_page_says():
    line = [seen_as(text, 30.0 * n, EM, 100, ITALIC) for n, text in enumerate("hxMbkdWF")]
    scripts = [seen_as(text, 30.0 * n + 15, 0.7 * EM, 112, ITALIC) for n, text in enumerate("ijkn")]
    for guess in (0.7 * EM, EM, 1.6 * EM):
        assert em_of_formulas([*line, *scripts], guess) == pytest.approx(EM, rel=0.04)
    assert em_of_formulas([], EM) == EM


def test_signs_of_an_index_become_small_together():
    # Each by itself would be a somewhat small sign of the line; both beside the index are of it.
    low = 0.8 * EM
    index = [seen_as("+", 52, low, 112), seen_as("1", 76, low, 112)]
    symbols = [
        seen_as("F", 0, EM, 100, ITALIC),
        seen_as("j", 34, 0.7 * EM, 112, ITALIC),
        *index,
        seen_as("2", 40, 0.7 * EM, 84),
    ]
    sizes = [round(one.size / EM, 2) for one in placed(symbols, EM)]
    assert sizes == [1.0, 0.72, 0.72, 0.72, 0.72]


def test_a_clear_stroke_is_a_symbol_wherever_it_stands_and_a_speck_may_be_none():
    around = [seen_as("b", 0, EM, 100, ITALIC), seen_as("1", 60, 0.7 * EM, 80)]
    stroke = seen_as("−", 30, 0.7 * EM, 93, nothing=0.04)
    assert [one.is_a.text for one in placed([*around, stroke], EM)] == ["b", "1", "−"]


def letter(x: float, y1: float, text: str = "x") -> Placed:
    return placed_as(text, Box(x, y1 - 18, x + 20, y1), Letterform.ITALIC)


BAR = Box(100, 100, 126, 103)


@pytest.mark.parametrize(
    ("others", "text"),
    [
        ([letter(103, 92), letter(103, 128)], ""),  # a fraction
        ([letter(70, 112), letter(136, 112)], "−"),  # a difference
        ([letter(103, 124)], "¯"),  # a line over a letter
        ([letter(103, 92)], "−"),  # what stands above alone is in the line above
        ([letter(103, 55), letter(103, 160)], "−"),  # lines above and below
        ([letter(103, 82), letter(103, 123)], "¯"),  # a line over a letter, close below another line
        ([], "−"),
    ],
)
def test_flat_strokes_are_bars_by_what_is_above_and_below(others, text):
    kept, bars = parted_bars([placed_as("−", BAR), *others], EM)
    assert bars == ([] if text else [BAR])
    assert [one.is_a.text for one in kept if one.seen.box == BAR] == ([text] if text else [])
    assert len(kept) == len(others) + bool(text)


def test_the_bars_of_fractions_side_by_side_are_parted_where_no_ink_is():
    ink = np.zeros((60, 200), np.uint8)
    ink[30:33, 20:80] = ink[30:33, 88:180] = 1
    ink[30:33, 130] = 0
    rule = Box(20, 30, 180, 33)
    assert at_gaps(rule, ink) == [Box(20, 30, 80, 33), Box(88, 30, 180, 33)]
    assert at_gaps(Box(88, 30, 180, 33), ink) == [Box(88, 30, 180, 33)]


def test_long_strokes_are_bars_wherever_something_is_and_waves_are_none():
    long = placed_as("−", Box(100, 100, 200, 103))
    assert parted_bars([long, letter(140, 60)], EM)[1] == [long.seen.box]
    wave = placed_as("~", Box(100, 100, 126, 106))
    assert parted_bars([wave, letter(103, 128, "a")], EM)[1] == []


def test_dots_over_letters_belong_to_them():
    dot = placed_as(".", Box(108, 70, 113, 75))
    velocity = with_dots_over([letter(100, 100), dot], EM)
    assert [one.is_a.text for one in velocity] == ["x", "˙"]
    dotless = placed_as("ι", Box(104, 82, 114, 100), Letterform.ITALIC)
    assert [one.is_a.text for one in with_dots_over([dotless, dot], EM)] == ["i"]
    point = placed_as(".", Box(125, 96, 129, 100))
    assert [one.is_a.text for one in with_dots_over([letter(100, 100), point], EM)] == ["x", "."]


def test_dots_are_dirt_where_nothing_is_beside_them():
    point = placed_as(".", Box(125, 96, 129, 100))
    far = placed_as(".", Box(180, 96, 184, 100))
    row = [placed_as(".", Box(200 + 12 * n, 96, 204 + 12 * n, 100)) for n in range(3)]
    symbols = [letter(100, 100), point, far, *row, letter(240, 100)]
    assert not is_dirt(point, symbols, EM, STROKE)
    assert is_dirt(far, [*symbols[:3]], EM, STROKE)
    assert not any(is_dirt(one, symbols, EM, STROKE) for one in row)
    assert not is_dirt(symbols[0], symbols, EM, STROKE)


def test_ink_too_small_for_its_sign_is_dirt_and_so_is_a_dot_thinner_than_strokes_but_a_decimal_point():
    plus = placed_as("+", Box(110, 80, 114, 84))
    assert is_dirt(plus, [letter(90, 100), plus, letter(130, 100)], EM, STROKE)
    speck = placed_as(".", Box(122, 97, 125, 100))
    assert is_dirt(speck, [letter(100, 100), speck, letter(127, 100)], EM, STROKE)
    figures = [placed_as("1", Box(108, 76, 119, 100)), placed_as("2", Box(128, 76, 142, 100))]
    assert not is_dirt(speck, [*figures, speck], EM, STROKE)


def test_accents_are_of_the_size_of_their_letters_and_decimal_points_are_none():
    small = letter(100, 100)._replace(size=0.7 * EM)
    hat = placed_as("^", Box(105, 72, 116, 78))
    assert [one.size for one in with_dots_over([small, hat], EM)] == [0.7 * EM] * 2
    below = letter(118, 128)
    point = placed_as(".", Box(121, 97, 125, 101))
    figures = [placed_as("1", Box(108, 76, 119, 100)), placed_as("2", Box(128, 76, 142, 100))]
    assert [one.is_a.text for one in with_dots_over([below, *figures, point], EM)] == ["x", "1", "2", "."]


def test_a_fence_whose_stem_was_taken_for_a_rule_is_found_again():
    ink = np.zeros((260, 120), np.uint8)
    cv2.line(ink, (50, 75), (50, 165), 1, 3)  # the stem
    cv2.line(ink, (50, 75), (72, 24), 1, 3)
    cv2.line(ink, (50, 165), (72, 216), 1, 3)
    rule = Box(49, 75, 52, 165)
    found = fence_at(rule, ink, 18.0)
    assert found is not None
    assert found.text == "("
    assert found.box.holds(Box(50, 30, 60, 210))
    bare = np.zeros_like(ink)
    cv2.line(bare, (50, 75), (50, 165), 1, 3)
    assert fence_at(rule, bare, 18.0).text == "|"  # type: ignore[union-attr]
    assert fence_at(rule, np.zeros_like(ink), 18.0) is None
    box = bare.copy()
    cv2.rectangle(box, (50, 75), (110, 165), 1, 3)
    assert fence_at(rule, box, 18.0) is None  # a frame


def test_signs_and_letters_that_only_mathematics_has():
    known = {text: is_mathematical(card().classes[number_of(text)]) for text in "+=∑√∂≤x7.,:/"}
    assert {text for text, is_one in known.items() if is_one} == set("+=∑√∂≤")
    assert is_mathematical(card().classes[number_of("α", Letterform.ITALIC)])
    assert is_mathematical(card().classes[number_of("R", Letterform.DOUBLE_STRUCK)])
    assert not is_mathematical(card().classes[number_of("R", Letterform.BOLD)])


def test_grain_has_no_signs_and_is_given_up_early():
    grain = np.random.default_rng(7).normal(128, 40, (60, 45)).clip(0, 255).astype(np.uint8)
    even = cv2.resize(grain, (450, 600), interpolation=cv2.INTER_LINEAR)
    pieces = pieces_of((even < 110).astype(np.uint8))
    members = np.flatnonzero(pieces.boxes[:, 3] - pieces.boxes[:, 1] > 10)
    assert len(members) > 80
    assert symbols_among(pieces, members, even, 15.0).symbols == []


def test_the_card_tells_what_the_network_was_trained_on_and_how_well_it_reads():
    assert len({(one.text, one.form) for one in card().classes}) == len(card().classes) > 300
    assert 0.8 < card().figures["first"] < card().figures["five"] <= 1
    assert "judged on" in card().data
    capital, small = (card().classes[number_of(text, Letterform.ITALIC)] for text in "Cc")
    assert capital.height > 1.3 * small.height


def test_the_network_sees_thin_symbols_broadened_and_all_in_one_size():
    tall, shape = network_input(np.ones((100, 4), np.float32))
    assert tall.shape == (32, 32)
    assert (tall.max(axis=0) > 0.5).sum() >= 5
    assert shape == pytest.approx(np.log(0.04))
    dot, _ = network_input(np.full((3, 3), 0.4, np.float32))
    assert dot.max() == pytest.approx(1.0)


USUAL = {
    "mean": -0.03, "least": -0.2, "symbols": np.log(5), "relation": 1.0, "structure": 1.0, "display": 1.0, "single": 0.0, "upright": 0.0,
    "page_sure": 0.8, "line_sure": 0.8, "others": 0.0, "read": 0.5, "small_page": 0.15,
}  # fmt: skip


@pytest.mark.parametrize(
    ("changed", "is_one"),
    [
        ({}, True),
        ({"display": 0.0, "line_sure": 0.9}, True),
        (
            {
                "single": 1.0,
                "symbols": 0.0,
                "relation": 0.0,
                "structure": 0.0,
                "display": 0.0,
                "least": -0.03,
                "others": np.log(4),
            },
            True,
        ),
        ({"page_sure": 0.1, "line_sure": 0.2, "upright": 0.4}, False),  # a page in another script
        ({"mean": -0.9, "least": -3.0, "display": 0.0, "relation": 0.0, "upright": 0.5}, False),  # dirt
    ],
)
def test_what_is_a_formula_is_weighed(changed, is_one):
    measured = np.array([(USUAL | changed)[name] for name in MEASURED])
    assert (likelihood(measured) >= 0.5) is is_one
    assert len(with_derived(measured)) == len(FEATURES) == len(weights().weights)


PAGE = """#set text(font: "New Computer Modern", size: 11pt)
= The sum of $a^2 + b^2$ for two gauges
#emph[Let a set of gauges be given, and let a keeper read each of them for $n >= 2$ days, and write it into a book of the office.]

The office writes $x = 3$, and the keeper (who has $y_1 < 4$) reads it from the table of the pier on every day of the week:
#table(columns: 3, [Height], [$lambda = 2 x$], [12.5], [Range], [$mu = 3 y$], [14.5])
The value $f(x)$ is entered once a day, and $alpha + beta <= gamma$ is looked at by the inspector at the end of each of the months.
"""


def test_formulas_in_headings_cells_slanted_text_and_beside_stops(paper, read_paper):
    page = read_paper(paper(PAGE, dpi=300, paper="a4"), dpi=300)
    texts = [line.text for line in page.lines]
    assert any(text.startswith(f"The sum of {OBJECT} for two gauges") for text in texts)
    assert any(f"writes {OBJECT}, and the keeper (who has {OBJECT})" in text for text in texts)
    # An article in slanted text is a word, though it looks like a quantity.
    (slanted,) = [text for text in texts if "Let a set of gauges" in text]
    assert "let a keeper" in slanted
    assert not any(line.text == "" for line in page.lines)
    for line in page.lines:
        for word in line.words:
            assert (word.text == OBJECT) is (word.equation is not None)
    assert len(page.equations) >= 7
