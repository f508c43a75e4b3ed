"""Queries: wrong words are asked about with the right answer, sound ones are left in peace."""

from __future__ import annotations

import json
import math

import numpy as np
import pytest
import scan_effects
from msgspec.structs import replace

from evenquill import cli
from evenquill.core.edits.words import moved_words
from evenquill.core.model import Box, Document, OtherReading, ParagraphStyle, Text, TextBlock, WordSpot
from evenquill.core.queries import find_queries
from evenquill.core.queries.answers import answers
from evenquill.core.queries.kinds.words import with_neighbours
from evenquill.core.queries.lexicon import Words, lexicon
from evenquill.core.queries.likelihood import likelihoods
from evenquill.core.queries.shapes import is_code, is_plain_number, oddity, spoiled_number
from evenquill.core.queries.tokens import tokens
from evenquill.core.queries.word_measures import MEASURES, Vouchers, measures
from evenquill.core.queries.word_widths import widths_off

ENGLISH = Words((lexicon("en"),))
SOUND = "The float was found hard against the guide wire and the whole trace is lost."


def read(text: str, unsure: dict[str, float] | None = None, others: dict[str, tuple] | None = None) -> TextBlock:
    """A row that was recognised: words are sure but for those named, with other readings for some."""
    words, at = [], 0
    for word in text.split(" "):
        sure = (unsure or {}).get(word, 0.97)
        readings = tuple(OtherReading(*other) for other in (others or {}).get(word, ()))
        words.append(WordSpot(at, at + len(word), 1, Box(6.0 * at, 100, 6.0 * (at + len(word)), 112), sure, readings))
        at += len(word) + 1
    return TextBlock("b1", content=(Text(text),), style="Body text", words=tuple(words))


def document(*rows: TextBlock, language: str = "en") -> Document:
    return Document("Report", language, (ParagraphStyle("Body text"),), rows)


def asked(row: TextBlock, language: str = "en") -> dict[str, tuple[str, ...]]:
    return {query.text: query.answers for query in find_queries(document(row, language=language))}


@pytest.mark.parametrize(
    ("language", "text"),
    [
        ("en", SOUND),
        ("en", "Levels are given in Table 6; the keeper’s reduced heights agree to within 12 mm."),
        ("de", "Die Pegelstände der Woche wurden überprüft und die Wasserstandsmessung für genügend befunden."),
        ("fr", "Le flotteur de l’échelle a été retrouvé contre le fil, et la courbe n’est pas perdue."),
        ("fi", "Vedenkorkeuden havainnot on kirjoitettu puhtaaksi koko kuukauden ajalta."),
    ],
)
def test_sound_text_is_left_in_peace(language, text):
    assert asked(read(text), language) == {}


@pytest.mark.parametrize(
    ("wrong", "right"),
    [
        ("The well was purnped dry.", "pumped"),
        ("The fIoat was hard.", "float"),
        ("The orifice was cteaned of weed.", "cleaned"),
        ("He teads the staff at noon.", "reads"),
        ("The wbole trace is lost.", "whole"),
        ("Ice in the wellis reported", "well is"),
        ("The record’shows a line", "record shows"),
    ],
)
def test_a_misread_word_is_asked_about_and_the_right_one_is_among_the_answers(wrong, right):
    (word,) = [word for word in wrong.split() if word not in SOUND and not lexicon("en").knows(word.strip("."))]
    found = asked(read(wrong, {word: 0.7}))
    assert right in [answer.strip(".") for answer in found[word]]


def test_other_readings_of_the_recogniser_are_answers():
    row = read("The tide at Skerrm was high.", {"Skerrm": 0.6}, {"Skerrm": ((5, "in", 0.4),)})
    assert asked(row)["Skerrm"][0] == "Skerrin"


def test_words_of_the_document_vouch_for_each_other_and_are_answers():
    rows = [read("Morvane came to Morvane and Morvane left.")]
    assert asked(rows[0]) == {}
    wrong = read("Morvane saw Morvane and Morvano left Morvane.", {"Morvano": 0.6})
    found = asked(wrong)
    assert set(found) == {"Morvano"}
    assert found["Morvano"][0] == "Morvane"


def test_a_letter_among_digits_is_asked_about_even_on_native_pages():
    row = TextBlock("b1", content=(Text("On page 1O7 the height is 3.4l8 metres, at gauge G-17 and on the 3rd."),))
    found = {query.text: query for query in find_queries(document(row))}
    assert {text: query.answers[0] for text, query in found.items()} == {"1O7": "107", "3.4l8": "3.418"}
    assert all(query.kind == "number" for query in found.values())


def test_native_text_is_not_doubted_for_its_words():
    row = TextBlock("b1", content=(Text("Xqzz vvlk is written so in the source."),))
    assert find_queries(document(row)) == []


def test_what_is_set_aside_or_was_changed_by_the_clerk_is_not_asked_about():
    row = read("The well was purnped dry.", {"purnped": 0.5})
    assert set(asked(row)) == {"purnped"}
    aside = TextBlock("b1", content=row.content, words=row.words, excluded=True)
    assert find_queries(document(aside)) == []
    after = "The well was purmped dry."
    changed = TextBlock("b1", content=(Text(after),), words=moved_words(row.words, row.text, after))
    assert find_queries(document(changed)) == []
    assert [word.confidence for word in changed.words] == [0.97, 0.97, 0.97, 1.0, 0.97]


def test_a_language_without_a_list_is_doubted_by_the_recogniser_alone():
    assert not lexicon("tlh").has_list
    row = read("nuqneH tlhIngan maH nuqDaq", {"maH": 0.2})
    assert "maH" in asked(row, "tlh")
    assert not lexicon("").has_list


def shifted(word: WordSpot, by: int) -> WordSpot:
    return word._replace(start=word.start + by, end=word.end + by)


def test_a_query_says_where_it_is_and_why():
    row = read("The well was purnped, the orifice cleared.", {"purnped,": 0.41})
    (query,) = find_queries(document(row))
    assert (query.block, row.text[query.start : query.end]) == ("b1", "purnped,")
    assert query.spots[0].box == Box(78, 100, 126, 112)
    assert query.reason == "not in the English word list · reader 41 %"
    assert query.context == "The well was purnped, the orifice cleared."
    assert query.answers[0] == "pumped,"
    # Its id stays what it is whatever is typed before it in the row.
    longer = replace(row, content=(Text("Now: " + row.text),), words=tuple(shifted(word, 5) for word in row.words))
    (moved,) = find_queries(document(longer))
    assert (moved.id, moved.key, moved.start) == (query.id, query.key, query.start + 5)
    assert query.likelihood > 0.5


def test_the_two_halves_of_a_broken_word_are_one():
    text = "the orifice was deaned"
    words = (
        WordSpot(0, 3, 1, Box(0, 0, 10, 10), 0.96),
        WordSpot(4, 11, 1, Box(12, 0, 40, 10), 0.96, (OtherReading(0, "c", 0.2),)),
        WordSpot(4, 11, 1, Box(0, 12, 20, 22), 0.5),
        WordSpot(12, 15, 1, Box(22, 12, 30, 22), 0.96),
        WordSpot(16, 22, 1, Box(32, 12, 60, 22), 0.96),
    )
    every = list(tokens(document(TextBlock("b1", content=(Text(text),), words=words))))
    assert [(token.text, len(token.spots), token.confidence) for token in every] == [
        ("the", 1, 0.96),
        ("orifice", 2, 0.5),
        ("was", 1, 0.96),
        ("deaned", 1, 0.96),
    ]


def test_likelihood_grows_with_doubt_and_with_what_no_list_has():
    assert likelihoods([]) == []
    told = {}
    for word in ("pumped", "pumqed"):
        measured = []
        for sure in (0.97, 0.85, 0.6, 0.3):
            words = list(tokens(document(read(f"The well was {word} dry.", {word: sure}))))
            token, beside = list(with_neighbours(words, ENGLISH))[3]
            measured.append(measures(token, beside, ENGLISH, Vouchers.of(words)))
            assert len(measured[-1]) == len(MEASURES)
        told[word] = likelihoods(measured)
    assert told["pumqed"][0] < told["pumqed"][-1] > 0.5
    assert all(right < wrong for right, wrong in zip(*told.values(), strict=True))


def test_a_word_that_lost_letters_is_too_wide_for_what_was_read():
    read_as = "The keeper found the oat hard against the wire"
    spots, start, x = [], 0, 50.0
    for word in read_as.split():
        width = 6 * len("float" if word == "oat" else word)
        spots.append(WordSpot(start, start + len(word), 1, Box(x, 0, x + width, 10), 0.96))
        start, x = start + len(word) + 1, x + width + 6
    words = list(tokens(document(TextBlock("b1", content=(Text(read_as),), words=tuple(spots)))))
    widths = widths_off(words)
    assert [round(width.off, 2) for width in widths] == [0, 0, 0, 0, round(math.log(5 / 3), 2), 0, 0, 0, 0]
    assert widths_off(words[:2]) == [None, None]  # so few tell nothing of how wide letters are


@pytest.mark.parametrize(
    ("core", "number"),
    [
        *(("1O7", "107"), ("l974", "1974"), ("3.4l8", "3.418")),
        *((code, None) for code in ("O5", "G-17", "3rd", "hall", "B.1", "B.1.2")),
    ],
)
def test_rows_of_digits_with_letters_are_told_from_codes(core, number):
    assert spoiled_number(core) == number


def test_mixes_of_characters_are_odd_and_usual_ones_are_not():
    for usual in ("keeper’s", "two-day", "McTarrow", "G-17", "12mm", "XIV", "e.g", "A4"):
        assert oddity(usual, usual) < 0.9, usual
    for word in ("a", "I", "и", "В", "ή"):
        assert oddity(word, word) == 0, word
    for odd in ("ke3per", "fl¢at", "floAt", "wеed", "for.tomes"):  # the fourth has a Cyrillic letter
        assert oddity(odd, odd) >= 0.8, odd
    assert is_code("3rd")
    for number in ("1974", "3.418", "1 250,50", "14.3.1971", "09:10", "12–14", "2.1.1"):
        assert is_plain_number(number.replace(" ", "’")), number
    for number in ("5:398", "2.4.876", "..5"):
        assert not is_plain_number(number), number


def test_compounds_and_elided_articles_are_words():
    assert lexicon("de").knows("Wasserstandsmessung")
    assert not lexicon("de").knows("Wassrestandsmessnug")
    assert lexicon("fr").knows("l’échelle")
    assert lexicon("en").knows("keeper's")
    assert lexicon("en").knows("guide-wire")
    assert not lexicon("en").knows("guide-wjre")
    assert lexicon("fi").knows("vedenkorkeuksistammekin")
    assert lexicon("en").frequency("tide") > lexicon("en").frequency("orifice") > 0


def test_signs_around_a_word_stay_with_its_answers():
    row = read('He said: "purnped".', {'"purnped".': 0.5})
    words = list(tokens(document(row)))
    assert answers(words[2], ENGLISH, Vouchers.of(words))[0] == '"pumped".'


def test_a_quotation_mark_without_its_fellow_may_be_a_stop_or_nothing():
    row = read("within thirty metres of a tide gauge”", {"gauge”": 0.7})
    assert {"gauge.", "gauge"} <= set(asked(row)["gauge”"])
    balanced = read("he called it “a gauge” at noon", {"gauge”": 0.9})
    assert asked(balanced) == {}


def test_the_report_of_a_scan_names_its_queries(typeset, tmp_path):
    chance = np.random.default_rng(3)
    page = scan_effects.scanned(
        scan_effects.printed(scan_effects.drawn(typeset(SOUND + " But xqzvk wjpq ntrhb."), 1, 120), chance), chance
    )
    source = tmp_path / "scan.pdf"
    source.write_bytes(scan_effects.as_pdf([page], 120, 30, grey=True))
    report = tmp_path / "report.json"
    options = ["--report", str(report), "--language", "eng", "--workers", "1"]
    assert cli.main(["convert", str(source), "-o", str(tmp_path / "out.docx"), *options]) == cli.DONE
    every = json.loads(report.read_text())["queries"]
    queries = [query for query in every if query["kind"] != "two rows"]  # which a short last line may be
    assert any(query["text"][-1] in "qbk." and not query["text"].startswith("But") for query in queries)
    for query in queries:
        assert query["kind"] in {"word", "number"}
        assert query["page"] == 1
        assert len(query["box"]) == 4
        assert query["text"] in query["context"]
        assert 0 <= query["likelihood"] <= 1


def test_a_sign_that_was_seen_and_not_read_and_another_reading_are_answers():
    row = read("the float was dry The hut", {"dry": 0.93}, {"dry": ((3, ".", 0.5),)})
    assert asked(row)["dry"][0] == "dry."
    row = read("the flcat was dry", {"flcat": 0.8}, {"flcat": ((-1, "float", 0.5),)})
    assert asked(row)["flcat"][0] == "float"


def test_several_characters_are_read_otherwise_at_once():
    row = read("the wh0lc trace", {"wh0lc": 0.5}, {"wh0lc": ((2, "o", 0.7), (4, "e", 0.7))})
    assert asked(row)["wh0lc"][0] == "whole"


def test_a_word_that_fell_apart_is_one_doubt_with_the_whole_word_as_its_answer():
    row = read("The harb our was closed at noon.", {"harb": 0.9, "our": 0.95})
    (query,) = find_queries(document(row))
    assert row.text[query.start : query.end] == query.text == "harb our"
    assert query.answers[0] == "harbour"
    assert query.reason.startswith("may be one word")
    assert len(query.spots) == 2
    # Two words that together make a third are two words.
    assert asked(read("It came in to port at an other time.")) == {}
    # A stop between them parts them, and so does the end of a line.
    assert "harb. our" not in asked(read("The harb. our was closed.", {"harb.": 0.9}))


def test_numbers_are_written_as_the_others_of_their_document():
    text = " ".join(f"{n}.{300 + n}" for n in range(2, 26)) + " 3.0.44 and 11-126"
    found = asked(read(text, {"3.0.44": 0.8, "11-126": 0.8}))
    assert found["3.0.44"][0] == "3.044"
    assert "11.126" in found["11-126"]
    few = Vouchers.of(tokens(document(read("1.2.3 and 4.5"))))
    assert not few.is_written_otherwise("1.2.3")


def test_a_name_that_is_nearly_another_of_the_document_is_doubted_more():
    names = "Hesketh came and Hesketh went; Hesketh stayed with Hesketli and Ardling."
    vouchers = Vouchers.of(tokens(document(read(names))))
    assert vouchers.is_near_repeated("Hesketli")
    assert not vouchers.is_near_repeated("Ardling")
    assert asked(read(names, {"Hesketli": 0.93}))["Hesketli"][0] == "Hesketh"


@pytest.mark.parametrize(
    ("text", "doubted", "first"),
    [
        ("The stove is lit at six Read the staff then.", "six", "six."),
        ("The stove is lit at six but the door is shut.", "six", "six,"),
        ("We saw that Which came in.", "Which", "which"),
        ("The height at $-87 is lost.", "$-87", "S-87"),
    ],
)
def test_the_likeliest_answer_comes_first(text, doubted, first):
    unread = ((len(doubted), ".", 0.5),) if doubted == "six" else ()
    row = read(text, {doubted: 0.7}, {doubted: unread})
    token = next(token for token in tokens(document(row)) if token.text == doubted)
    assert answers(token, ENGLISH, Vouchers.of(tokens(document(row))))[0] == first


def test_codes_are_no_capitals_within_a_sentence():
    assert (
        asked(read("The gauge at A-16 that is broken and the next B-44 are shut.", {"A-16": 0.93, "B-44": 0.93})) == {}
    )


def test_what_is_too_long_for_a_word_is_none():
    """It would take minutes to find what it may have been meant as."""
    long = "gauge" * 20_000
    found = find_queries(Document(blocks=(TextBlock("a", content=(Text(f"The {long} was raed."),)),)))
    assert [query.text for query in found if len(query.text) > 100] == []
