"""Starting the application: data folder, job runner, server."""

from __future__ import annotations

import ipaddress
import logging
import os
import signal
import socket
from collections.abc import Collection
from contextlib import closing
from pathlib import Path

import waitress

from evenquill.core.reading.pages import PagePool
from evenquill.desk.app import MOST_BYTES, create_app
from evenquill.desk.context import AppContext
from evenquill.desk.demo import EDITED, place_demo_documents
from evenquill.desk.housekeeping import Housekeeper
from evenquill.desk.interactive import InteractivePool
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.outcomes import SettingPools
from evenquill.store import accounts
from evenquill.store.database import connect
from evenquill.store.folder_lock import folder_locked

THREADS = 12
"""Requests at once; no window holds one for long."""

CONNECTIONS = 800
"""Open at once, requests that are sent by halves among them: they take no thread."""

FORWARDED = frozenset({"x-forwarded-for", "x-forwarded-host", "x-forwarded-proto"})
"""What is taken from a proxy that is believed: who asks, by which name, and whether by HTTPS."""

SILENT_SECONDS = 60
"""After which a connection on which nothing comes or goes is closed."""


class NobodyCanSignIn(Exception):
    """People would have to sign in, and there are no accounts."""


def serve(
    data: Path,
    *,
    host: str,
    port: int,
    workers: int = 0,
    demo: bool = False,
    names: Collection[str] = (),
    proxy: str | None = None,
    sign_in: bool = False,
) -> None:
    """Serves until it is told to stop. With ``demo``, an empty in-tray is given the demo documents first; ``names`` are those under which
    the server is asked besides ``localhost`` and its address; headers that the ``proxy`` (an address) has forwarded are believed.

    People sign in if others than this machine can reach the server, or if ``sign_in`` says so. Raises NobodyCanSignIn, FolderInUse, OSError
    where the folder cannot be written to.
    """
    os.umask(0o077)
    must_sign_in = sign_in or proxy is not None or not is_loopback(host)
    with folder_locked(data):
        if must_sign_in:
            with closing(connect(data)) as store:
                if accounts.is_empty(store):
                    raise NobodyCanSignIn
        known = (host, socket.gethostname(), *names)
        _serve(data, host, port, workers, demo=demo, names=known, proxy=proxy, must_sign_in=must_sign_in)


def is_loopback(host: str) -> bool:
    """Whether an address that a server listens at can be reached from its own machine only."""
    try:
        return ipaddress.ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"


def _serve(
    data: Path,
    host: str,
    port: int,
    workers: int,
    *,
    demo: bool,
    names: Collection[str],
    proxy: str | None,
    must_sign_in: bool,
) -> None:
    logging.basicConfig(level=logging.INFO, format="%(asctime)s %(levelname)s %(name)s: %(message)s")
    signal.signal(signal.SIGTERM, _interrupt)
    with (
        PagePool(workers) as pages,
        InteractivePool() as drawing,
        InteractivePool() as region_reading,
        SettingPools() as setting,
    ):
        context = AppContext(data, pages=pages, drawing=drawing, region_reading=region_reading, setting=setting)
        runner = JobRunner(context)
        housekeeper = Housekeeper(context)
        try:
            housekeeper.start()
            runner.start()
            if demo:
                place_demo_documents(context, runner)
                if (edited := context.data / EDITED).exists():
                    print(f"A file that was delivered and edited elsewhere, to bring back: {edited}", flush=True)
            print(f"Even Quill is at http://{host}:{port}/  (data in {context.data})", flush=True)
            waitress.serve(
                create_app(context, runner, names, must_sign_in=must_sign_in),
                host=host,
                port=port,
                threads=THREADS,
                connection_limit=CONNECTIONS,
                channel_timeout=SILENT_SECONDS,
                ident=None,
                max_request_body_size=MOST_BYTES,
                clear_untrusted_proxy_headers=True,
                **({"trusted_proxy": proxy, "trusted_proxy_headers": FORWARDED} if proxy else {}),
            )
        except KeyboardInterrupt:
            pass
        finally:
            runner.stop()
            housekeeper.stop()


def _interrupt(number: int, frame: object) -> None:
    raise KeyboardInterrupt
