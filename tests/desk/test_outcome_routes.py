"""The outcome over the API: pages that can be looked at, ways to make them fit that are kept as one step, and what is refused."""

from __future__ import annotations

import io
from multiprocessing import active_children

import pytest
from PIL import Image

from evenquill.desk.outcomes import Outcomes, SettingPools

TWO_PAGES = "= Tides\n" + "#lorem(70)\n\n" * 9


@pytest.fixture
def document(typeset, taken) -> str:
    return taken(typeset(TWO_PAGES, "tides"), "Tides.pdf")


def test_pages_are_set_and_drawn_and_rows_and_source_pages_have_their_places(client, document):
    seen = client.get(f"/api/documents/{document}/outcome").json
    rows = [row["id"] for row in client.get(f"/api/documents/{document}/rows?start=0&count=50").json["blocks"]]
    assert [row["row"] for row in seen["rows"]] == rows
    assert [start["page"] for start in seen["source_starts"]] == [2]
    assert len(seen["source_pages"]) == len(seen["pages"]) == 2
    width, height = seen["pages"][0]["width"], seen["pages"][0]["height"]
    for page in (1, 2):
        answer = client.get(f"/api/documents/{document}/outcome/pages/{page}?revision={seen['revision']}&scale=0.5")
        assert answer.mimetype == "image/png"
        drawn = Image.open(io.BytesIO(answer.data))
        assert drawn.size == pytest.approx((width / 2, height / 2), abs=1)
        assert drawn.convert("L").getextrema()[0] < 128
    gone = client.get(f"/api/documents/{document}/outcome/pages/3?revision={seen['revision']}")
    assert gone.status_code == 422
    assert gone.json["sentence"].endswith(".")


def test_a_change_gives_another_outcome(client, document):
    before = client.get(f"/api/documents/{document}/outcome").json
    last = before["rows"][-1]["row"]
    body = {"revision": before["revision"], "operation": {"op": "exclude", "block": last, "excluded": True}}
    assert client.post(f"/api/documents/{document}/operations", json=body).status_code == 200
    after = client.get(f"/api/documents/{document}/outcome").json
    assert after["revision"] == before["revision"] + 1
    assert last not in [row["row"] for row in after["rows"]]
    assert client.get(f"/api/documents/{document}/outcome/pages/1?revision={before['revision']}").status_code == 200


def test_what_makes_it_fit_is_shown_first_then_kept_and_undone(client, typeset, taken):
    # Lines are set wider apart than the source has them, so that more pages are taken.
    document = taken(typeset(TWO_PAGES, "wide"), "Wide.pdf")
    revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
    body = {"revision": revision, "operation": {"op": "fit_pages", "spacing": 1.22}}
    assert client.post(f"/api/documents/{document}/operations", json=body).status_code == 200
    far = client.get(f"/api/documents/{document}/outcome").json
    assert len(far["pages"]) == 3
    assert far["misfits"][0]["kind"] == "more_pages"
    tried = client.get(f"/api/documents/{document}/outcome/fits/spacing").json["outcome"]
    assert len(tried["pages"]) == 2
    assert tried["misfits"] == []
    assert tried["fit"]["spacing"] < 1
    shown = client.get(f"/api/documents/{document}/outcome/pages/2?revision={tried['revision']}&way=spacing")
    assert shown.mimetype == "image/png"
    assert client.get(f"/api/documents/{document}").json["document"]["revision"] == far["revision"]
    body = {"revision": far["revision"], "operation": {"op": "fit_pages", **tried["fit"]}}
    kept = client.post(f"/api/documents/{document}/operations", json=body).json
    assert len(client.get(f"/api/documents/{document}/outcome").json["pages"]) == 2
    assert client.post(f"/api/documents/{document}/undo", json={"revision": kept["revision"]}).status_code == 200
    assert len(client.get(f"/api/documents/{document}/outcome").json["pages"]) == 3


def test_what_cannot_be_done_is_said(client, document):
    assert client.get("/api/documents/gone/outcome").status_code == 404
    assert client.get(f"/api/documents/{document}/outcome/fits/magic").status_code == 422
    fits = client.get(f"/api/documents/{document}/outcome/fits/size").json
    assert fits["outcome"] is None
    assert fits["sentence"].endswith(".")
    assert client.get(f"/api/documents/{document}/outcome/pages/1?revision=999").status_code == 404
    assert client.get(f"/api/documents/{document}/outcome/pages/one?revision=1").status_code == 404


def test_what_sets_pages_is_made_ready_when_a_document_is_opened(tmp_path, context, client, document):
    with SettingPools() as unused:
        context.outcomes = Outcomes(unused, tmp_path / "other")
        helpers = len(active_children())
        for _ in range(2):
            assert client.get(f"/api/documents/{document}").status_code == 200
        assert len(active_children()) == helpers + 1
