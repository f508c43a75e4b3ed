"""Scans on the desk: sizing up, strips, reading again with corrections carried over, several files as one document."""

from __future__ import annotations

import io
import time

import msgspec
import numpy as np
import pytest
import scan_effects
from PIL import Image
from sheets import PROSE

CHANCE = np.random.default_rng


@pytest.fixture
def scan(typeset, tmp_path):
    """A scanned PDF of two pages; the second is in German."""

    def make(*sources: str):
        pages = [
            scan_effects.turned(
                scan_effects.printed(scan_effects.drawn(typeset(source, name=f"sheet {n}"), 1, 200), CHANCE(n)), 1.5
            )
            for n, source in enumerate(sources)
        ]
        path = tmp_path / "scan.pdf"
        path.write_bytes(scan_effects.as_pdf(pages))
        return path

    return make


def rows(client, document):
    return client.get(f"/api/documents/{document}/rows?start=0&count=100").json


def texts(client, document):
    return [
        "".join(item.get("text", "") for item in block.get("content", [])) for block in rows(client, document)["blocks"]
    ]


def photo(typeset, tmp_path, text: str, name: str):
    page = scan_effects.printed(scan_effects.drawn(typeset(text, name=name), 1, 200), CHANCE(8))
    path = tmp_path / f"{name}.jpg"
    path.write_bytes(scan_effects.as_jpeg(page))
    return path


def test_a_scan_is_sized_up_in_words_and_its_page_says_how_it_was_read(client, taken, scan, until):
    document = taken(scan(PROSE))
    row = until(document, "to correct")
    assert row["sized_up"] == "scanned, no text"
    assert row["language"] == "en"
    page = client.get(f"/api/documents/{document}/pages/1").json
    assert page["languages"] == ["eng"]
    assert "straightened by 1.5 degrees" in page["steps"]
    assert client.get(f"/api/pictures/{page['cleaned']}").mimetype == "image/jpeg"
    assert client.get(f"/api/documents/{document}/pages/2").status_code == 404
    assert {"eng", "fin"} <= set(client.get("/api/languages").json)


def test_strips_show_the_page_cleaned_or_as_it_came(client, taken, scan):
    document = taken(scan(PROSE))
    spot = rows(client, document)["blocks"][0]["spots"][0]
    box = ",".join(str(value) for value in spot[1])
    shapes = []
    for view in ("cleaned", "came"):
        answer = client.get(f"/api/documents/{document}/strip?page=1&scale=2&box={box}&view={view}")
        assert answer.status_code == 200
        shapes.append(Image.open(io.BytesIO(answer.data)).size)
    # Askew as it came, the same words need a higher strip.
    assert shapes[1][1] > shapes[0][1] + 8


def operate(client, document, **operation):
    revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
    answer = client.post(f"/api/documents/{document}/operations", json={"revision": revision, "operation": operation})
    assert answer.status_code == 200, answer.json
    return answer.json


def text_item(text: str, **look) -> dict:
    return {"type": "text", "text": text, **look}


def read_again(client, idle, document, *pages, **preparation):
    wanted = {"pages": pages, "preparation": {"languages": ["eng"], **preparation}}
    answer = client.post(f"/api/documents/{document}/again", json=wanted)
    assert answer.status_code == 200, answer.json
    assert answer.json["busy"] == "read again"
    return idle(document)


def test_reading_again_keeps_corrections_is_a_step_of_the_history_and_can_be_undone(client, taken, scan, idle):
    document = taken(scan(PROSE, "Die Höhe des Wassers wurde überprüft und für genügend befunden, übrigens ohne Mühe."))
    first_revision = rows(client, document)["revision"]
    first = rows(client, document)["blocks"][0]
    text = first["content"][0]["text"]
    for old, new in (("orifice", "opening"), ("bronze.", "brass.")):
        text = text.replace(old, new)
        operate(client, document, op="edit_text", block=first["id"], content=[text_item(text)])
    before = texts(client, document)
    read_again(client, idle, document, 2, languages=["deu"])
    assert "opening cleared" in texts(client, document)[0]
    assert client.get(f"/api/documents/{document}/pages/2").json["languages"] == ["deu"]
    row = read_again(client, idle, document, 1, despeckle=False)
    assert (row["again"], row["state"], row["revision"]) == (0, "to correct", first_revision + 4)
    text = " ".join(texts(client, document))
    assert "opening cleared" in text
    assert "of brass." in text
    assert rows(client, document)["blocks"][0]["id"] == first["id"]
    assert client.get(f"/api/documents/{document}/pages/1").json["preparation"]["despeckle"] is False
    # Undo goes back over both readings, and to what was corrected before.
    revision = row["revision"]
    for whole in (True, True, False):
        undone = client.post(f"/api/documents/{document}/undo", json={"revision": revision}).json
        assert undone["whole"] is whole
        assert undone["revision"] == revision + 1
        revision = undone["revision"]
    assert client.get(f"/api/documents/{document}/pages/1").json["preparation"].get("despeckle", True)
    assert "languages" not in client.get(f"/api/documents/{document}/pages/2").json["preparation"]
    assert "opening cleared" in texts(client, document)[0]
    assert "of bronze." in texts(client, document)[0]
    client.post(f"/api/documents/{document}/redo", json={"revision": revision})
    assert texts(client, document) == before


def test_both_halves_of_a_split_row_kinds_and_emphasis_survive_reading_again(client, taken, scan, idle):
    document = taken(scan(f"{PROSE}\n\nThe keeper went down at noon."))
    first, second = rows(client, document)["blocks"][:2]
    text = first["content"][0]["text"]
    at = text.index("The orifice") if "The orifice" in text else text.index(".") + 2
    new = operate(client, document, op="split", block=first["id"], offset=at)["focus"]["block"]
    operate(client, document, op="set_kind", block=second["id"], role="heading", level=2)
    bold = [text_item("The keeper ", marks=1), text_item("went down at noon.")]
    operate(client, document, op="edit_text", block=second["id"], content=bold)
    before = rows(client, document)["blocks"]
    read_again(client, idle, document, 1, despeckle=False)
    after = rows(client, document)["blocks"]
    assert [block["id"] for block in after] == [first["id"], new, second["id"]]
    assert [block["content"] for block in after] == [block["content"] for block in before]
    assert (after[2]["role"], after[2]["level"]) == ("heading", 2)


def test_what_is_corrected_while_a_page_is_read_again_is_kept(client, context, taken, scan, idle):
    """The job works on what it saw; when it is done the document has moved on, and its work is merged with that."""
    document = taken(scan(PROSE))
    block = rows(client, document)["blocks"][0]
    wanted = {"pages": [1], "preparation": {"languages": ["eng"], "despeckle": False}}
    assert client.post(f"/api/documents/{document}/again", json=wanted).json["state"] == "to correct"
    text = block["content"][0]["text"].replace("orifice", "opening")
    edits = 0
    while client.get("/api/documents").json[0]["busy"]:
        edit = {"op": "edit_text", "block": block["id"], "content": [text_item(f"{text} {edits}")]}
        revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
        answer = client.post(f"/api/documents/{document}/operations", json={"revision": revision, "operation": edit})
        # Refused only where the merge came between the question for the revision and the edit.
        edits += answer.status_code == 200
    assert edits > 3
    assert texts(client, document) == [f"{text} {edits - 1}"]
    revision = idle(document)["revision"]
    assert revision == edits + 2
    kinds = [row[0] for row in context.store.execute("SELECT kind FROM changes ORDER BY number")]
    assert kinds.count("edit") == edits
    assert kinds.count("read again") == 1


def test_reading_again_an_uncorrected_document_leaves_no_window_behind_in_silence(client, taken, scan, idle):
    """An edit that a window makes of what it saw before is refused: it would land on another row."""
    document = taken(scan(PROSE))
    before = rows(client, document)
    read_again(client, idle, document, 1, despeckle=False)
    edit = {"op": "edit_text", "block": before["blocks"][0]["id"], "content": [text_item("x")]}
    answer = client.post(
        f"/api/documents/{document}/operations", json={"revision": before["revision"], "operation": edit}
    )
    assert (answer.status_code, answer.json["error"]) == (409, "stale")


def test_stopping_ends_the_merge_too(client, context, taken, scan):
    document = taken(scan(PROSE))
    wanted = {"pages": [1], "preparation": {"languages": ["eng"], "despeckle": False}}
    client.post(f"/api/documents/{document}/again", json=wanted)
    stopped = client.post(f"/api/documents/{document}/stop").json
    assert (stopped["state"], stopped["busy"]) == ("to correct", "")
    time.sleep(3)
    assert client.get(f"/api/documents/{document}").json["document"]["revision"] == 1


def test_delivering_does_not_end_reading_again_nor_is_it_overridden(client, taken, scan, idle):
    document = taken(scan(PROSE))
    wanted = {"pages": [1], "preparation": {"languages": ["eng"], "despeckle": False}}
    client.post(f"/api/documents/{document}/again", json=wanted)
    assert client.post(f"/api/documents/{document}/deliveries", json={"format": "docx"}).status_code == 200
    delivered = client.get("/api/documents").json[0]
    assert (delivered["state"], delivered["busy"]) == ("delivered", "read again")
    # What was delivered is no longer what the document says.
    assert idle(document)["state"] == "to correct"


def test_wrong_wishes_are_refused_with_a_sentence(client, taken, scan):
    document = taken(scan(PROSE))
    for body, words in (
        ({"pages": [1], "preparation": {"languages": ["tlh"]}}, "tesseract-ocr-tlh"),
        ({"pages": [7], "preparation": {}}, "pages 1 to 1"),
        ({"pages": [1], "preparation": {"turn": 45}}, "0, 90, 180 or 270"),
    ):
        answer = client.post(f"/api/documents/{document}/again", json=body)
        assert answer.status_code == 422
        assert words in answer.json["sentence"]


def test_one_row_is_read_again_in_another_language(client, taken, scan):
    document = taken(scan("Die Höhe des Wassers wurde überprüft und für genügend befunden."))
    block = rows(client, document)["blocks"][0]["id"]
    answer = client.post(f"/api/documents/{document}/rows/{block}/again", json={"languages": ["deu"]})
    assert answer.json["text"] == "Die Höhe des Wassers wurde überprüft und für genügend befunden."
    assert client.post(f"/api/documents/{document}/rows/none/again", json={}).status_code == 422


def test_a_native_row_can_be_read_from_its_picture_too(client, taken, typeset):
    document = taken(typeset(PROSE))
    block = rows(client, document)["blocks"][0]["id"]
    answer = client.post(f"/api/documents/{document}/rows/{block}/again", json={"languages": ["eng"]})
    assert answer.json["text"] == " ".join(PROSE.split())


def test_pictures_are_joined_in_an_order_that_can_be_changed(client, taken, typeset, tmp_path, until, idle):
    first = taken(photo(typeset, tmp_path, "The upper sheet of the log was found on the stairs.", "upper"), "upper.jpg")
    second = taken(photo(typeset, tmp_path, "The lower sheet of the log lay under the clock.", "lower"), "lower.jpg")
    joined = client.post("/api/documents/join", json={"documents": [second, first], "name": "Log"}).json["id"]
    row = until(joined, "to correct")
    assert (row["page_count"], row["files"], row["name"]) == (2, 2, "Log")
    assert [one["id"] for one in client.get("/api/documents").json] == [joined]
    assert [text.split()[1] for text in texts(client, joined)] == ["lower", "upper"]
    assert [one["name"] for one in client.get(f"/api/documents/{joined}/files").json] == ["lower.jpg", "upper.jpg"]
    assert client.put(f"/api/documents/{joined}/files", json={"places": [1, 0]}).status_code == 200
    idle(joined)
    assert [text.split()[1] for text in texts(client, joined)] == ["upper", "lower"]
    page = client.get(f"/api/documents/{joined}/strip?page=1&scale=1")
    assert page.mimetype == "image/png"
    assert client.put(f"/api/documents/{joined}/files", json={"places": [0, 0]}).status_code == 422
    assert client.post("/api/documents/join", json={"documents": [joined], "name": ""}).status_code == 422


def test_handwriting_is_text_picture_or_both(client, taken, tmp_path, until, typeset):
    pen = 'text(15pt, fill: rgb("#2244a0"), style: "italic", font: "New Computer Modern")[zqv xkw jjq]'
    hand = f"#place(bottom + left, dy: -30mm, rotate(-6deg, {pen}))"
    document = taken(photo(typeset, tmp_path, f"{hand}\n{PROSE}", "note"), "note.jpg")

    def marked():
        return [
            (block["type"], block.get("excluded", False))
            for block in rows(client, document)["blocks"]
            if block.get("note") == "handwriting" or block.get("style") == "Handwriting"
        ]

    assert len(marked()) == 2
    for choice, expected in (
        ("text", [("picture", True), ("text", False)]),
        ("both", [("picture", False), ("text", False)]),
        ("picture", [("picture", False), ("text", True)]),
    ):
        revision = client.get(f"/api/documents/{document}").json["document"]["revision"]
        operation = {"op": "handwriting", "block": None, "choice": choice}
        answer = client.post(
            f"/api/documents/{document}/operations", json={"revision": revision, "operation": operation}
        )
        assert answer.status_code == 200, msgspec.json.encode(answer.json)
        assert marked() == expected


def test_a_text_layer_that_fits_is_believed_and_one_that_does_not_is_dropped(client, taken, typeset, tmp_path, until):
    import pikepdf

    base = scan_effects.as_pdf([scan_effects.printed(scan_effects.drawn(typeset(PROSE), 1, 200), CHANCE(1))])
    words = PROSE.split()
    lines = [" ".join(words[n : n + 18]) for n in range(0, len(words), 18)]
    for good in (True, False):
        with pikepdf.open(io.BytesIO(base)) as pdf:
            page = pdf.pages[0]
            font = pikepdf.Dictionary(
                Type=pikepdf.Name.Font, Subtype=pikepdf.Name.Type1, BaseFont=pikepdf.Name.Helvetica
            )
            page.Resources.Font = pikepdf.Dictionary(F1=pdf.make_indirect(font))
            shown = lines if good else [line[::-1] for line in lines]
            content = "".join(f"BT 3 Tr /F1 6 Tf 30 {500 - 14 * n} Td ({line}) Tj ET\n" for n, line in enumerate(shown))
            page.contents_add(pdf.make_stream(content.encode()))
            path = tmp_path / f"layer {good}.pdf"
            pdf.save(path)
        document = taken(path, path.name)
        row = until(document, "to correct")
        if good:
            assert row["sized_up"] == "scanned by a machine that added its own text"
        else:
            assert "does not fit" in row["sized_up"]
            assert "was read afresh" in client.get(f"/api/documents/{document}/pages/1").json["remarks"][0]
        assert "guide wire on 14 March" in " ".join(texts(client, document))
