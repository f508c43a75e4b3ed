"""Queries over the API: raised by reading, settled, undone, left, in step with every change; look-alikes, word list, certificate."""

from __future__ import annotations

import time

import numpy as np
import pytest
import scan_effects

TEXT = (
    "The well at Brannowick was pumped by Zudwel and Qarmot on Friday. At Brannowick nobody saw the float. "
    "Zudwel wrote from Brannowick that Ploverik had xqzvk the guide wire, and Qarmot kept the hut at Brannowick."
)


@pytest.fixture
def scanned(typeset, tmp_path, taken):
    """A scan with words that no list knows, read."""
    page = scan_effects.turned(
        scan_effects.printed(scan_effects.drawn(typeset(TEXT), 1, 200), np.random.default_rng(5)), 0.7
    )
    path = tmp_path / "scan.pdf"
    path.write_bytes(scan_effects.as_pdf([page]))
    return taken(path, "Scan.pdf")


def queries(client, document):
    return client.get(f"/api/documents/{document}/queries").json


def by_text(client, document):
    return {one["query"]["text"].strip(".,"): one for one in queries(client, document)["queries"]}


def operate(client, document, operation):
    revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
    answer = client.post(f"/api/documents/{document}/operations", json={"revision": revision, "operation": operation})
    return answer.json


def settled(one, text, **more):
    query = one["query"]
    answer = {
        "block": query["block"],
        "start": query["start"],
        "spot": query["spots"][0],
        "read": query["text"],
        "text": text,
    }
    return {"op": "settle", "answers": [{**answer, "key": one["key"], **more}]}


def test_queries_are_there_when_a_document_is_read(client, scanned):
    listed = queries(client, scanned)
    found = by_text(client, scanned)
    assert "xqzvk" in found
    assert listed["counts"]["open"] == len(listed["queries"])
    assert [one["place"] for one in listed["queries"]] == sorted(one["place"] for one in listed["queries"])
    assert {one["query"]["kind"] for one in listed["queries"]} <= {kind["name"] for kind in listed["kinds"]}
    (row,) = client.get("/api/documents").json
    assert row["open_queries"] == listed["counts"]["open"]
    assert row["stage"] == ""


def test_an_answer_changes_the_word_takes_the_query_away_and_undo_brings_both_back(client, scanned):
    before = queries(client, scanned)
    one = by_text(client, scanned)["xqzvk"]
    changed = operate(client, scanned, settled(one, "cleaned", typed=True))
    assert changed["gone"] == [one["id"]]
    assert changed["counts"]["settled"] == 1
    assert changed["counts"]["typed"] == len("cleaned")
    assert "cleaned" in "".join(item.get("text", "") for item in changed["blocks"][0]["content"])
    assert "xqzvk" not in by_text(client, scanned)
    revision = changed["revision"]
    undone = client.post(f"/api/documents/{scanned}/undo", json={"revision": revision}).json
    assert one["id"] in [back["id"] for back in undone["queries"]]
    assert queries(client, scanned)["queries"] == before["queries"]
    assert undone["counts"]["settled"] == 0
    redone = client.post(f"/api/documents/{scanned}/redo", json={"revision": undone["revision"]}).json
    assert redone["counts"]["settled"] == 1
    assert "xqzvk" not in by_text(client, scanned)


def test_a_word_kept_is_known_in_the_whole_document_and_survives_a_restart(client, scanned, context, runner):
    one = by_text(client, scanned)["xqzvk"]
    changed = operate(client, scanned, settled(one, one["query"]["text"]))
    assert changed["removed"] == 0
    assert changed["counts"]["kept"] == 1
    with context.open_documents.locked(scanned):
        pass  # what is in memory is dropped
    assert "xqzvk" not in by_text(client, scanned)


def test_edits_in_a_row_move_its_queries_and_settle_those_they_touch(client, scanned):
    one = by_text(client, scanned)["xqzvk"]
    rows = client.get(f"/api/documents/{scanned}/rows?start=0&count=50").json["blocks"]
    block = next(row for row in rows if row["id"] == one["query"]["block"])
    text = "".join(item.get("text", "") for item in block["content"])
    moved = operate(
        client,
        scanned,
        {"op": "edit_text", "block": block["id"], "content": [{"type": "text", "text": "Now: " + text}]},
    )
    assert moved["counts"]["settled"] == 0
    assert by_text(client, scanned)["xqzvk"]["query"]["start"] == one["query"]["start"] + 5
    typed = ("Now: " + text).replace("xqzvk", "cleaned")
    mended = operate(
        client, scanned, {"op": "edit_text", "block": block["id"], "content": [{"type": "text", "text": typed}]}
    )
    assert mended["counts"]["settled"] == 1
    assert "xqzvk" not in by_text(client, scanned)


def test_two_quick_answers_in_one_row_both_find_their_words(client, scanned):
    """The second is made before the first is answered, so that its places in the text are those of before."""
    found = by_text(client, scanned)
    words = [one for one in found.values() if one["query"]["end"]]
    first, second = min(words, key=lambda one: one["query"]["start"]), found["xqzvk"]
    assert first["query"]["block"] == second["query"]["block"]
    assert first["query"]["start"] < second["query"]["start"]
    operate(client, scanned, settled(first, "Somebody from afar"))
    changed = operate(client, scanned, settled(second, "cleaned"))
    text = "".join(item.get("text", "") for item in changed["blocks"][0]["content"])
    assert "Somebody from afar" in text
    assert "had cleaned the guide wire" in text


def test_a_doubt_left_for_later_stays_so_when_something_is_typed_before_it(client, scanned):
    one = by_text(client, scanned)["xqzvk"]
    client.post(f"/api/documents/{scanned}/queries/leave", json={"queries": [one["id"]]})
    block = next(
        row
        for row in client.get(f"/api/documents/{scanned}/rows?start=0&count=50").json["blocks"]
        if row["id"] == one["query"]["block"]
    )
    content = [{"type": "text", "text": "Now: "}, *block["content"]]
    moved = operate(client, scanned, {"op": "edit_text", "block": block["id"], "content": content})
    assert moved["counts"]["left"] == 1
    again = by_text(client, scanned)["xqzvk"]
    assert (again["left"], again["id"]) == (True, one["id"])
    assert next(query["left"] for query in moved["queries"] if query["id"] == one["id"])


def test_a_query_is_left_for_later_and_taken_up_again(client, scanned):
    one = by_text(client, scanned)["xqzvk"]
    before = queries(client, scanned)["counts"]
    counts = client.post(f"/api/documents/{scanned}/queries/leave", json={"queries": [one["id"]]}).json
    assert (counts["open"], counts["left"]) == (before["open"] - 1, 1)
    assert by_text(client, scanned)["xqzvk"]["left"]
    back = client.post(f"/api/documents/{scanned}/queries/leave", json={"queries": [one["id"]], "left": False}).json
    assert back == before


def test_an_answer_to_what_is_no_longer_there_is_refused(client, scanned):
    one = by_text(client, scanned)["xqzvk"]
    operation = settled(one, "cleaned")
    operation["answers"][0]["read"] = "something"
    assert operate(client, scanned, operation)["error"] == "edit"


def test_look_alikes_are_found_by_their_pictures(client, scanned):
    rows = client.get(f"/api/documents/{scanned}/rows?start=0&count=50").json["blocks"]
    text = "".join(item.get("text", "") for item in rows[0]["content"])
    start = text.index("Brannowick")
    end = time.monotonic() + 20
    while True:
        address = f"/api/documents/{scanned}/alike?block={rows[0]['id']}&start={start}"
        found = client.get(address).json
        if found or time.monotonic() > end:
            break
        time.sleep(0.2)
    assert len(found) >= 2
    assert {one["text"].strip(".") for one in found} == {"Brannowick"}
    assert client.get(f"/api/documents/{scanned}/alike?block=x&start=y").status_code == 400


def test_the_offices_list_is_kept_edited_imported_and_exported(client):
    assert client.post("/api/words", json={"word": "Brannowick"}).json["problems"] == []
    wrong = client.post("/api/words", json={"word": "Tarow", "instead": "Tarrow"}).json
    assert [(one["word"], one["instead"]) for one in wrong["entries"]] == [("Brannowick", ""), ("Tarow", "Tarrow")]
    refused = client.post("/api/words", json={"word": "Xyz", "instead": "Tarow"}).json
    assert refused["problems"] == ["Line 1 was left out: “Tarow” is itself listed as wrong."]
    assert client.post("/api/words", json={"word": " "}).status_code == 422
    more = client.post("/api/words/import", data=b"Ploverik\nTarow = Taro\n").json
    assert len(more["entries"]) == 3
    assert len(more["problems"]) == 1
    assert client.get("/api/words/export").data.decode() == "Brannowick\nPloverik\nTarow = Tarrow\n"
    assert client.post("/api/words/import", data=b"\xff\xfe\xff").status_code == 422
    left = client.post("/api/words/remove", json={"words": ["Ploverik", "Tarow"]}).json
    assert [one["word"] for one in left["entries"]] == ["Brannowick"]
    assert len(client.get("/api/words").json["entries"]) == 1


def test_a_listed_word_is_not_asked_about_when_a_document_is_read(client, typeset, tmp_path, taken, scanned):
    assert "xqzvk" in by_text(client, scanned)
    client.post("/api/words", json={"word": "xqzvk"})
    document = client.post(
        "/api/documents/again", json={"source": client.get("/api/documents").json[0]["source"], "name": "Again"}
    )
    again = document.json["document"]["id"]
    end = time.monotonic() + 60
    while client.get("/api/documents").json[0]["state"] != "to correct" and time.monotonic() < end:
        time.sleep(0.1)
    assert "xqzvk" not in by_text(client, again)


def test_the_certificate_tells_what_was_done(client, scanned):
    one = by_text(client, scanned)["xqzvk"]
    operate(client, scanned, settled(one, "cleaned", typed=True))
    work = client.get(f"/api/documents/{scanned}/work").json
    assert (work["changed"], work["kept"], work["typed"]) == (1, 0, 7)
    assert work["characters"] > 150
    assert work["words"] == len(TEXT.split())
    made = client.post(f"/api/documents/{scanned}/deliveries", json={"format": "certificate"}).json
    assert made["file_name"] == "Scan, certificate.txt"
    response = client.get(f"/api/deliveries/{made['id']}/file")
    assert response.mimetype == "text/plain"
    text = response.data.decode()
    assert "“xqzvk” to “cleaned”" in text
    assert "Characters typed:  7" in text
    assert client.get("/api/documents").json[0]["state"] == "to correct"


def test_a_region_is_read_and_cut_without_changing_anything(client, scanned):
    before = client.get(f"/api/documents/{scanned}/pages/1/rows").json
    assert before["width"] > 400
    ((page, box),) = before["blocks"][0]["spots"]
    read = client.post(
        f"/api/documents/{scanned}/regions/read", json={"page": page, "box": box, "preparation": {"languages": ["eng"]}}
    )
    assert read.json["text"].startswith("The well at Brannowick")
    word = read.json["words"][1]
    assert read.json["text"][word[0] : word[1]] == "well"
    assert box[0] - 3 < word[3][0] < box[2]
    assert box[1] - 3 < word[3][1] < box[3]
    cut = client.post(f"/api/documents/{scanned}/regions/cut", json={"page": page, "box": box}).json
    assert client.get(f"/api/pictures/{cut['picture']}").mimetype == "image/png"
    missing = client.post(
        f"/api/documents/{scanned}/regions/read", json={"page": 1, "box": box, "preparation": {"languages": ["tlh"]}}
    )
    assert missing.status_code == 422
    assert "tesseract-ocr-tlh" in missing.json["sentence"]
    assert client.get(f"/api/documents/{scanned}/pages/1/rows").json == before
    assert client.get(f"/api/documents/{scanned}/pages/7/rows").status_code == 404


def test_a_region_read_again_brings_its_own_queries(client, scanned):
    before = client.get(f"/api/documents/{scanned}/pages/1/rows").json["blocks"][0]
    ((page, box),) = before["spots"]
    read = client.post(f"/api/documents/{scanned}/regions/read", json={"page": page, "box": box}).json
    changed = operate(
        client, scanned, {"op": "region", "block": before["id"], "place": 0, "spot": [page, box], "read": read}
    )
    assert changed["can_undo"]
    assert "xqzvk" in by_text(client, scanned)
    removed = operate(client, scanned, {"op": "remove_region", "block": before["id"]})
    assert removed["removed"] == 1
    assert "xqzvk" not in by_text(client, scanned)
