"""Two windows, jobs and restarts, in any order that hypothesis thinks of, against a plain model of what a document and its history are."""

from __future__ import annotations

import shutil
import time
from contextlib import closing
from pathlib import Path

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule, run_state_machine_as_test

from evenquill.desk.app import create_app
from evenquill.desk.context import AppContext
from evenquill.desk.job_runner import JobRunner
from evenquill.store.database import DATABASE, connect
from tests.desk.conftest import own_page

PAGES = """The float was found in the well.

The clock stood still at noon.

#pagebreak()
Second page, of the keeper’s hand.
"""
WINDOWS = st.sampled_from([(0, True), (0, True), (0, False), (1, True), (1, True), (1, False)])
"""Which window, and whether it has heard of the other one's changes before it makes its own."""

PLACES = st.integers(0, 20)
TIMES = st.integers(0, 4)
PATIENCE = 60.0

Window = tuple[int, bool]
Rows = list[tuple[str, str]]
"""The id and the text of each row."""


@pytest.fixture
def prepared(context, taken, typeset) -> tuple[Path, str]:
    """A data folder with a document that is read."""
    document = taken(typeset(PAGES))
    return context.data, document


class TwoWindows(RuleBasedStateMachine):
    """The server as it is, two windows that know a revision each, and the model: the steps that stand, and those that were undone."""

    source: tuple[Path, str]
    pools: dict[str, object]
    folder: Path
    count = 0

    @initialize()
    def start(self) -> None:
        type(self).count += 1
        folder, self.document = self.source
        self.data = self.folder / str(self.count)
        shutil.copytree(folder, self.data, ignore=shutil.ignore_patterns(f"{DATABASE}*"))
        with closing(connect(folder)) as store:
            store.execute("VACUUM INTO ?", (str(self.data / DATABASE),))
        self.path = f"/api/documents/{self.document}"
        self.run_server()
        self.revision = self.opened()["document"]["revision"]
        self.known = [self.revision, self.revision]
        self.done: list[Rows] = [self.shown()]
        self.undone: list[Rows] = []
        self.reading = 0
        self.typed = 0
        self.ids = {name for name, _ in self.done[0]}

    def run_server(self) -> None:
        self.context = AppContext(self.data, **self.pools)
        self.runner = JobRunner(self.context)
        self.runner.start()
        self.client = own_page(create_app(self.context, self.runner))

    def opened(self) -> dict:
        return self.client.get(self.path).json

    def shown(self) -> Rows:
        blocks = self.client.get(f"{self.path}/rows?count=100").json["blocks"]
        return [(block["id"], "".join(item["text"] for item in block["content"])) for block in blocks]

    def notice_reading(self) -> None:
        """Reading again is a step that comes when it is ready: nothing else makes a revision that no window was answered."""
        come = self.opened()["document"]["revision"] - self.revision
        assert 0 <= come <= self.reading
        self.reading -= come
        self.revision += come
        if come:
            self.done += [self.done[-1]] * come
            self.undone.clear()

    def ask(self, window: Window, route: str, **body: object) -> dict | None:
        """The answer to a change of what a window knows; None where it was refused, which must be for the right reason."""
        self.notice_reading()
        number, has_heard = window
        if has_heard:
            self.known[number] = self.revision
        answer = self.client.post(f"{self.path}/{route}", json={"revision": self.known[number], **body})
        if answer.status_code == 409 and answer.json["error"] == "stale":
            self.notice_reading()
            assert self.known[number] != self.revision
            return None
        assert answer.status_code == 200 or answer.json["error"] == "history", answer.json
        assert self.known[number] == self.revision
        if answer.status_code != 200:
            return None
        assert answer.json["revision"] == self.revision + 1
        self.known[number] = self.revision = answer.json["revision"]
        return answer.json

    def operate(self, window: Window, rows: Rows, **operation: object) -> None:
        """An operation after which the document must have these rows; None as an id stands for a new one."""
        if self.ask(window, "operations", operation=operation) is None:
            return
        found = self.shown()
        new = [name for (name, _), (wanted, _) in zip(found, rows, strict=True) if wanted == ""]
        assert not self.ids & set(new)
        self.ids.update(new)
        assert [(wanted and name, text) for (name, text), (wanted, _) in zip(found, rows, strict=True)] == rows
        self.done.append(found)
        self.undone.clear()

    @rule(window=WINDOWS, place=PLACES)
    def type_paragraph(self, window: Window, place: int) -> None:
        self.notice_reading()
        rows = self.done[-1]
        at = place % len(rows)
        self.typed += 1
        text = f"Typed as number {self.typed}."
        self.operate(window, [*rows[: at + 1], ("", text), *rows[at + 1 :]], op="insert", after=rows[at][0], text=text)

    @rule(window=WINDOWS, place=PLACES)
    def retype(self, window: Window, place: int) -> None:
        self.notice_reading()
        rows = self.done[-1]
        at = place % len(rows)
        self.typed += 1
        name, text = rows[at][0], f"{rows[at][1]} Number {self.typed}."
        content = [{"type": "text", "text": text}]
        self.operate(window, [*rows[:at], (name, text), *rows[at + 1 :]], op="edit_text", block=name, content=content)

    @rule(window=WINDOWS, place=PLACES, word=PLACES)
    def split(self, window: Window, place: int, word: int) -> None:
        self.notice_reading()
        rows = self.done[-1]
        at = place % len(rows)
        name, text = rows[at]
        starts = [n + 1 for n, character in enumerate(text) if character == " "]
        if not starts:
            return
        offset = starts[word % len(starts)]
        halves = [(name, text[: offset - 1]), ("", text[offset:])]
        self.operate(window, [*rows[:at], *halves, *rows[at + 1 :]], op="split", block=name, offset=offset)

    @rule(window=WINDOWS, place=PLACES)
    def join(self, window: Window, place: int) -> None:
        self.notice_reading()
        rows = self.done[-1]
        if len(rows) < 2:
            return
        at = place % (len(rows) - 1)
        (first, text), (second, more) = rows[at : at + 2]
        joined = (first, f"{text} {more}")
        self.operate(window, [*rows[:at], joined, *rows[at + 2 :]], op="join", first=first, second=second)

    def undo_once(self, window: Window) -> None:
        if self.ask(window, "undo") is not None:
            self.undone.append(self.done.pop())
        elif self.known[window[0]] == self.revision:
            assert len(self.done) == 1

    def redo_once(self, window: Window) -> None:
        if self.ask(window, "redo") is not None:
            self.done.append(self.undone.pop())
        elif self.known[window[0]] == self.revision:
            assert not self.undone

    @rule(window=WINDOWS, back=TIMES, forth=TIMES)
    def undo_and_redo(self, window: Window, back: int, forth: int) -> None:
        for step in [self.undo_once] * back + [self.redo_once] * forth:
            step(window)
            assert self.shown() == self.done[-1]

    @rule(page=st.sampled_from([1, 2]))
    def read_again(self, page: int) -> None:
        self.notice_reading()
        answer = self.client.post(f"{self.path}/again", json={"pages": [page], "preparation": {}})
        if answer.status_code == 409:
            assert self.reading == 1
            return
        assert answer.status_code == 200, answer.json
        self.reading += 1
        self.notice_reading()
        assert self.reading <= 1  # One that was asked for before is in.

    @rule()
    def wait(self) -> None:
        end = time.monotonic() + PATIENCE
        while self.opened()["document"]["busy"]:
            assert time.monotonic() < end
            time.sleep(0.02)
        self.notice_reading()
        assert not self.reading

    @rule()
    def restart(self) -> None:
        self.runner.stop()
        self.run_server()

    @invariant()
    def document_is_what_was_acknowledged(self) -> None:
        shown = self.shown()
        self.notice_reading()
        assert shown == self.done[-1]
        opened = self.opened()
        if opened["document"]["revision"] == self.revision:
            assert (opened["can_undo"], opened["can_redo"]) == (len(self.done) > 1, bool(self.undone))

    def teardown(self) -> None:
        if hasattr(self, "runner"):
            self.wait()
            self.document_is_what_was_acknowledged()
            self.runner.stop()


def test_two_windows_jobs_and_restarts_do_what_the_model_does(
    prepared, tmp_path, pool, drawing, region_reading, setting
):
    TwoWindows.source = prepared
    TwoWindows.folder = tmp_path / "examples"
    TwoWindows.pools = {"pages": pool, "drawing": drawing, "region_reading": region_reading, "setting": setting}
    run_state_machine_as_test(
        TwoWindows,
        settings=settings(
            max_examples=12,
            stateful_step_count=30,
            deadline=None,
            suppress_health_check=list(HealthCheck),
            database=None,
        ),
    )
