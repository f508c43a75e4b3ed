"""Finding over the API: what is shown, and what is refused."""

from __future__ import annotations


def test_what_is_found_says_where_it_is_and_what_becomes_of_it(client, typeset, taken):
    document = taken(typeset("The float was found. A second float hangs in the well.", "floats"), "Floats.pdf")
    found = client.post(f"/api/documents/{document}/find", json={"find": {"text": "float"}, "becomes": "buoy"}).json
    assert found["total"] == len(found["hits"]) == 2
    first = found["hits"][0]
    assert (first["row"], first["text"], first["becomes"], first["page"]) == (0, "float", "buoy", 1)
    assert first["box"][0] < first["box"][2]
    operation = {"op": "replace_text", "find": {"text": "float"}, "text": "buoy"}
    body = {"revision": found["revision"], "operation": operation}
    changed = client.post(f"/api/documents/{document}/operations", json=body)
    assert changed.status_code == 200, changed.json
    again = client.post(f"/api/documents/{document}/find", json={"find": {"text": "float"}})
    assert again.json["total"] == 0


def test_a_search_that_is_not_understood_is_refused_with_a_sentence(client, typeset, taken):
    document = taken(typeset("The float was found.", "float"), "Float.pdf")
    for wrong in ({"text": "(a", "pattern": True}, {}, {"text": "x" * 600}):
        answer = client.post(f"/api/documents/{document}/find", json={"find": wrong})
        assert (answer.status_code, answer.json["error"]) == (422, "edit")
        assert answer.json["sentence"].endswith(".")
    assert client.post("/api/documents/gone/find", json={"find": {"text": "a"}}).status_code == 404


def test_small_faults_are_listed_by_kind_and_swept_as_one_step(client, typeset, taken):
    source = "The the float was found .\n\nA second float hangs in the well , and it is wet ."
    document = taken(typeset(source, "faults"), "Faults.pdf")
    listed = {one["kind"]: one for one in client.get(f"/api/documents/{document}/faults").json}
    assert listed["before signs"]["total"] == 3
    assert listed["before signs"]["samples"][0]["row"] == 0
    assert listed["words"]["ask"]
    revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
    operation = {"op": "sweep", "kinds": ["before signs"]}
    assert (
        client.post(
            f"/api/documents/{document}/operations", json={"revision": revision, "operation": operation}
        ).status_code
        == 200
    )
    assert "before signs" not in {one["kind"] for one in client.get(f"/api/documents/{document}/faults").json}
