"""Documents in the in-tray: what is known of each, and the states that they go through."""

from __future__ import annotations

import sqlite3
from enum import StrEnum

import msgspec

from evenquill.core.document_state import CORRECTABLE, DocumentState, Event, after
from evenquill.core.source import SourceFacts
from evenquill.store.database import now


class NoDocument(KeyError):
    """There is no document of this id, or it is deleted."""


class Needs(StrEnum):
    """What a stopped document waits for from the clerk."""

    NOTHING = ""
    PASSWORD = "password"
    RIGHTS = "rights"


class DocumentRow(msgspec.Struct, frozen=True):
    """A document as the in-tray shows it. Times are UTC, ISO 8601; ``source`` is the SHA-256 of its (first) file.

    ``sized_up`` says in words what kind of pages it has, ``producer`` what made the file; ``busy`` is the kind of job that is being done
    for it beside its first reading; ``again`` pages are being read again, of which ``again_read`` are done; ``stage`` says what is being
    done meanwhile; ``open_queries`` counts doubts that are open.
    """

    id: str
    name: str
    source: str
    size: int
    route: str
    state: DocumentState
    needs: Needs
    problem: str
    kind: str
    sized_up: str
    producer: str
    language: str
    page_count: int
    files: int
    busy: str
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
    coalesce(j.kind, '') AS busy,
    coalesce(json_array_length(CAST(j.payload AS TEXT), '$.pages'), 0) AS again,
    (SELECT count(*) FROM job_pages a WHERE a.job = j.number) AS again_read,
    (SELECT count(*) FROM pages p WHERE p.document = d.id) AS pages_read, d.stage,
    (SELECT count(*) FROM queries q WHERE q.document = d.id AND q.counted = 1 AND q.left = 0) AS open_queries,
    d.revision, d.preview, d.arrived_at, d.changed_at
"""
_TABLES = """
    documents d LEFT JOIN jobs j ON j.number = (
        SELECT min(k.number) FROM jobs k
        WHERE k.document = d.id AND k.state IN ('waiting', 'running') AND k.kind IN ('read again', 'reorder'))
"""


def _row(row: sqlite3.Row) -> DocumentRow:
    return msgspec.convert(dict(row), DocumentRow, strict=False)


def add(connection: sqlite3.Connection, *, id: str, name: str, source: str, size: int, route: str) -> None:
    """A new document, waiting to be read."""
    moment = now()
    connection.execute(
        "INSERT INTO documents (id, name, source, size, route, state, arrived_at, changed_at) VALUES (?,?,?,?,?,?,?,?)",
        (id, name, source, size, route, DocumentState.WAITING.value, moment, moment),
    )


def get(connection: sqlite3.Connection, document: str) -> DocumentRow:
    """The document; raises NoDocument where there is none or it is deleted."""
    found = connection.execute(
        f"SELECT {_COLUMNS} FROM {_TABLES} WHERE d.id = ? AND d.deleted_at IS NULL", (document,)
    ).fetchone()
    if found is None:
        raise NoDocument(document)
    return _row(found)


def every(connection: sqlite3.Connection) -> list[DocumentRow]:
    """All documents that are not deleted, newest first."""
    rows = connection.execute(
        f"SELECT {_COLUMNS} FROM {_TABLES} WHERE d.deleted_at IS NULL ORDER BY d.arrived_at DESC, d.rowid DESC"
    )
    return [_row(row) for row in rows]


def with_source(connection: sqlite3.Connection, source: str) -> list[DocumentRow]:
    """Documents made from this file that are not deleted."""
    return [document for document in every(connection) if document.source == source]


def rename(connection: sqlite3.Connection, document: str, name: str) -> None:
    connection.execute("UPDATE documents SET name = ?, changed_at = ? WHERE id = ?", (name, now(), document))


def transition(
    connection: sqlite3.Connection, document: str, event: Event, *, needs: Needs = Needs.NOTHING, problem: str = ""
) -> DocumentState:
    """Takes the document to the state that an event leads to; ``needs`` and ``problem`` say why where it cannot go on.

    Raises TransitionRefused where the event cannot happen in its state, KeyError where there is no such document. Call it within a
    transaction, so that the state does not change between looking and writing.
    """
    row = connection.execute("SELECT state FROM documents WHERE id = ?", (document,)).fetchone()
    if row is None:
        raise NoDocument(document)
    state = after(DocumentState(row[0]), event)
    connection.execute(
        "UPDATE documents SET state = ?, needs = ?, problem = ?, stage = '', changed_at = ? WHERE id = ?",
        (state.value, needs.value, problem, now(), document),
    )
    return state


def set_problem(connection: sqlite3.Connection, document: str, problem: str) -> None:
    """Says what went wrong with a document that stays in its state."""
    connection.execute("UPDATE documents SET problem = ?, stage = '' WHERE id = ?", (problem, document))


def set_preview(connection: sqlite3.Connection, document: str, preview: bool) -> None:
    """Whether the proof is one of the first pages only."""
    connection.execute("UPDATE documents SET preview = ? WHERE id = ?", (int(preview), document))


def is_correctable(row: DocumentRow) -> bool:
    """Whether the proof is whole and can be changed and delivered."""
    return row.state in CORRECTABLE and not row.preview


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


def delete(connection: sqlite3.Connection, document: str, *, joined_into: str = "") -> None:
    """Takes the document out of the in-tray; ``restore`` brings it back until ``purge``."""
    connection.execute(
        "UPDATE documents SET deleted_at = ?, joined_into = ? WHERE id = ?", (now(), joined_into, document)
    )


def restore(connection: sqlite3.Connection, document: str) -> None:
    connection.execute("UPDATE documents SET deleted_at = NULL, joined_into = '' WHERE id = ?", (document,))


def is_deleted(connection: sqlite3.Connection, document: str) -> bool:
    """Whether a document is deleted, and not yet forgotten. Raises KeyError where there is none."""
    row = connection.execute("SELECT deleted_at FROM documents WHERE id = ?", (document,)).fetchone()
    if row is None:
        raise NoDocument(document)
    return row[0] is not None


def deleted(connection: sqlite3.Connection) -> list[str]:
    """When the documents were deleted that can still be restored; those that were joined into one that is there are not counted."""
    rows = connection.execute(
        """SELECT deleted_at FROM documents d WHERE deleted_at IS NOT NULL AND NOT EXISTS
             (SELECT 1 FROM documents w WHERE w.id = d.joined_into AND w.deleted_at IS NULL)"""
    )
    return [row[0] for row in rows]


def joined_into(connection: sqlite3.Connection, whole: str) -> list[str]:
    """The documents that were joined into another one, in the order of its files."""
    rows = connection.execute(
        """SELECT d.id FROM documents d WHERE d.joined_into = ?
           ORDER BY (SELECT min(p.position) FROM parts p WHERE p.document = ? AND p.source = d.source), d.rowid""",
        (whole, whole),
    )
    return [row[0] for row in rows]


def purge(connection: sqlite3.Connection, before: str) -> list[str]:
    """Forgets what was deleted before a time; returns the ids. What belongs to a document that is there (joined into it) stays."""
    rows = connection.execute(
        """DELETE FROM documents WHERE deleted_at < ? AND NOT EXISTS
             (SELECT 1 FROM documents w WHERE w.id = documents.joined_into AND w.deleted_at IS NULL)
           RETURNING id""",
        (before,),
    )
    return [row[0] for row in rows.fetchall()]


def new_ids(connection: sqlite3.Connection, document: str) -> int:
    """The number from which new ids are given."""
    row = connection.execute("SELECT next_id FROM documents WHERE id = ?", (document,)).fetchone()
    if row is None:
        raise NoDocument(document)
    return int(row[0])
