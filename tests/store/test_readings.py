"""Parts of a document, pages as read, and how they are to be read, as they are stored."""

from __future__ import annotations

import pytest

from evenquill.core.evidence import Line, PageEvidence, PageKind, Word
from evenquill.core.model import Box, RemarkKind
from evenquill.core.reading.preparation import AS_FOUND, Preparation, Trust
from evenquill.core.source import SourceFacts
from evenquill.store import documents, pages, parts, preparations
from evenquill.store.database import connect
from evenquill.store.snapshots import Part

UPPER, LOWER = Part("5" * 64, "upper.jpg"), Part("6" * 64, "lower.tif")
FINNISH = Preparation(languages=("fin",))
TURNED = Preparation(turn=90, trust=Trust.PICTURE)


@pytest.fixture
def store(tmp_path):
    connection = connect(tmp_path)
    for name in ("d", "whole"):
        documents.add(connection, id=name, name="Log", source=UPPER.source, size=10, route="browser")
    return connection


def page(number: int, text: str = "float") -> PageEvidence:
    line = Line(Box(0, 0, 30, 10), 8.0, 10.0, (Word(text, 0.0, 30.0, 0, confidence=0.61),))
    return PageEvidence(number, 595, 842, PageKind.SCANNED, lines=(line,), languages=("eng",))


def test_the_files_of_a_document_keep_their_order_and_facts(store):
    parts.set_all(store, "d", [UPPER, LOWER])
    parts.set_facts(store, "d", 1, SourceFacts(media="image/tiff", pages=3))
    upper, lower = parts.every(store, "d")
    assert (upper.name, upper.facts, lower.name, lower.facts.pages) == ("upper.jpg", None, "lower.tif", 3)
    parts.set_all(store, "d", [lower, upper])
    assert parts.every(store, "d") == [lower, upper]
    assert documents.get(store, "d").source == LOWER.source
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
    head = pages.head(store, "d", 1)
    assert (head.width, head.height, head.cleaned) == (595, 842, None)
    pages.forget(store, "d", [1])
    assert pages.numbers(store, "d") == {2}


def test_readings_are_kept_so_that_one_can_stand_for_its_page_again(store):
    for number, text in ((1, "float"), (2, "valve"), (1, "gauge")):
        pages.add(store, "d", page(number, text))
    now = pages.readings(store, "d")
    assert len(store.execute("SELECT id FROM page_readings").fetchall()) == 3
    first = store.execute("SELECT min(id) FROM page_readings").fetchone()[0]
    pages.set_readings(store, "d", {1: now[2], 2: first})
    assert [one.lines[0].text for one in pages.evidence(store, "d")] == ["valve", "float"]
    # A reading knows its place in the document by where it stands, not by where it was read.
    assert [one.number for one in pages.evidence(store, "d")] == [1, 2]
    assert pages.readings(store, "d", [2]) == {2: first}


def test_a_choice_for_every_page_ends_those_for_single_ones(store):
    preparations.choose(store, "d", [3], TURNED)
    preparations.choose(store, "d", [1, 2], FINNISH)
    assert preparations.choices(store, "d") == {1: FINNISH, 2: FINNISH, 3: TURNED}
    preparations.choose(store, "d", [2], TURNED)
    assert preparations.choices(store, "d")[2] == TURNED
    preparations.choose(store, "d", [preparations.EVERY_PAGE], AS_FOUND)
    assert preparations.choices(store, "d") == {preparations.EVERY_PAGE: AS_FOUND}


def test_choices_follow_their_pages_into_another_document(store):
    preparations.choose(store, "d", [preparations.EVERY_PAGE], FINNISH)
    preparations.choose(store, "d", [2], TURNED)
    preparations.take_over(store, "d", "whole", 3, 2)
    assert preparations.choices(store, "whole") == {4: FINNISH, 5: TURNED}
    assert preparations.choices(store, "d") == {preparations.EVERY_PAGE: FINNISH, 2: TURNED}
    preparations.set_all(store, "d", {1: TURNED})
    assert preparations.choices(store, "d") == {1: TURNED}


def test_pages_of_one_document_are_copied_into_another_behind_what_stands_before_them(store):
    for number, text in ((1, "float"), (2, "valve")):
        pages.add(store, "d", page(number, text))
    pages.take_over(store, "d", "whole", 4)
    assert [(one.number, one.lines[0].text) for one in pages.evidence(store, "whole")] == [(5, "float"), (6, "valve")]
    assert not set(pages.readings(store, "whole").values()) & set(pages.readings(store, "d").values())
