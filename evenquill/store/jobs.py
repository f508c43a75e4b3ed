"""Reading jobs: what is to be read, in the order of asking. They outlive the server."""

from __future__ import annotations

import sqlite3

from evenquill.store.database import now


def queue(connection: sqlite3.Connection, document: str) -> None:
    """Asks for the document to be read, unless that is asked already."""
    connection.execute(
        """INSERT INTO jobs (document, state, queued_at) SELECT ?, 'waiting', ?
           WHERE NOT EXISTS (SELECT 1 FROM jobs WHERE document = ? AND state IN ('waiting', 'running'))""",
        (document, now(), document),
    )


def take(connection: sqlite3.Connection) -> tuple[int, str] | None:
    """The next job, now running: its number and document."""
    row = connection.execute(
        """UPDATE jobs SET state = 'running' WHERE number =
             (SELECT j.number FROM jobs j JOIN documents d ON d.id = j.document
              WHERE j.state = 'waiting' AND d.deleted_at IS NULL ORDER BY j.number LIMIT 1)
           RETURNING number, document"""
    ).fetchone()
    return (row[0], row[1]) if row else None


def end(connection: sqlite3.Connection, number: int, state: str) -> None:
    """Ends a job as done, failed or cancelled."""
    connection.execute("UPDATE jobs SET state = ?, ended_at = ? WHERE number = ?", (state, now(), number))


def cancel(connection: sqlite3.Connection, document: str) -> None:
    connection.execute(
        "UPDATE jobs SET state = 'cancelled', ended_at = ? WHERE document = ? AND state IN ('waiting', 'running')",
        (now(), document),
    )


def is_cancelled(connection: sqlite3.Connection, number: int) -> bool:
    row = connection.execute("SELECT state FROM jobs WHERE number = ?", (number,)).fetchone()
    return row is None or row[0] == "cancelled"


def resume(connection: sqlite3.Connection) -> int:
    """After a restart: what was running waits again. Returns how many jobs that were."""
    return connection.execute("UPDATE jobs SET state = 'waiting' WHERE state = 'running'").rowcount
