"""Data folders of earlier releases: everything in them is there afterwards, in its new form."""

from __future__ import annotations

import json
import sqlite3
import zlib

import msgspec
import pytest

from evenquill.core.document_state import DocumentState
from evenquill.core.edits import apply, undo
from evenquill.core.model import (
    BlockLink,
    DoubtKey,
    Field,
    FieldKind,
    Marks,
    NoteRef,
    PageLink,
    Running,
    RunningPair,
    RunningPart,
    Tab,
    TableBlock,
    Text,
    UrlLink,
)
from evenquill.core.model.grid import grid_faults
from evenquill.core.model.ids import Ids
from evenquill.store import database, documents, history, jobs, pages, proofs, queries, snapshots
from evenquill.store.database import connect
from evenquill.store.jobs import JobKind

BOX = [10.0, 10.0, 200.0, 22.0]


def as_of(folder, version: int) -> sqlite3.Connection:
    """A database as a release wrote it that knew the schema up to a version."""
    connection = sqlite3.connect(folder / database.DATABASE, isolation_level=None)
    connection.row_factory = sqlite3.Row
    for number, migrate in enumerate(database._migrations()[:version], 1):
        migrate(connection)
        connection.execute(f"PRAGMA user_version = {number:d}")
    return connection


def add_document(old: sqlite3.Connection, id: str, state: str = "to correct", **columns) -> None:
    values = {
        "id": id, "name": "Report.pdf", "source": "5" * 64, "size": 10, "route": "browser", "state": state,
        "arrived_at": "2026-01-01", "changed_at": "2026-01-02", "page_count": 2, **columns,
    }  # fmt: skip
    names = ", ".join(values)
    old.execute(f"INSERT INTO documents ({names}) VALUES ({', '.join('?' * len(values))})", list(values.values()))


def run(text: str, **look) -> dict:
    return {"text": text, **look}


def text_block(id: str, *runs: dict, words=(), **more) -> dict:
    return {
        "type": "text",
        "id": id,
        "runs": list(runs),
        "style": "Body text",
        "words": list(words),
        "spots": [[1, BOX]],
        **more,
    }


def blob(value) -> bytes:
    return json.dumps(value).encode()


MARKED = text_block(
    "b1",
    run("The level"),
    run("12", marks=16, note="b3"),
    run(" was\thigh, see "),
    run("page 2", link="#page=2"),
    run(" or "),
    run("there", link="https://a.example", marks=1),
    run(" or "),
    run("Table 1", link="#block=b2"),
    words=[[0, 3, 1, BOX], [4, 11, 1, BOX], [12, 15, 1, BOX, 0.5]],
)
TABLE = {
    "type": "table", "id": "b2", "widths": [50.0, 50.0], "header_rows": 1, "spots": [[1, BOX]],
    "cells": [
        {"row": 0, "column": 0, "columns": 2, "texts": [text_block("b2.0.0", run("Heights"))]},
        {"row": 1, "column": 0, "texts": [text_block("b2.1.0", run("2.31"))]},
        {"row": 1, "column": 1, "texts": [text_block("b2.1.1", run("0.87"))]},
    ],
}  # fmt: skip
NOTE = text_block("b3", run("Read from the staff, {page} of the log."), role="note")
LAST = text_block("n0a", run("Second half"), aside=True)


@pytest.fixture
def old(tmp_path):
    """A document with corrections, some of them undone, as the release before wrote it."""
    connection = as_of(tmp_path, 5)
    head = {"runs": [run("Page {page}\tof the log")], "style": "Running foot", "tabs": [100.0]}
    properties = {
        "title": "Report", "language": "en", "styles": [{"name": "Body text"}],
        "pages": [{"width": 420.0, "height": 595.0, "text_box": BOX}] * 2,
        "running": [{"page": 1, "usual": {"footer": head}}],
        "settled": {"kept": ["word|1|high", "page|2|page 2"], "words": ["Oskery"]},
    }  # fmt: skip
    add_document(connection, "d", revision=9, properties=blob(properties), facts=blob({"pages": 2}))
    connection.execute(
        "INSERT INTO parts (document, position, source, name, facts) VALUES ('d', 0, ?, 'Report.pdf', ?)",
        ("5" * 64, blob({"pages": 1})),
    )
    connection.execute(
        "INSERT INTO parts (document, position, source, name, facts) VALUES ('d', 1, ?, 'More.pdf', ?)",
        ("6" * 64, blob({"pages": 1})),
    )
    for n, block in enumerate((MARKED, TABLE, NOTE, LAST)):
        connection.execute(
            "INSERT INTO blocks (document, id, position, page, body) VALUES ('d', ?, ?, 1, ?)",
            (block["id"], (n + 1) << 20, blob(block)),
        )
    whole = text_block("b3", run("Read from the staff, {page} of the log. Second half"), role="note")
    steps = [
        ({"op": "split", "block": "b3", "offset": 40, "new_id": "n0a"},
         [{"op": "restore", "at": 2, "count": 2, "blocks": [whole], "styles": [{"name": "Body text"}]}], 0),
        ({"op": "set_aside", "block": "n0a", "aside": True},
         [{"op": "restore", "at": 3, "count": 1, "blocks": [{**LAST, "aside": False}]}], 0),
        ({"op": "settle", "answers": [{"block": "b1", "start": 16, "end": 20, "read": "high", "text": "high",
                                       "query": "word|1|high", "typed": False}]},
         [{"op": "restore", "at": 0, "count": 0, "blocks": [],
           "settled": {"kept": ["page|2|page 2"], "words": ["Oskery"]}}], 0),
        ({"op": "edit_text", "block": "b2.1.1", "runs": [run("0.78")]}, [], 1),
        ({"op": "split", "block": "b1", "offset": 9, "new_id": "n0b"}, [], 1),
        ({"op": "set_kind", "block": "n0b", "role": "heading", "level": 2, "ordered": False}, [], 1),
    ]  # fmt: skip
    for operation, inverse, undone in steps:
        connection.execute(
            "INSERT INTO operations (document, operation, inverse, undone, made_at, settled) VALUES ('d', ?, ?, ?, '2026', 1)",
            (blob(operation), blob(inverse), undone),
        )
    for number in (1, 2):
        evidence = {
            "number": number, "width": 420.0, "height": 595.0, "links": [[BOX, "#page=1"], [BOX, "mailto:a@b.example"]],
            "remarks": [{"kind": "blank", "sentence": "Page {page} is blank."}],
        }  # fmt: skip
        packed = zlib.compress(msgspec.msgpack.encode(evidence))
        connection.execute(
            "INSERT INTO pages (document, number, kind, remark, seconds, reading, evidence) VALUES ('d', ?, 'native', '', 0.5, 77, ?)",
            (number, packed),
        )
        connection.execute(
            "INSERT INTO word_shapes (document, page, reading, boxes, shapes) VALUES ('d', ?, 77, x'', x'')", (number,)
        )
    query = {
        "kind": "unmarked note", "page": 1, "text": "Read from the staff b3", "likelihood": 0.6, "reason": "x", "block": "b3",
        "spots": [[1, BOX]], "fixes": [{"label": "y", "operation": {"op": "set_aside", "block": "b3", "aside": True}}],
    }  # fmt: skip
    connection.execute(
        "INSERT INTO queries (document, id, block, kind, counted, left, body) VALUES ('d', 'old', 'b3', 'unmarked note', 1, 1, ?)",
        (blob(query),),
    )
    connection.close()
    return tmp_path


def test_content_becomes_typed_elements_and_words_keep_their_text(old):
    store = connect(old)
    proof = proofs.read(store, "d")
    first, table, note, last = proof.blocks
    assert first.content == (
        Text("The level"), NoteRef("b3", "12"), Text(" was"), Tab(), Text("high, see "), Text("page 2", link=PageLink(2)),
        Text(" or "), Text("there", Marks.BOLD, link=UrlLink("https://a.example")), Text(" or "), Text("Table 1", link=BlockLink("b2")),
    )  # fmt: skip
    assert [first.text[word.start : word.end] for word in first.words] == ["The", "level\ufffc", "was"]
    assert isinstance(table, TableBlock)
    assert list(grid_faults(table)) == []
    assert [text.id for text in table.texts] == ["b2.0.0", "b2.1.0", "b2.1.1"]
    assert note.text == "Read from the staff, {page} of the log."  # which is text, and no field
    assert last.excluded
    (part,) = proof.running
    assert part.usual.footer.content == (Text("Page "), Field(FieldKind.PAGE), Tab(), Text("of the log"))
    assert proof.settled.kept == (DoubtKey("word", 1, "high"), DoubtKey("page", 2, "page 2"))
    assert proof.settled.words == ("Oskery",)
    assert [(style.id, style.name) for style in proof.resolved_styles.values()] == [("Body text", "Body text")]
    assert {block.section for block in proof.blocks} == {section.id for section in proof.sections}
    assert [page.width for page in proof.pages] == [420.0, 420.0]


def test_the_history_runs_both_ways_and_what_was_read_first_is_known(old):
    store = connect(old)
    assert documents.get(store, "d").revision == 9
    assert history.directions(store, "d") == (True, True)
    proof = before = proofs.read(store, "d")
    for step in reversed(history.edits_done(store, "d")):
        proof = undo(proof, step.inverse)
    assert [block.id for block in proof.blocks] == ["b1", "b2", "b3"]
    assert proof.settled.kept == (DoubtKey("page", 2, "page 2"),)
    assert snapshots.as_read(store, "d").blocks == proof.blocks
    step = history.first_undone(store, "d")
    undone = store.execute("SELECT * FROM changes WHERE status = 'undone' ORDER BY number").fetchall()
    assert len(undone) == 3
    assert documents.new_ids(store, "d") > 3
    again = before
    for row in undone:
        step = history._decoded(store.execute(
            "SELECT number, kind, operation, first_id, inverse FROM changes WHERE number = ?", (row["number"],)
        ).fetchone())  # fmt: skip
        again = apply(again, step.operation, Ids(step.first_id)).document
    assert [block.text for block in again.blocks[2].texts] == ["Heights", "2.31", "0.78"]
    assert (again.blocks[1].role, again.blocks[1].level) == ("heading", 2)


def test_readings_know_their_file_and_their_links(old):
    store = connect(old)
    first, second = pages.evidence(store, "d")
    assert [link.target for link in first.links] == [PageLink(1), UrlLink("mailto:a@b.example")]
    assert second.file_page == 1
    assert second.target_of(second.links[0]) == PageLink(2)  # page 1 of the second file
    assert [row.remark for row in pages.every(store, "d")] == ["Page 1 is blank.", "Page 2 is blank."]
    current = pages.readings(store, "d")
    assert dict(store.execute("SELECT page, reading FROM word_shapes").fetchall()) == current


def test_queries_stay_and_so_does_what_was_left_for_later(old):
    ((query, left),) = queries.every(connect(old), "d")
    assert left
    assert (query.text, query.key.block) == ("Read from the staff", "b3")
    assert query.fixes[0].operation.excluded is True


def test_pages_that_were_being_read_again_are_read_on_and_states_are_told_apart(tmp_path):
    store = as_of(tmp_path, 5)
    add_document(store, "again", "reading", revision=1, properties=blob({"title": "A"}), facts=blob({"pages": 2}))
    add_document(store, "new", "waiting")
    add_document(store, "broken", "stopped", problem="This is no PDF.")
    add_document(store, "held", "stopped", problem="Reading was stopped.")
    evidence = zlib.compress(msgspec.msgpack.encode({"number": 2, "width": 9.0, "height": 9.0}))
    store.execute(
        "INSERT INTO readings_again (document, number, evidence) VALUES ('again', 1, NULL), ('again', 2, ?)",
        (evidence,),
    )
    store.execute(
        "INSERT INTO jobs (document, state, queued_at) VALUES ('again', 'running', '1'), ('new', 'waiting', '2')"
    )
    store.close()
    now = connect(tmp_path)
    states = {row.id: row.state for row in documents.every(now)}
    assert states == {
        "again": DocumentState.TO_CORRECT,
        "new": DocumentState.WAITING,
        "broken": DocumentState.FAILED,
        "held": DocumentState.STOPPED,
    }
    first, second = jobs.take(now, "server"), jobs.take(now, "server")
    assert (first.kind, first.document, first.payload.pages) == (JobKind.READ_AGAIN, "again", (1, 2))
    assert set(jobs.kept_pages(now, first.number)) == {2}
    assert (second.kind, second.document) == (JobKind.READ, "new")


def test_columns_of_documents_read_earlier_are_known(tmp_path):
    store = as_of(tmp_path, 4)
    add_document(store, "d", revision=1, properties=blob({"title": "A"}))
    for n, block in enumerate((text_block("b1", run('"columns":3')), text_block("b2", run("x"), columns=2))):
        store.execute(
            "INSERT INTO blocks (document, id, position, page, body) VALUES ('d', ?, ?, 1, ?)",
            (block["id"], n, blob(block)),
        )
    store.close()
    now = connect(tmp_path)
    document = proofs.read(now, "d")
    columns = {section.id: section.columns for section in document.sections}
    assert [columns[block.section] for block in document.blocks] == [1, 2]


def test_running_heads_of_documents_read_earlier_are_kept(tmp_path):
    store = as_of(tmp_path, 3)
    head = {
        "title": "R",
        "header": {"runs": [run("Gauges")], "style": "Running head"},
        "first_page_plain": True,
        "first_number": 3,
    }
    add_document(store, "d", properties=blob(head))
    add_document(store, "plain", properties=blob({"title": "Letter"}))
    store.close()
    now = connect(tmp_path)
    (part,) = proofs.properties(now, "d").running
    assert part == RunningPart(
        "b1", RunningPair(Running((Text("Gauges"),), "Running head")), first=RunningPair(), start=3
    )
    assert proofs.properties(now, "plain").running == ()


def test_a_migration_that_fails_leaves_the_data_as_they_were(old, monkeypatch):
    real = database._migrations()

    def broken(connection: sqlite3.Connection) -> None:
        raise sqlite3.OperationalError("no space")

    monkeypatch.setattr(database, "_migrations", lambda: [*real[:6], broken, *real[7:]])
    with pytest.raises(sqlite3.OperationalError, match="no space"):
        connect(old)
    monkeypatch.undo()
    assert len(proofs.read(connect(old), "d").blocks) == 4
