"""The API as a browser uses it: intake, rows, operations, strips, delivery, and what happens with bad input."""

from __future__ import annotations

import errno
import io
from functools import partial
from urllib.parse import quote

import docx
import pikepdf
import pypdfium2 as pdfium
import pytest
from PIL import Image

from evenquill.desk.naming import document_name, file_name
from evenquill.store import documents, proofs
from evenquill.store.files import Files

PAGES = "= North Pier\nThe float was found.\n\nThe well was pumped dry.\n#pagebreak()\nSecond page.\n#pagebreak()\nThird page."


def rows(client, document, query=""):
    return client.get(f"/api/documents/{document}/rows{query}").json


def texts(client, document):
    return ["".join(item.get("text", "") for item in block["content"]) for block in rows(client, document)["blocks"]]


def now(client, document) -> int:
    """The newest revision of a document."""
    return client.get(f"/api/documents/{document}").json["document"]["revision"]


def operate(client, document, revision, **operation):
    return client.post(f"/api/documents/{document}/operations", json={"revision": revision, "operation": operation})


def test_a_file_is_taken_in_read_and_opened(client, typeset, taken):
    document = taken(typeset(PAGES), "North Pier.pdf")
    opened = client.get(f"/api/documents/{document}").json
    assert opened["document"]["name"] == "North Pier.pdf"
    assert (opened["document"]["kind"], opened["document"]["page_count"]) == ("native", 3)
    assert [page["first_row"] for page in client.get(f"/api/documents/{document}/ladder").json] == [0, 3, 4]
    assert texts(client, document) == [
        "North Pier", "The float was found.", "The well was pumped dry.", "Second page.", "Third page.",
    ]  # fmt: skip


def test_rows_come_by_window(client, typeset, taken):
    document = taken(typeset(PAGES))
    window = rows(client, document, "?start=1&count=2")
    assert (window["start"], window["total"], len(window["blocks"])) == (1, 5, 2)
    assert [page["number"] for page in window["pages"]] == [1, 2]
    assert client.get(f"/api/documents/{document}/rows?start=many").status_code == 400


def test_operations_change_rows_under_a_revision(client, typeset, taken):
    document = taken(typeset(PAGES))
    block = rows(client, document)["blocks"][1]["id"]
    first = now(client, document)
    done = operate(client, document, first, op="split", block=block, offset=9)
    assert done.json["revision"] == first + 1
    new = done.json["blocks"][1]["id"]
    assert done.json["focus"] == {"block": new, "offset": 0}
    assert (done.json["at"], done.json["removed"], len(done.json["blocks"])) == (1, 1, 2)
    assert texts(client, document)[1:3] == ["The float", "was found."]
    undone = client.post(f"/api/documents/{document}/undo", json={"revision": first + 1}).json
    assert (undone["can_undo"], undone["can_redo"]) == (False, True)
    assert texts(client, document)[1] == "The float was found."
    redone = client.post(f"/api/documents/{document}/redo", json={"revision": first + 2}).json
    assert redone["revision"] == first + 3
    assert redone["blocks"][1]["id"] == new
    assert texts(client, document)[1:3] == ["The float", "was found."]
    assert client.post(f"/api/documents/{document}/redo", json={"revision": first + 3}).json["error"] == "history"


def test_a_stale_revision_is_refused_and_changes_nothing(client, typeset, taken):
    document = taken(typeset(PAGES))
    first = rows(client, document)["blocks"][0]["id"]
    revision = now(client, document)
    assert operate(client, document, revision, op="exclude", block=first, excluded=True).status_code == 200
    late = operate(client, document, revision, op="edit_text", block=first, content=[{"type": "text", "text": "Mine"}])
    assert (late.status_code, late.json["error"]) == (409, "stale")
    assert texts(client, document)[0] == "North Pier"


@pytest.mark.parametrize(
    ("operation", "status"),
    [
        ({"op": "split", "block": "gone", "offset": 1}, 422),
        ({"op": "fly"}, 400),
        ({"op": "align", "block": "b1", "align": "diagonal"}, 400),
    ],
)
def test_operations_that_make_no_sense_are_refused_with_a_sentence(client, typeset, taken, operation, status):
    document = taken(typeset("One row."))
    answer = client.post(
        f"/api/documents/{document}/operations", json={"revision": now(client, document), "operation": operation}
    )
    assert answer.status_code == status
    assert answer.json["sentence"].endswith(".")


def test_markup_in_text_stays_text(client, typeset, taken):
    document = taken(typeset("Text"))
    block = rows(client, document)["blocks"][0]["id"]
    sly = "<script>alert(1)</script> =2+2 {{ 7*7 }}"
    operate(
        client, document, now(client, document), op="edit_text", block=block, content=[{"type": "text", "text": sly}]
    )
    answer = client.get(f"/api/documents/{document}/rows")
    assert answer.mimetype == "application/json"
    assert texts(client, document) == [sly]


def test_strips_are_pictures_at_the_asked_scale(client, typeset, taken):
    document = taken(typeset(PAGES))
    answer = client.get(f"/api/documents/{document}/strip?page=1&box=50,50,250,100&scale=2")
    image = Image.open(io.BytesIO(answer.data))
    assert image.size == (401, 101)
    assert image.convert("L").getextrema()[0] < 100
    assert "max-age=900" in answer.headers["Cache-Control"]
    whole = Image.open(io.BytesIO(client.get(f"/api/documents/{document}/strip?page=2&scale=1").data))
    assert whole.size == (420, 596)


@pytest.mark.parametrize(
    "query", ["page=9", "page=1&box=5,5,1,1", "page=1&box=a,b", "page=1&scale=nan", "page=1&box=9000,0,9999,9"]
)
def test_strips_of_nowhere_are_refused(client, typeset, taken, query):
    document = taken(typeset("Text"))
    assert client.get(f"/api/documents/{document}/strip?{query}").status_code in (400, 404, 422)


def test_a_document_is_delivered_under_the_name_of_its_source(client, typeset, taken):
    document = taken(typeset(PAGES), "North Pier, 3 March.pdf")
    block = rows(client, document)["blocks"][3]["id"]
    operate(client, document, now(client, document), op="exclude", block=block, excluded=True)
    revision = now(client, document)
    made = client.post(f"/api/documents/{document}/deliveries", json={"format": "docx"}).json
    assert (made["file_name"], made["revision"]) == ("North Pier, 3 March.docx", revision)
    answer = client.get(f"/api/deliveries/{made['id']}/file")
    assert quote("North Pier, 3 March.docx") in answer.headers["Content-Disposition"]
    opened = docx.Document(io.BytesIO(answer.data))
    assert [p.text for p in opened.paragraphs] == [
        "North Pier",
        "The float was found.",
        "The well was pumped dry.",
        "Third page.",
    ]
    assert client.get("/api/documents").json[0]["state"] == "delivered"
    assert [one["revision"] for one in client.get(f"/api/documents/{document}/deliveries").json] == [revision]
    operate(client, document, revision, op="exclude", block=block, excluded=False)
    assert client.get("/api/documents").json[0]["state"] == "to correct"
    assert client.post(f"/api/documents/{document}/deliveries", json={"format": "scroll"}).status_code == 422


def test_formats_have_options_that_change_what_is_delivered(client, typeset, taken):
    format, *others = client.get("/api/formats").json
    assert (format["name"], format["ending"]) == ("docx", "docx")
    assert {one["name"] for one in others} >= {"pdf", "html", "epub", "markdown", "text"}
    assert all(one["about"].endswith(".") for one in (format, *others))
    (option,) = format["options"]
    head = "#set page(header: [Gauges of Skerrin #h(1fr) #context counter(page).display()])\n"
    document = taken(
        typeset(head + "The float was found at noon, and the well was pumped dry by the next day.\n\n" * 60)
    )

    def heads(options: list[str]) -> list[str]:
        made = client.post(f"/api/documents/{document}/deliveries", json={"format": "docx", "options": options}).json
        file = docx.Document(io.BytesIO(client.get(f"/api/deliveries/{made['id']}/file").data))
        return [paragraph.text for section in file.sections for paragraph in section.header.paragraphs]

    assert "Gauges of Skerrin" in heads([])[0]
    assert heads([option["name"]]) == [""]
    for wanted in ({"format": "docx", "options": ["gilded"]}, {"format": "certificate", "options": [option["name"]]}):
        assert client.post(f"/api/documents/{document}/deliveries", json=wanted).status_code == 422


@pytest.mark.parametrize(
    ("format", "ending", "media"),
    [
        ("html", "html", "text/html"),
        ("markdown", "md", "text/markdown"),
        ("text", "txt", "text/plain"),
        ("pdf", "pdf", "application/pdf"),
    ],
)
def test_a_document_is_delivered_in_other_formats(client, typeset, taken, format, ending, media):
    document = taken(typeset(PAGES), "North Pier, 3 March.pdf")
    made = client.post(f"/api/documents/{document}/deliveries", json={"format": format}).json
    assert made["file_name"] == f"North Pier, 3 March.{ending}"
    answer = client.get(f"/api/deliveries/{made['id']}/file")
    assert answer.mimetype == media
    assert answer.headers["Content-Disposition"].startswith("attachment")
    data = answer.data
    said = pdfium.PdfDocument(data)[0].get_textpage().get_text_range() if format == "pdf" else data.decode()
    assert "The float was found." in said


def test_a_picture_is_replaced_by_one_that_is_sent(client, typeset, taken, tmp_path):
    Image.effect_noise((200, 100), 40).save(tmp_path / "hut.png")
    document = taken(typeset('#image("hut.png", width: 60mm)\n\nText'))
    block = next(one for one in rows(client, document)["blocks"] if one["type"] == "picture")
    assert client.get(f"/api/pictures/{block['picture']}").data.startswith(b"\x89PNG")
    out = io.BytesIO()
    Image.new("CMYK", (80, 80)).save(out, "JPEG")
    sent = client.post("/api/pictures", data=out.getvalue()).json
    assert (sent["media"], sent["pixel_width"]) == ("image/png", 80)
    replaced = operate(client, document, now(client, document), op="replace_picture", block=block["id"], **sent).json
    assert replaced["blocks"][0]["height"] == pytest.approx(block["width"])
    assert client.post("/api/pictures", data=b"no picture").json["error"] == "picture"


def test_the_same_file_twice_is_told_and_can_be_had_both_ways(client, typeset, taken, until):
    path = typeset("Once")
    first = taken(path, "First.pdf")
    answer = client.post("/api/documents?name=Second.pdf", data=path.read_bytes())
    assert answer.status_code == 409
    assert answer.json["sentence"] == "“Second.pdf” is in the in-tray already, as “First.pdf”."
    assert answer.json["documents"][0]["id"] == first
    again = client.post("/api/documents/again", json={"source": answer.json["source"], "name": "Second.pdf"}).json
    until(again["document"]["id"], "to correct")
    assert len(client.get("/api/documents").json) == 2


def test_renaming_deleting_and_bringing_back(client, typeset, taken):
    document = taken(typeset("Text"))
    assert client.patch(f"/api/documents/{document}", json={"name": "New name"}).json["name"] == "New name"
    assert client.patch(f"/api/documents/{document}", json={"name": "  "}).status_code == 422
    assert client.delete(f"/api/documents/{document}").status_code == 204
    assert client.get("/api/documents").json == []
    assert client.get(f"/api/documents/{document}").status_code == 404
    assert client.post(f"/api/documents/{document}/restore").json["name"] == "New name"


def test_an_empty_file_is_refused_at_once(client):
    answer = client.post("/api/documents?name=void.pdf", data=b"")
    assert (answer.status_code, answer.json["sentence"]) == (422, "“void.pdf” is empty: it holds no bytes.")


def test_a_file_that_is_no_pdf_stops_with_a_sentence(client, until):
    document = client.post("/api/documents?name=a.pdf", data=b"hello").json["document"]["id"]
    row = until(document, "failed")
    assert "not a PDF, a picture" in row["problem"]
    assert client.get(f"/api/documents/{document}").json["error"] == "unread"


def test_a_locked_file_waits_for_its_password(client, typeset, until, tmp_path):
    locked = tmp_path / "locked.pdf"
    with pikepdf.open(typeset("Hidden heights")) as pdf:
        pdf.save(locked, encryption=pikepdf.Encryption(owner="kelp", user="seaweed"))
    document = client.post("/api/documents?name=locked.pdf", data=locked.read_bytes()).json["document"]["id"]
    assert until(document, "stopped")["needs"] == "password"
    client.post(f"/api/documents/{document}/password", json={"password": "driftwood"})
    assert "does not open" in until(document, "stopped")["problem"]
    client.post(f"/api/documents/{document}/password", json={"password": "seaweed"})
    until(document, "to correct")
    assert texts(client, document) == ["Hidden heights"]
    assert client.get(f"/api/documents/{document}/strip?page=1&scale=1").status_code == 200


def test_the_password_is_written_nowhere(client, typeset, until, tmp_path, context):
    locked = tmp_path / "locked.pdf"
    with pikepdf.open(typeset("Hidden")) as pdf:
        pdf.save(locked, encryption=pikepdf.Encryption(owner="k", user="bladderwrack"))
    document = client.post("/api/documents?name=l.pdf", data=locked.read_bytes()).json["document"]["id"]
    until(document, "stopped")
    client.post(f"/api/documents/{document}/password", json={"password": "bladderwrack"})
    until(document, "to correct")
    assert not [path for path in context.data.rglob("*") if path.is_file() and b"bladderwrack" in path.read_bytes()]


def test_restrictions_wait_for_the_clerks_word(client, typeset, until, tmp_path):
    restricted = tmp_path / "restricted.pdf"
    with pikepdf.open(typeset("Text")) as pdf:
        rights = pikepdf.Permissions(extract=False)
        pdf.save(restricted, encryption=pikepdf.Encryption(owner="kelp", user="", allow=rights))
    document = client.post("/api/documents?name=r.pdf", data=restricted.read_bytes()).json["document"]["id"]
    row = until(document, "stopped")
    assert (row["needs"], row["problem"][:38]) == ("rights", "The author of this file does not allow")
    client.post(f"/api/documents/{document}/rights")
    until(document, "to correct")
    assert "does not allow" in client.get(f"/api/documents/{document}").json["remarks"][0]["sentence"]


def test_a_full_disk_is_said_and_nothing_is_half_taken_in(client, typeset, monkeypatch):
    def full(self, chunks):
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(Files, "take_in", full)
    answer = client.post("/api/documents?name=a.pdf", data=b"%PDF-1.7")
    assert (answer.status_code, answer.json["error"]) == (507, "disk")
    assert client.get("/api/documents").json == []


def test_a_full_disk_while_reading_stops_the_document_and_keeps_its_pages(client, typeset, until, monkeypatch):
    from evenquill.store import pages

    real = pages.add

    def full(connection, document, page):
        if page.number == 3:
            raise OSError(errno.ENOSPC, "No space left on device")
        return real(connection, document, page)

    monkeypatch.setattr(pages, "add", full)
    document = client.post("/api/documents?name=a.pdf", data=typeset(PAGES).read_bytes()).json["document"]["id"]
    row = until(document, "stopped")
    assert row["problem"].startswith("The disk is full;")
    monkeypatch.setattr(pages, "add", real)
    client.post(f"/api/documents/{document}/read")
    assert until(document, "to correct")["pages_read"] == 3


def test_reading_is_stopped_and_goes_on_with_the_pages_it_had(client, typeset, until, context):
    many = "\n#pagebreak()\n".join(f"Page number {n} of the book." for n in range(60))
    document = client.post("/api/documents?name=a.pdf", data=typeset(many).read_bytes()).json["document"]["id"]
    until(document, "reading", "to correct")
    stopped = client.post(f"/api/documents/{document}/stop").json
    if stopped["state"] == "stopped":
        until(document, "stopped")
        client.post(f"/api/documents/{document}/read")
    assert until(document, "to correct")["pages_read"] == 60
    assert texts(client, document)[-1] == "Page number 59 of the book."


def test_the_first_pages_can_be_looked_at_but_not_corrected_while_the_rest_is_read(client, typeset, until, context):
    from evenquill.core.source import SourceFacts
    from evenquill.desk.jobs import tasks
    from evenquill.store import history
    from evenquill.store.history import Change, ChangeKind

    document = client.post("/api/documents?name=a.pdf", data=typeset(PAGES).read_bytes()).json["document"]["id"]
    until(document, "to correct")
    # The state that a long document is in for a while, made to last.
    documents.set_facts(context.store, document, SourceFacts(9))
    context.store.execute("UPDATE documents SET state = 'reading', preview = 1")
    proof = tasks.decoded_proof(
        context.pages.run(partial(tasks.rebuild_document, str(context.data), document, 2), seconds=60)
    )
    history.commit(
        context.store,
        document,
        proof.expected,
        Change(ChangeKind.PREVIEW),
        lambda: proofs.write(context.store, document, proof.document),
    )
    opened = client.get(f"/api/documents/{document}").json
    assert opened["document"]["preview"] is True
    assert [page["first_row"] for page in client.get(f"/api/documents/{document}/ladder").json][:4] == [
        0,
        3,
        None,
        None,
    ]
    block = rows(client, document)["blocks"][0]["id"]
    assert (
        operate(client, document, now(client, document), op="exclude", block=block, excluded=True).json["error"]
        == "reading"
    )
    assert client.post(f"/api/documents/{document}/deliveries", json={"format": "docx"}).status_code == 409


@pytest.mark.parametrize(
    ("given", "shown", "delivered"),
    [
        ("../../etc/passwd.pdf", "passwd.pdf", "passwd.docx"),
        ('a "quoted" <b>name</b>.pdf', "b>.pdf", "b_.docx"),
        ("x" * 400 + ".pdf", "x" * 300, "x" * 120 + ".docx"),
        ("tab\tand\nbreak.PDF", "tabandbreak.PDF", "tabandbreak.docx"),
        ("", "Document without a name", "Document without a name.docx"),
        ("...pdf", "...pdf", "pdf.docx"),
    ],
)
def test_names_from_outside_are_made_harmless(given, shown, delivered):
    assert document_name(given) == shown
    assert file_name(given, "docx").replace(" ", "") in (delivered.replace(" ", ""), "document.docx")


def test_events_tell_of_changes(client, typeset, taken, context):
    number = client.get("/api/events").json["number"]
    nothing = {"number": number, "documents": [], "everything": False, "problems": []}
    assert client.get(f"/api/events?since={number}").json == nothing
    document = taken(typeset("Text"))
    assert client.get(f"/api/events?since={number}").json["documents"] == [document]


def test_unknown_addresses_and_documents(client):
    assert client.get("/api/nothing").json["sentence"]
    assert client.get("/api/documents/nobody").json["error"] == "missing"
    assert client.get("/api/deliveries/nobody/file").status_code == 404
    assert client.get("/api/pictures/..%2f..%2fsecret").status_code == 404


def test_answers_forbid_what_a_source_might_try(client):
    policy = client.get("/").headers["Content-Security-Policy"]
    assert "default-src 'self'" in policy
    assert "unsafe-eval" not in policy


def test_the_outline_has_headings_and_those_that_begin_paragraphs(client, typeset, until):
    behind = "It was pumped dry on the day before and cleared of weed by the diver."
    source = f"= Gauges\n== North pier\n*The well.* {behind}\n\n*The clock.* {behind}\n\n*Levels.* {behind}\n\n= Costs\n{behind}"
    document = client.post("/api/documents?name=a.pdf", data=typeset(source).read_bytes()).json["document"]["id"]
    until(document, "to correct")
    outline = client.get(f"/api/documents/{document}/outline").json
    assert [(entry["text"], entry["level"], entry["run_in"]) for entry in outline] == [
        ("Gauges", 1, False),
        ("North pier", 2, False),
        ("The well", 3, True),
        ("The clock", 3, True),
        ("Levels", 3, True),
        ("Costs", 1, False),
    ]


def test_a_cell_is_corrected_and_undone_after_a_restart(client, typeset, until, context):
    source = "#table(columns: 2, [*Station*], [*Height*], [North pier], [2.31], [Ferry slip], [0.87])"
    document = client.post("/api/documents?name=a.pdf", data=typeset(source).read_bytes()).json["document"]["id"]
    until(document, "to correct")
    (table,) = rows(client, document)["blocks"]
    cell = table["cells"][3]["texts"][0]["id"]
    changed = operate(
        client, document, now(client, document), op="edit_text", block=cell, content=[{"type": "text", "text": "2.13"}]
    ).json
    assert changed["blocks"][0]["cells"][3]["texts"][0]["content"] == [{"type": "text", "text": "2.13"}]
    with context.open_documents.locked(document):
        pass  # what is in memory is dropped
    back = client.post(f"/api/documents/{document}/undo", json={"revision": now(client, document)}).json
    assert back["blocks"] == [table]
    assert (
        operate(client, document, now(client, document), op="move", block=cell, before=None)
        .json["sentence"]
        .startswith("That is text in a table")
    )
