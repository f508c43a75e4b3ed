"""Tables over the API: changed by operations, saved for spreadsheets."""

from __future__ import annotations

import gzip
import io
import json

import openpyxl

PAGE = """The levels of the week are these.
#table(columns: 3, [*Station*], [*Height*], [*Days*], [North pier], [2.31], [14], [Ferry slip], [0.87], [104])
They were read at noon."""


def table_of(client, document):
    rows = client.get(f"/api/documents/{document}/pages/1/rows").json
    return next(block for block in rows["blocks"] if block["type"] == "table")


def test_a_table_is_changed_and_saved_for_a_spreadsheet(client, typeset, taken):
    document = taken(typeset(PAGE, "levels"), "Levels.pdf")
    block = table_of(client, document)
    revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
    operation = {"op": "insert_lines", "block": block["id"], "line": "row", "at": 2}
    changed = client.post(f"/api/documents/{document}/operations", json={"revision": revision, "operation": operation})
    assert changed.status_code == 200, changed.json
    assert len(table_of(client, document)["row_ids"]) == 4
    one = client.get(f"/api/documents/{document}/tables?block={block['id']}&format=xlsx")
    assert "Levels%2C%20table%201.xlsx" in one.headers["Content-Disposition"]
    sheet = openpyxl.load_workbook(io.BytesIO(one.data)).active
    assert [[cell.value for cell in row] for row in sheet.rows] == [
        ["Station", "Height", "Days"],
        ["North pier", 2.31, 14],
        [None, None, None],
        ["Ferry slip", 0.87, 104],
    ]
    comma = client.get(f"/api/documents/{document}/tables?block={block['id']}&format=csv")
    assert comma.data.decode("utf-8-sig").splitlines()[1] == "North pier,2.31,14"
    every = client.get(f"/api/documents/{document}/tables")
    assert openpyxl.load_workbook(io.BytesIO(every.data)).sheetnames == ["Table 1"]


def test_what_cannot_be_saved_says_why(client, typeset, taken):
    document = taken(typeset("No table is here.", "plain"), "Plain.pdf")
    assert client.get(f"/api/documents/{document}/tables").json["sentence"] == "The document has no tables."
    assert client.get(f"/api/documents/{document}/tables?block=gone").status_code == 404
    tabled = taken(typeset(PAGE, "levels"), "Levels.pdf")
    wrong = client.get(f"/api/documents/{tabled}/tables?format=ods")
    assert (wrong.status_code, wrong.json["error"]) == (422, "format")
    assert client.get(f"/api/documents/{tabled}/tables?format=csv").status_code == 422


def test_a_change_of_a_long_table_is_a_short_answer(client, typeset, taken):
    rows = ", ".join(f"[Station {n}], [{n}.05], [{n % 7}.31], [{n % 11}]" for n in range(200))
    document = taken(typeset(f"Levels.\n#table(columns: 4, {rows})", "long"), "Long.pdf")
    block = table_of(client, document)
    revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
    body = {"revision": revision, "operation": {"op": "remove_lines", "block": block["id"], "line": "row", "at": 3}}
    answer = client.post(f"/api/documents/{document}/operations", json=body, headers={"Accept-Encoding": "gzip"})
    assert answer.headers["Content-Encoding"] == "gzip"
    assert len(answer.data) < 40_000
    changed = json.loads(gzip.decompress(answer.data))
    assert len(changed["blocks"][0]["row_ids"]) == 199
    plain = client.get(f"/api/documents/{document}/rows")
    assert "Content-Encoding" not in plain.headers
    assert len(plain.data) > 100_000
    small = client.get("/api/session", headers={"Accept-Encoding": "gzip"})
    assert "Content-Encoding" not in small.headers
