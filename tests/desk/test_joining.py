"""Several files as one document: what was chosen and said of pages goes with them; wrong wishes change nothing."""

from __future__ import annotations

import io

import numpy as np
import pytest
import scan_effects
from PIL import Image

from evenquill.core.model import Box
from evenquill.core.reading.preparation import Preparation
from evenquill.core.strip_types import Strip
from evenquill.desk.drawing import DrawingError, StripDrawer
from evenquill.desk.jobs.reorder_files import moved_numbers
from evenquill.store import preparations

UPPER = "The upper sheet of the log was found on the stairs in the morning."


@pytest.fixture
def sheets(typeset, tmp_path):
    """A TIFF of a page of text and a blank one, and a picture of another page."""
    chance = np.random.default_rng(6)
    text = scan_effects.printed(scan_effects.drawn(typeset(UPPER), 1, 200), chance)
    lower = scan_effects.printed(
        scan_effects.drawn(typeset("The lower sheet lay under the clock.", "lower"), 1, 200), chance
    )
    two = tmp_path / "two.tif"
    blank = Image.new("RGB", (text.shape[1], text.shape[0]), (246, 246, 246))
    Image.fromarray(text).save(two, save_all=True, append_images=[blank], dpi=(200, 200))
    one = tmp_path / "one.png"
    Image.fromarray(lower).save(one, dpi=(200, 200))
    return two, one


def remarks(client, document, page):
    return client.get(f"/api/documents/{document}/pages/{page}").json["remarks"]


def test_what_was_chosen_and_said_of_pages_goes_with_them(client, context, taken, until, idle, sheets):
    two, one = sheets
    first, second = taken(two, two.name), taken(one, one.name)
    assert remarks(client, first, 2) == ["Page 2 is blank."]
    wanted = {"pages": [1], "preparation": {"languages": ["eng"], "despeckle": False}}
    assert client.post(f"/api/documents/{second}/again", json=wanted).status_code == 200
    idle(second)
    joined = client.post("/api/documents/join", json={"documents": [first, second], "name": ""}).json["id"]
    row = until(joined, "to correct")
    assert (row["name"], row["page_count"]) == ("two.tif", 3)
    assert preparations.choices(context.store, joined) == {3: Preparation(languages=("eng",), despeckle=False)}
    assert remarks(client, joined, 2) == ["Page 2 is blank."]
    answer = client.put(f"/api/documents/{joined}/files", json={"places": [1, 0]})
    assert answer.status_code == 200
    assert answer.json["busy"] == "reorder"
    assert idle(joined)["page_count"] == 3
    assert preparations.choices(context.store, joined) == {1: Preparation(languages=("eng",), despeckle=False)}
    assert remarks(client, joined, 3) == ["Page 3 is blank."]
    assert remarks(client, joined, 2) == []


def operate(client, document, **operation):
    revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
    answer = client.post(f"/api/documents/{document}/operations", json={"revision": revision, "operation": operation})
    assert answer.status_code == 200, answer.json
    return answer.json


def texts(client, document):
    window = client.get(f"/api/documents/{document}/rows?start=0&count=100").json
    return ["".join(item.get("text", "") for item in block.get("content", [])) for block in window["blocks"]]


def test_files_change_places_with_their_corrections_and_undo_brings_the_order_back(client, taken, until, idle, sheets):
    two, one = sheets
    joined = client.post(
        "/api/documents/join", json={"documents": [taken(two, two.name), taken(one, one.name)], "name": "Log"}
    ).json["id"]
    until(joined, "to correct")
    block = client.get(f"/api/documents/{joined}/rows").json["blocks"][0]["id"]
    operate(client, joined, op="edit_text", block=block, content=[{"type": "text", "text": "Corrected by hand."}])
    before = client.get(f"/api/documents/{joined}").json["document"]["revision"]
    assert client.put(f"/api/documents/{joined}/files", json={"places": [1, 0]}).status_code == 200
    idle(joined)
    assert texts(client, joined) == ["The lower sheet lay under the clock.", "Corrected by hand."]
    assert client.get(f"/api/documents/{joined}/rows").json["blocks"][1]["id"] == block
    assert [one["pages"] for one in client.get(f"/api/documents/{joined}/files").json] == [1, 2]
    revision = client.get(f"/api/documents/{joined}").json["document"]["revision"]
    assert revision > before
    undone = client.post(f"/api/documents/{joined}/undo", json={"revision": revision}).json
    assert undone["whole"]
    assert undone["revision"] > revision
    assert texts(client, joined) == ["Corrected by hand.", "The lower sheet lay under the clock."]
    assert [one["pages"] for one in client.get(f"/api/documents/{joined}/files").json] == [2, 1]
    redone = client.post(f"/api/documents/{joined}/redo", json={"revision": undone["revision"]}).json
    assert redone["whole"]
    assert texts(client, joined)[1] == "Corrected by hand."


def test_corrections_of_the_single_files_are_in_the_whole_and_undo_parts_them_again(client, taken, until, sheets):
    two, one = sheets
    first, second = taken(two, two.name), taken(one, one.name)
    block = client.get(f"/api/documents/{second}/rows").json["blocks"][0]["id"]
    operate(client, second, op="edit_text", block=block, content=[{"type": "text", "text": "The lower one."}])
    joined = client.post("/api/documents/join", json={"documents": [first, second], "name": "Log"}).json["id"]
    row = until(joined, "to correct")
    assert texts(client, joined) == [UPPER, "The lower one."]
    opened = client.get(f"/api/documents/{joined}").json
    assert (opened["can_undo"], row["revision"]) == (True, 1)
    parted = client.post(f"/api/documents/{joined}/undo", json={"revision": 1})
    assert (parted.status_code, parted.json["error"]) == (410, "parted")
    assert {one["id"] for one in client.get("/api/documents").json} == {first, second}
    assert texts(client, second) == ["The lower one."]
    # Its own history is there, and undo reaches back into it.
    revision = client.get(f"/api/documents/{second}").json["document"]["revision"]
    client.post(f"/api/documents/{second}/undo", json={"revision": revision})
    assert texts(client, second) == ["The lower sheet lay under the clock."]


def test_an_edit_that_comes_when_its_document_was_joined_is_refused_and_not_lost_in_silence(client, taken, sheets):
    two, one = sheets
    first, second = taken(two, two.name), taken(one, one.name)
    block = client.get(f"/api/documents/{second}/rows").json["blocks"][0]["id"]
    assert client.post("/api/documents/join", json={"documents": [first, second], "name": ""}).status_code == 200
    edit = {"op": "edit_text", "block": block, "content": [{"type": "text", "text": "Too late."}]}
    answer = client.post(f"/api/documents/{second}/operations", json={"revision": 1, "operation": edit})
    assert (answer.status_code, answer.json["error"]) == (404, "missing")


def test_links_to_pages_of_later_files_lead_into_these_files(client, typeset, taken, until):
    source = "Go to #link((page: 2, x: 0pt, y: 0pt))[the second page] now.\n#pagebreak()\nThe second page of {}."
    first = taken(typeset(source.format("one"), "one"), "one.pdf")
    second = taken(typeset(source.format("two"), "two"), "two.pdf")
    joined = client.post("/api/documents/join", json={"documents": [first, second], "name": "Both"}).json["id"]
    until(joined, "to correct")

    def pages_led_to() -> list[int]:
        blocks = client.get(f"/api/documents/{joined}/rows").json["blocks"]
        links = [item["link"] for block in blocks for item in block["content"] if item.get("link")]
        return [link["page"] for link in links]

    assert sorted(set(pages_led_to())) == [2, 4]


def test_one_document_alone_or_one_that_is_not_there_is_not_joined(client, taken, sheets):
    document = taken(sheets[1], "one.png")
    for chosen, status in (([], 422), ([document], 422), ([document, document], 422), ([document, "none"], 404)):
        answer = client.post("/api/documents/join", json={"documents": chosen, "name": ""})
        assert answer.status_code == status
        assert status == 404 or answer.json["sentence"] == "Choose two or more documents to join."
    assert [one["id"] for one in client.get("/api/documents").json] == [document]


def test_the_single_documents_can_be_restored_after_joining(client, taken, until, sheets):
    two, one = sheets
    first, second = taken(two, two.name), taken(one, one.name)
    joined = client.post("/api/documents/join", json={"documents": [second, first], "name": "Log"}).json["id"]
    until(joined, "to correct")
    before = client.get("/api/documents").json
    assert (
        client.post(f"/api/documents/{joined}/restore").json["revision"] == before[0]["revision"]
    )  # was never deleted
    restored = client.post(f"/api/documents/{first}/restore")
    assert (restored.status_code, restored.json["busy"]) == (200, "")
    assert {row["id"] for row in client.get("/api/documents").json} == {joined, first}
    assert UPPER in client.get(f"/api/documents/{first}/rows").json["blocks"][0]["content"][0]["text"]


def test_page_numbers_follow_their_files():
    assert moved_numbers([2, 1, 3], (2, 0, 1)) == {4: 1, 5: 2, 6: 3, 1: 4, 2: 5, 3: 6}
    assert moved_numbers([1, 1], (0, 1)) == {1: 1, 2: 2}


def test_strips_of_picture_files_are_drawn_and_nothing_is_enlarged(drawing, sheets):
    strips = StripDrawer(drawing)
    two, _ = sheets
    with Image.open(two) as image:
        width = image.width
    points = width / 200 * 72
    whole = Image.open(io.BytesIO(strips.draw(Strip(str(two), None, 1, None, 1.0, points))))
    assert whole.width == pytest.approx(points, abs=1)
    large = Image.open(io.BytesIO(strips.draw(Strip(str(two), None, 1, None, 9.0, points))))
    assert large.width == width
    part = Image.open(io.BytesIO(strips.draw(Strip(str(two), None, 1, Box(20, 30, 120, 60), 2.0, points))))
    assert part.size == (pytest.approx(201, abs=2), pytest.approx(61, abs=2))
    with pytest.raises(DrawingError):
        strips.draw(Strip(str(two), None, 1, Box(5000, 5000, 5001, 5001), 1.0, points))
    with pytest.raises(DrawingError):
        strips.draw(Strip(str(two), None, 9, None, 1.0, points))


def test_corrections_survive_joining_and_reordering_where_nothing_was_kept_of_the_first_reading(
    client, context, taken, typeset, until, idle
):
    def edited(document: str, old: str, new: str) -> None:
        rows = client.get(f"/api/documents/{document}/rows?count=50").json
        (block,) = [block for block in rows["blocks"] if old in block["content"][0]["text"]]
        text = block["content"][0]["text"].replace(old, new)
        operation = {"op": "edit_text", "block": block["id"], "content": [{"type": "text", "text": text}]}
        body = {"revision": rows["revision"], "operation": operation}
        assert client.post(f"/api/documents/{document}/operations", json=body).status_code == 200

    def texts(document: str) -> list[str]:
        rows = client.get(f"/api/documents/{document}/rows?count=50").json
        return [block["content"][0]["text"] for block in rows["blocks"]]

    first = taken(typeset("The float was found.", "first"), "first.pdf")
    second = taken(typeset("The well was dry.", "second"), "second.pdf")
    edited(first, "float", "raft")
    context.store.execute("DELETE FROM snapshots")
    whole = client.post("/api/documents/join", json={"documents": [first, second], "name": "Both"}).json["id"]
    until(whole, "to correct")
    assert texts(whole) == ["The raft was found.", "The well was dry."]
    idle(whole)
    edited(whole, "dry", "full")
    context.store.execute("DELETE FROM snapshots")
    assert client.put(f"/api/documents/{whole}/files", json={"places": [1, 0]}).status_code == 200
    idle(whole)
    assert texts(whole) == ["The well was full.", "The raft was found."]


def test_typefaces_that_were_chosen_for_others_go_with_their_files(client, taken, until, sheets):
    two, one = sheets
    first, second = taken(two, two.name), taken(one, one.name)
    operate(client, second, op="stand_in", name="Skerrin Roman", stands="Caladea")
    joined = client.post("/api/documents/join", json={"documents": [first, second], "name": "Log"}).json["id"]
    until(joined, "to correct")
    revision = client.get(f"/api/documents/{joined}").json["document"]["revision"]
    body = {"revision": revision, "operation": {"op": "stand_in", "name": "Skerrin Roman", "stands": "Caladea"}}
    again = client.post(f"/api/documents/{joined}/operations", json=body)
    assert (again.status_code, again.json["sentence"]) == (422, "That is so already.")
