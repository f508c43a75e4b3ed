"""The product's own server as a process with a folder of its own, asked over HTTP; it can be killed and started again."""

from __future__ import annotations

import http.client
import json
import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path
from typing import Any
from urllib.parse import quote

import psutil

START = 60.0
"""Seconds after which a server that does not answer counts as broken."""


class Refused(Exception):
    """The server answered with an error."""


class RunningServer:
    """A server on a data folder, with options of the command line; its log is beside the folder."""

    def __init__(self, data: Path, *options: str) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.log = data.parent / "server.log"
        self._command = [
            sys.executable,
            "-m",
            "evenquill",
            "serve",
            "--port",
            str(self.port),
            "--data",
            str(data),
            *options,
        ]
        self._token = ""
        self.start()

    def start(self) -> None:
        """Starts it, and waits until it answers. Raises OSError where it does not."""
        with self.log.open("ab") as log:
            self.process = subprocess.Popen(self._command, start_new_session=True, stdout=log, stderr=log)
        end = time.monotonic() + START
        while True:
            try:
                self._token = self.ask("GET", "/api/session")["token"]
            except OSError:
                if time.monotonic() > end:
                    raise
                time.sleep(0.05)
            else:
                return

    def kill(self) -> None:
        """Ends the server and all of its helpers at once, as a power cut does."""
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()

    def ask(self, method: str, path: str, body: object = None, data: bytes | None = None) -> Any:
        """The answer to a request, decoded. Raises Refused, or OSError where the server is gone."""
        answer = self.fetch(method, path, body, data)
        return json.loads(answer) if answer else None

    def fetch(self, method: str, path: str, body: object = None, data: bytes | None = None) -> bytes:
        """The answer to a request as it comes. Raises Refused, or OSError where the server is gone."""
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
            raise Refused(f"{method} {path}: {response.status} {answer.decode(errors='replace')}")
        return answer

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
