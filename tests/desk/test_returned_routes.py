"""The way back over the API: a delivered file that was edited elsewhere, its changes, and what is refused."""

from __future__ import annotations

import io

import docx
import pytest

SOURCE = "= Tides\nThe float was found hard against the wire.\n\nThe trace shows a line.\n\nThe keeper has been told."


@pytest.fixture
def document(typeset, taken) -> str:
    return taken(typeset(SOURCE, "tides"), "Tides.pdf")


def delivered(client, document) -> bytes:
    made = client.post(f"/api/documents/{document}/deliveries", json={"format": "docx"}).json
    return client.get(f"/api/deliveries/{made['id']}/file").data


def edited(data: bytes, before: str, after: str) -> bytes:
    file = docx.Document(io.BytesIO(data))
    run = next(run for paragraph in file.paragraphs for run in paragraph.runs if before in run.text)
    run.text = run.text.replace(before, after)
    out = io.BytesIO()
    file.save(out)
    return out.getvalue()


def test_changes_are_listed_and_taken_over_as_one_step(client, document):
    file = edited(edited(delivered(client, document), "float", "buoy"), "keeper", "harbour master")
    seen = client.post(f"/api/documents/{document}/returned", data=file).json
    assert seen["compared_with"]
    assert [(change["kind"], change["after"]) for change in seen["changes"]] == [
        ("words", "The buoy was found hard against the wire."),
        ("words", "The harbour master has been told."),
    ]
    steps = [step for change in seen["changes"] for step in change["operation"]["steps"]]
    body = {"revision": seen["revision"], "operation": {"op": "together", "steps": steps}}
    changed = client.post(f"/api/documents/{document}/operations", json=body)
    assert changed.status_code == 200, changed.json
    said = [block["content"][0]["text"] for block in client.get(f"/api/documents/{document}/rows").json["blocks"]]
    assert "The buoy was found hard against the wire." in said
    assert (
        client.post(f"/api/documents/{document}/undo", json={"revision": changed.json["revision"]}).status_code == 200
    )
    said = [block["content"][0]["text"] for block in client.get(f"/api/documents/{document}/rows").json["blocks"]]
    assert "The float was found hard against the wire." in said


def test_the_same_file_has_no_changes_and_a_file_can_come_without_a_delivery(client, document, typeset, taken):
    file = delivered(client, document)
    assert client.post(f"/api/documents/{document}/returned", data=file).json["changes"] == []
    other = taken(typeset(SOURCE.replace("keeper", "pilot"), "other"), "Other.pdf")
    seen = client.post(f"/api/documents/{other}/returned", data=file).json
    assert seen["compared_with"] == ""
    assert [change["after"] for change in seen["changes"]] == ["The keeper has been told."]


def test_what_is_no_docx_is_refused_and_nothing_changes(client, document):
    before = client.get(f"/api/documents/{document}").json["document"]["revision"]
    for data in (b"", b"%PDF-1.7 no such thing", b"PK\x03\x04 broken"):
        answer = client.post(f"/api/documents/{document}/returned", data=data)
        assert (answer.status_code, answer.json["error"]) == (422, "source")
        assert answer.json["sentence"].endswith(".")
    assert client.post("/api/documents/gone/returned", data=b"").status_code == 404
    assert client.get(f"/api/documents/{document}").json["document"]["revision"] == before
