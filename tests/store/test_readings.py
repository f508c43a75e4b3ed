"""Parts of a document, pages as read, and pages being read again, as they are stored."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from evenquill.core.model import Box, RemarkKind
from evenquill.core.reading.evidence import Line, PageEvidence, PageKind, Word
from evenquill.core.reading.preparation import AS_FOUND, Preparation, Trust
from evenquill.core.source import SourceFacts
from evenquill.store import documents, pages, parts, readings
from evenquill.store.database import connect

UPPER, LOWER = ("5" * 64, "upper.jpg"), ("6" * 64, "lower.tif")
FINNISH = Preparation(languages=("fin",))
TURNED = Preparation(turn=90, trust=Trust.PICTURE)


@pytest.fixture
def store(tmp_path):
    connection = connect(tmp_path)
    for name in ("d", "whole"):
        documents.add(connection, id=name, name="Log", source=UPPER[0], size=10, route="browser")
    return connection


def page(number: int, text: str = "float") -> PageEvidence:
    line = Line(Box(0, 0, 30, 10), 8.0, 10.0, (Word(text, 0.0, 30.0, 0, confidence=0.61),))
    return PageEvidence(number, 595, 842, PageKind.SCANNED, lines=(line,), languages=("eng",))


def test_the_files_of_a_document_keep_their_order_and_facts(store):
    parts.add(store, "d", [UPPER, LOWER])
    parts.set_facts(store, "d", 1, SourceFacts(media="image/tiff", pages=3))
    assert [(part.position, part.name, part.facts and part.facts.pages) for part in parts.every(store, "d")] == [
        (0, "upper.jpg", None),
        (1, "lower.tif", 3),
    ]
    parts.reorder(store, "d", (1, 0))
    assert [(part.position, part.name, part.facts and part.facts.pages) for part in parts.every(store, "d")] == [
        (0, "lower.tif", 3),
        (1, "upper.jpg", None),
    ]
    assert documents.get(store, "d").source == LOWER[0]
    for wrong in ((0,), (0, 0), (0, 2), (0, 1, 2)):
        with pytest.raises(ValueError):
            parts.reorder(store, "d", wrong)
    assert parts.every(store, "whole") == []


def test_a_page_comes_back_as_it_was_read(store):
    first = page(1).remarked(RemarkKind.BLANK, "Page {page} is blank.")
    pages.add(store, "d", first)
    pages.add(store, "d", page(2))
    assert pages.one(store, "d", 1) == first
    assert pages.evidence(store, "d") == [first, page(2)]
    assert pages.evidence(store, "d", up_to=1) == [first]
    assert [row.remark for row in pages.every(store, "d")] == ["Page 1 is blank.", ""]
    with pytest.raises(KeyError):
        pages.one(store, "d", 3)
    pages.forget(store, "d", [1])
    assert pages.numbers(store, "d") == {2}
    pages.forget(store, "d")
    assert pages.numbers(store, "d") == set()


def test_the_number_of_a_reading_changes_with_what_was_read_and_only_then(store):
    pages.add(store, "d", page(1))
    pages.add(store, "d", page(2, "valve"))
    first = pages.readings(store, "d", [1, 2, 3])
    assert set(first) == {1, 2}
    assert first[1] != first[2]
    pages.add(store, "d", page(1))
    assert pages.readings(store, "d", [1, 2]) == first
    pages.add(store, "d", page(1, "valve"))
    again = pages.readings(store, "d", [1, 2])
    assert again[1] != first[1]
    assert again[2] == first[2]
    assert pages.readings(store, "d", [2]) == {2: first[2]}


def test_a_choice_for_every_page_ends_those_for_single_ones(store):
    readings.choose(store, "d", [3], TURNED)
    readings.choose(store, "d", [1, 2], FINNISH)
    assert readings.choices(store, "d") == {1: FINNISH, 2: FINNISH, 3: TURNED}
    readings.choose(store, "d", [2], TURNED)
    assert readings.choices(store, "d")[2] == TURNED
    readings.choose(store, "d", [readings.EVERY_PAGE], AS_FOUND)
    assert readings.choices(store, "d") == {readings.EVERY_PAGE: AS_FOUND}


def test_choices_follow_their_pages_into_another_document(store):
    readings.choose(store, "d", [readings.EVERY_PAGE], FINNISH)
    readings.choose(store, "d", [2], TURNED)
    readings.take_over(store, "d", {1: 4, 2: 5}, "whole")
    assert readings.choices(store, "whole") == {4: FINNISH, 5: TURNED}
    assert readings.choices(store, "d") == {readings.EVERY_PAGE: FINNISH, 2: TURNED}


def test_choices_follow_their_pages_when_files_change_places(store):
    readings.choose(store, "d", [readings.EVERY_PAGE], FINNISH)
    readings.choose(store, "d", [1], TURNED)
    readings.take_over(store, "d", {1: 3, 2: 1, 3: 2}, "d")
    assert readings.choices(store, "d") == {readings.EVERY_PAGE: FINNISH, 3: TURNED}


def test_pages_to_be_read_again_wait_until_all_are_there(store):
    readings.ask_again(store, "d", [2, 1, 5])
    assert readings.waiting(store, "d") == [1, 2, 5]
    readings.keep(store, "d", page(2))
    assert readings.waiting(store, "d") == [1, 5]
    assert readings.done(store, "d") == [page(2)]
    readings.ask_again(store, "d", [2])  # asked for once more: what was read does not count
    assert readings.waiting(store, "d") == [1, 2, 5]
    readings.keep(store, "d", page(7))  # never asked for
    assert readings.done(store, "d") == []
    for number in (5, 1, 2):
        readings.keep(store, "d", replace(page(1), number=number))
    assert [one.number for one in readings.done(store, "d")] == [1, 2, 5]
    readings.forget(store, "d")
    assert readings.waiting(store, "d") == readings.done(store, "d") == []
