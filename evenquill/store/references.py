"""Which files the database refers to."""

from __future__ import annotations

import re
import sqlite3
import zlib

from evenquill.core.pictures import pictures_named

_PICTURE = re.compile(rb"[0-9a-f]{64}")
"""Pictures are called by the SHA-256 of their bytes, wherever they are named."""


def sources(connection: sqlite3.Connection) -> set[str]:
    """Sources (SHA-256) of all documents."""
    return {row[0] for row in connection.execute("SELECT source FROM parts UNION SELECT source FROM documents")}


def deliveries(connection: sqlite3.Connection) -> set[str]:
    return {row[0] for row in connection.execute("SELECT id FROM deliveries")}


def pictures(connection: sqlite3.Connection) -> set[str]:
    """Pictures in proofs, histories and readings, those that undo may bring back too."""
    found: set[str] = set()
    for query in (
        "SELECT body FROM blocks",
        "SELECT operation FROM changes WHERE operation IS NOT NULL",
        "SELECT inverse FROM changes WHERE inverse IS NOT NULL",
        "SELECT cleaned FROM page_readings WHERE cleaned IS NOT NULL",
    ):
        for row in connection.execute(query):
            found.update(name.decode() for name in _PICTURE.findall(row[0]))
    for query in ("SELECT evidence FROM page_readings", "SELECT body FROM snapshots"):
        for row in connection.execute(query):
            found.update(name.decode() for name in _PICTURE.findall(zlib.decompress(row[0])))
    return found


def pictures_of_proofs(connection: sqlite3.Connection) -> set[str]:
    """Pictures that stand in documents as they are now."""
    bodies = connection.execute("SELECT body FROM blocks WHERE instr(body, '\"picture\"')")
    return {name for row in bodies for name in pictures_named(row[0])}
