"""Characters on their ink: letters that touch, that are broken, that were never there, and dirt between them."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lettersets import X_HEIGHT, boxes_of, letters, pieces_of_boxes, read_as

from evenquill.core.reading.scanned.alignment import columns_of, on_their_ink
from evenquill.core.reading.scanned.words import ReadWord, Symbol


def columns(boxed):
    return columns_of(pieces_of_boxes(boxes_of(boxed)).boxes)


def shaken(words, by):
    """The words with places as the recogniser gives them: off by up to ``by`` x-heights."""
    chance = np.random.default_rng(4)
    return [
        ReadWord(
            tuple(
                symbol._replace(x0=symbol.x0 + shift, x1=symbol.x1 + shift)
                for symbol in word.symbols
                for shift in [float(chance.uniform(-by, by)) * X_HEIGHT]
            ),
            word.confidence,
        )
        for word in words
    ]


def ends(words):
    return [(symbol.text, round(symbol.x0), round(symbol.x1)) for word in words for symbol in word.symbols]


@pytest.mark.parametrize("off", [0.0, 0.4, 0.9])
def test_characters_find_their_own_ink_though_they_are_said_to_be_elsewhere(off):
    text = "The well was pumped and the orifice cleared"
    boxed = letters(text)
    placed = on_their_ink(shaken(read_as(text, boxed), off), columns(boxed), X_HEIGHT)
    assert ends(placed) == [(c, round(x0), round(x1)) for c, x0, x1, _, _ in boxed]
    assert [word.text for word in placed] == text.split()


def test_letters_that_touch_share_their_ink_by_their_widths():
    boxed = letters("float")
    joined = [*boxed[:1], ("lo", boxed[1][1], boxed[2][2], 1.45, 0.0), *boxed[3:]]
    placed = ends(on_their_ink(read_as("float", boxed), columns(joined), X_HEIGHT))
    (_, l0, l1), (_, o0, o1) = placed[1:3]
    assert (l0, o1) == (round(boxed[1][1]), round(boxed[2][2]))
    assert l1 == o0
    assert l1 - l0 < 0.6 * (o1 - o0)
    assert placed[3] == ("a", round(boxed[3][1]), round(boxed[3][2]))


def test_letters_of_two_words_do_not_share_ink():
    """Four letters, then a word; the fourth of them leans into the space."""
    text = "about three"
    boxed = letters(text)
    words = read_as(text, boxed)
    late = [words[0], ReadWord(tuple(s._replace(x0=s.x0 - 14, x1=s.x1 - 14) for s in words[1].symbols), 0.9)]
    assert ends(on_their_ink(late, columns(boxed), X_HEIGHT)) == ends(words)


def test_a_letter_that_is_broken_has_all_its_parts():
    boxed = letters("harbour")
    name, x0, x1, top, foot = boxed[3]
    broken = [*boxed[:3], (name, x0, x0 + 7, top, foot), (name, x0 + 11, x1, top, foot), *boxed[4:]]
    assert ends(on_their_ink(read_as("harbour", boxed), columns(broken), X_HEIGHT)) == ends(read_as("harbour", boxed))


def test_signs_where_there_is_no_ink_were_never_there():
    boxed = letters("gauge")
    word = read_as("gauge", boxed)[0]
    start, end = word.x0, word.x1
    phantom = word._replace(
        symbols=(Symbol("‘", start - 4, start, 0.5), *word.symbols, Symbol(":", end + 1, end + 4, 0.5))
    )
    placed = on_their_ink([phantom], columns(boxed), X_HEIGHT)
    assert [one.text for one in placed] == ["gauge"]
    # A letter stays, even one whose ink was lost: what was read is never dropped.
    lost = word._replace(symbols=(*word.symbols, Symbol("s", end + 3, end + 20, 0.5)))
    assert [one.text for one in on_their_ink([lost], columns(boxed), X_HEIGHT)] == ["gauges"]


def test_dirt_that_was_not_read_belongs_to_no_letter():
    boxed = letters("pen recorder", space=1.2)
    speck = ("", boxed[2][2] + 8, boxed[2][2] + 11, 0.3, 0.1)
    placed = on_their_ink(read_as("pen recorder", boxed), columns([*boxed, speck]), X_HEIGHT)
    assert ends(placed) == ends(read_as("pen recorder", boxed))


def test_quotation_marks_have_two_strokes_and_dots_lie_over_their_letters():
    first = [("“", 10.0, 14.0, 1.45, 1.1), ("“", 17.0, 21.0, 1.45, 1.1)]
    letter = [("i", 26.0, 32.0, 1.0, 0.0), ("i", 26.0, 32.0, 1.45, 1.25), ("n", 36.0, 55.0, 1.0, 0.0)]
    assert columns([*first, *letter]) == [(10, 14), (17, 21), (26, 32), (36, 55)]
    word = ReadWord((Symbol("“", 9, 20, 0.9), Symbol("i", 24, 30, 0.9), Symbol("n", 34, 56, 0.9)), 0.9)
    assert ends(on_their_ink([word], columns([*first, *letter]), X_HEIGHT)) == [
        ("“", 10, 21),
        ("i", 26, 32),
        ("n", 36, 55),
    ]


def test_without_ink_or_words_nothing_changes():
    words = list(read_as("tide", letters("tide")))
    assert on_their_ink(words, [], X_HEIGHT) == words
    assert on_their_ink([], [(1.0, 2.0)], X_HEIGHT) == []


@settings(max_examples=60, deadline=None)
@given(st.text(alphabet="abcdefghilmnoprstuwNTW .,013", min_size=1, max_size=40), st.integers(0, 2**31))
def test_whatever_is_read_stays_in_order_and_letters_are_never_lost(text, seed):
    """Against any other ink: characters keep their order, and only signs may go, and digits read twice."""
    words = read_as(text, letters(text))
    chance = np.random.default_rng(seed)
    lefts = np.cumsum(chance.uniform(8, 40, size=max(len(text) + int(chance.integers(-3, 4)), 1)))
    other = [(float(x), float(x + chance.uniform(2, 8))) for x in lefts]
    placed = on_their_ink(words, other, X_HEIGHT)
    kept = [symbol.text for word in placed for symbol in word.symbols]
    assert [c for c in kept if c.isalpha()] == [c for c in text if c.isalpha()]
    assert [told for word in placed if (told := bare(word.text))] == [
        told for word in text.split() if (told := bare(word))
    ]


def bare(word: str) -> str:
    return "".join(c for c in word if c.isalpha())


def test_a_digit_read_twice_over_one_piece_of_ink_is_read_once():
    boxed = letters("0.04")
    twice = read_as("0.004", [*boxed[:3], boxed[2], boxed[3]])
    placed = on_their_ink(twice, columns(boxed), X_HEIGHT)
    assert [word.text for word in placed] == ["0.04"]
    real = letters("0.004")
    assert [word.text for word in on_their_ink(read_as("0.004", real), columns(real), X_HEIGHT)] == ["0.004"]
