"""The history of a document: the one way in which its proof changes, and the only place that gives revisions.

Each change has a number that only grows, and says what it was made of, by whom and when. A step (an edit, or a reading again, a new order
of files, a joining) can be undone and done again; undo and redo are changes themselves. Optimistic concurrency: whoever commits says which
revision the change was made of, and is refused if the document has moved on (Fowler 2002, Optimistic Offline Lock).
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from enum import StrEnum
from typing import NamedTuple

import msgspec

from evenquill.core.edits import Operation, Undoing
from evenquill.core.model import Document
from evenquill.store import proofs
from evenquill.store.database import now
from evenquill.store.documents import NoDocument
from evenquill.store.proofs import Difference

_OPERATION = msgspec.json.Decoder(Operation)
_INVERSE = msgspec.json.Decoder(tuple[Undoing, ...])


class StaleRevision(Exception):
    """The change was made of a revision that is no longer the newest."""


class ChangeKind(StrEnum):
    """What a change was."""

    READ = "read"
    PREVIEW = "preview"
    """The proof of the first pages, while the others are read."""
    EDIT = "edit"
    UNDO = "undo"
    REDO = "redo"
    READ_AGAIN = "read again"
    REORDER = "reorder"
    JOIN = "join"
    RESTORE = "restore"
    """The document was deleted, and brought back."""


STEPS = frozenset({ChangeKind.EDIT, ChangeKind.READ_AGAIN, ChangeKind.REORDER, ChangeKind.JOIN})
"""Changes that undo takes back."""

CLERK = "clerk"
READING = "reading"
"""Who made a change: a clerk, or the part of the machine that reads."""


class Status(StrEnum):
    """Of a step: whether it stands, was undone, or was undone and something else was done in its place."""

    DONE = "done"
    UNDONE = "undone"
    SUPERSEDED = "superseded"


class Cost(NamedTuple):
    """What a step settled: queries, of these kept as they were; and characters typed by hand."""

    settled: int = 0
    kept: int = 0
    typed: int = 0


class Change(NamedTuple):
    """A change to commit. ``target`` is the step that an undo or redo is for; edits have their operation, the number from which new ids
    were given, and their inverse."""

    kind: ChangeKind
    actor: str = CLERK
    target: int | None = None
    operation: Operation | None = None
    first_id: int | None = None
    inverse: tuple[Undoing, ...] | None = None
    cost: Cost = Cost()


class Step(NamedTuple):
    """A step of the history: its number, what it was, and for edits what was done and what undoes it."""

    number: int
    kind: ChangeKind
    operation: Operation | None
    first_id: int
    inverse: tuple[Undoing, ...]


def revision(connection: sqlite3.Connection, document: str) -> int:
    """The newest revision, 0 before anything was read. Raises KeyError where there is no such document, or it is deleted."""
    row = connection.execute(
        "SELECT revision FROM documents WHERE id = ? AND deleted_at IS NULL", (document,)
    ).fetchone()
    if row is None:
        raise NoDocument(document)
    return int(row[0])


def commit(
    connection: sqlite3.Connection,
    document: str,
    expected: int,
    change: Change,
    write: Callable[[], None],
    *,
    next_id: int | None = None,
) -> int:
    """Makes a change of the revision ``expected`` and returns the new one; ``write`` writes the proof, ``next_id`` is where ids go on.

    Call it within a transaction. Raises StaleRevision if the document has moved on, KeyError where it is gone.
    """
    if revision(connection, document) != expected:
        raise StaleRevision
    number = expected + 1
    write()
    connection.execute(
        """UPDATE documents SET revision = ?, next_id = max(next_id, ?), changed_at = ? WHERE id = ?""",
        (number, next_id or 0, now(), document),
    )
    is_step = change.kind in STEPS
    if is_step:
        # What was undone before can no longer be done again.
        connection.execute(
            "UPDATE changes SET status = 'superseded' WHERE document = ? AND status = 'undone'", (document,)
        )
    if change.target is not None:
        status = Status.UNDONE if change.kind is ChangeKind.UNDO else Status.DONE
        connection.execute(
            "UPDATE changes SET status = ? WHERE document = ? AND number = ?", (status.value, document, change.target)
        )
    connection.execute(
        """INSERT INTO changes (document, number, parent, kind, actor, made_at, target, status, operation, first_id, inverse,
                                settled, kept, typed) VALUES (?,?,?,?,?,?,?,?,?,?,?,?,?,?)""",
        (
            document,
            number,
            expected,
            change.kind.value,
            change.actor,
            now(),
            change.target,
            Status.DONE.value if is_step else None,
            msgspec.json.encode(change.operation) if change.operation is not None else None,
            change.first_id,
            msgspec.json.encode(change.inverse) if change.inverse is not None else None,
            *change.cost,
        ),
    )
    return number


def commit_edit(
    connection: sqlite3.Connection,
    document: str,
    expected: int,
    change: Change,
    before: Document,
    after: Document,
    difference: Difference | None = None,
    next_id: int | None = None,
) -> int:
    """Makes a change that turned one document into another, and writes the difference, which is worked out where it is not given."""
    return commit(
        connection,
        document,
        expected,
        change,
        lambda: proofs.write_difference(connection, document, before, after, difference),
        next_id=next_id,
    )


def mark(connection: sqlite3.Connection, document: str, kind: ChangeKind, actor: str = CLERK) -> int:
    """Notes that something happened to a document that left its proof as it was."""
    return commit(connection, document, revision(connection, document), Change(kind, actor), lambda: None)


def last_done(connection: sqlite3.Connection, document: str) -> Step | None:
    """The step that undo takes back."""
    return _step(connection, document, "status = 'done' ORDER BY number DESC")


def first_undone(connection: sqlite3.Connection, document: str) -> Step | None:
    """The step that redo does again."""
    return _step(connection, document, "status = 'undone' ORDER BY number")


def _step(connection: sqlite3.Connection, document: str, which: str) -> Step | None:
    row = connection.execute(
        f"SELECT number, kind, operation, first_id, inverse FROM changes WHERE document = ? AND {which} LIMIT 1",
        (document,),
    ).fetchone()
    return _decoded(row) if row else None


def _decoded(row: sqlite3.Row) -> Step:
    return Step(
        row[0],
        ChangeKind(row[1]),
        _OPERATION.decode(row[2]) if row[2] is not None else None,
        row[3] or 0,
        _INVERSE.decode(row[4]) if row[4] is not None else (),
    )


def edits_done(connection: sqlite3.Connection, document: str) -> list[Step]:
    """All edits that stand, in order."""
    rows = connection.execute(
        """SELECT number, kind, operation, first_id, inverse FROM changes
           WHERE document = ? AND status = 'done' AND kind = 'edit' ORDER BY number""",
        (document,),
    )
    return [_decoded(row) for row in rows]


class Listed(msgspec.Struct, frozen=True):
    """A change as it is told: its number, what it was, by whom and when, whether it stands, and the operation of an edit."""

    number: int
    kind: ChangeKind
    actor: str
    made_at: str
    status: Status | None
    operation: Operation | None


def listed(connection: sqlite3.Connection, document: str) -> list[Listed]:
    """All changes of a document, in order."""
    rows = connection.execute(
        "SELECT number, kind, actor, made_at, status, operation FROM changes WHERE document = ? ORDER BY number",
        (document,),
    )
    return [
        Listed(
            number,
            ChangeKind(kind),
            actor,
            made_at,
            Status(status) if status else None,
            _OPERATION.decode(operation) if operation is not None else None,
        )
        for number, kind, actor, made_at, status, operation in rows
    ]


def changes_by_actor(connection: sqlite3.Connection, document: str) -> dict[str, int]:
    """How often each person changed the document, the most often first; what the machine read is not counted."""
    rows = connection.execute(
        """SELECT actor, count(*) FROM changes WHERE document = ? AND actor <> ? GROUP BY actor ORDER BY count(*) DESC, actor""",
        (document, READING),
    )
    return dict(rows.fetchall())


def set_inverse(connection: sqlite3.Connection, document: str, number: int, inverse: tuple[Undoing, ...]) -> None:
    """Keeps what undoes a step that was done again."""
    connection.execute(
        "UPDATE changes SET inverse = ? WHERE document = ? AND number = ?",
        (msgspec.json.encode(inverse), document, number),
    )


def directions(connection: sqlite3.Connection, document: str) -> tuple[bool, bool]:
    """Whether there is something to undo, and something to redo."""
    row = connection.execute(
        """SELECT EXISTS (SELECT 1 FROM changes WHERE document = ?1 AND status = 'done'),
                  EXISTS (SELECT 1 FROM changes WHERE document = ?1 AND status = 'undone')""",
        (document,),
    ).fetchone()
    return bool(row[0]), bool(row[1])
