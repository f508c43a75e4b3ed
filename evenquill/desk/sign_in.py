"""Who asks: sessions of people who are signed in, where the server can be reached from elsewhere; nobody is asked where it cannot.

A request that changes something bears a token (header ``X-Evenquill-Token``), which only our own pages can read: that of the session, or,
where nobody is asked to sign in, one that is made when the server starts.
"""

from __future__ import annotations

import hmac
import logging
import secrets
import sqlite3
from collections.abc import Callable
from contextlib import suppress

from flask import Flask, Response, g, request
from limits import RateLimitItem, parse
from limits.storage import MemoryStorage
from limits.strategies import MovingWindowRateLimiter

from evenquill.desk import passwords
from evenquill.desk.endpoints import ApiError
from evenquill.desk.guard import READING_METHODS
from evenquill.store import accounts
from evenquill.store.accounts import AccountRole, Session
from evenquill.store.history import CLERK

COOKIE = "evenquill_session"
TOKEN = "X-Evenquill-Token"
SESSION = "/api/session"

OPEN_ADDRESSES = frozenset({SESSION, "/api/health"})
"""What is answered to anybody, besides the front end."""

UNNOTED = frozenset({"/api/events"})
"""What a window asks for by itself, whether anybody is there or not."""

FAILURES = ("5 per 5 minutes", "30 per 15 minutes", "50 per 15 minutes")
"""Wrong passwords for a name from one address, from one address, for one name; then nobody is let in until the time has passed."""

log = logging.getLogger(__name__)


class SignIn:
    """Signing in and out. With ``required`` nothing is told or done for those who have not signed in."""

    def __init__(self, store: Callable[[], sqlite3.Connection], *, required: bool) -> None:
        self.required = required
        self._store = store
        self._token = secrets.token_urlsafe(32)
        self._limiter = MovingWindowRateLimiter(MemoryStorage())
        self._limits = tuple(parse(limit) for limit in FAILURES)

    def install(self, app: Flask) -> None:
        """Has every request looked at."""

        @app.before_request
        def check() -> None:
            if not request.path.startswith("/api/"):
                return
            session = self._session_of_request()
            g.session = session
            if self.required and session is None and request.path not in OPEN_ADDRESSES:
                raise ApiError(401, "sign-in", "Sign in first.")
            if session is not None and request.path not in UNNOTED:
                with suppress(sqlite3.Error):  # on a full disk everything can still be looked at
                    accounts.note_use(self._store(), session)
            signs_in = request.path == SESSION and request.method == "POST"
            if request.method not in READING_METHODS and not signs_in:
                given = request.headers.get(TOKEN, "")
                if not hmac.compare_digest(given.encode(), self.token.encode()) or not self.token:
                    raise ApiError(403, "token", "This window is out of date. Load it again.")

    def _session_of_request(self) -> Session | None:
        kept = request.cookies.get(COOKIE, "")
        return accounts.session_of(self._store(), kept) if self.required and kept else None

    @property
    def token(self) -> str:
        """What a request must bear that changes something; empty for those who are not signed in."""
        if not self.required:
            return self._token
        session = current_session()
        return session.token if session else ""

    def enter(self, name: str, password: str) -> tuple[str, Session]:
        """Signs somebody in; returns what the browser is to keep. Raises ApiError as ``check_password`` does."""
        written = self.check_password(name, password)
        log.info("%s signed in from %s", written, request.remote_addr)
        return accounts.open_session(self._store(), written)

    def check_password(self, name: str, password: str) -> str:
        """The name as it is written in its account. Raises ApiError where name or password are wrong, or were so too often."""
        address = request.remote_addr or ""
        counted = tuple(zip(self._limits, ((name.casefold(), address), (address,), (name.casefold(), "")), strict=True))
        self._refuse_if_too_many(counted)
        account = accounts.password_of(self._store(), name)
        if not passwords.is_right(account[1] if account else None, password) or account is None:
            for limit, key in counted:
                self._limiter.hit(limit, *key)
            log.warning("signing in was refused to %r from %s", name[: accounts.LONGEST_NAME], address)
            raise ApiError(403, "password", "Name or password are wrong.")
        return account[0]

    def _refuse_if_too_many(self, counted: tuple[tuple[RateLimitItem, tuple[str, ...]], ...]) -> None:
        if not all(self._limiter.test(limit, *key) for limit, key in counted):
            raise ApiError(429, "attempts", "There were too many wrong passwords. Try again in a quarter of an hour.")


def current_session() -> Session | None:
    """The session in which the request is made, None where nobody is asked to sign in."""
    session: Session | None = g.get("session")
    return session


def actor() -> str:
    """Who makes the request, as the history says it."""
    session = current_session()
    return session.person.name if session else CLERK


def require_lead() -> None:
    """Raises ApiError where somebody is signed in who is no lead."""
    session = current_session()
    if session is not None and session.person.role is not AccountRole.LEAD:
        raise ApiError(403, "role", "Only a lead can do that.")


def with_cookie(response: Response, kept: str) -> Response:
    """The answer with what the browser is to keep, where scripts and other sites cannot get at it; empty to forget it."""
    response.set_cookie(
        COOKIE,
        kept,
        max_age=int(accounts.LONGEST.total_seconds()) if kept else 0,
        httponly=True,
        samesite="Strict",
        secure=request.is_secure,
    )
    return response
