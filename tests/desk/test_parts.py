"""Parts of the server by themselves: descriptions, events, drawing, demo, jobs after a crash."""

from __future__ import annotations

import io
import json
import os
import subprocess
import sys
import threading
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

import hostile
import msgspec
import pytest
from PIL import Image

from evenquill.core.document_state import DocumentState, Event, TransitionRefused
from evenquill.core.edits import EditText, Exclude
from evenquill.core.model import Box, Text
from evenquill.core.reading.jobs import SourcePage, page_jobs
from evenquill.core.strip_types import Strip
from evenquill.desk.app import create_app
from evenquill.desk.demo import EDITED, demo_files, place_demo_documents
from evenquill.desk.describe import described_api, main, markdown, openapi
from evenquill.desk.drawing import DrawingError, StripDrawer
from evenquill.desk.editing import JoinUndone, NotCorrectable, NothingToUndo
from evenquill.desk.endpoints import Api, ApiError
from evenquill.desk.events import KEPT, Events, News
from evenquill.desk.housekeeping import clean_up
from evenquill.desk.interactive import HelperFailed
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.jobs import tasks
from evenquill.desk.tray_routes import take_in
from evenquill.store import documents, jobs, pages, queries
from evenquill.store.documents import NoDocument
from evenquill.store.history import StaleRevision
from tests.desk.conftest import own_page

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


def test_news_are_those_since_the_last_answer_and_everything_for_who_fell_behind():
    events = Events()
    start = events.since(None)
    assert start.everything
    assert events.since(start.number) == News(start.number)
    for name in ("a", "b", "a"):
        events.publish(name)
    assert events.since(start.number) == News(3, ("a", "b"))
    assert events.since(2) == News(3, ("a",))
    for n in range(KEPT + 1):
        events.publish(str(n))
    assert events.since(2).everything
    assert Events().since(3).everything  # the server was started anew


def test_open_windows_hold_no_thread_of_the_server(client, taken, typeset):
    number = client.get("/api/events").json["number"]
    document = taken(typeset("Text"))
    for _ in range(10):
        asked = time.monotonic()
        news = client.get(f"/api/events?since={number}").json
        assert time.monotonic() - asked < 1
        assert news["documents"] == [document]


def test_errors_of_any_kind_have_a_sentence(context, caplog):
    from flask import Flask

    class Body(msgspec.Struct):
        number: int

    api = Api()

    @api.route("POST", "/api/try/{kind}", body=Body)
    def attempt(kind: str, body: Body) -> None:
        """Fails in the way that is asked for."""
        raise {
            "stale": StaleRevision(), "reading": NotCorrectable(), "history": NothingToUndo(), "missing": NoDocument("x"),
            "own": ApiError(418, "own", "A sentence."), "parted": JoinUndone(), "server": KeyError("x"),
            "state": TransitionRefused(DocumentState.READING, Event.DELIVER),
        }[kind]  # fmt: skip

    app = Flask("trial")
    api.install(app)
    client = app.test_client()
    for kind, status in (
        ("stale", 409), ("reading", 409), ("history", 409), ("missing", 404), ("own", 418), ("parted", 410), ("state", 409),
        ("server", 500),
    ):  # fmt: skip
        answer = client.post(f"/api/try/{kind}", json={"number": 1})
        assert (answer.status_code, answer.json["error"]) == (status, kind)
        assert answer.json["sentence"].endswith(".")
    assert client.post("/api/try/own", json={"number": "one"}).status_code == 400
    assert client.post("/api/try/own", data=b"{", content_type="application/json").status_code == 400
    # What nobody foresaw is in the log, with what was asked for.
    assert "POST /api/try/server failed" in caplog.text
    assert client.get("/nowhere").status_code == 404


def test_drawing_survives_what_cannot_be_drawn(drawing, typeset, tmp_path):
    strips = StripDrawer(drawing)
    good = Strip(str(typeset("Text")), None, 1, Box(0, 0, 50, 50), 1.0)
    assert Image.open(io.BytesIO(strips.draw(good))).size == (51, 51)
    (tmp_path / "bad.pdf").write_bytes(b"no PDF")
    for bad in (
        good._replace(source=str(tmp_path / "bad.pdf")),
        good._replace(page=7),
        good._replace(box=Box(9e4, 0, 9.1e4, 5)),
    ):
        with pytest.raises(DrawingError):
            strips.draw(bad)
    assert strips.draw(good) == strips.draw(good)


def test_a_page_that_takes_too_long_to_draw_is_not_tried_again_and_again(drawing, typeset, tmp_path, monkeypatch):
    monkeypatch.setattr("evenquill.desk.drawing.DRAW_SECONDS", 1.0)
    hostile.SOURCES["a pattern of a thousandth.pdf"](tmp_path / "slow.pdf")
    strips = StripDrawer(drawing)
    slow = Strip(str(tmp_path / "slow.pdf"), None, 1, Box(0, 0, 50, 50), 1.0)
    with pytest.raises(DrawingError):
        strips.draw(slow)
    started = time.monotonic()
    for n in range(50):
        with pytest.raises(DrawingError):
            strips.draw(slow._replace(box=Box(0, n, 50, n + 9)))
    assert time.monotonic() - started < 10
    assert strips.draw(Strip(str(typeset("Text")), None, 1, Box(0, 0, 50, 50), 1.0))
    strips.forget()
    with pytest.raises(DrawingError):
        strips.draw(slow)
    assert time.monotonic() - started > 1


def test_stop_ends_what_is_under_way_and_others_are_read_meanwhile(context, runner, client, taken, typeset, tmp_path):
    name = "a pattern of a thousandth.pdf"
    hostile.SOURCES[name](tmp_path / name)
    # As many as there are threads for jobs, and processes for pages.
    slow = []
    for n in range(3):
        data = (tmp_path / name).read_bytes() + b"\n%" + b"x" * n
        slow.append(client.post(f"/api/documents?name={n}.pdf", data=data).json["document"]["id"])
    wait_for(lambda: all(documents.get(context.store, one).state is DocumentState.READING for one in slow))
    time.sleep(2)
    for one in slow:
        assert client.post(f"/api/documents/{one}/stop").json["problem"] == "Reading was stopped."
    started = time.monotonic()
    taken(typeset("The float was found."))
    assert time.monotonic() - started < 60
    wait_for(lambda: jobs.counts(context.store) == (0, 0))


def test_a_page_of_absurd_size_is_drawn_smaller(drawing, typeset, tmp_path):
    import pikepdf

    strips = StripDrawer(drawing)
    with pikepdf.open(typeset("Text")) as pdf:
        pdf.pages[0].mediabox = [0, 0, 14000, 14000]
        pdf.save(tmp_path / "huge.pdf")
    image = Image.open(io.BytesIO(strips.draw(Strip(str(tmp_path / "huge.pdf"), None, 1, None, 2.0))))
    assert image.width * image.height <= 24_500_000


def test_demo_documents_come_once_and_one_is_corrected_halfway(context, runner, client):
    place_demo_documents(context, runner)
    names = {row.name for row in documents.every(context.store)}
    assert names == {path.name for path in demo_files()}
    assert len(names) >= 4
    (notice,) = [row for row in documents.every(context.store) if row.name.startswith("Notice")]
    revision, proof = context.open_documents.read(notice.id)
    assert revision >= 3
    assert any(block.excluded for block in proof.blocks)
    assert not any("light-house" in getattr(block, "text", "") for block in proof.blocks)
    place_demo_documents(context, runner)
    assert len(documents.every(context.store)) == len(names)

    # It was delivered before, and edited elsewhere.
    (delivered,) = client.get(f"/api/documents/{notice.id}/deliveries").json
    assert delivered["file_name"] == "Notice to mariners 14.docx"
    edited = (context.data / EDITED).read_bytes()
    changes = client.post(f"/api/documents/{notice.id}/returned", data=edited).json["changes"]
    assert ["five metres" in change["after"] for change in changes] == [True, False]
    assert [change["also_here"] for change in changes] == [True, False]


def wait_for(condition, seconds: float = 60.0) -> None:
    end = time.monotonic() + seconds
    while not condition():
        assert time.monotonic() < end
        time.sleep(0.05)


def placed(context, path: Path) -> str:
    source, size = context.files.take_in([path.read_bytes()])
    return take_in(context, "A.pdf", source, size, "browser")


def test_after_a_crash_only_the_unfinished_pages_are_read_again(context, pool, drawing, typeset, monkeypatch):
    path = typeset("\n#pagebreak()\n".join(f"Page {n} of six, with words." for n in range(1, 7)))
    document = placed(context, path)
    # What a server that was killed leaves behind: a running job, two pages read.
    jobs.take(context.store, "a server that was killed")
    documents.transition(context.store, document, Event.BEGIN_READING)
    source = str(context.files.source(documents.get(context.store, document).source))
    for page in pool.read(page_jobs([SourcePage(n, source, n) for n in (1, 2)], context.files.pictures.folder)):
        pages.add(context.store, document, page)
    asked: list[int] = []
    real = context.pages.read

    def counted(wanted, watch):
        asked.extend(job.page.number for job in wanted)
        return real(wanted, watch)

    monkeypatch.setattr(context.pages, "read", counted)
    runner = JobRunner(context)
    runner.start()
    try:
        wait_for(lambda: documents.get(context.store, document).state is DocumentState.TO_CORRECT)
    finally:
        runner.stop()
    assert asked == [3, 4, 5, 6]
    assert len(context.open_documents.read(document)[1].blocks) == 6


def test_two_documents_are_read_at_once(context, runner, typeset):
    long = placed(context, typeset("\n#pagebreak()\n".join(f"Page {n} says a little." for n in range(150)), "long"))
    short = placed(context, typeset("One page.", "short"))
    runner.wake()
    wait_for(lambda: documents.get(context.store, short).state is DocumentState.TO_CORRECT)
    wait_for(lambda: documents.get(context.store, long).state is DocumentState.TO_CORRECT)
    times = [documents.get(context.store, one).changed_at for one in (short, long)]
    assert times[0] < times[1]


def test_edits_from_many_threads_come_one_after_another(context, runner, typeset):
    document = placed(context, typeset("\n\n".join(f"Row number {n} of the page." for n in range(8))))
    runner.wake()
    wait_for(lambda: documents.get(context.store, document).state is DocumentState.TO_CORRECT)
    ids = [block.id for block in context.open_documents.read(document)[1].blocks]
    refused: list[str] = []

    def work(block: str) -> None:
        while True:
            revision, _ = context.open_documents.read(document)
            try:
                context.editor.operate(document, revision, EditText(block, (Text(f"changed {block}"),)))
            except StaleRevision:
                refused.append(block)
                continue
            return

    threads = [threading.Thread(target=work, args=(block,)) for block in ids]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    revision, proof = context.open_documents.read(document)
    assert revision == 1 + len(ids)
    assert [block.text for block in proof.blocks] == [f"changed {block}" for block in ids]


def test_an_edit_that_cannot_be_written_is_not_acknowledged(context, runner, typeset, monkeypatch):
    document = placed(context, typeset("A row.\n\nAnother row."))
    runner.wake()
    wait_for(lambda: documents.get(context.store, document).state is DocumentState.TO_CORRECT)
    block = context.open_documents.read(document)[1].blocks[0].id

    def full(*arguments):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as broken:
        broken.setattr(queries, "add", full)
        with pytest.raises(OSError, match="No space"):
            context.editor.operate(document, 1, Exclude(block, True))
    revision, proof = context.open_documents.read(document)
    assert revision == 1
    assert not proof.blocks[0].excluded


def test_a_job_that_fails_is_tried_again_and_its_thread_goes_on(context, runner, typeset, monkeypatch, caplog):
    failed: list[str] = []
    real = context.pages.run

    def sometimes(work, **named):
        if work.func is tasks.examine_source and len(failed) < 3:
            failed.append(work.args[0])
            raise RuntimeError("the helper is gone")
        return real(work, **named)

    monkeypatch.setattr(context.pages, "run", sometimes)
    first = placed(context, typeset("First.", "first"))
    runner.wake()
    wait_for(lambda: documents.get(context.store, first).state is DocumentState.FAILED)
    assert f"of document {first} failed" in caplog.text
    assert documents.get(context.store, first).problem.startswith("Something went wrong")
    # One failure is left: the second try of the next document succeeds.
    second = placed(context, typeset("Second.", "second"))
    runner.wake()
    wait_for(lambda: documents.get(context.store, second).state is DocumentState.TO_CORRECT)
    assert len(failed) == 3


def test_a_helper_that_hangs_is_ended_and_replaced(region_reading):
    started = time.monotonic()
    with pytest.raises(HelperFailed):
        region_reading.run(time.sleep, 60.0, 0.5)
    assert time.monotonic() - started < 20
    assert region_reading.run(len, "abc", 20.0) == 3


def test_deleted_documents_are_forgotten_after_a_day_with_their_files(
    context, runner, client, taken, typeset, drop_dates
):
    kept = taken(typeset("This one stays.", "stays"), "stays.pdf")
    gone = taken(typeset('#rect(width: 20mm, height: 20mm)\nText #image("hut.png")', "goes"), "goes.pdf")
    made = client.post(f"/api/documents/{gone}/deliveries", json={"format": "docx"}).json["id"]
    source = context.files.source(documents.get(context.store, gone).source)
    delivered = context.files.delivery(made, "docx")
    pictures = [path for path in context.files.pictures.folder.rglob("*") if path.is_file()]
    assert pictures
    documents.delete(context.store, gone)
    drop_dates()
    assert clean_up(context) == []
    assert source.exists()
    assert clean_up(context, now=datetime.now(UTC) + timedelta(days=2)) == [gone]
    assert not source.exists()
    assert not delivered.exists()
    assert not any(path.exists() for path in pictures)
    assert context.files.source(documents.get(context.store, kept).source).exists()
    with pytest.raises(KeyError):
        documents.get(context.store, gone)


@pytest.fixture
def drop_dates(context, tmp_path):
    """Makes all files of the data folder old; also puts the picture there that a page wants."""
    Image.new("RGB", (40, 40), (90, 120, 90)).save(tmp_path / "hut.png")

    def make_old() -> None:
        for path in context.data.rglob("*"):
            if path.is_file() and "sqlite" not in path.name:
                os.utime(path, (1_000_000_000, 1_000_000_000))

    return make_old


def test_the_server_loads_no_reader():
    script = (
        "import sys; import evenquill.desk.serve, evenquill.desk.describe; "
        "print([name for name in sys.modules if name.startswith(('tesserocr', 'evenquill.core.reading.native', "
        "'evenquill.core.reading.scanned'))])"
    )
    told = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True).stdout
    assert told.strip() == "[]"


def test_the_front_end_is_served_and_knows_its_views(context, runner):
    client = own_page(create_app(context, runner))
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
