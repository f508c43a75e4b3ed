"""Documents in the in-tray: what is known of each, and the states that they go through."""

from __future__ import annotations

import sqlite3
from enum import StrEnum

import msgspec

from evenquill.core.source import SourceFacts
from evenquill.store.database import now


class State(StrEnum):
    WAITING = "waiting"
    READING = "reading"
    TO_CORRECT = "to correct"
    READY = "ready"
    DELIVERED = "delivered"
    STOPPED = "stopped"


class Needs(StrEnum):
    """What a stopped document waits for from the clerk."""

    NOTHING = ""
    PASSWORD = "password"
    RIGHTS = "rights"


class DocumentRow(msgspec.Struct, frozen=True):
    """A document as the in-tray shows it. Times are UTC, ISO 8601; ``source`` is the SHA-256 of its (first) file.

    ``sized_up`` says in words what kind of pages it has, ``producer`` what made the file; ``again`` pages are being read again, of which
    ``again_read`` are done; ``stage`` says what is being done while it is read; ``open_queries`` counts doubts that are open.
    """

    id: str
    name: str
    source: str
    size: int
    route: str
    state: State
    needs: Needs
    problem: str
    kind: str
    sized_up: str
    producer: str
    language: str
    page_count: int
    files: int
    again: int
    again_read: int
    pages_read: int
    stage: str
    open_queries: int
    revision: int
    preview: bool
    arrived_at: str
    changed_at: str


_COLUMNS = """
    d.id, d.name, d.source, d.size, d.route, d.state, d.needs, d.problem, d.kind, d.sized_up,
    coalesce(json_extract(CAST(d.facts AS TEXT), '$.producer'), '') AS producer,
    d.language, d.page_count,
    (SELECT count(*) FROM parts q WHERE q.document = d.id) AS files,
    (SELECT count(*) FROM readings_again a WHERE a.document = d.id) AS again,
    (SELECT count(*) FROM readings_again a WHERE a.document = d.id AND a.evidence IS NOT NULL) AS again_read,
    (SELECT count(*) FROM pages p WHERE p.document = d.id) AS pages_read, d.stage,
    (SELECT count(*) FROM queries q WHERE q.document = d.id AND q.counted = 1 AND q.left = 0) AS open_queries,
    d.revision, d.preview, d.arrived_at, d.changed_at
"""


def _row(row: sqlite3.Row) -> DocumentRow:
    return msgspec.convert(dict(row), DocumentRow, strict=False)


def add(connection: sqlite3.Connection, *, id: str, name: str, source: str, size: int, route: str) -> None:
    """A new document, waiting to be read."""
    moment = now()
    connection.execute(
        "INSERT INTO documents (id, name, source, size, route, state, arrived_at, changed_at) VALUES (?,?,?,?,?,?,?,?)",
        (id, name, source, size, route, State.WAITING.value, moment, moment),
    )


def get(connection: sqlite3.Connection, document: str) -> DocumentRow:
    """The document; raises KeyError where there is none or it is deleted."""
    found = connection.execute(
        f"SELECT {_COLUMNS} FROM documents d WHERE d.id = ? AND d.deleted_at IS NULL", (document,)
    ).fetchone()
    if found is None:
        raise KeyError(document)
    return _row(found)


def every(connection: sqlite3.Connection) -> list[DocumentRow]:
    """All documents that are not deleted, newest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM documents d WHERE d.deleted_at IS NULL ORDER BY d.arrived_at DESC, d.rowid DESC"
    )
    return [_row(row) for row in rows]


def with_source(connection: sqlite3.Connection, source: str) -> list[DocumentRow]:
    """Documents made from this file that are not deleted."""
    return [document for document in every(connection) if document.source == source]


def rename(connection: sqlite3.Connection, document: str, name: str) -> None:
    connection.execute("UPDATE documents SET name = ?, changed_at = ? WHERE id = ?", (name, now(), document))


def set_state(
    connection: sqlite3.Connection, document: str, state: State, *, needs: Needs = Needs.NOTHING, problem: str = ""
) -> None:
    """The document's state, with what it needs and what went wrong where it is stopped."""
    connection.execute(
        "UPDATE documents SET state = ?, needs = ?, problem = ?, stage = '', changed_at = ? WHERE id = ?",
        (state.value, needs.value, problem, now(), document),
    )


def set_stage(connection: sqlite3.Connection, document: str, stage: str) -> None:
    """What is being done with the document, in words; a new state clears it."""
    connection.execute("UPDATE documents SET stage = ? WHERE id = ?", (stage, document))


def set_kind(connection: sqlite3.Connection, document: str, kind: str, sized_up: str) -> None:
    """Native, scanned or mixed; and what more is to be said of it."""
    connection.execute("UPDATE documents SET kind = ?, sized_up = ? WHERE id = ?", (kind, sized_up, document))


def confirm_rights(connection: sqlite3.Connection, document: str) -> None:
    connection.execute("UPDATE documents SET rights_confirmed = 1 WHERE id = ?", (document,))


def rights_confirmed(connection: sqlite3.Connection, document: str) -> bool:
    row = connection.execute("SELECT rights_confirmed FROM documents WHERE id = ?", (document,)).fetchone()
    return bool(row and row[0])


def has_whole_proof(connection: sqlite3.Connection, document: str) -> bool:
    """Whether all pages were read and rebuilt once."""
    row = connection.execute("SELECT revision > 0 AND preview = 0 FROM documents WHERE id = ?", (document,)).fetchone()
    return bool(row and row[0])


def set_facts(connection: sqlite3.Connection, document: str, facts: SourceFacts) -> None:
    connection.execute(
        "UPDATE documents SET facts = ?, page_count = ? WHERE id = ?",
        (msgspec.json.encode(facts), facts.pages, document),
    )


def facts(connection: sqlite3.Connection, document: str) -> SourceFacts | None:
    """What the source says of itself, None before it was examined."""
    row = connection.execute("SELECT facts FROM documents WHERE id = ?", (document,)).fetchone()
    return msgspec.json.decode(row[0], type=SourceFacts) if row and row[0] is not None else None


def delete(connection: sqlite3.Connection, document: str) -> None:
    """Takes the document out of the in-tray; ``restore`` brings it back until ``purge``."""
    connection.execute("UPDATE documents SET deleted_at = ? WHERE id = ?", (now(), document))


def restore(connection: sqlite3.Connection, document: str) -> None:
    connection.execute("UPDATE documents SET deleted_at = NULL WHERE id = ?", (document,))


def purge(connection: sqlite3.Connection, before: str) -> int:
    """Forgets what was deleted before a time; returns how many documents that were."""
    return connection.execute("DELETE FROM documents WHERE deleted_at < ?", (before,)).rowcount
