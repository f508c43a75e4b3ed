"""A real house: data folder, worker processes, reading room, Flask's test client."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from evenquill.core.reading.pages import PagePool
from evenquill.desk.app import create_app
from evenquill.desk.drawing import DrawingPool
from evenquill.desk.house import House
from evenquill.desk.reading import ReadingRoom

PATIENCE = 60.0


@pytest.fixture(scope="session")
def drawing() -> Iterator[DrawingPool]:
    with DrawingPool() as made:
        yield made


@pytest.fixture
def house(tmp_path: Path, pool: PagePool, drawing: DrawingPool) -> House:
    return House(tmp_path / "data", pages=pool, drawing=drawing)


@pytest.fixture
def room(house: House) -> Iterator[ReadingRoom]:
    made = ReadingRoom(house)
    made.start()
    yield made
    made.stop()


@pytest.fixture
def client(house: House, room: ReadingRoom) -> FlaskClient:
    return create_app(house, room).test_client()


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
def taken(client: FlaskClient, until: Wait) -> Callable[..., str]:
    """Takes a file in, waits until it is read, returns its id."""

    def take(path: Path, name: str = "Report.pdf") -> str:
        answer = client.post(f"/api/documents?name={name}", data=path.read_bytes())
        assert answer.status_code == 200, answer.json
        document = answer.json["document"]["id"]
        until(document, "to correct")
        return document

    return take
