"""Opening the database: pragmas, numbered migrations, transactions."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib import import_module
from importlib.resources import files
from importlib.resources.abc import Traversable
from pathlib import Path

DATABASE = "evenquill.sqlite3"
_MIGRATION = re.compile(r"m?(\d{4})_\w+\.(?:sql|py)$")

BUSY_MILLISECONDS = 15_000
"""How long a writer waits for another one to finish."""


def connect(folder: Path) -> sqlite3.Connection:
    """A connection to the database in ``folder``, brought up to the newest schema."""
    folder.mkdir(parents=True, exist_ok=True)
    connection = sqlite3.connect(folder / DATABASE, isolation_level=None, check_same_thread=False)
    connection.row_factory = sqlite3.Row
    connection.execute(f"PRAGMA busy_timeout = {BUSY_MILLISECONDS:d}")
    if connection.execute("PRAGMA journal_mode").fetchone()[0] != "wal":
        connection.execute("PRAGMA journal_mode = WAL")
    # An acknowledged edit is on disk.
    connection.execute("PRAGMA synchronous = FULL")
    _migrate(connection)
    connection.execute("PRAGMA foreign_keys = ON")
    return connection


class NewerDatabase(sqlite3.DatabaseError):
    """The database has a schema that this version does not know."""


@contextmanager
def transaction(connection: sqlite3.Connection) -> Iterator[None]:
    """All or nothing of what is done within."""
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        # SQLite has rolled back itself where the disk was full.
        if connection.in_transaction:
            connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")


@contextmanager
def reading(connection: sqlite3.Connection) -> Iterator[None]:
    """What is read within is all of one moment."""
    connection.execute("BEGIN DEFERRED")
    try:
        yield
    finally:
        connection.execute("COMMIT")


def now() -> str:
    """The time as it is stored: UTC, ISO 8601."""
    return datetime.now(UTC).isoformat(timespec="milliseconds")


def _migrate(connection: sqlite3.Connection) -> None:
    """Runs the migrations that this database has not seen, in the order of their numbers, all in one transaction.

    References are not checked meanwhile: tables are made anew under their old names.
    """
    newest = len(_migrations())
    if _version(connection) == newest:
        return
    if _version(connection) > newest:
        raise NewerDatabase("it was written by a newer version of Even Quill")
    with transaction(connection):
        # Another process may have migrated while this one waited for the lock.
        for number, migrate in enumerate(_migrations(), 1):
            if number > _version(connection):
                migrate(connection)
                connection.execute(f"PRAGMA user_version = {number:d}")
        broken = connection.execute("PRAGMA foreign_key_check").fetchone()
        if broken is not None:
            raise sqlite3.IntegrityError(f"the migration left a row of {broken[0]} without what it refers to")


def _version(connection: sqlite3.Connection) -> int:
    return int(connection.execute("PRAGMA user_version").fetchone()[0])


def _migrations() -> list[Callable[[sqlite3.Connection], None]]:
    """In the order of the numbers in their names; SQL, or modules with ``run``."""
    folder = files(__package__) / "migrations"
    named = [(match[1], entry) for entry in folder.iterdir() if (match := _MIGRATION.match(entry.name))]
    return [_migration(entry) for _, entry in sorted(named, key=lambda one: one[0])]


def _migration(entry: Traversable) -> Callable[[sqlite3.Connection], None]:
    if entry.name.endswith(".py"):
        run: Callable[[sqlite3.Connection], None] = import_module(
            f"{__package__}.migrations.{entry.name.removesuffix('.py')}"
        ).run
        return run

    def run_script(connection: sqlite3.Connection) -> None:
        for statement in _statements(entry.read_text(encoding="utf-8")):
            connection.execute(statement)

    return run_script


def _statements(script: str) -> Iterator[str]:
    statement = ""
    for line in script.splitlines(keepends=True):
        statement += line
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""
