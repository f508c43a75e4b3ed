"""Equations over the API: how they are drawn and said, and what is typed for one."""

from __future__ import annotations

import base64

TREE = {"type": "fraction", "above": {"type": "identifier", "text": "a"}, "below": {"type": "number", "text": "2"}}


def test_equations_are_drawn_typed_and_said(client):
    body = {"equations": [{"type": "equation", "tree": TREE}], "language": "de"}
    (drawn,) = client.post("/api/equations/drawn", json=body).get_json()["drawn"]
    assert drawn["tex"] == r"\frac{a}{2}"
    assert drawn["said"] == "a durch 2"
    assert "<mfrac>" in drawn["mathml"]


def test_a_place_on_a_page_is_read_as_an_equation_without_changing_anything(client, typeset, taken):
    document = taken(typeset("The gauge.\n\n$ h = a / b + sqrt(c) $\n\nThe pier.", "place"), "Place.pdf")
    before = client.get(f"/api/documents/{document}/pages/1/rows").json
    (row,) = [block for block in before["blocks"] if block.get("role") == "equation"]
    ((page, box),) = row["spots"]
    there = client.post(f"/api/documents/{document}/regions/equation", json={"page": page, "box": box}).json
    assert there["tree"] == row["content"][0]["tree"]
    nothing = client.post(f"/api/documents/{document}/regions/equation", json={"page": 1, "box": [300, 500, 380, 540]})
    assert nothing.status_code == 200
    assert not nothing.json.get("tree")
    wrong = client.post(f"/api/documents/{document}/regions/equation", json={"page": 1, "box": [300, 500, 300, 540]})
    assert wrong.status_code == 422
    assert client.get(f"/api/documents/{document}/pages/1/rows").json == before


def test_mathml_is_read_where_it_is_pasted(client):
    pasted = "<math><mfrac><mi>a</mi><mn>2</mn></mfrac></math>"
    assert client.post("/api/equations/read", json={"typed": pasted}).get_json()["tree"] == TREE
    wrong = client.post("/api/equations/read", json={"typed": "<math><mfrac/></math>"}).get_json()
    assert (wrong["problem"], wrong["at"]) == ("<mfrac> has to have 2 parts and has 0.", 6)


def test_what_is_typed_is_read_or_it_is_said_what_is_wrong(client):
    read = client.post("/api/equations/read", json={"typed": r"\frac{a}{2}"}).get_json()
    assert read["tree"] == TREE
    wrong = client.post("/api/equations/read", json={"typed": r"a+\foo"}).get_json()
    assert (wrong["problem"], wrong["at"]) == (r"\foo is not known.", 2)
    assert "tree" not in wrong or wrong["tree"] is None


def test_commands_that_are_offered_are_read(client):
    commands = client.get("/api/equations/commands").get_json()
    means = {command["name"]: command["means"] for command in commands}
    assert (means["alpha"], means["sum"], means["cos"]) == ("α", "∑", "cos")
    for name in ("alpha", "leq", "infty", "cos", "nabla"):
        assert client.post("/api/equations/read", json={"typed": f"\\{name}"}).get_json().get("problem", "") == ""


def test_unsound_equations_are_refused(client):
    empty = {"type": "operator", "text": ""}
    answer = client.post("/api/equations/drawn", json={"equations": [{"type": "equation", "tree": empty}]})
    assert answer.status_code == 422
    assert answer.get_json()["sentence"] == "A part of the equation has no text."
    many = [{"type": "equation", "tree": TREE}] * 501
    assert client.post("/api/equations/drawn", json={"equations": many}).status_code == 422
    deep = '{"type":"row","parts":[' * 3000 + "]}" * 3000
    body = f'{{"equations":[{{"type":"equation","tree":{deep}}}]}}'
    answer = client.post("/api/equations/drawn", data=body, content_type="application/json")
    assert answer.status_code == 400
    assert "too deep" in answer.get_json()["sentence"]


def test_all_equations_of_a_document_are_listed_those_in_cells_too(client, typeset, taken):
    table = "#table(columns: 2, [Height], [$h = a/b$], [Range], [12.5])"
    text = f'#set math.equation(numbering: "(1)")\nThe hour $t$ of it.\n\n$ h = a / b $\n\nAll of them:\n\n{table}'
    document = taken(typeset(text, "list"), "List.pdf")
    entries = client.get(f"/api/documents/{document}/equations").json
    assert [entry["equation"].get("number", "") for entry in entries] == ["", "(1)", ""]
    assert [entry["equation"].get("display", False) for entry in entries] == [False, True, False]
    assert [entry["page"] for entry in entries] == [1, 1, 1]
    rows = client.get(f"/api/documents/{document}/rows").json["blocks"]
    assert [rows[entry["place"]]["id"] for entry in entries] == [entry["row"] for entry in entries]
    assert [entry["row"] == entry["text"] for entry in entries] == [True, True, False]
    assert entries[0]["at"] == len("The hour ")


def test_what_was_typed_is_drawn_with_its_places(client):
    read = client.post("/api/equations/read", json={"typed": r"1+\frac{a}{2}"}).get_json()
    assert '<mfrac data-typed="2:13">' in read["drawn"]["mathml"]
    body = {"equations": [{"type": "equation", "tree": TREE}]}
    assert "data-typed" not in client.post("/api/equations/drawn", json=body).get_json()["drawn"][0]["mathml"]


def test_an_equation_is_given_as_a_picture(client):
    answer = client.post("/api/equations/picture", json={"tree": TREE, "display": True}).get_json()
    assert base64.b64decode(answer["png"]).startswith(b"\x89PNG")
    refused = client.post("/api/equations/picture", json={"tree": {"type": "gap", "width": 1e9}})
    assert refused.status_code == 422
    assert "wider than" in refused.get_json()["sentence"]
