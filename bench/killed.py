"""A server killed at random moments (``kill -9``) while two windows work: ``python bench/killed.py [times] [seed]``.

Two windows edit one document, undo and redo; meanwhile it is read again and delivered, and two short documents are joined and parted. After
each kill and restart what the server had acknowledged is looked for in the database: each change there once, with the revision that was
answered; its text in the document as often as the history says; deliveries with their files; jobs that were accepted done or waiting; the
database without damage and without rows that belong to nothing.
"""

from __future__ import annotations

import json
import random
import sqlite3
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import NamedTuple

import typst
from manual import make_manual
from running_server import Refused, RunningServer

from evenquill.store import snapshots
from evenquill.store.snapshots import Role

SHORT, LONG = (0.02, 2.5), (2.0, 8.0)
"""Seconds of work before a kill; every fourth time long enough for reading again to come to its end."""


class Edit(NamedTuple):
    """A paragraph with a text that no other has, and the revision that was answered for it."""

    document: str
    text: str
    revision: int


class Acknowledged:
    """What the server has said is done; filled by several threads."""

    def __init__(self) -> None:
        self.edits: list[Edit] = []
        self.steps: list[tuple[str, str, int]] = []
        self.deliveries: list[str] = []
        self.joined: list[str] = []
        self.parted: list[str] = []
        self.readings = 0


class Window:
    """A window of the clerk's: it asks for the newest revision, then changes something of it."""

    def __init__(
        self, server: RunningServer, document: str, name: str, chance: random.Random, done: Acknowledged
    ) -> None:
        self._server, self._document, self._name, self._chance, self._done = server, document, name, chance, done
        self._number = 0

    def act(self) -> None:
        path = f"/api/documents/{self._document}"
        window = self._server.ask("GET", f"{path}/rows?count=100")
        revision = window["revision"]
        what = self._chance.choices(("type", "undo", "redo", "align"), (6, 2, 1, 1))[0]
        if what == "type":
            self._number += 1
            text = f"{self._name} {self._number} typed"
            after = self._chance.choice(window["blocks"])["id"]
            operation = {"op": "insert", "after": after, "text": text}
            answer = self._server.ask("POST", f"{path}/operations", {"revision": revision, "operation": operation})
            self._done.edits.append(Edit(self._document, text, answer["revision"]))
        elif what == "align":
            operation = {"op": "align", "block": self._chance.choice(window["blocks"])["id"], "align": "right"}
            answer = self._server.ask("POST", f"{path}/operations", {"revision": revision, "operation": operation})
            self._done.steps.append((self._document, "edit", answer["revision"]))
        else:
            answer = self._server.ask("POST", f"{path}/{what}", {"revision": revision})
            self._done.steps.append((self._document, what, answer["revision"]))


def main() -> None:
    times = int(sys.argv[1]) if len(sys.argv) > 1 else 300
    chance = random.Random(int(sys.argv[2]) if len(sys.argv) > 2 else 1)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        data = folder / "data"
        data.mkdir()
        server = RunningServer(data, "--workers", "1")
        document, pair = _documents(server, folder)
        done = Acknowledged()
        rounds: Counter[str] = Counter()
        faults: list[str] = []
        for n in range(times):
            _work_until_killed(server, document, pair, n, chance, done, rounds)
            server.start()
            found = _faults(data, done)
            faults += [f"after kill {n + 1}: {fault}" for fault in found]
            if (n + 1) % 25 == 0:
                print(f"{n + 1} kills, {len(done.edits)} edits acknowledged, {len(faults)} faults", flush=True)
        _until_idle(server)
        faults += [f"at the end: {fault}" for fault in [*_faults(data, done), *_left_over(data)]]
        server.kill()
        counts = Counter(step for _, step, _ in done.steps)
        with _store(data) as store:
            query = "SELECT count(*) FROM changes WHERE kind = 'read again'"
            read_again = store.execute(query).fetchone()[0]
        print(
            f"{times} kills; acknowledged: {len(done.edits) + counts['edit']} edits, {counts['undo']} undone, "
            f"{counts['redo']} done again, {done.readings} readings of pages again ({read_again} came to their end), "
            f"{len(done.joined)} joinings, "
            f"{len(done.parted)} partings, {len(done.deliveries)} deliveries; refused: {sum(rounds.values())}"
        )
        print(f"faults: {len(faults)}  (wanted: 0)")
        for fault in faults[:40]:
            print(f"   {fault}")
    sys.exit(bool(faults))


def _documents(server: RunningServer, folder: Path) -> tuple[str, list[str]]:
    """The document that is worked on, and two short ones to be joined."""
    paths = [make_manual(folder / "long.pdf", 3)]
    for n in range(2):
        paths.append(folder / f"short {n}.pdf")
        typst.compile(f"= Sheet {n}\n\nThe tide gauge of Skerrin was read at noon.".encode(), output=paths[-1])
    ids = [
        server.ask("POST", f"/api/documents?name=sheet{n}.pdf", data=path.read_bytes())["document"]["id"]
        for n, path in enumerate(paths)
    ]
    _until_idle(server)
    return ids[0], ids[1:]


def _until_idle(server: RunningServer) -> None:
    end = time.monotonic() + 120
    while (health := server.ask("GET", "/api/health"))["waiting"] or health["running"]:
        if time.monotonic() > end:
            raise TimeoutError("work did not come to an end")
        time.sleep(0.1)


def _work_until_killed(
    server: RunningServer,
    document: str,
    pair: list[str],
    number: int,
    chance: random.Random,
    done: Acknowledged,
    refused: Counter[str],
) -> None:
    stop = threading.Event()

    def going(act: Callable[[], None]) -> threading.Thread:
        def work() -> None:
            while not stop.is_set():
                try:
                    act()
                except Refused as answer:
                    refused[str(answer)] += 1
                    time.sleep(0.01)
                except OSError:
                    return

        thread = threading.Thread(target=work)
        thread.start()
        return thread

    def machine() -> None:
        """What is done beside editing, one thing after another."""
        what = chance.choice(("deliver", "read again", "join", "deliver"))
        if what == "deliver":
            answer = server.ask("POST", f"/api/documents/{document}/deliveries", {"format": "docx"})
            done.deliveries.append(answer["id"])
        elif what == "read again":
            pages = [chance.randint(1, 3)]
            server.ask("POST", f"/api/documents/{document}/again", {"pages": pages, "preparation": {}})
            done.readings += 1
        else:
            _join_or_part(server, pair, done)

    windows = [Window(server, document, f"w{n} k{number}", random.Random(chance.random()), done) for n in range(2)]
    threads = [going(window.act) for window in windows]
    threads.append(going(machine))
    time.sleep(chance.uniform(*(LONG if number % 4 == 3 else SHORT)))
    server.kill()
    stop.set()
    for thread in threads:
        thread.join()


def _join_or_part(server: RunningServer, pair: list[str], done: Acknowledged) -> None:
    rows = {row["id"]: row for row in server.ask("GET", "/api/documents")}
    if all(one in rows for one in pair):
        answer = server.ask("POST", "/api/documents/join", {"documents": pair, "name": "Both"})
        done.joined.append(answer["id"])
        return
    whole = next(row for row in rows.values() if row["name"].startswith("Both"))
    if whole["state"] in ("waiting", "reading"):
        return
    revision = whole["revision"]
    try:
        server.ask("POST", f"/api/documents/{whole['id']}/undo", {"revision": revision})
    except Refused:
        if whole["id"] in {row["id"] for row in server.ask("GET", "/api/documents")}:
            raise
    done.parted.append(whole["id"])


@contextmanager
def _store(data: Path) -> Iterator[sqlite3.Connection]:
    (path,) = data.glob("*.sqlite*3") if list(data.glob("*.sqlite*3")) else data.glob("*.db")
    connection = sqlite3.connect(f"file:{path}?mode=ro", uri=True)
    connection.execute("BEGIN")
    try:
        yield connection
    finally:
        connection.close()


def _faults(data: Path, done: Acknowledged) -> list[str]:
    """What is not as it was acknowledged, in sentences."""
    with _store(data) as store:
        faults = [row[0] for row in store.execute("PRAGMA integrity_check") if row[0] != "ok"]
        faults += [
            f"row of {row[0]} refers to nothing in {row[2]}" for row in store.execute("PRAGMA foreign_key_check")
        ]
        faults += _faults_of_history(store)
        texts: Counter[str] = Counter()
        for body, *_ in store.execute("SELECT body FROM blocks"):
            texts.update(item["text"] for item in json.loads(body).get("content", ()) if item["type"] == "text")
        changes = {
            (document, number): (kind, status, json.loads(operation) if operation else {})
            for document, number, kind, status, operation in store.execute(
                "SELECT document, number, kind, status, operation FROM changes"
            )
        }
        said = Counter(operation.get("text") for _, _, operation in changes.values() if operation.get("op") == "insert")
        for edit in done.edits:
            kind, _, operation = changes.get((edit.document, edit.revision), ("nothing", None, {}))
            if kind != "edit" or operation.get("text") != edit.text or said[edit.text] != 1:
                faults.append(
                    f"“{edit.text}” was acknowledged as {edit.revision}; there is {kind}, {said[edit.text]} times"
                )
        standing = {
            operation["text"]: status == "done"
            for _, status, operation in changes.values()
            if operation.get("op") == "insert"
        }
        for text, stands in standing.items():
            if texts[text] != stands:
                faults.append(f"“{text}” is {texts[text]} times in the document and ought to be {int(stands)} times")
        for document, kind, revision in done.steps:
            if changes.get((document, revision), ("nothing",))[0] != kind:
                faults.append(f"{kind} was acknowledged as {revision} and is not there")
        kept = {row[0] for row in store.execute("SELECT id FROM deliveries")}
        files = {path.stem for path in data.rglob("*.docx")}
        faults += [f"delivery {one} is gone" for one in done.deliveries if one not in kept]
        faults += [f"delivery {one} has no file" for one in kept if one not in files]
        states = {row[0]: row[1] for row in store.execute("SELECT id, deleted_at IS NULL FROM documents")}
        faults += [f"joined document {one} is gone" for one in done.joined if one not in states]
        faults += [f"{one} was parted again and is still there" for one in done.parted if states.get(one)]
    return faults


def _faults_of_history(store: sqlite3.Connection) -> list[str]:
    """Revisions have no holes, and the newest is that of the document."""
    rows = store.execute(
        """SELECT documents.id, revision, count(changes.number), max(changes.number) FROM documents
           LEFT JOIN changes ON changes.document = documents.id GROUP BY documents.id"""
    )
    return [f"{row[0]}: revision {row[1]}, newest change {row[3]}" for row in rows if row[1] != (row[3] or 0)]


def _left_over(data: Path) -> list[str]:
    """What nothing refers to once all work is done."""
    with _store(data) as store:
        faults = [
            f"job {row[0]} ({row[1]}) is {row[2]}: {row[3]}"
            for row in store.execute(
                "SELECT number, kind, state, problem FROM jobs WHERE state NOT IN ('done', 'cancelled')"
            )
        ]
        used = {row[0] for row in store.execute("SELECT reading FROM pages UNION SELECT reading FROM job_pages")}
        for row in store.execute("SELECT document, number, role FROM snapshots"):
            used.update(snapshots.get(store, row[0], row[1], Role(row[2])).readings.values())
        faults += [
            f"reading {row[0]} belongs to nothing"
            for row in store.execute("SELECT id FROM page_readings")
            if row[0] not in used
        ]
        faults += [f"pages of job {row[0]} are left" for row in store.execute("SELECT DISTINCT job FROM job_pages")]
    return faults


if __name__ == "__main__":
    main()
