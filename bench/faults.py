"""Attacks and bad luck, counted: ``python bench/faults.py [hostile|workers|windows|server|requests|fuzz] [name]``.

``hostile`` takes in sources made to do harm and looks at memory, answers and how each ends; ``workers`` kills reading processes;
``windows`` opens many at once; ``server`` kills the server under load (bench/killed.py), ``requests`` sends requests made by chance
(bench/any_request.py), ``fuzz`` changes bytes of sources and bodies (bench/fuzz.py). Without an argument, all of them.
"""

from __future__ import annotations

import random
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path

import psutil
import typst
from hostile import SOURCES
from running_server import Refused, RunningServer

from evenquill.core.processes import most_memory

ANSWER = 0.2
"""Seconds within which the server is to answer, whatever is being read."""

MORE = 1.1
"""Times its limit that a worker's memory may be seen at."""

LONGEST = 900.0
"""Seconds after which a source counts as hanging."""

WINDOW = 1.0
"""Seconds that the three requests of a window may take, of which there are many."""

LOOK = 0.1
"""Seconds between looks at memory."""


@contextmanager
def serving(*options: str) -> Iterator[RunningServer]:
    with tempfile.TemporaryDirectory(prefix="evenquill-") as folder:
        server = RunningServer(Path(folder) / "data", *options)
        try:
            yield server
        finally:
            server.kill()


class Watch:
    """What is seen while something goes on: the most memory of one worker in bytes, the slowest answer in seconds."""

    def __init__(self, server: RunningServer) -> None:
        self._server = server
        self._ended = threading.Event()
        self._threads = [
            threading.Thread(target=self._memory, daemon=True),
            threading.Thread(target=self._answers, daemon=True),
        ]
        self.memory = 0
        self.slowest = 0.0

    def __enter__(self) -> Watch:
        for thread in self._threads:
            thread.start()
        return self

    def __exit__(self, *error: object) -> None:
        self._ended.set()
        for thread in self._threads:
            thread.join()

    def _memory(self) -> None:
        while not self._ended.wait(LOOK):
            for process in [*self._server.workers(), psutil.Process(self._server.process.pid)]:
                try:
                    self.memory = max(self.memory, process.memory_info().rss)
                except psutil.Error:
                    continue

    def _answers(self) -> None:
        while not self._ended.wait(LOOK):
            started = time.perf_counter()
            self._server.ask("GET", "/api/documents")
            self.slowest = max(self.slowest, time.perf_counter() - started)


def until(wanted: Callable[[], bool], seconds: float) -> bool:
    """Waits; returns whether it came."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if wanted():
            return True
        time.sleep(0.05)
    return False


def hostile(only: str = "") -> int:
    """Takes each hostile source in; returns the number of faults."""
    faults = 0
    with serving() as server, tempfile.TemporaryDirectory() as folder:
        for name, make in SOURCES.items():
            if only not in name:
                continue
            path = Path(folder) / name
            make(path)
            started = time.perf_counter()
            with Watch(server) as watch:
                document = server.take_in(path)
                ended = until(partial(_has_ended, server, document), LONGEST)
                seconds = time.perf_counter() - started
                wrong = _wrong(server, document) if ended else ["hangs"]
            if watch.memory > MORE * most_memory():
                wrong.append(f"took {watch.memory / 1e9:.1f} GB")
            if watch.slowest > ANSWER:
                wrong.append(f"others waited {watch.slowest:.2f} s")
            print(
                f"{seconds:6.1f} s {watch.memory / 1e6:6.0f} MB {watch.slowest * 1000:5.0f} ms  {name}: "
                f"{_said(server, document)}{''.join(f'; WRONG: {one}' for one in wrong)}",
                flush=True,
            )
            faults += bool(wrong)
            server.ask("DELETE", f"/api/documents/{document}")
            path.unlink()
    print(f"{len(SOURCES)} hostile sources, {faults} with faults")
    return faults


def _said(server: RunningServer, document: str) -> str:
    """What the clerk is told of a document, or how many rows it has."""
    row = server.row(document)
    if row["problem"]:
        return str(row["problem"])
    opened = server.ask("GET", f"/api/documents/{document}")
    remarks = [remark["sentence"] for remark in opened["remarks"]]
    return " ".join(remarks[:2]) or f"{opened['total']} rows"


def _has_ended(server: RunningServer, document: str) -> bool:
    return server.row(document)["state"] not in ("waiting", "reading")


def _wrong(server: RunningServer, document: str) -> list[str]:
    """What is wrong with how a document ended: neither a sentence nor a proof; a page kept as a picture without one; no delivery."""
    row = server.row(document)
    if row["state"] in ("stopped", "failed"):
        return [] if row["problem"].endswith(".") else ["stopped without a sentence"]
    wrong = []
    ladder = server.ask("GET", f"/api/documents/{document}/ladder")
    pages = [page for page in ladder if "kept as a picture" in page["remark"]]
    for page in pages[:20]:
        rows = server.ask("GET", f"/api/documents/{document}/pages/{page['number']}/rows")["blocks"]
        if not any(block["type"] == "picture" for block in rows):
            wrong.append(f"page {page['number']} is kept as a picture, which is not there")
    if (
        len(ladder)
        and not server.ask("GET", f"/api/documents/{document}")["total"]
        and not any(p["remark"] for p in ladder)
    ):
        wrong.append("nothing is there, and nothing is said")
    try:
        server.ask("POST", f"/api/documents/{document}/deliveries", {"format": "docx"})
    except (Refused, OSError) as error:
        wrong.append(str(error))
    return wrong


def workers(times: int = 200, seed: int = 1) -> int:
    """Kills processes that read, idle or busy, while documents come in; returns how many documents are stuck or lost pages."""
    chance = random.Random(seed)
    with serving("--workers", "2") as server, tempfile.TemporaryDirectory() as folder:
        documents: list[str] = []
        for kill in range(times):
            if kill % 4 == 0:
                documents.append(server.take_in(_log_book(Path(folder), kill)))
            time.sleep(chance.uniform(0.1, 2.5))
            if alive := [one for one in server.workers() if _reads(one)]:
                chance.choice(alive).kill()
        until(lambda: all(_has_ended(server, document) for document in documents), LONGEST)
        rows = [server.row(document) for document in documents]
        ended = Counter(row["state"] for row in rows)
        stuck = sum(row["state"] != "to correct" for row in rows)
        lost = sum(
            bool(page["remark"]) for one in documents for page in server.ask("GET", f"/api/documents/{one}/ladder")
        )
    print(f"{times} kills of workers, {len(documents)} documents: {dict(ended)}; {lost} pages kept as pictures")
    return stuck


def _reads(process: psutil.Process) -> bool:
    """Whether a process is there and reads: the one that keeps count of shared memory does not."""
    try:
        return "resource_tracker" not in " ".join(process.cmdline())
    except psutil.Error:
        return False


def _log_book(folder: Path, number: int) -> Path:
    path = folder / f"log {number}.pdf"
    pages = "\n#pagebreak()\n".join(f"= Log {number}, page {n}\n#lorem(180)" for n in range(1, 13))
    typst.compile(pages.encode(), output=path)
    return path


def windows() -> int:
    """20 windows, 100 readers of events and 200 requests sent by halves at once; returns how many windows waited too long."""
    slowest: list[float] = []
    ended = threading.Event()
    with serving() as server, tempfile.TemporaryDirectory() as folder:
        document = server.take_in(_log_book(Path(folder), 0))
        until(lambda: _has_ended(server, document), 120)

        def window() -> None:
            longest = 0.0
            while not ended.wait(0.9):
                started = time.perf_counter()
                for path in ("/api/events?since=0", f"/api/documents/{document}", f"/api/documents/{document}/rows"):
                    server.ask("GET", path)
                longest = max(longest, time.perf_counter() - started)
            slowest.append(longest)

        def reader() -> None:
            while not ended.wait(0.9):
                server.ask("GET", "/api/events?since=0")

        halves = [socket.create_connection(("127.0.0.1", server.port)) for _ in range(200)]
        for half in halves:
            half.sendall(b"POST /api/words HTTP/1.1\r\nHost: localhost\r\nContent-Length: 99\r\n\r\n{")
        threads = [threading.Thread(target=window) for _ in range(20)] + [
            threading.Thread(target=reader) for _ in range(100)
        ]
        for thread in threads:
            thread.start()
        time.sleep(30)
        ended.set()
        for thread in threads:
            thread.join()
        for half in halves:
            half.close()
    late = sum(longest > WINDOW for longest in slowest)
    print(
        f"20 windows, 100 readers, 200 half requests: {late} windows waited over {WINDOW} s, slowest {max(slowest):.2f} s"
    )
    return late + 20 - len(slowest)


def script(name: str, *arguments: str) -> int:
    """Runs another bench; returns whether it failed."""
    return int(subprocess.run([sys.executable, str(Path(__file__).with_name(name)), *arguments]).returncode != 0)


PARTS: dict[str, Callable[..., int]] = {
    "hostile": hostile,
    "workers": workers,
    "windows": windows,
    "server": partial(script, "killed.py", "200"),
    "requests": partial(script, "any_request.py", "5000"),
    "fuzz": partial(script, "fuzz.py", "600"),
}


def main() -> None:
    wanted = sys.argv[1:2]
    only = sys.argv[2:3]
    sys.exit(bool(sum(part(*only) for name, part in PARTS.items() if not wanted or name in wanted)))


if __name__ == "__main__":
    main()
