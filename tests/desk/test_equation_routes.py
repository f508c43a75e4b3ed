"""Equations over the API: how they are drawn and said, and what is typed for one."""

from __future__ import annotations

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
