"""Jobs: what is to be done in the background, kind by kind. They outlive the server.

A runner takes the oldest of the highest priority and holds it by a lease; one whose lease has run out is taken again. Only who holds the
lease may end it or write what it made.
"""

from __future__ import annotations

import sqlite3
from datetime import UTC, datetime, timedelta
from enum import StrEnum

import msgspec

from evenquill.core.evidence import PageEvidence
from evenquill.core.reading.preparation import Preparation
from evenquill.store import pages
from evenquill.store.database import now


class JobKind(StrEnum):
    READ = "read"
    """The first reading of a document, or the rest of it."""
    READ_AGAIN = "read again"
    REORDER = "reorder"
    WORD_SHAPES = "word shapes"
    LOOK_BACK = "look back"


PRIORITIES = {
    JobKind.REORDER: 20,
    JobKind.READ_AGAIN: 10,
    JobKind.READ: 10,
    JobKind.WORD_SHAPES: 0,
    JobKind.LOOK_BACK: 0,
}

BEHIND = tuple(kind for kind, priority in PRIORITIES.items() if not priority)
"""Kinds of jobs that give way to all others of their document, after which they are asked for again."""

LEASE = timedelta(seconds=60)


class JobState(StrEnum):
    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    CANCELLED = "cancelled"


class Payload(msgspec.Struct, frozen=True, omit_defaults=True):
    """What a job needs to know: ``pages`` to read again, and how, if not as was chosen for them before (``every_page`` if that is to hold
    for the whole document); ``places`` (from 0) of the files in the order wanted; ``actor``, who asked for it."""

    pages: tuple[int, ...] = ()
    every_page: bool = False
    preparation: Preparation | None = None
    places: tuple[int, ...] = ()
    actor: str = ""


class Job(msgspec.Struct, frozen=True):
    """A job as it was taken; ``tries`` counts this one."""

    number: int
    kind: JobKind
    document: str
    payload: Payload
    tries: int


def queue(connection: sqlite3.Connection, document: str, kind: JobKind, payload: Payload | None = None) -> int | None:
    """Asks for a job, unless one of the kind waits or runs for the document already; returns its number. What goes on behind gives way."""
    if kind not in BEHIND:
        cancel(connection, document, BEHIND)
    row = connection.execute(
        """INSERT INTO jobs (kind, document, payload, priority, state, queued_at) SELECT ?, ?, ?, ?, 'waiting', ?
           WHERE NOT EXISTS (SELECT 1 FROM jobs WHERE document = ? AND kind = ? AND state IN ('waiting', 'running'))
           RETURNING number""",
        (
            kind.value,
            document,
            msgspec.json.encode(payload) if payload else None,
            PRIORITIES[kind],
            now(),
            document,
            kind.value,
        ),
    ).fetchone()
    return int(row[0]) if row else None


def take(connection: sqlite3.Connection, owner: str) -> Job | None:
    """The next job, now running and held by ``owner``; documents that have one running already wait for its end."""
    row = connection.execute(
        """UPDATE jobs SET state = 'running', owner = ?, lease_until = ?, tries = tries + 1 WHERE number =
             (SELECT j.number FROM jobs j JOIN documents d ON d.id = j.document
              WHERE d.deleted_at IS NULL
                AND (j.state = 'waiting' OR (j.state = 'running' AND j.lease_until < ?))
                AND NOT EXISTS (SELECT 1 FROM jobs o WHERE o.document = j.document AND o.number <> j.number
                                AND o.state = 'running' AND o.lease_until >= ?)
              ORDER BY j.priority DESC, j.number LIMIT 1)
           RETURNING number, kind, document, payload, tries""",
        (owner, _lease_end(), now(), now()),
    ).fetchone()
    if row is None:
        return None
    payload = msgspec.json.decode(row[3], type=Payload) if row[3] is not None else Payload()
    return Job(row[0], JobKind(row[1]), row[2], payload, row[4])


def renew(connection: sqlite3.Connection, owner: str) -> None:
    """Holds all jobs of an owner for longer."""
    connection.execute("UPDATE jobs SET lease_until = ? WHERE owner = ? AND state = 'running'", (_lease_end(), owner))


def is_held(connection: sqlite3.Connection, number: int, owner: str) -> bool:
    """Whether a job still runs and is the owner's: it may have been cancelled, or taken by another."""
    row = connection.execute("SELECT state, owner FROM jobs WHERE number = ?", (number,)).fetchone()
    return row is not None and row[0] == JobState.RUNNING and row[1] == owner


def end(connection: sqlite3.Connection, number: int, owner: str, state: JobState, problem: str = "") -> None:
    """Ends a job that the owner holds, or lets it wait again; what was cancelled meanwhile stays so."""
    connection.execute(
        """UPDATE jobs SET state = ?, problem = ?, ended_at = ?, owner = '', lease_until = NULL
           WHERE number = ? AND state = 'running' AND owner = ?""",
        (state.value, problem, now(), number, owner),
    )
    _drop_pages(connection)


def cancel(connection: sqlite3.Connection, document: str, kinds: tuple[JobKind, ...] = tuple(JobKind)) -> int:
    """Cancels what waits or runs for a document; returns how many jobs that were."""
    marks = ",".join("?" * len(kinds))
    cancelled = connection.execute(
        f"""UPDATE jobs SET state = 'cancelled', ended_at = ? WHERE document = ? AND state IN ('waiting', 'running')
            AND kind IN ({marks})""",
        (now(), document, *(kind.value for kind in kinds)),
    ).rowcount
    _drop_pages(connection)
    return cancelled


def _drop_pages(connection: sqlite3.Connection) -> None:
    """Lets go of the pages that jobs kept which have ended, and of readings that nobody took over."""
    kept = connection.execute(
        """DELETE FROM job_pages WHERE job IN (SELECT number FROM jobs WHERE state IN ('done', 'failed', 'cancelled'))
           RETURNING reading"""
    ).fetchall()
    connection.executemany(
        """DELETE FROM page_readings WHERE id = ?1 AND NOT EXISTS (SELECT 1 FROM pages WHERE reading = ?1)""",
        [(row[0],) for row in kept],
    )


def waiting_kinds(connection: sqlite3.Connection, document: str) -> set[JobKind]:
    """Kinds of jobs that wait or run for a document."""
    rows = connection.execute(
        "SELECT kind FROM jobs WHERE document = ? AND state IN ('waiting', 'running')", (document,)
    )
    return {JobKind(row[0]) for row in rows}


def release(connection: sqlite3.Connection, owner: str) -> int:
    """At the start of a server: what another one held that is gone waits again. Returns how many jobs that were."""
    return connection.execute(
        "UPDATE jobs SET state = 'waiting', owner = '', lease_until = NULL WHERE state = 'running' AND owner <> ?",
        (owner,),
    ).rowcount


def keep_page(connection: sqlite3.Connection, job: Job, page: PageEvidence) -> None:
    """Keeps a page that a job has read until all its pages are there."""
    reading = pages.add_reading(connection, job.document, page)
    connection.execute(
        "INSERT OR REPLACE INTO job_pages (job, number, reading) VALUES (?,?,?)", (job.number, page.number, reading)
    )


def kept_pages(connection: sqlite3.Connection, number: int) -> dict[int, int]:
    """By page number the readings that a job has kept."""
    return dict(connection.execute("SELECT number, reading FROM job_pages WHERE job = ?", (number,)).fetchall())


def _lease_end() -> str:
    return (datetime.now(UTC) + LEASE).isoformat(timespec="milliseconds")


def counts(connection: sqlite3.Connection) -> tuple[int, int]:
    """How many jobs wait, and how many are being done."""
    row = connection.execute(
        "SELECT coalesce(sum(state = 'waiting'), 0), coalesce(sum(state = 'running'), 0) FROM jobs"
    ).fetchone()
    return int(row[0]), int(row[1])
