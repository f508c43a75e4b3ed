"""Delivery of parts, under names by a pattern, and of the certificate as pages."""

from __future__ import annotations

import io
from datetime import datetime

import docx
import pypdfium2 as pdfium
import pytest

SOURCE = "#set page(width: 300pt, height: 200pt)\nFirst page.\n#pagebreak()\nSecond page.\n#pagebreak()\nThird page."


@pytest.fixture
def document(typeset, taken) -> str:
    return taken(typeset(SOURCE, "three"), "Three pages.pdf")


def delivered(client, document: str, **wanted) -> tuple[dict, bytes]:
    made = client.post(f"/api/documents/{document}/deliveries", json={"format": "docx", **wanted})
    assert made.status_code == 200, made.json
    return made.json, client.get(f"/api/deliveries/{made.json['id']}/file").data


def texts(data: bytes) -> list[str]:
    return [paragraph.text for paragraph in docx.Document(io.BytesIO(data)).paragraphs]


def test_some_pages_or_rows_are_delivered_and_the_document_is_not_done(client, document):
    _, data = delivered(client, document, pages="2-3")
    assert texts(data) == ["Second page.", "Third page."]
    rows = client.get(f"/api/documents/{document}/rows?start=0&end=3").json["blocks"]
    _, data = delivered(client, document, rows=[rows[0]["id"], rows[2]["id"]])
    assert texts(data) == ["First page.", "Third page."]
    assert client.get(f"/api/documents/{document}").json["document"]["state"] != "delivered"
    delivered(client, document)
    assert client.get(f"/api/documents/{document}").json["document"]["state"] == "delivered"


def test_files_are_called_by_a_pattern(client, document):
    today = datetime.now().astimezone().date().isoformat()
    made, _ = delivered(client, document, name="{date} {name}, pages {pages}", pages="1, 3")
    assert made["file_name"] == f"{today} Three pages, pages 1, 3.docx"
    assert delivered(client, document, name=" ")[0]["file_name"] == "Three pages.docx"
    assert delivered(client, document, name="../{name}/x")[0]["file_name"] == "_Three pages_x.docx"


@pytest.mark.parametrize(
    ("wanted", "error", "why"),
    [
        ({"pages": "4"}, "pages", "There are no pages 4: the document has 3."),
        ({"pages": "two"}, "pages", "“two” is no page. Pages are named as in 1-3, 7."),
        (
            {"name": "{client}"},
            "name",
            "{client} is not known. Names can have {name}, {title}, {date}, {revision}, {pages}.",
        ),
    ],
)
def test_what_cannot_be_delivered_so_is_refused_with_a_sentence(client, document, wanted, error, why):
    answer = client.post(f"/api/documents/{document}/deliveries", json={"format": "docx", **wanted})
    assert (answer.status_code, answer.json["error"], answer.json["sentence"]) == (422, error, why)
    assert client.get(f"/api/documents/{document}/deliveries").json == []


def test_the_certificate_is_pages_too(client, document):
    made, data = delivered(client, document, format="certificate_pdf")
    assert made["file_name"] == "Three pages, certificate.pdf"
    pages = pdfium.PdfDocument(data)
    said = pages[0].get_textpage().get_text_bounded()
    assert "Certificate of correction: Three pages.pdf" in said
    assert "Words read: 6" in said
    assert "Still in doubt" in said
    assert "---" not in said


def test_the_first_page_is_seen_in_formats_without_pages(client, document):
    html = client.get(f"/api/documents/{document}/previews/html")
    assert (html.status_code, html.mimetype) == (200, "text/html")
    assert "First page." in html.text
    assert "Second page." not in html.text
    assert html.headers["Content-Security-Policy"].startswith("sandbox; default-src 'none'")
    assert client.get(f"/api/documents/{document}/previews/epub").mimetype == "text/html"
    text = client.get(f"/api/documents/{document}/previews/text?options=one_line")
    assert (text.mimetype, text.text.strip()) == ("text/plain", "First page.")
    plain = client.get(f"/api/documents/{document}/previews/docx?options=without_running_heads")
    assert (plain.mimetype, plain.data[:4]) == ("image/png", b"\x89PNG")
    for wrong in ("docx", "odd", "text?options=odd"):
        assert client.get(f"/api/documents/{document}/previews/{wrong}").status_code == 404
    looks = {one["name"]: one["seen_as"] for one in client.get("/api/formats").json}
    assert (looks["pdf"], looks["epub"], looks["markdown"]) == ("pages", "browser", "text")
