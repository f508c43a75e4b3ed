"""Room on the disk: what is deleted goes, a full disk stops nothing for good, and everything can be taken out."""

from __future__ import annotations

import json
import os
import subprocess
import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import docx
import pikepdf
import pytest
from flask.testing import FlaskClient

from evenquill import cli
from evenquill.core.source import examine
from evenquill.core.source.pdf import mend
from evenquill.desk.app import create_app
from evenquill.desk.context import AppContext
from evenquill.desk.housekeeping import Housekeeper, clean_up
from evenquill.desk.job_runner import JobRunner
from evenquill.store import documents
from evenquill.store.reserve import Reserve
from evenquill.store.write_failures import WriteFailure
from tests.desk.conftest import own_page

DISK = 24_000_000
"""Bytes of the small disk."""


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    """A disk that is soon full, on which nothing else is."""
    folder = tmp_path / "disk"
    folder.mkdir()
    mounted = subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={DISK}", "tmpfs", str(folder)], capture_output=True)
    if mounted.returncode:
        pytest.skip("only root can make a small disk")
    yield folder
    subprocess.run(["umount", "-l", str(folder)], check=True)


def fill(folder: Path) -> Path:
    """Leaves no room."""
    filler = folder / "filler"
    with filler.open("wb", buffering=0) as file:
        for size in (1 << 20, 4096, 1):
            try:
                while True:
                    file.write(b"x" * size)
            except OSError:
                continue
    return filler


@pytest.fixture
def on_small_disk(
    small_disk, pool, drawing, region_reading, setting
) -> Iterator[tuple[AppContext, JobRunner, FlaskClient]]:
    context = AppContext(
        small_disk / "data", pages=pool, drawing=drawing, region_reading=region_reading, setting=setting
    )
    context.reserve = Reserve(context.data, 2_000_000)
    assert context.reserve.set_aside()
    runner = JobRunner(context)
    runner.start()
    yield context, runner, own_page(create_app(context, runner))
    runner.stop()


def test_a_disk_that_fills_up_stops_reading_with_a_sentence(on_small_disk, small_disk, typeset):
    context, _, client = on_small_disk
    pages = "\n#pagebreak()\n".join(f"= Page {n}\nThe float was found. " for n in range(1, 150))
    data = typeset(pages, "log").read_bytes()
    document = client.post("/api/documents?name=log.pdf", data=data).json["document"]["id"]
    until(lambda: client_row(client, document), lambda row: row["pages_read"] >= 2)
    filler = fill(small_disk)
    row = until(lambda: client_row(client, document), lambda row: row["state"] == "stopped")
    assert row["problem"].startswith(WriteFailure.FULL.value)
    assert 2 <= row["pages_read"] < 149
    assert context.short_of_room.is_set()
    filler.unlink()
    assert client.post(f"/api/documents/{document}/read").status_code == 200
    row = until(lambda: client_row(client, document), lambda row: row["state"] == "to correct")
    assert row["pages_read"] == 149


def test_what_waits_on_a_full_disk_is_read_when_there_is_room_again(on_small_disk, small_disk, typeset):
    context, runner, client = on_small_disk
    runner.stop()
    data = typeset("The float was found.").read_bytes()
    document = client.post("/api/documents?name=log.pdf", data=data).json["document"]["id"]
    filler = fill(small_disk)
    # The log of the database is used up.
    while client.patch(f"/api/documents/{document}", json={"name": "x" * 90}).status_code == 200:
        pass
    again = JobRunner(context)
    client = own_page(create_app(context, again))
    again.start()
    try:
        until(lambda: client.get("/api/health").json["problems"], lambda said: WriteFailure.FULL in " ".join(said))
        assert client_row(client, document)["state"] == "waiting"
        filler.unlink()
        until(lambda: client_row(client, document), lambda row: row["state"] == "to correct")
        assert client.delete(f"/api/documents/{document}").status_code == 204
        # There is too little room for deleted documents to be kept for a day.
        assert clean_up(context, now=datetime.now(UTC) + timedelta(seconds=1)) == [document]
    finally:
        again.stop()


def client_row(client, document: str) -> dict:
    (row,) = [one for one in client.get("/api/documents").json if one["id"] == document]
    return row


def until(look, wanted, seconds: float = 60.0) -> dict:
    end = time.monotonic() + seconds
    while not wanted(found := look()):
        assert time.monotonic() < end, found
        time.sleep(0.05)
    return found


def test_deleting_works_where_even_that_finds_no_room(on_small_disk, small_disk):
    context, runner, client = on_small_disk
    runner.stop()
    document = client.post("/api/documents?name=log.pdf", data=b"%PDF-1.4 log").json["document"]["id"]
    fill(small_disk)
    while client.patch(f"/api/documents/{document}", json={"name": "x" * 90}).status_code == 200:
        pass
    assert client.delete(f"/api/documents/{document}").status_code == 204
    assert client.get("/api/documents").json == []
    assert not context.reserve.give_up()


def test_a_reserve_is_set_aside_only_where_there_is_plenty(tmp_path):
    assert not Reserve(tmp_path, 1 << 60).set_aside()
    assert list(tmp_path.iterdir()) == []
    reserve = Reserve(tmp_path, 5_000_000)
    assert reserve.set_aside()
    assert (tmp_path / "reserve").stat().st_size == 5_000_000
    assert reserve.give_up()
    assert not reserve.give_up()


def test_what_was_not_finished_is_removed_at_the_start(context):
    unfinished = [context.files.incoming / "tmpabc", context.files.pictures.folder / "ab" / "tmpdef"]
    for path in unfinished:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(b"half of it")
    kept = context.files.pictures.keep(b"a picture", "image/png")
    housekeeper = Housekeeper(context)
    housekeeper.start()
    housekeeper.stop()
    assert not any(path.exists() for path in unfinished)
    assert context.files.pictures.has(kept)


def test_a_mended_copy_of_a_protected_file_is_protected_too(typeset, tmp_path):
    source, mended = tmp_path / "protected.pdf", tmp_path / "mended.pdf"
    with pikepdf.open(typeset("Not for everybody.")) as pdf:
        pdf.save(source, encryption=pikepdf.Encryption(owner="keel", user="tide"))
    mend(source, mended, "tide")
    with pytest.raises(pikepdf.PasswordError):
        pikepdf.open(mended)
    assert examine(mended, password="tide").pages == 1


def test_the_command_says_what_would_go_and_takes_it_off(client, context, taken, typeset, capsys):
    document = taken(typeset("The float was found."), "float.pdf")
    orphan = context.files.delivery("0" * 16, "docx")
    orphan.write_bytes(b"x" * 2_000_000)
    long_ago = (datetime.now(UTC) - timedelta(days=2)).timestamp()
    os.utime(orphan, (long_ago, long_ago))
    data = ["--data", str(context.data)]

    def said(*arguments: str) -> str:
        assert cli.main([*arguments, *data]) == cli.DONE
        return capsys.readouterr().out

    assert "1 files (2.0 MB) belong to nothing" in said("check")
    assert said("clean").startswith("1 files (2.0 MB)")
    client.delete(f"/api/documents/{document}")
    assert said("clean").startswith("1 deleted documents can still be brought back")
    assert orphan.exists()
    assert "1 documents forgotten, 1 files (2.0 MB) removed." in said("clean", "--now")
    assert not orphan.exists()
    with pytest.raises(KeyError):
        documents.is_deleted(context.store, document)


def test_everything_can_be_taken_out_in_open_formats(client, context, taken, typeset, tmp_path, capsys):
    source = typeset("= Oskery\nThe float was found.")
    document = taken(source, "float/1.pdf")
    path = f"/api/documents/{document}"
    rows = client.get(f"{path}/rows").json
    operation = {"op": "align", "block": rows["blocks"][1]["id"], "align": "right"}
    client.post(f"{path}/operations", json={"revision": rows["revision"], "operation": operation})
    client.post(f"{path}/deliveries", json={"format": "certificate"})
    client.post("/api/words", json={"word": "Oskery", "instead": ""})
    out = tmp_path / "out"
    assert cli.main(["export", str(out), "--data", str(context.data)]) == cli.DONE
    assert (out / "words.txt").read_text() == "Oskery\n"
    (folder,) = [one for one in out.iterdir() if one.is_dir()]
    assert [one.text for one in docx.Document(folder / "document.docx").paragraphs] == [
        "Oskery",
        "The float was found.",
    ]
    (kept,) = folder.glob("source 1, *")
    assert kept.read_bytes() == source.read_bytes()
    history = json.loads((folder / "history.json").read_text())
    assert [one["kind"] for one in history] == ["read", "edit"]
    assert history[1]["operation"]["op"] == "align"
    assert json.loads((folder / "document.json").read_text())["blocks"]
    assert len(list(folder.glob("delivered *"))) == 1
    assert cli.main(["export", str(out), "--data", str(context.data)]) == cli.WRONG_USE
    assert cli.main(["export", str(tmp_path / "other"), "--data", str(tmp_path / "no")]) == cli.WRONG_USE
