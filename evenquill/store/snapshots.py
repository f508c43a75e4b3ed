"""Whole documents as they were at a change: the base of merges, and what undo and redo of steps that are no edits put back."""

from __future__ import annotations

import sqlite3
import zlib
from enum import StrEnum

import msgspec

from evenquill.core.model import Document
from evenquill.core.queries import Query
from evenquill.core.reading.preparation import Preparation
from evenquill.core.source import SourceFacts


class Part(msgspec.Struct, frozen=True):
    """A file of a document: its SHA-256, its name, and what is known of it once it was examined."""

    source: str
    name: str
    facts: SourceFacts | None = None


class Snapshot(msgspec.Struct, frozen=True, omit_defaults=True):
    """A document with what it was made of: by page number the reading that stands for it, the files in order, how pages were to be read;
    and the queries on it."""

    document: Document
    readings: dict[int, int] = {}
    parts: tuple[Part, ...] = ()
    preparations: dict[int, Preparation] = {}
    queries: tuple[Query, ...] = ()


class Role(StrEnum):
    READ = "read"
    """As it was read, before anybody corrected it."""
    BEFORE = "before"
    AFTER = "after"


_ENCODER = msgspec.msgpack.Encoder()
_DECODER = msgspec.msgpack.Decoder(Snapshot)


def packed_snapshot(snapshot: Snapshot) -> bytes:
    return zlib.compress(_ENCODER.encode(snapshot), 1)


def keep(connection: sqlite3.Connection, document: str, number: int, role: Role, snapshot: Snapshot) -> None:
    connection.execute(
        "INSERT OR REPLACE INTO snapshots (document, number, role, body) VALUES (?,?,?,?)",
        (document, number, role.value, packed_snapshot(snapshot)),
    )


def get(connection: sqlite3.Connection, document: str, number: int, role: Role) -> Snapshot:
    """The snapshot of a change; raises KeyError where there is none."""
    row = connection.execute(
        "SELECT body FROM snapshots WHERE document = ? AND number = ? AND role = ?", (document, number, role.value)
    ).fetchone()
    if row is None:
        raise KeyError(number)
    return _DECODER.decode(zlib.decompress(row[0]))


def as_read(connection: sqlite3.Connection, document: str) -> Document | None:
    """The document as the reading that stands now gave it, None where that was not kept."""
    row = connection.execute(
        """SELECT s.body FROM snapshots s JOIN changes c ON c.document = s.document AND c.number = s.number
           WHERE s.document = ? AND s.role = 'read' AND coalesce(c.status, 'done') = 'done'
           ORDER BY s.number DESC LIMIT 1""",
        (document,),
    ).fetchone()
    return _DECODER.decode(zlib.decompress(row[0])).document if row else None
