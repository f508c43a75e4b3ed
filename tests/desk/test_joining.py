"""Several files as one document: what was chosen and said of pages goes with them; wrong wishes change nothing."""

from __future__ import annotations

import io

import numpy as np
import pytest
import weathering
from PIL import Image

from evenquill.core.model import Box
from evenquill.core.reading.preparation import Preparation
from evenquill.desk.drawing import DrawingError, Strip
from evenquill.desk.joining import _moved_numbers
from evenquill.store import readings

UPPER = "The upper sheet of the log was found on the stairs in the morning."


@pytest.fixture
def sheets(typeset, tmp_path):
    """A TIFF of a page of text and a blank one, and a picture of another page."""
    chance = np.random.default_rng(6)
    text = weathering.printed(weathering.drawn(typeset(UPPER), 1, 200), chance)
    lower = weathering.printed(
        weathering.drawn(typeset("The lower sheet lay under the clock.", "lower"), 1, 200), chance
    )
    two = tmp_path / "two.tif"
    blank = Image.new("RGB", (text.shape[1], text.shape[0]), (246, 246, 246))
    Image.fromarray(text).save(two, save_all=True, append_images=[blank], dpi=(200, 200))
    one = tmp_path / "one.png"
    Image.fromarray(lower).save(one, dpi=(200, 200))
    return two, one


def remarks(client, document, page):
    return client.get(f"/api/documents/{document}/pages/{page}").json["remarks"]


def test_what_was_chosen_and_said_of_pages_goes_with_them(client, house, taken, until, sheets):
    two, one = sheets
    first, second = taken(two, two.name), taken(one, one.name)
    assert remarks(client, first, 2) == ["Page 2 is blank."]
    wanted = {"pages": [1], "preparation": {"languages": ["eng"], "despeckle": False}}
    assert client.post(f"/api/documents/{second}/again", json=wanted).status_code == 200
    until(second, "to correct")
    joined = client.post("/api/documents/join", json={"documents": [first, second], "name": ""}).json["id"]
    row = until(joined, "to correct")
    assert (row["name"], row["page_count"]) == ("two.tif", 3)
    assert readings.choices(house.store, joined) == {3: Preparation(languages=("eng",), despeckle=False)}
    assert remarks(client, joined, 2) == ["Page 2 is blank."]
    answer = client.put(f"/api/documents/{joined}/files", json={"places": [1, 0]})
    assert answer.status_code == 200
    assert answer.json["page_count"] == 3
    assert readings.choices(house.store, joined) == {1: Preparation(languages=("eng",), despeckle=False)}
    assert remarks(client, joined, 3) == ["Page 3 is blank."]
    assert remarks(client, joined, 2) == []


def test_files_stay_in_their_places_once_rows_are_corrected(client, taken, until, sheets):
    two, one = sheets
    joined = client.post(
        "/api/documents/join", json={"documents": [taken(two, two.name), taken(one, one.name)], "name": "Log"}
    ).json["id"]
    until(joined, "to correct")
    block = client.get(f"/api/documents/{joined}/rows").json["blocks"][0]
    operation = {"op": "edit_text", "block": block["id"], "runs": [{"text": "Corrected."}]}
    answer = client.post(f"/api/documents/{joined}/operations", json={"revision": 1, "operation": operation})
    assert answer.status_code == 200
    refused = client.put(f"/api/documents/{joined}/files", json={"places": [1, 0]})
    assert refused.status_code == 409
    assert "corrected already" in refused.json["sentence"]
    assert [one["pages"] for one in client.get(f"/api/documents/{joined}/files").json] == [2, 1]


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
    assert client.post(f"/api/documents/{first}/restore").status_code == 200
    assert {row["id"] for row in client.get("/api/documents").json} == {joined, first}
    assert UPPER in client.get(f"/api/documents/{first}/rows").json["blocks"][0]["runs"][0]["text"]


def test_page_numbers_follow_their_files():
    assert _moved_numbers([2, 1, 3], (2, 0, 1)) == {4: 1, 5: 2, 6: 3, 1: 4, 2: 5, 3: 6}
    assert _moved_numbers([1, 1], (0, 1)) == {1: 1, 2: 2}


def test_strips_of_picture_files_are_drawn_and_nothing_is_enlarged(drawing, sheets):
    two, _ = sheets
    with Image.open(two) as image:
        width = image.width
    points = width / 200 * 72
    whole = Image.open(io.BytesIO(drawing.draw(Strip(str(two), None, 1, None, 1.0, points))))
    assert whole.width == pytest.approx(points, abs=1)
    large = Image.open(io.BytesIO(drawing.draw(Strip(str(two), None, 1, None, 9.0, points))))
    assert large.width == width
    part = Image.open(io.BytesIO(drawing.draw(Strip(str(two), None, 1, Box(20, 30, 120, 60), 2.0, points))))
    assert part.size == (pytest.approx(201, abs=2), pytest.approx(61, abs=2))
    with pytest.raises(DrawingError):
        drawing.draw(Strip(str(two), None, 1, Box(5000, 5000, 5001, 5001), 1.0, points))
    with pytest.raises(DrawingError):
        drawing.draw(Strip(str(two), None, 9, None, 1.0, points))
