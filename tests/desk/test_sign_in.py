"""Signing in, where others than this machine can reach the server: passwords, sessions, roles, and who did what."""

from __future__ import annotations

import re
import subprocess
import sys
import time
import urllib.error
import urllib.request
from datetime import UTC, datetime, timedelta

import pytest
from flask.testing import FlaskClient

from evenquill import cli
from evenquill.desk import passwords
from evenquill.desk.app import create_app
from evenquill.desk.serve import is_loopback
from evenquill.desk.sign_in import COOKIE, TOKEN
from evenquill.store import accounts
from evenquill.store.accounts import AccountRole

LEAD, CLERK, PASSWORD = "Oske", "Brannt Tey", "keel and tide 77"
WORD = {"word": "Oskery", "instead": ""}


@pytest.fixture
def app(context, runner):
    accounts.add(context.store, LEAD, AccountRole.LEAD, passwords.hashed(PASSWORD))
    accounts.add(context.store, CLERK, AccountRole.CLERK, passwords.hashed(PASSWORD))
    return create_app(context, runner, must_sign_in=True)


def signed_in(app, name: str, password: str = PASSWORD) -> FlaskClient:
    window = app.test_client()
    answer = window.post("/api/session", json={"name": name, "password": password})
    assert answer.status_code == 200, answer.json
    window.environ_base["HTTP_X_EVENQUILL_TOKEN"] = answer.json["token"]
    return window


def refused(answer, status: int, error: str) -> bool:
    return answer.status_code == status and answer.json["error"] == error and answer.json["sentence"].endswith(".")


def test_nothing_is_told_or_done_before_signing_in(app):
    stranger = app.test_client()
    for rule in app.url_map.iter_rules():
        path = re.sub("<[^>]+>", "x", rule.rule)
        for method in (rule.methods or set()) - {"HEAD", "OPTIONS"}:
            if not path.startswith("/api/") or path in ("/api/session", "/api/health"):
                continue
            assert refused(stranger.open(path, method=method, json={}), 401, "sign-in"), (method, path)
    assert stranger.get("/api/session").json == {"sign_in": True, "token": "", "person": None}
    assert stranger.get("/").status_code == 200
    assert refused(stranger.delete("/api/session"), 403, "token")


def test_who_has_signed_in_works_and_signs_out_again(app, context):
    answer = app.test_client().post("/api/session", json={"name": " oske ", "password": PASSWORD})
    cookie = answer.headers["Set-Cookie"]
    assert all(part in cookie for part in ("HttpOnly", "SameSite=Strict", "Path=/")), cookie
    assert answer.json["person"]["name"] == LEAD
    window = signed_in(app, LEAD)
    assert window.post("/api/words", json=WORD).status_code == 200
    left = window.delete("/api/session")
    assert (left.status_code, left.headers["Clear-Site-Data"]) == (204, '"cache"')
    assert refused(window.get("/api/documents"), 401, "sign-in")
    # What the browser had kept is of no use any more.
    kept = cookie.partition("=")[2].partition(";")[0]
    assert accounts.session_of(context.store, kept) is not None
    (row,) = context.store.execute("SELECT id FROM sessions").fetchall()
    assert row[0] != kept, "only its hash is stored"


def test_a_change_needs_the_token_of_its_own_session(app):
    lead, clerk = signed_in(app, LEAD), signed_in(app, CLERK)
    for token in ("", "x", clerk.environ_base["HTTP_X_EVENQUILL_TOKEN"]):
        assert refused(lead.post("/api/words", json=WORD, headers={TOKEN: token}), 403, "token")
    assert lead.get("/api/words").json["entries"] == []


def test_where_nobody_signs_in_a_change_needs_the_token_too(context, runner):
    window = create_app(context, runner).test_client()
    state = window.get("/api/session").json
    assert (state["sign_in"], state["person"]) == (False, None)
    assert refused(window.post("/api/words", json=WORD), 403, "token")
    assert window.post("/api/words", json=WORD, headers={TOKEN: state["token"]}).status_code == 200
    entering = {"name": LEAD, "password": PASSWORD}
    assert refused(window.post("/api/session", json=entering), 409, "open")


def test_wrong_passwords_are_refused_and_then_not_looked_at(app):
    stranger = app.test_client()
    for n in range(5):
        name = LEAD if n % 2 else LEAD.upper()
        answer = stranger.post("/api/session", json={"name": name, "password": f"keel and tide {n}"})
        assert refused(answer, 403, "password")
    right = {"name": LEAD, "password": PASSWORD}
    assert refused(stranger.post("/api/session", json=right), 429, "attempts")
    # Others are let in meanwhile, from elsewhere she herself too.
    signed_in(app, CLERK)
    elsewhere = stranger.post("/api/session", json=right, environ_base={"REMOTE_ADDR": "10.0.0.9"})
    assert elsewhere.status_code == 200


def test_an_account_that_there_is_not_is_refused_in_the_same_words(app):
    answers = [
        app.test_client().post("/api/session", json={"name": name, "password": "keel and tide 76"})
        for name in (LEAD, "Nobody", "", "x" * 5000, "\x00")
    ]
    assert len({answer.data for answer in answers}) == 1


def test_sessions_end(app, context):
    kept, _ = accounts.open_session(context.store, LEAD)
    now = datetime.now(UTC)
    assert accounts.session_of(context.store, kept, moment=now + accounts.IDLE - timedelta(minutes=1)) is not None
    assert accounts.session_of(context.store, kept, moment=now + accounts.IDLE + timedelta(minutes=1)) is None
    later = (now + accounts.LONGEST).isoformat(timespec="milliseconds")
    context.store.execute("UPDATE sessions SET used_at = ?", (later,))
    assert accounts.session_of(context.store, kept, moment=now + accounts.LONGEST + timedelta(minutes=1)) is None
    assert accounts.forget_ended(context.store, moment=now + accounts.LONGEST + timedelta(minutes=1)) == 1
    assert accounts.session_of(context.store, kept) is None


def test_work_keeps_a_session_and_waiting_windows_do_not(app, context):
    window = signed_in(app, LEAD)
    long_ago = (datetime.now(UTC) - timedelta(hours=1)).isoformat(timespec="milliseconds")

    def used_after(path: str) -> bool:
        context.store.execute("UPDATE sessions SET used_at = ?", (long_ago,))
        assert window.get(path).status_code == 200
        return context.store.execute("SELECT used_at FROM sessions").fetchone()[0] > long_ago

    assert not used_after("/api/events")
    # What cannot be noted, as on a full disk, keeps nobody from looking.
    context.store.execute("PRAGMA query_only = ON")
    assert window.get("/api/documents").status_code == 200
    context.store.execute("PRAGMA query_only = OFF")
    assert used_after("/api/documents")


def test_a_new_password_signs_all_other_windows_out(app):
    window, other = signed_in(app, CLERK), signed_in(app, CLERK)
    change = "/api/session/password"
    assert refused(window.put(change, json={"old": "wrong password", "new": "another one 88"}), 403, "password")
    assert refused(window.put(change, json={"old": PASSWORD, "new": "short"}), 422, "password")
    assert window.put(change, json={"old": PASSWORD, "new": "another one 88"}).status_code == 204
    assert window.get("/api/documents").status_code == 200
    assert refused(other.get("/api/documents"), 401, "sign-in")
    signed_in(app, CLERK, "another one 88")


def test_leads_give_accounts_and_clerks_do_not(app):
    lead, clerk = signed_in(app, LEAD), signed_in(app, CLERK)
    new = {"name": "Mirre", "password": PASSWORD}
    for ask in (
        lambda: clerk.get("/api/people"),
        lambda: clerk.post("/api/people", json=new),
        lambda: clerk.patch(f"/api/people/{LEAD}", json={"role": "clerk"}),
        lambda: clerk.patch(f"/api/people/{CLERK}", json={"role": "lead"}),
        lambda: clerk.delete(f"/api/people/{LEAD}"),
        lambda: clerk.post("/api/words/remove", json={"words": []}),
    ):
        assert refused(ask(), 403, "role")
    assert [one["name"] for one in lead.post("/api/people", json=new).json] == [CLERK, "Mirre", LEAD]
    for name, status in (("MIRRE", 409), ("", 422), ("reading", 422), ("a/b", 422), ("a\nb", 422), ("x" * 81, 422)):
        assert refused(lead.post("/api/people", json={"name": name, "password": PASSWORD}), status, "name")
    assert refused(lead.post("/api/people", json={"name": "Tey", "password": "Tey 1"}), 422, "password")
    mirre = signed_in(app, "Mirre")
    assert lead.patch("/api/people/Mirre", json={"password": "another one 88"}).status_code == 200
    assert refused(mirre.get("/api/documents"), 401, "sign-in")
    assert lead.delete("/api/people/Mirre").status_code == 200
    assert refused(lead.delete("/api/people/Mirre"), 404, "missing")


def test_somebody_stays_a_lead(app):
    lead = signed_in(app, LEAD)
    for ask in (
        lambda: lead.patch(f"/api/people/{LEAD}", json={"role": "clerk", "password": "another one 88"}),
        lambda: lead.delete(f"/api/people/{LEAD}"),
    ):
        assert refused(ask(), 409, "lead")
    signed_in(app, LEAD)  # the password is as it was
    lead.patch(f"/api/people/{CLERK}", json={"role": "lead"})
    assert lead.patch(f"/api/people/{LEAD}", json={"role": "clerk"}).status_code == 200
    assert refused(lead.get("/api/people"), 403, "role")


def test_the_history_says_who_did_what(app, context, taken, typeset):
    lead, clerk = signed_in(app, LEAD), signed_in(app, CLERK)
    document = taken(typeset("Oskery lies at the mouth of the Tey.\n\nIt has a harbour."))
    path = f"/api/documents/{document}"
    block = clerk.get(f"{path}/rows").json["blocks"][0]["id"]

    def revision() -> int:
        return clerk.get(f"{path}/rows").json["revision"]

    operation = {"op": "align", "block": block, "align": "right"}
    assert clerk.post(f"{path}/operations", json={"revision": revision(), "operation": operation}).status_code == 200
    assert lead.post(f"{path}/undo", json={"revision": revision()}).status_code == 200
    assert clerk.post(f"{path}/redo", json={"revision": revision()}).status_code == 200
    rows = context.store.execute("SELECT kind, actor FROM changes WHERE document = ? ORDER BY number", (document,))
    assert [tuple(row) for row in rows][-3:] == [("edit", CLERK), ("undo", LEAD), ("redo", CLERK)]
    made = lead.post(f"{path}/deliveries", json={"format": "certificate"}).json
    assert made["actor"] == LEAD
    text = lead.get(f"/api/deliveries/{made['id']}/file").text
    assert f"Worked on by {CLERK}: 2 changes.\nWorked on by {LEAD}: 1 change.\n" in text


@pytest.mark.parametrize(
    ("password", "taken"),
    [
        ("keel and tide 77", True), ("äöüß ñç 中文 77", True), ("short", False), ("x" * 201, False), ("aaaaaaaaaaab", False),
        ("Brannt Tey1", False), ("brannt tey 77 and the tide", True),
    ],
)  # fmt: skip
def test_what_may_be_a_password(password, taken):
    assert (passwords.fault_of(password, CLERK) == "") is taken


@pytest.mark.parametrize(
    ("host", "here"),
    [("127.0.0.1", True), ("127.8.0.1", True), ("::1", True), ("localhost", True), ("0.0.0.0", False), ("::", False),
     ("10.0.0.1", False), ("keel.example", False)],
)  # fmt: skip
def test_which_addresses_others_can_reach(host, here):
    assert is_loopback(host) is here


def test_accounts_are_made_on_the_command_line(tmp_path, capsys):
    data, file = str(tmp_path / "data"), tmp_path / "password"

    def account(*arguments: str, password: str = PASSWORD) -> int:
        file.write_text(f"{password}\n", encoding="utf-8")
        return cli.main(["account", *arguments, "--data", data, "--password-file", str(file)])

    assert account("add", CLERK, "--role", "clerk") == cli.WRONG_USE  # nobody could give others accounts
    assert account("add", LEAD) == cli.DONE
    assert account("add", CLERK) == cli.DONE
    assert account("add", LEAD) == cli.WRONG_USE
    assert account("password", CLERK, password="short") == cli.WRONG_USE
    assert account("password", CLERK, password="another one 88") == cli.DONE
    assert account("password", "Nobody") == cli.WRONG_USE
    assert account("remove", LEAD) == cli.WRONG_USE
    capsys.readouterr()
    assert account("list") == cli.DONE
    assert capsys.readouterr().out == f"{CLERK} (clerk)\n{LEAD} (lead)\n"
    assert account("remove", CLERK) == cli.DONE


def test_a_server_that_others_can_reach_does_not_start_without_accounts(tmp_path, free_port):
    data = tmp_path / "data"
    serve = [sys.executable, "-m", "evenquill", "serve", "--data", str(data), "--port", str(free_port)]
    for options in (["--host", "0.0.0.0"], ["--proxy", "127.0.0.1"], ["--sign-in"]):
        ended = subprocess.run([*serve, *options], capture_output=True, text=True, timeout=60)
        assert ended.returncode == cli.WRONG_USE
        assert "nobody has an account yet" in ended.stderr
        assert "Traceback" not in ended.stderr


def test_headers_of_a_proxy_are_believed_only_when_told(tmp_path, free_port):
    """Behind a proxy the cookie is for HTTPS only, if it says that the browser came by HTTPS."""
    data, file = tmp_path / "data", tmp_path / "password"
    file.write_text(PASSWORD, encoding="utf-8")
    assert cli.main(["account", "add", LEAD, "--data", str(data), "--password-file", str(file)]) == cli.DONE
    serve = [
        sys.executable,
        "-m",
        "evenquill",
        "serve",
        "--data",
        str(data),
        "--port",
        str(free_port),
        "--workers",
        "1",
    ]
    for options, secure in ((["--proxy", "127.0.0.1", "--name", "keel.example"], True), (["--sign-in"], False)):
        server = subprocess.Popen([*serve, *options], stdout=subprocess.DEVNULL)
        try:
            request = urllib.request.Request(
                f"http://127.0.0.1:{free_port}/api/session",
                data=b'{"name": "Oske", "password": "keel and tide 77"}',
                headers={
                    "Content-Type": "application/json",
                    "X-Forwarded-Proto": "https",
                    "X-Forwarded-Host": "keel.example",
                    "X-Forwarded-For": "10.1.2.3",
                },
            )
            cookie = _answered(request, server).headers["Set-Cookie"]
            assert COOKIE in cookie
            assert ("Secure" in cookie) is secure
        finally:
            server.terminate()
            server.wait()


def _answered(request, server):
    end = time.monotonic() + 60
    while True:
        try:
            return urllib.request.urlopen(request, timeout=10)
        except urllib.error.HTTPError:
            raise
        except OSError:
            assert server.poll() is None, "the server stopped"
            assert time.monotonic() < end
            time.sleep(0.1)
