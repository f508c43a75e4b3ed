"""The language models that ship: what goes with what, how words are spelled, which hyphens stay."""

from __future__ import annotations

from collections import Counter
from math import exp, log

import pytest

from evenquill.core.evidence import Type
from evenquill.core.language_model import END, FOLDER, START, LanguageModel, key_of, model_of, tokens_of
from evenquill.core.model import Family
from evenquill.core.rebuild.facts import Facts
from evenquill.core.rebuild.hyphens import keeps_hyphen, measures


def facts(language: str) -> Facts:
    return Facts(Type("", Family.SERIF, 10), {}, Counter(), None, language)


def test_a_text_is_words_numbers_signs_and_ends_of_sentences():
    assert list(tokens_of("The gauge read 2.41, then 7 (dry). It's well-known!")) == [
        "the", "gauge", "read", "0", ",", "then", "0", "(", "dry", ")", END, "it's", "well-known", END,
    ]  # fmt: skip


def test_pairs_back_off_to_words_and_words_to_their_letters():
    model = LanguageModel(
        pairs={key_of("the gauge"): log(0.25)},
        backoff={key_of("the"): log(0.5)},
        words={key_of("gauge"): log(0.01), key_of("tide"): log(0.02)},
        letters={key_of("t"): log(0.1), key_of("$"): log(0.2)},
        letters_backoff={},
    )
    assert exp(model.after("the", "gauge")) == pytest.approx(0.25)
    assert exp(model.after("the", "tide")) == pytest.approx(0.5 * 0.02)
    assert exp(model.after("never", "tide")) == pytest.approx(0.02)
    assert exp(model.spelled("tt")) == pytest.approx(0.1 * 0.1 * 0.2)
    assert model.word("tt") < model.word("tide")


@pytest.mark.parametrize(
    ("language", "before", "likely", "unlikely"),
    [("en", "of", "the", "is"), ("de", "in", "der", "ist"), ("fr", "de", "la", "est"), ("es", "en", "el", "es")],
)
def test_what_follows_a_word_is_known_in_its_language(language, before, likely, unlikely):
    model = model_of(language)
    assert model is not None
    assert model.after(before, likely) > model.after(before, unlikely) + 1
    assert model.after(before, END) < model.after(likely, END) + 6
    assert model.after(START, likely) > model.after(before, END)


def test_words_that_no_list_has_are_judged_by_their_letters():
    model = model_of("en")
    assert model is not None
    assert model.word("regaugement") > model.word("rxgqugzmxnt")


def test_the_models_are_small_and_the_same_for_all_who_ask():
    assert sum(file.stat().st_size for file in FOLDER.glob("*.npz")) < 12_000_000
    assert model_of("de") is model_of("de")
    assert model_of("xx") is None


@pytest.mark.parametrize(
    ("language", "before", "after", "kept"),
    [
        ("en", "observ-", "ations", False),
        ("en", "fifty-", "five", True),
        ("en", "well-", "meaning", True),
        ("de", "Gesell-", "schaft", False),
        ("de", "Dampfschiff-", "fahrt", False),
        ("de", "Nord-", "Ostsee", True),
        ("fr", "gouver-", "nement", False),
        ("fr", "peut-", "être", True),
        ("es", "adminis-", "tración", False),
        ("de", "Hafen-Proto-", "koll", False),
        ("de", "Instal-", "lateur-Meister", False),
        ("en", "ship-to-", "shore", True),
    ],
)
def test_hyphens_at_line_ends_are_weighed_by_the_language(language, before, after, kept):
    assert keeps_hyphen(before, after, facts(language)) is kept


def test_what_is_weighed_of_a_hyphen_is_of_the_parts_next_to_it():
    assert measures("self-evid", "ent", "en")[0] == measures("evid", "ent", "en")[0] > 0
    assert len(measures("a", "b", "en")) == len(measures("vor", "wärts", "de"))
