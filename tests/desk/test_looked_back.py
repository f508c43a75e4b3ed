"""Documents are looked back at once they are read: what looks otherwise is asked about, put right by its fix, and asked about no more."""

from __future__ import annotations

import time

import pytest

from evenquill.core.looking_back import LookedBack
from evenquill.store import looked_back

SENTENCE = "The gauge at the north pier was read each hour and the drum wound on Mondays. "
SOURCE = f"{SENTENCE * 3}\n\n{SENTENCE} *Tell the office at once* when it stops. {SENTENCE * 2}\n\n{SENTENCE * 3}"


@pytest.fixture
def document(typeset, taken) -> str:
    return taken(typeset(SOURCE, "bold"), "Bold.pdf")


def seen(context, document, before: LookedBack | None = None) -> LookedBack:
    """Waits until it was looked back at, anew if ``before`` is what was seen then."""
    end = time.monotonic() + 60
    while time.monotonic() < end:
        found = looked_back.read(context.store, document)
        if found is not None and found != before:
            return found
        time.sleep(0.05)
    raise AssertionError("nobody looked back")


def asked(client, document) -> list[dict]:
    found = client.get(f"/api/documents/{document}/queries").json["queries"]
    return [one["query"] for one in found if one["query"]["kind"] == "looks"]


def operate(client, document, operation) -> None:
    revision = client.get(f"/api/documents/{document}/rows").json["revision"]
    answer = client.post(f"/api/documents/{document}/operations", json={"revision": revision, "operation": operation})
    assert answer.status_code == 200, answer.json


def test_what_looks_otherwise_is_asked_about_and_put_right(client, context, document, idle):
    first = seen(context, document)
    assert (first.doubts, first.alike) == ({}, first.compared)
    assert asked(client, document) == []
    row = client.get(f"/api/documents/{document}/rows").json["blocks"][1]
    plain = [{key: value for key, value in item.items() if key != "marks"} for item in row["content"]]
    operate(client, document, {"op": "edit_text", "block": row["id"], "content": plain})
    client.post(f"/api/documents/{document}/again", json={"pages": [1], "preparation": {}})
    idle(document)
    seen(context, document, first)
    (query,) = asked(client, document)
    checks = client.get(f"/api/documents/{document}/checks").json
    (check,) = [check for check in checks if check["kind"] == "looks"]
    assert check["sentence"] == "A row looks otherwise than the source; 2 of 3 look alike."
    assert check["places"] == [1]
    assert (query["text"], query["fixes"][0]["label"]) == ("Tell the office at once", "make it bold")
    assert query["spots"]
    operate(client, document, query["fixes"][0]["operation"])
    assert asked(client, document) == []
    assert (
        client.post(f"/api/documents/{document}/undo", json={"revision": revision(client, document)}).status_code == 200
    )
    assert [one["text"] for one in asked(client, document)] == ["Tell the office at once"]


def revision(client, document) -> int:
    return client.get(f"/api/documents/{document}/rows").json["revision"]
