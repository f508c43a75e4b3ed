"""What was seen when documents were looked back at."""

from __future__ import annotations

import sqlite3

import msgspec

from evenquill.core.looking_back import LookedBack

_ENCODER = msgspec.msgpack.Encoder()
_DECODER = msgspec.msgpack.Decoder(LookedBack)


def write(connection: sqlite3.Connection, document: str, seen: LookedBack) -> None:
    connection.execute(
        "INSERT OR REPLACE INTO looked_back (document, body) VALUES (?,?)", (document, _ENCODER.encode(seen))
    )


def read(connection: sqlite3.Connection, document: str) -> LookedBack | None:
    """None for a document that was not looked back at yet."""
    row = connection.execute("SELECT body FROM looked_back WHERE document = ?", (document,)).fetchone()
    return _DECODER.decode(row[0]) if row is not None else None
