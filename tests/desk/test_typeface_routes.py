"""Typefaces over the API: what a document has, and what stands for it here and in the whole office."""

from __future__ import annotations

SOURCE = '#set text(font: "Libertinus Serif")\nThe float was found.\n\n#text(font: "DejaVu Sans Mono")[The code of the gauge.]'


def uses(client, document: str) -> dict[str, dict]:
    return {use["name"]: use for use in client.get(f"/api/documents/{document}/typefaces").json["uses"]}


def test_what_is_chosen_for_the_office_stands_in_documents_read_later(client, typeset, taken):
    first = taken(typeset(SOURCE, "first"), "First.pdf")
    assert uses(client, first)["Libertinus Serif"]["chosen"] == ""
    revision = client.get(f"/api/documents/{first}").json["document"]["revision"]
    body = {"revision": revision, "operation": {"op": "stand_in", "name": "Libertinus Serif", "stands": "Caladea"}}
    assert client.post(f"/api/documents/{first}/operations", json=body).status_code == 200
    assert uses(client, first)["Libertinus Serif"]["faces"][:2] == ["Libertinus Serif", "Caladea"]

    office = client.post("/api/typefaces", json={"name": "Libertinus Serif", "stands": "Carlito"})
    assert office.json == [{"name": "Libertinus Serif", "stands": "Carlito"}]
    second = taken(typeset(f"{SOURCE} Again.", "second"), "Second.pdf")
    assert uses(client, second)["Libertinus Serif"]["chosen"] == "Carlito"
    assert uses(client, first)["Libertinus Serif"]["chosen"] == "Caladea"
    assert client.post("/api/typefaces", json={"name": "libertinus serif", "stands": ""}).json == []


def test_what_cannot_stand_for_itself_is_refused(client):
    for name, stands in (("", "Caladea"), ("Caladea", "Caladea"), ("x" * 100, "Caladea")):
        answer = client.post("/api/typefaces", json={"name": name, "stands": stands})
        assert (answer.status_code, answer.json["error"]) == (422, "typeface")
