"""Looks of documents that the office keeps, over the API."""

from __future__ import annotations


def test_a_look_is_kept_taken_over_and_dropped(client, typeset, taken):
    first = taken(typeset("= Tides\nThe float was found.", "first"), "First.pdf")
    styles = [use["style"] for use in client.get(f"/api/documents/{first}/styles").json]
    styles[0] |= {"font": "Caladea", "size": 13.0}
    assert client.post("/api/looks", json={"name": "Letters", "styles": styles}).json == ["Letters"]
    assert client.post("/api/looks", json={"name": "letters", "styles": styles}).json == ["letters"]

    second = taken(typeset("= Floats\nThe well was pumped dry.", "second"), "Second.pdf")
    kept = client.get("/api/looks/Letters").json["styles"]
    revision = client.get(f"/api/documents/{second}").json["document"]["revision"]
    body = {"revision": revision, "operation": {"op": "take_styles", "styles": kept}}
    assert client.post(f"/api/documents/{second}/operations", json=body).status_code == 200
    (look, *_) = [use["style"] for use in client.get(f"/api/documents/{second}/styles").json]
    assert (look["font"], look["size"]) == ("Caladea", 13.0)

    assert client.post("/api/looks/remove", json={"name": "Letters"}).json == []
    assert client.get("/api/looks/Letters").status_code == 404


def test_what_is_no_look_is_refused_with_a_sentence(client):
    style = {"id": "Body text", "name": "Body text", "size": 9000.0}
    for name, styles in (("", [style]), ("a/b", [style]), ("x" * 100, [style]), ("Letters", []), ("Letters", [style])):
        answer = client.post("/api/looks", json={"name": name, "styles": styles})
        assert answer.status_code == 422
        assert answer.json["sentence"].endswith(".")
    assert client.get("/api/looks").json == []
