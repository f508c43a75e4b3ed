"""What the word lists know: spelling with its capitals, words that are alike, words that fell apart."""

from __future__ import annotations

import pytest

from evenquill.core.model import Box, Text, TextBlock, WordSpot
from evenquill.core.queries.fragments import with_fragments_joined
from evenquill.core.queries.lexicon import Lexicon, Words, lexicon
from evenquill.core.queries.shapes import number_form
from evenquill.core.queries.tokens import tokens_of

ENGLISH, FINNISH = Words((lexicon("en"),)), Words((lexicon("fi"),))


@pytest.mark.parametrize(
    ("word", "spelled"),
    [("June", True), ("june", False), ("harbour", True), ("Harbour", True), ("purnped", False)],
)
def test_a_word_is_spelled_with_its_capital(word, spelled):
    assert lexicon("en").spells(word) is spelled
    assert ENGLISH.spells(word) is spelled


def test_a_language_without_a_list_spells_nothing():
    assert not lexicon("tlh").spells("maH")
    assert lexicon("tlh").alike("maH") == []


@pytest.mark.parametrize(
    ("language", "read", "meant"),
    [("en", "trith", "truth"), ("fr", "mêrhe", "même"), ("de", "wobnen", "wohnen"), ("fi", "kolmae", "kolmas")],
)
def test_common_words_that_are_alike_differ_in_two_letters_at_most(language, read, meant):
    assert meant in lexicon(language).alike(read)
    assert meant in lexicon(language).alike(read.capitalize())
    assert all(abs(len(word) - len(read)) <= 2 for word in lexicon(language).alike(read))


def row(text: str, confidence: float = 0.95) -> TextBlock:
    words, at = [], 0
    for n, word in enumerate(text.split(" ")):
        words.append(WordSpot(at, at + len(word), 1, Box(40.0 * n, 100, 40.0 * n + 36, 112), confidence))
        at += len(word) + 1
    return TextBlock("b1", content=(Text(text),), words=tuple(words))


@pytest.mark.parametrize(
    ("text", "words", "known"),
    [
        ("mikä tamm ikuussa on", ["mikä", "tamm ikuussa", "on"], FINNISH),
        ("Tähä n asti", ["Tähä n", "asti"], FINNISH),
        ("the harb our was", ["the", "harb our", "was"], ENGLISH),
        ("came in to port", ["came", "in", "to", "port"], ENGLISH),  # two words that are a third
        ("the harb, our was", ["the", "harb,", "our", "was"], ENGLISH),  # a sign parts them
        ("the harb Our was", ["the", "harb", "Our", "was"], ENGLISH),  # so does a capital
        ("xq zv was", ["xq", "zv", "was"], ENGLISH),  # no word together
    ],
)
def test_fragments_of_one_word_are_one(text, words, known):
    whole = list(with_fragments_joined(list(tokens_of(row(text))), known))
    assert [token.text for token in whole] == words
    for token in whole:
        assert token.fell_apart is (" " in token.text)
        if token.fell_apart:
            assert len(token.spots) == 2
            assert known.knows(token.core)


def test_words_of_native_text_never_fell_apart():
    native = TextBlock("b1", content=(Text("the harb our was"),))
    assert [token.text for token in with_fragments_joined(list(tokens_of(native)), ENGLISH)] == [
        "the",
        "harb",
        "our",
        "was",
    ]


def test_the_form_of_a_number_is_its_signs():
    assert {number_form("17.305"), number_form("42.118")} == {"00.000"}
    assert number_form("3.0.44") == "0.0.00"


@pytest.mark.parametrize("language", ["zh", "ja", "ko"])
def test_languages_whose_words_no_space_parts_are_done_without(language):
    words = Lexicon(language)
    assert not words.has_list
    assert words.frequency("验潮仪") == 0.0
    assert not words.knows("验潮仪")
