"""Opening the database: pragmas, numbered migrations, transactions."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib.resources import files
from pathlib import Path

DATABASE = "evenquill.sqlite3"
BUSY_MILLISECONDS = 15_000
"""How long a writer waits for another one to finish."""


def connect(folder: Path) -> sqlite3.Connection:
    """A connection to the database in ``folder``, brought up to the newest schema."""
    folder.mkdir(parents=True, exist_ok=True)
    connection = sqlite3.connect(folder / DATABASE, isolation_level=None, check_same_thread=False)
    connection.row_factory = sqlite3.Row
    connection.execute(f"PRAGMA busy_timeout = {BUSY_MILLISECONDS:d}")
    connection.execute("PRAGMA journal_mode = WAL")
    # An acknowledged edit is on disk.
    connection.execute("PRAGMA synchronous = FULL")
    connection.execute("PRAGMA foreign_keys = ON")
    _migrate(connection)
    return connection


@contextmanager
def transaction(connection: sqlite3.Connection) -> Iterator[None]:
    """All or nothing of what is done within."""
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")


def now() -> str:
    """The time as it is stored: UTC, ISO 8601."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def _migrate(connection: sqlite3.Connection) -> None:
    """Runs the migrations that this database has not seen, in the order of their numbers, each in one transaction."""
    if _version(connection) >= len(_migrations()):
        return
    with transaction(connection):
        # Another process may have migrated while this one waited for the lock.
        for number, script in enumerate(_migrations(), 1):
            if number > _version(connection):
                for statement in _statements(script):
                    connection.execute(statement)
                connection.execute(f"PRAGMA user_version = {number:d}")


def _version(connection: sqlite3.Connection) -> int:
    return int(connection.execute("PRAGMA user_version").fetchone()[0])


def _migrations() -> list[str]:
    folder = files(__package__) / "migrations"
    scripts = sorted((entry for entry in folder.iterdir() if entry.name.endswith(".sql")), key=lambda entry: entry.name)
    return [script.read_text(encoding="utf-8") for script in scripts]


def _statements(script: str) -> Iterator[str]:
    statement = ""
    for line in script.splitlines(keepends=True):
        statement += line
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""
