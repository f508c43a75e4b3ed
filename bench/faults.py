"""Attacks and bad luck, counted: ``python bench/faults.py [hostile|workers|windows|server|requests|fuzz] [name]``.

``hostile`` takes in sources made to do harm and looks at memory, answers and how each ends; ``workers`` kills reading processes;
``windows`` opens many at once; ``server`` kills the server under load (bench/killed.py), ``requests`` sends requests made by chance
(bench/any_request.py), ``fuzz`` changes bytes of sources and bodies (bench/fuzz.py). Without an argument, all of them.
"""

from __future__ import annotations

import http.client
import json
import os
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any
from urllib.parse import quote

import psutil
from hostile import SOURCES

from evenquill.core.processes import most_memory

ANSWER = 0.2
"""Seconds within which the server is to answer, whatever is being read."""

MORE = 1.1
"""Times its limit that a worker's memory may be seen at."""

LONGEST = 900.0
"""Seconds after which a source counts as hanging."""

LOOK = 0.1
"""Seconds between looks at memory."""


class Server:
    """The product's server as a process with a folder of its own."""

    def __init__(self, data: Path, *options: str) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.log = data.parent / "server.log"
        command = [sys.executable, "-m", "evenquill", "serve", "--port", str(self.port), "--data", str(data), *options]
        with self.log.open("ab") as log:
            self.process = subprocess.Popen(command, start_new_session=True, stdout=log, stderr=log)
        self._token = ""
        until(lambda: self._is_there(), 60)

    def _is_there(self) -> bool:
        try:
            self._token = self.ask("GET", "/api/session")["token"]
        except OSError:
            return False
        return True

    def ask(self, method: str, path: str, body: object = None, data: bytes | None = None) -> Any:
        """The answer to a request; raises OSError where there is none, RuntimeError with what was refused."""
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        try:
            headers = {"X-Evenquill-Token": self._token}
            if body is not None:
                headers["Content-Type"] = "application/json"
                data = json.dumps(body).encode()
            connection.request(method, path, data, headers)
            response = connection.getresponse()
            answer = response.read()
        except http.client.HTTPException as error:
            raise ConnectionError from error
        finally:
            connection.close()
        if response.status >= 400:
            raise RuntimeError(f"{method} {path}: {response.status} {answer[:200].decode(errors='replace')}")
        return json.loads(answer) if answer.startswith((b"{", b"[")) else answer

    def take_in(self, path: Path) -> str:
        """The document that a file becomes."""
        answer = self.ask("POST", f"/api/documents?name={quote(path.name)}", data=path.read_bytes())
        return str(answer["document"]["id"])

    def row(self, document: str) -> dict[str, Any]:
        """How the in-tray shows a document."""
        (row,) = [one for one in self.ask("GET", "/api/documents") if one["id"] == document]
        return dict(row)

    def workers(self) -> list[psutil.Process]:
        """The processes that work for it."""
        return psutil.Process(self.process.pid).children(recursive=True)

    def end(self) -> None:
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()


@contextmanager
def serving(*options: str) -> Iterator[Server]:
    with tempfile.TemporaryDirectory(prefix="evenquill-") as folder:
        server = Server(Path(folder) / "data", *options)
        try:
            yield server
        finally:
            server.end()


class Watch:
    """What is seen while something goes on: the most memory of one worker in bytes, the slowest answer in seconds."""

    def __init__(self, server: Server) -> None:
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


def _said(server: Server, document: str) -> str:
    """What the clerk is told of a document, or how many rows it has."""
    row = server.row(document)
    if row["problem"]:
        return str(row["problem"])
    opened = server.ask("GET", f"/api/documents/{document}")
    remarks = [remark["sentence"] for remark in opened["remarks"]]
    return " ".join(remarks[:2]) or f"{opened['total']} rows"


def _has_ended(server: Server, document: str) -> bool:
    return server.row(document)["state"] not in ("waiting", "reading")


def _wrong(server: Server, document: str) -> list[str]:
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
    except (RuntimeError, OSError) as error:
        wrong.append(str(error))
    return wrong


def main() -> None:
    parts = {"hostile": hostile}
    wanted, only = [*sys.argv[1:], "", ""][:2]
    sys.exit(bool(sum(part(only) if wanted else part() for name, part in parts.items() if wanted in ("", name))))


if __name__ == "__main__":
    main()
