"""Word-processor files in the in-tray: read, looked at, corrected, joined and delivered like others, and brought back as ODT."""

from __future__ import annotations

import io
import zipfile

import docx
import pytest
from msgspec.structs import replace

from evenquill.core.model import Document, ParagraphStyle, Role, Text, TextBlock
from evenquill.core.odt_reading import read_odt
from evenquill.core.pictures import PictureFolder
from evenquill.core.writers.docx import write_docx
from evenquill.core.writers.odt import write_odt
from evenquill.store import parts
from evenquill.store.database import transaction

WORDS = ("Tides", "The float was found hard against the wire.", "The keeper has been told.")
LETTER = Document(
    title="Tides",
    styles=(ParagraphStyle("Body text", size=11), ParagraphStyle("Heading 1", size=16, bold=True, outline=1)),
    blocks=(
        TextBlock("h", Role.HEADING, (Text(WORDS[0]),), "Heading 1", 1),
        *(TextBlock(f"p{n}", content=(Text(said),), style="Body text") for n, said in enumerate(WORDS[1:])),
    ),
)


@pytest.fixture
def letter(taken, tmp_path) -> str:
    path = tmp_path / "Letter.docx"
    path.write_bytes(write_docx(LETTER, lambda _: b""))
    return taken(path, "Letter.docx")


def rows(client, document) -> list[dict]:
    return client.get(f"/api/documents/{document}/rows").json["blocks"]


def said(client, document) -> list[str]:
    return ["".join(item["text"] for item in row["content"]) for row in rows(client, document)]


def test_a_file_is_looked_at_corrected_and_delivered(client, letter, until):
    row = until(letter, "to correct")
    assert (row["name"], row["sized_up"], row["page_count"]) == ("Letter.docx", "word-processor file", 1)
    assert said(client, letter) == list(WORDS)
    (heading, first, _) = rows(client, letter)
    assert (heading["role"], heading["level"]) == ("heading", 1)
    box = ",".join(map(str, first["spots"][0]["box"] if isinstance(first["spots"][0], dict) else first["spots"][0][1]))
    strip = client.get(f"/api/documents/{letter}/strip?page=1&box={box}&scale=2")
    assert (strip.status_code, strip.mimetype[:6]) == (200, "image/")
    revision = client.get(f"/api/documents/{letter}/rows").json["revision"]
    operation = {"op": "edit_text", "block": first["id"], "content": [{"type": "text", "text": "The buoy was found."}]}
    answer = client.post(f"/api/documents/{letter}/operations", json={"revision": revision, "operation": operation})
    assert answer.status_code == 200, answer.json
    made = client.post(f"/api/documents/{letter}/deliveries", json={"format": "docx"}).json
    file = docx.Document(io.BytesIO(client.get(f"/api/deliveries/{made['id']}/file").data))
    assert [paragraph.text for paragraph in file.paragraphs] == [WORDS[0], "The buoy was found.", WORDS[2]]


def test_there_is_nothing_to_read_again(client, letter):
    answer = client.post(f"/api/documents/{letter}/again", json={"pages": [1], "preparation": {}})
    assert (answer.status_code, answer.json["error"]) == (409, "set")
    assert "nothing to read again" in answer.json["sentence"]


def test_files_of_several_sorts_are_joined_and_put_in_another_order(client, letter, taken, typeset, until, idle):
    pdf = taken(typeset("A page that was printed.", "printed"), "Printed.pdf")
    body = {"documents": [letter, pdf], "name": "Both"}
    both = client.post("/api/documents/join", json=body).json["id"]
    assert until(both, "to correct")["page_count"] == 2
    assert said(client, both) == [*WORDS, "A page that was printed."]
    assert client.put(f"/api/documents/{both}/files", json={"places": [1, 0]}).status_code == 200
    idle(both)
    assert said(client, both) == ["A page that was printed.", *WORDS]
    # Pages that were printed can be read again beside those of the file, which stay as they are.
    answer = client.post(f"/api/documents/{both}/again", json={"pages": [1, 2], "preparation": {}})
    assert answer.status_code == 200
    idle(both)
    assert said(client, both) == ["A page that was printed.", *WORDS]


def test_an_odt_file_is_brought_back(client, letter, tmp_path):
    made = client.post(f"/api/documents/{letter}/deliveries", json={"format": "odt"}).json
    delivered = client.get(f"/api/deliveries/{made['id']}/file").data
    document = read_odt(delivered, PictureFolder(tmp_path / "pictures"))
    heading, first, last = document.blocks
    changed = replace(first, content=(Text(WORDS[1].replace("float", "buoy")),))
    edited = write_odt(replace(document, blocks=(heading, changed, last)), lambda _: b"")
    for file in (edited, with_parts_in_another_order(edited)):
        seen = client.post(f"/api/documents/{letter}/returned", data=file).json
        assert seen["compared_with"] == made["id"]
        assert [(one["kind"], one["after"]) for one in seen["changes"]] == [
            ("words", "The buoy was found hard against the wire.")
        ]


def with_parts_in_another_order(data: bytes) -> bytes:
    """The package as some programs write it: its type neither first nor unpacked."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as file, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name in reversed(file.namelist()):
            made.writestr(name, file.read(name))
    return out.getvalue()


def test_a_file_that_is_none_says_why(client, until):
    answer = client.post("/api/documents?name=Locked.docx", data=b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"\0" * 600)
    row = until(answer.json["document"]["id"], "failed")
    assert "locked by a password" in row["problem"]


def test_pages_are_found_again_after_the_data_folder_was_moved(client, context, letter):
    (part,) = parts.every(context.store, letter)
    with transaction(context.store):
        parts.set_facts(context.store, letter, 0, replace(part.facts, read_instead="/moved/since/copy.pdf"))
    strip = client.get(f"/api/documents/{letter}/strip?page=1&box=50,50,300,120&scale=2")
    assert (strip.status_code, strip.mimetype[:6]) == (200, "image/")
