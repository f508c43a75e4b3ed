"""Parts of the server by themselves: descriptions, events, drawing, demo, jobs after a crash."""

from __future__ import annotations

import io
import json
import subprocess
import sys
import threading
import time
from pathlib import Path

import msgspec
import pytest
from PIL import Image

from evenquill.core.edits import EditText, SetAside
from evenquill.core.model import Box, Run
from evenquill.core.reading.jobs import Leaf, page_jobs
from evenquill.desk.app import create_app
from evenquill.desk.demo import demo_files, place_demo_documents
from evenquill.desk.describe import described_api, main, markdown, openapi
from evenquill.desk.drawing import DrawingError, Strip
from evenquill.desk.endpoints import Api, ApiError
from evenquill.desk.events import WAITING_EVENTS, Events
from evenquill.desk.intake import purge_deleted, take_in
from evenquill.desk.proofs import NotCorrectable, NothingToUndo, StaleRevision
from evenquill.desk.reading import ReadingRoom
from evenquill.store import documents, jobs, pages
from evenquill.store.documents import State

ROOT = Path(__file__).parents[2]


def test_the_description_is_complete_and_every_reference_leads_somewhere():
    api = described_api()
    described = openapi(api)
    text = json.dumps(described)
    names = {part.split('"')[0] for part in text.split("#/components/schemas/")[1:]}
    assert names <= set(described["components"]["schemas"])
    assert all(endpoint.summary.endswith(".") for endpoint in api.endpoints)
    assert "POST /api/documents/{document}/operations" in markdown(api)


def test_the_descriptions_in_the_repository_are_up_to_date(tmp_path):
    (tmp_path / "docs").mkdir()
    main(tmp_path)
    for name in ("api.md", "openapi.json"):
        assert (tmp_path / "docs" / name).read_text() == (ROOT / "docs" / name).read_text(), "run script/api"


def test_events_reach_all_listeners_and_a_slow_one_does_no_harm():
    events = Events()
    quick, slow = events.listen(), events.listen()
    assert (next(quick), next(slow)) == ("", "")
    for n in range(WAITING_EVENTS + 50):
        events.tell(str(n))
    assert [next(quick) for _ in range(3)] == ["0", "1", "2"]
    quick.close()
    slow.close()
    events.tell("nobody listens")


def test_errors_of_any_kind_have_a_sentence(house):
    from flask import Flask

    class Body(msgspec.Struct):
        number: int

    api = Api()

    @api.route("POST", "/api/try/{kind}", body=Body)
    def attempt(kind: str, body: Body) -> None:
        """Fails in the way that is asked for."""
        raise {
            "stale": StaleRevision(), "reading": NotCorrectable(), "history": NothingToUndo(), "missing": KeyError("x"),
            "own": ApiError(418, "own", "A sentence."),
        }[kind]  # fmt: skip

    app = Flask("trial")
    api.install(app)
    client = app.test_client()
    for kind, status in (("stale", 409), ("reading", 409), ("history", 409), ("missing", 404), ("own", 418)):
        answer = client.post(f"/api/try/{kind}", json={"number": 1})
        assert (answer.status_code, answer.json["error"]) == (status, kind)
        assert answer.json["sentence"].endswith(".")
    assert client.post("/api/try/own", json={"number": "one"}).status_code == 400
    assert client.post("/api/try/own", data=b"{").status_code == 400


def test_drawing_survives_what_cannot_be_drawn(drawing, typeset, tmp_path):
    good = Strip(str(typeset("Text")), None, 1, Box(0, 0, 50, 50), 1.0)
    assert Image.open(io.BytesIO(drawing.draw(good))).size == (51, 51)
    (tmp_path / "bad.pdf").write_bytes(b"no PDF")
    for bad in (
        good._replace(source=str(tmp_path / "bad.pdf")),
        good._replace(page=7),
        good._replace(box=Box(9e4, 0, 9.1e4, 5)),
    ):
        with pytest.raises(DrawingError):
            drawing.draw(bad)
    assert drawing.draw(good) == drawing.draw(good)


def test_a_page_of_absurd_size_is_drawn_smaller(drawing, typeset, tmp_path):
    import pikepdf

    with pikepdf.open(typeset("Text")) as pdf:
        pdf.pages[0].mediabox = [0, 0, 14000, 14000]
        pdf.save(tmp_path / "huge.pdf")
    image = Image.open(io.BytesIO(drawing.draw(Strip(str(tmp_path / "huge.pdf"), None, 1, None, 2.0))))
    assert image.width * image.height <= 24_500_000


def test_demo_documents_come_once_and_one_is_corrected_halfway(house, room):
    place_demo_documents(house, room)
    names = {row.name for row in documents.every(house.store)}
    assert names == {path.name for path in demo_files()}
    assert len(names) >= 4
    (notice,) = [row for row in documents.every(house.store) if row.name.startswith("Notice")]
    revision, proof = house.proofs.read(notice.id)
    assert revision == 3
    assert any(block.aside for block in proof.blocks)
    assert not any("light-house" in getattr(block, "text", "") for block in proof.blocks)
    place_demo_documents(house, room)
    assert len(documents.every(house.store)) == len(names)


def wait_for(condition, seconds: float = 60.0) -> None:
    end = time.monotonic() + seconds
    while not condition():
        assert time.monotonic() < end
        time.sleep(0.05)


def placed(house, path: Path) -> str:
    source, size = house.files.take_in([path.read_bytes()])
    return take_in(house, "A.pdf", source, size, "browser")


def test_after_a_crash_only_the_unfinished_pages_are_read_again(house, pool, drawing, typeset, monkeypatch):
    path = typeset("\n#pagebreak()\n".join(f"Page {n} of six, with words." for n in range(1, 7)))
    document = placed(house, path)
    # What a server that was killed leaves behind: a running job, two pages read.
    jobs.take(house.store)
    documents.set_state(house.store, document, State.READING)
    source = str(house.files.source(documents.get(house.store, document).source))
    for page in pool.read(page_jobs([Leaf(n, source, n) for n in (1, 2)], house.files.pictures.folder)):
        pages.add(house.store, document, page)
    asked: list[int] = []
    real = house.pages.read

    def counted(wanted):
        asked.extend(job.leaf.number for job in wanted)
        return real(wanted)

    monkeypatch.setattr(house.pages, "read", counted)
    room = ReadingRoom(house)
    room.start()
    try:
        wait_for(lambda: documents.get(house.store, document).state is State.TO_CORRECT)
    finally:
        room.stop()
    assert asked == [3, 4, 5, 6]
    assert len(house.proofs.read(document)[1].blocks) == 6


def test_two_documents_are_read_at_once(house, room, typeset):
    long = placed(house, typeset("\n#pagebreak()\n".join(f"Page {n} says a little." for n in range(150)), "long"))
    short = placed(house, typeset("One page.", "short"))
    room.wake()
    wait_for(lambda: documents.get(house.store, short).state is State.TO_CORRECT)
    wait_for(lambda: documents.get(house.store, long).state is State.TO_CORRECT)
    times = [documents.get(house.store, one).changed_at for one in (short, long)]
    assert times[0] < times[1]


def test_edits_from_many_threads_come_one_after_another(house, room, typeset):
    document = placed(house, typeset("\n\n".join(f"Row number {n} of the page." for n in range(8))))
    room.wake()
    wait_for(lambda: documents.get(house.store, document).state is State.TO_CORRECT)
    ids = [block.id for block in house.proofs.read(document)[1].blocks]
    refused: list[str] = []

    def work(block: str) -> None:
        while True:
            revision, _ = house.proofs.read(document)
            try:
                house.proofs.operate(document, revision, EditText(block, (Run(f"changed {block}"),)))
            except StaleRevision:
                refused.append(block)
                continue
            return

    threads = [threading.Thread(target=work, args=(block,)) for block in ids]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    revision, proof = house.proofs.read(document)
    assert revision == 1 + len(ids)
    assert [block.text for block in proof.blocks] == [f"changed {block}" for block in ids]


def test_an_edit_that_cannot_be_written_is_not_acknowledged(house, room, typeset, monkeypatch):
    from evenquill.store import proofs

    document = placed(house, typeset("A row.\n\nAnother row."))
    room.wake()
    wait_for(lambda: documents.get(house.store, document).state is State.TO_CORRECT)
    block = house.proofs.read(document)[1].blocks[0].id

    def full(*arguments):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as broken:
        broken.setattr(proofs, "add_operation", full)
        with pytest.raises(OSError, match="No space"):
            house.proofs.operate(document, 1, SetAside(block, True))
    revision, proof = house.proofs.read(document)
    assert revision == 1
    assert not proof.blocks[0].aside


def test_deleted_documents_are_forgotten_after_a_day(house, typeset):
    document = placed(house, typeset("Text"))
    documents.delete(house.store, document)
    purge_deleted(house)
    documents.restore(house.store, document)
    house.store.execute("UPDATE documents SET deleted_at = '2001-01-01T00:00:00' WHERE id = ?", (document,))
    purge_deleted(house)
    documents.restore(house.store, document)
    with pytest.raises(KeyError):
        documents.get(house.store, document)


def test_the_front_end_is_served_and_knows_its_views(house, room):
    client = create_app(house, room).test_client()
    home = client.get("/")
    assert b'<div id="app">' in home.data
    assert home.headers["Cache-Control"] == "no-cache"
    script = home.data.decode().split('src="/')[1].split('"')[0]
    assert "immutable" in client.get(f"/{script}").headers["Cache-Control"]
    assert client.get("/some/view").data == home.data
    assert client.get("/../pyproject.toml").data == home.data


def test_the_command_lists_what_it_can_do():
    told = subprocess.run(
        [sys.executable, "-m", "evenquill", "--help"], capture_output=True, text=True, check=True
    ).stdout
    assert all(name in told for name in ("convert", "serve", "demo"))
