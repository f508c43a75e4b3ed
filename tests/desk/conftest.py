"""A real application context: data folder, worker processes, job runner, Flask's test client."""

from __future__ import annotations

import socket
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient

from evenquill.core.reading.pages import PagePool
from evenquill.desk.app import create_app
from evenquill.desk.context import AppContext
from evenquill.desk.interactive import InteractivePool
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.outcomes import SettingPools

PATIENCE = 60.0


@pytest.fixture(scope="session")
def drawing() -> Iterator[InteractivePool]:
    with InteractivePool() as made:
        yield made


@pytest.fixture(scope="session")
def region_reading() -> Iterator[InteractivePool]:
    with InteractivePool() as made:
        yield made


@pytest.fixture(scope="session")
def setting() -> Iterator[SettingPools]:
    with SettingPools() as made:
        yield made


@pytest.fixture
def context(
    tmp_path: Path, pool: PagePool, drawing: InteractivePool, region_reading: InteractivePool, setting: SettingPools
) -> AppContext:
    return AppContext(tmp_path / "data", pages=pool, drawing=drawing, region_reading=region_reading, setting=setting)


@pytest.fixture
def runner(context: AppContext) -> Iterator[JobRunner]:
    made = JobRunner(context)
    made.start()
    yield made
    made.stop()


@pytest.fixture
def client(context: AppContext, runner: JobRunner) -> FlaskClient:
    return own_page(create_app(context, runner))


def own_page(app: Flask) -> FlaskClient:
    """A client that brings the token for changes, as our own page does."""
    made = app.test_client()
    made.environ_base["HTTP_X_EVENQUILL_TOKEN"] = made.get("/api/session").json["token"]
    return made


@pytest.fixture
def free_port() -> int:
    """A port that nobody listens at."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


Wait = Callable[..., dict]


@pytest.fixture
def until(client: FlaskClient) -> Wait:
    """Waits until a document is in one of the states; returns its row."""

    def wait(document: str, *states: str) -> dict:
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            (row,) = [one for one in client.get("/api/documents").json if one["id"] == document]
            if row["state"] in states:
                return row
            time.sleep(0.05)
        raise AssertionError(f"{row['state']}: {row['problem']}")

    return wait


@pytest.fixture
def idle(client: FlaskClient) -> Callable[[str], dict]:
    """Waits until no job works on a document any more; returns its row."""

    def wait(document: str) -> dict:
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            (row,) = [one for one in client.get("/api/documents").json if one["id"] == document]
            if not row["busy"] and row["state"] not in ("waiting", "reading"):
                return row
            time.sleep(0.05)
        raise AssertionError(f"{row['busy']}: {row['stage']}")

    return wait


@pytest.fixture
def taken(client: FlaskClient, until: Wait) -> Callable[..., str]:
    """Takes a file in, waits until it is read, returns its id."""

    def take(path: Path, name: str = "Report.pdf") -> str:
        answer = client.post(f"/api/documents?name={name}", data=path.read_bytes())
        assert answer.status_code == 200, answer.json
        document = answer.json["document"]["id"]
        until(document, "to correct")
        return document

    return take
