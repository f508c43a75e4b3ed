"""Disks that are full and folders that take nothing: a sentence, and all as it was before."""

from __future__ import annotations

import io
import resource
import sqlite3
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager

import pytest

from evenquill.desk.job_runner import sentence_for
from evenquill.store.database import DATABASE, connect
from evenquill.store.write_failures import WriteFailure, write_failure


def rows(client, document: str) -> dict:
    return client.get(f"/api/documents/{document}/rows?count=50").json


@contextmanager
def full_database(context) -> Iterator[None]:
    """The database takes no further page: as on a full disk, SQLite says that it is full."""
    (pages,) = context.store.execute("PRAGMA page_count").fetchone()
    context.store.execute(f"PRAGMA max_page_count = {pages}")
    try:
        yield
    finally:
        context.store.execute("PRAGMA max_page_count = 1073741823")


@contextmanager
def small_files(size: int) -> Iterator[None]:
    """Files cannot grow beyond a size in bytes."""
    limits = resource.getrlimit(resource.RLIMIT_FSIZE)
    resource.setrlimit(resource.RLIMIT_FSIZE, (size, limits[1]))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, limits)


def test_an_edit_that_finds_no_room_is_refused_and_nothing_is_changed(client, context, taken, typeset):
    document = taken(typeset("The float was found."))
    before = rows(client, document)
    long = [{"type": "text", "text": "x" * 200_000}]
    edit = {"op": "edit_text", "block": before["blocks"][0]["id"], "content": long}
    body = {"revision": before["revision"], "operation": edit}
    with full_database(context):
        answer = client.post(f"/api/documents/{document}/operations", json=body)
        assert (answer.status_code, answer.json) == (507, {"error": "disk", "sentence": WriteFailure.FULL.value})
        assert rows(client, document) == before
    assert client.post(f"/api/documents/{document}/operations", json=body).status_code == 200


def test_a_file_that_finds_no_room_is_not_taken_in_by_halves(client, context):
    with small_files(20_000):
        answer = client.post("/api/documents?name=a.pdf", data=io.BytesIO(b"%PDF-1.4" + b"x" * 90_000))
    assert (answer.status_code, answer.json["error"]) == (507, "disk")
    assert client.get("/api/documents").json == []
    assert [path for path in context.files.incoming.rglob("*") if path.is_file()] == []


def test_a_delivery_that_finds_no_room_leaves_no_file_and_no_state(client, context, taken, typeset):
    document = taken(typeset("The float was found."))
    with small_files(5_000):
        answer = client.post(f"/api/documents/{document}/deliveries", json={"format": "docx"})
    assert (answer.status_code, answer.json["error"]) == (507, "disk")
    assert client.get("/api/documents").json[0]["state"] == "to correct"
    assert list(context.files.delivered.iterdir()) == []


def test_a_database_that_cannot_be_written_to_says_so(client, context, taken, typeset):
    document = taken(typeset("The float was found."))
    context.store.execute("PRAGMA query_only = ON")
    answer = client.patch(f"/api/documents/{document}", json={"name": "Another"})
    context.store.execute("PRAGMA query_only = OFF")
    assert (answer.status_code, answer.json["sentence"]) == (507, WriteFailure.READ_ONLY.value)


def test_another_writer_that_does_not_end_is_said_to_be_one(context, tmp_path):
    other = sqlite3.connect(context.data / DATABASE, isolation_level=None)
    other.execute("BEGIN IMMEDIATE")
    context.store.execute("PRAGMA busy_timeout = 50")
    with pytest.raises(sqlite3.OperationalError) as caught:
        context.store.execute("BEGIN IMMEDIATE")
    other.execute("ROLLBACK")
    other.close()
    assert write_failure(caught.value) is WriteFailure.BUSY
    assert sentence_for(caught.value).startswith("The database is busy;")
    assert write_failure(KeyError("x")) is None
    assert write_failure(OSError(2, "No such file")) is None


@pytest.mark.parametrize(
    ("content", "said"), [(b"no database at all" * 100, "not a database"), (None, "newer version")]
)
def test_a_folder_of_another_kind_ends_the_start_in_a_sentence(tmp_path, content, said):
    if content is None:
        store = connect(tmp_path)
        store.execute("PRAGMA user_version = 999")
        store.close()
    else:
        (tmp_path / DATABASE).write_bytes(content)
    command = [sys.executable, "-m", "evenquill", "serve", "--port", "0", "--data", str(tmp_path)]
    ended = subprocess.run(command, capture_output=True, text=True, timeout=60)
    assert ended.returncode == 2
    assert ended.stderr.startswith("evenquill: the server cannot run on")
    assert said in ended.stderr
    assert "Traceback" not in ended.stderr


def test_a_supervisor_is_told_whether_all_is_well(client, context, runner, taken, typeset):
    taken(typeset("The float was found."))
    answer = client.get("/api/health")
    assert answer.status_code == 200
    assert answer.json["problems"] == []
    assert answer.json["free"] > 0
    runner.stop()
    answer = client.get("/api/health")
    assert answer.status_code == 503
    assert "no longer read" in answer.json["problems"][0]
