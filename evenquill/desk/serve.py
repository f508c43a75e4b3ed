"""Starting the application: data folder, job runner, server."""

from __future__ import annotations

import logging
import os
import signal
import socket
from collections.abc import Collection
from pathlib import Path

import waitress

from evenquill.core.reading.pages import PagePool
from evenquill.desk.app import MOST_BYTES, create_app
from evenquill.desk.context import AppContext
from evenquill.desk.demo import place_demo_documents
from evenquill.desk.housekeeping import Housekeeper
from evenquill.desk.interactive import InteractivePool
from evenquill.desk.job_runner import JobRunner
from evenquill.store.folder_lock import folder_locked

THREADS = 12
"""Requests at once; no window holds one for long."""

CONNECTIONS = 800
"""Open at once, requests that are sent by halves among them: they take no thread."""

SILENT_SECONDS = 60
"""After which a connection on which nothing comes or goes is closed."""


def serve(
    data: Path, *, host: str, port: int, workers: int = 0, demo: bool = False, names: Collection[str] = ()
) -> None:
    """Serves until it is told to stop. With ``demo``, an empty in-tray is given the demo documents first; ``names`` are those under which
    the server is asked besides ``localhost`` and its address. Raises FolderInUse, OSError where the folder cannot be written to."""
    os.umask(0o077)
    with folder_locked(data):
        _serve(data, host=host, port=port, workers=workers, demo=demo, names=(host, socket.gethostname(), *names))


def _serve(data: Path, *, host: str, port: int, workers: int, demo: bool, names: Collection[str]) -> None:
    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(name)s %(message)s")
    signal.signal(signal.SIGTERM, _interrupt)
    with PagePool(workers) as pages, InteractivePool() as drawing, InteractivePool() as region_reading:
        context = AppContext(data, pages=pages, drawing=drawing, region_reading=region_reading)
        runner = JobRunner(context)
        housekeeper = Housekeeper(context)
        try:
            housekeeper.start()
            runner.start()
            if demo:
                place_demo_documents(context, runner)
            print(f"Even Quill is at http://{host}:{port}/  (data in {context.data})", flush=True)
            waitress.serve(
                create_app(context, runner, names),
                host=host,
                port=port,
                threads=THREADS,
                connection_limit=CONNECTIONS,
                channel_timeout=SILENT_SECONDS,
                ident=None,
                max_request_body_size=MOST_BYTES,
            )
        except KeyboardInterrupt:
            pass
        finally:
            runner.stop()
            housekeeper.stop()


def _interrupt(number: int, frame: object) -> None:
    raise KeyboardInterrupt
