"""Accounts of the people who work here, and the sessions in which they are signed in."""

from __future__ import annotations

import hashlib
import secrets
import sqlite3
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from typing import NamedTuple

import msgspec

from evenquill.store.database import now
from evenquill.store.history import CLERK, READING

IDLE, LONGEST = timedelta(hours=12), timedelta(days=7)
"""A session ends when nothing was done in it for a working day, and after a week in any case."""

NOTED_EVERY = timedelta(minutes=1)
"""How often it is written down that a session is in use."""

LONGEST_NAME = 80

TAKEN_NAMES = frozenset({CLERK, READING})
"""Names that the history has for others."""


class AccountRole(StrEnum):
    CLERK = "clerk"
    LEAD = "lead"
    """May also give accounts to others and take words off the office's list."""


class Person(msgspec.Struct, frozen=True):
    """Somebody who has an account; ``used_at`` is when they were last here, empty where they are not signed in."""

    name: str
    role: AccountRole
    made_at: str
    used_at: str = ""


class Session(NamedTuple):
    """A session: its id, whose it is, and the token that requests must bear which change something."""

    id: str
    person: Person
    token: str


class AccountExists(Exception):
    """There is an account of that name."""


class NoAccount(KeyError):
    """There is no account of that name."""


class LastLead(Exception):
    """Nobody would be left who can give accounts."""


def fault_of_name(name: str) -> str:
    """Why nobody can have this name, in a sentence; empty where somebody can."""
    if not name or len(name) > LONGEST_NAME or not name.isprintable() or "/" in name:
        return f"A name has 1 to {LONGEST_NAME} letters, and no “/”."
    return "Take another name; that one means something else here." if name.casefold() in TAKEN_NAMES else ""


def add(connection: sqlite3.Connection, name: str, role: AccountRole, password: str) -> None:
    """Makes an account; ``password`` is a hash. Raises AccountExists."""
    try:
        connection.execute(
            "INSERT INTO accounts (name, role, password, made_at) VALUES (?,?,?,?)", (name, role.value, password, now())
        )
    except sqlite3.IntegrityError:
        raise AccountExists(name) from None


def every(connection: sqlite3.Connection) -> list[Person]:
    """All accounts by name."""
    rows = connection.execute(
        """SELECT name, role, made_at, coalesce((SELECT max(used_at) FROM sessions WHERE account = name), '')
           FROM accounts ORDER BY name"""
    )
    return [Person(name, AccountRole(role), made_at, used_at) for name, role, made_at, used_at in rows]


def is_empty(connection: sqlite3.Connection) -> bool:
    """Whether nobody has an account."""
    return connection.execute("SELECT 1 FROM accounts LIMIT 1").fetchone() is None


def password_of(connection: sqlite3.Connection, name: str) -> tuple[str, str] | None:
    """The name as it is written, and the hash of the password; None where there is no such account."""
    row = connection.execute("SELECT name, password FROM accounts WHERE name = ?", (name,)).fetchone()
    return (row[0], row[1]) if row else None


def set_password(connection: sqlite3.Connection, name: str, password: str, keep: str = "") -> None:
    """Sets another password (a hash), and ends all sessions of the account but the one to ``keep``. Raises NoAccount."""
    if not connection.execute("UPDATE accounts SET password = ? WHERE name = ?", (password, name)).rowcount:
        raise NoAccount(name)
    connection.execute("DELETE FROM sessions WHERE account = ? AND id <> ?", (name, keep))


def set_role(connection: sqlite3.Connection, name: str, role: AccountRole) -> None:
    """Gives an account another role. Raises NoAccount, LastLead. Call it within a transaction."""
    if not connection.execute("UPDATE accounts SET role = ? WHERE name = ?", (role.value, name)).rowcount:
        raise NoAccount(name)
    _check_leads(connection)


def remove(connection: sqlite3.Connection, name: str) -> None:
    """Takes an account away, and ends its sessions; what it did stays in the history. Raises NoAccount, LastLead. Call it within a
    transaction."""
    if not connection.execute("DELETE FROM accounts WHERE name = ?", (name,)).rowcount:
        raise NoAccount(name)
    _check_leads(connection)


def _check_leads(connection: sqlite3.Connection) -> None:
    if connection.execute("SELECT 1 FROM accounts WHERE role = ?", (AccountRole.LEAD.value,)).fetchone() is None:
        raise LastLead


def open_session(connection: sqlite3.Connection, name: str) -> tuple[str, Session]:
    """Signs somebody in: what the browser is to keep, and the session. Only its hash is stored. Raises NoAccount."""
    kept = secrets.token_urlsafe(32)
    moment = now()
    try:
        connection.execute(
            "INSERT INTO sessions (id, account, token, made_at, used_at) VALUES (?,?,?,?,?)",
            (_id(kept), name, secrets.token_urlsafe(32), moment, moment),
        )
    except sqlite3.IntegrityError:
        raise NoAccount(name) from None
    session = session_of(connection, kept)
    if session is None:
        raise NoAccount(name)
    return kept, session


def session_of(connection: sqlite3.Connection, kept: str, *, moment: datetime | None = None) -> Session | None:
    """The session that a browser keeps the key of, None where it has ended."""
    at = moment or datetime.now(UTC)
    row = connection.execute(
        """SELECT s.id, s.token, s.made_at, s.used_at, a.name, a.role, a.made_at
           FROM sessions s JOIN accounts a ON a.name = s.account WHERE s.id = ?""",
        (_id(kept),),
    ).fetchone()
    if row is None or datetime.fromisoformat(row[2]) + LONGEST < at or datetime.fromisoformat(row[3]) + IDLE < at:
        return None
    return Session(row[0], Person(row[4], AccountRole(row[5]), row[6], row[3]), row[1])


def note_use(connection: sqlite3.Connection, session: Session) -> None:
    """Notes that something was done in a session, if that was not noted just now."""
    if datetime.fromisoformat(session.person.used_at) + NOTED_EVERY < datetime.now(UTC):
        connection.execute("UPDATE sessions SET used_at = ? WHERE id = ?", (now(), session.id))


def end_session(connection: sqlite3.Connection, session: Session) -> None:
    connection.execute("DELETE FROM sessions WHERE id = ?", (session.id,))


def forget_ended(connection: sqlite3.Connection, *, moment: datetime | None = None) -> int:
    """Removes sessions that have ended; returns how many."""
    at = moment or datetime.now(UTC)
    return connection.execute(
        "DELETE FROM sessions WHERE made_at < ? OR used_at < ?",
        tuple((at - span).isoformat(timespec="milliseconds") for span in (LONGEST, IDLE)),
    ).rowcount


def _id(kept: str) -> str:
    return hashlib.sha256(kept.encode(errors="replace")).hexdigest()
