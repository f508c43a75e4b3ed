"""Nobody gets in by way of another page, and no two servers work on one folder."""

from __future__ import annotations

import io
import socket
import stat
import subprocess
import sys
import time
import urllib.request

import pytest

from evenquill.desk.guard import host_of
from evenquill.store.folder_lock import folder_locked

WORD = {"word": "Oskery", "instead": ""}


@pytest.mark.parametrize(
    "host", ["localhost", "LOCALHOST:8017", "127.0.0.1:8017", "[::1]:8017", "10.1.2.3", "localhost."]
)
def test_its_own_names_and_addresses_are_answered(client, host):
    assert client.get("/api/documents", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize(
    "host", ["tide.example", "localhost.tide.example", "127.0.0.1.tide.example", "x@localhost", "[::1].x", "::1.x"]
)
def test_a_name_that_was_made_to_lead_here_is_not(client, host):
    for path in ("/", "/api/documents"):
        answer = client.get(path, headers={"Host": host})
        assert (answer.status_code, answer.json["error"]) == (403, "host")
    assert client.post("/api/words", json=WORD, headers={"Host": host}).status_code == 403
    assert client.get("/api/words").json["entries"] == []


@pytest.mark.parametrize(
    "headers",
    [
        {"Origin": "https://tide.example"},
        {"Origin": "null"},
        {"Origin": "http://localhost:9999"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
    ],
)
def test_another_page_changes_nothing(client, headers):
    for ask in (
        lambda: client.post("/api/words", json=WORD, headers=headers),
        lambda: client.post("/api/documents?name=x.pdf", data=io.BytesIO(b"%PDF-1.4"), headers=headers),
        lambda: client.put("/api/documents/x/files", json={"places": []}, headers=headers),
        lambda: client.delete("/api/documents/x", headers=headers),
    ):
        answer = ask()
        assert (answer.status_code, answer.json["error"]) == (403, "origin")
    assert client.get("/api/documents").json == []
    assert client.get("/api/words").json["entries"] == []


def test_our_own_page_does(client):
    own = {"Origin": "http://localhost", "Sec-Fetch-Site": "same-origin"}
    assert client.post("/api/words", json=WORD, headers=own).status_code == 200


@pytest.mark.parametrize("media", ["text/plain", "application/x-www-form-urlencoded", "multipart/form-data", ""])
def test_bodies_are_json_and_say_so(client, media):
    answer = client.post("/api/words", data=b'{"word": "Oskery", "instead": ""}', content_type=media)
    assert (answer.status_code, answer.json["error"]) == (415, "media")


def test_what_is_refused_is_said_in_a_sentence_and_answers_are_not_kept(client):
    for method, path, status in (
        ("PATCH", "/api/documents", 405),
        ("GET", "/api/nothing", 404),
        ("POST", "/api/nothing", 405),
    ):
        answer = client.open(path, method=method, json={})
        assert answer.status_code == status
        assert answer.json["sentence"].endswith(".")
    headers = client.get("/api/documents").headers
    assert headers["Cache-Control"] == "no-store"
    assert headers["Cross-Origin-Resource-Policy"] == "same-origin"


@pytest.mark.parametrize(
    ("header", "host"),
    [("a.example:80", "a.example"), ("[fe80::1]:80", "[fe80::1]"), ("[fe80::1]", "[fe80::1]"), ("A", "a")],
)
def test_hosts_without_their_ports(header, host):
    assert host_of(header) == host


def serving(folder) -> subprocess.CompletedProcess:
    command = [sys.executable, "-m", "evenquill", "serve", "--port", "0", "--data", str(folder)]
    return subprocess.run(command, capture_output=True, text=True, timeout=60)


def test_a_second_server_on_one_folder_says_so_and_ends(tmp_path):
    folder = tmp_path / "data"
    with folder_locked(folder):
        second = serving(folder)
        assert second.returncode == 2
        assert "another server works on" in second.stderr
        assert "Traceback" not in second.stderr
        assert stat.S_IMODE(folder.stat().st_mode) == 0o700
    with folder_locked(folder):
        pass


def test_a_folder_that_cannot_be_made_is_said_in_a_sentence(tmp_path):
    (tmp_path / "file").write_text("no folder")
    failed = serving(tmp_path / "file" / "data")
    assert failed.returncode == 2
    assert failed.stderr.startswith("evenquill: the server cannot run on")
    assert "Traceback" not in failed.stderr


def test_numbers_and_places_that_there_are_not_are_refused_with_a_sentence(client, typeset, taken):
    document = taken(typeset("The float was found."))
    here = f"/api/documents/{document}"
    for path in ("pages/99999999999999999999", "pages/²", "pages/-1", "pages/²/rows", "pages/١/rows", "pages/0/rows"):
        assert client.get(f"{here}/{path}").status_code == 404, path
    for path in (
        "rows?start=x",
        "rows?start=99999999999999999999",
        "rows?count=²",
        "strip?scale=nan",
        "strip?scale=inf",
    ):
        answer = client.get(f"{here}/{path}")
        assert (answer.status_code, answer.json["error"]) == (400, "request"), path
    for page, box, status in (
        (2**62, [0, 0, 9, 9], 404), (0, [0, 0, 9, 9], 404), (1, [9, 9, 0, 0], 422), (1, [0, 0, 1e300, 9], 422),
    ):  # fmt: skip
        for ask in ("cut", "read"):
            answer = client.post(f"{here}/regions/{ask}", json={"page": page, "box": box})
            assert (answer.status_code, answer.json["sentence"][-1]) == (status, "."), (ask, page, box)
    assert client.post("/api/documents/again", json={"source": "0" * 64, "name": "x"}).status_code == 404


def test_requests_that_are_sent_by_halves_keep_nobody_waiting(tmp_path, free_port):
    port = free_port
    command = [sys.executable, "-m", "evenquill", "serve", "--port", str(port), "--data", str(tmp_path / "data")]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as server:
        try:
            assert "Even Quill is at" in server.stdout.readline()
            address = f"http://127.0.0.1:{port}/api/documents"
            end = time.monotonic() + 60
            while True:
                try:
                    urllib.request.urlopen(address, timeout=5).close()
                    break
                except OSError:
                    assert time.monotonic() < end
                    time.sleep(0.1)
            halves = [socket.create_connection(("127.0.0.1", port)) for _ in range(250)]
            for half in halves:
                half.sendall(b"POST /api/words HTTP/1.1\r\nHost: localhost\r\nContent-Length: 99\r\n\r\n{")
            with urllib.request.urlopen(address, timeout=15) as answer:
                assert answer.read() == b"[]"
            for half in halves:
                half.close()
        finally:
            server.terminate()


def test_pictures_that_are_not_here_are_refused_when_they_are_set(client, typeset, taken):
    document = taken(typeset("The float was found."))
    rows = client.get(f"/api/documents/{document}/rows?count=9").json
    name = rows["blocks"][0]["id"]
    sign = {"type": "picture", "picture": "5f" * 32, "media": "image/png", "width": 9, "height": 9}
    quoted = {"type": "text", "text": 'it says "picture":"none" here'}
    for content, status in (([sign], 422), ([{**sign, "picture": "../../x"}], 422), ([quoted], 200)):
        operation = {"op": "edit_text", "block": name, "content": content}
        body = {"revision": rows["revision"], "operation": operation}
        assert client.post(f"/api/documents/{document}/operations", json=body).status_code == status
    assert client.post(f"/api/documents/{document}/deliveries", json={"format": "docx"}).status_code == 200


def test_a_source_that_is_missing_or_other_than_it_was_is_said_in_a_sentence(client, context, typeset, taken):
    document = taken(typeset("The float was found."))
    here = f"/api/documents/{document}"
    source = context.files.source(client.get(here).json["document"]["source"])
    cut = {"page": 1, "box": [0, 0, 50, 50]}
    for content in (b"no PDF any more", None):
        source.unlink()
        if content is not None:
            source.write_bytes(content)
        for answer in (
            client.get(f"{here}/strip?page=1&box=1,1,9,9"),
            client.post(f"{here}/regions/cut", json=cut),
            client.post(f"{here}/regions/read", json=cut),
        ):
            assert (answer.status_code, answer.json["sentence"][-1]) == (422, "."), answer.json
        if content is not None:
            continue
        assert "missing" in client.post(f"{here}/regions/cut", json=cut).json["sentence"]
