"""What was delivered, when, and from which revision."""

from __future__ import annotations

import sqlite3

import msgspec

from evenquill.store.database import now


class Delivery(msgspec.Struct, frozen=True):
    id: str
    document: str
    format: str
    file_name: str
    revision: int
    size: int
    made_at: str
    actor: str
    """Who delivered it."""


def add(
    connection: sqlite3.Connection,
    *,
    id: str,
    document: str,
    format: str,
    file_name: str,
    revision: int,
    size: int,
    actor: str,
) -> Delivery:
    delivery = Delivery(id, document, format, file_name, revision, size, now(), actor)
    connection.execute(
        "INSERT INTO deliveries (id, document, format, file_name, revision, size, made_at, actor) VALUES (?,?,?,?,?,?,?,?)",
        msgspec.structs.astuple(delivery),
    )
    return delivery


def every(connection: sqlite3.Connection, document: str) -> list[Delivery]:
    """Deliveries of a document, newest first."""
    rows = connection.execute(
        "SELECT * FROM deliveries WHERE document = ? ORDER BY made_at DESC, rowid DESC", (document,)
    )
    return [msgspec.convert(dict(row), Delivery) for row in rows]


def get(connection: sqlite3.Connection, delivery: str) -> Delivery | None:
    """One delivery, None where there is none."""
    row = connection.execute("SELECT * FROM deliveries WHERE id = ?", (delivery,)).fetchone()
    return msgspec.convert(dict(row), Delivery) if row is not None else None
