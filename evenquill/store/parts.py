"""The files that a document is made of."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence

import msgspec

from evenquill.core.source import SourceFacts
from evenquill.store.snapshots import Part


def set_all(connection: sqlite3.Connection, document: str, files: Sequence[Part]) -> None:
    """The files of a document, in order."""
    connection.execute("DELETE FROM parts WHERE document = ?", (document,))
    connection.executemany(
        "INSERT INTO parts (document, position, source, name, facts) VALUES (?,?,?,?,?)",
        [
            (document, n, part.source, part.name, msgspec.json.encode(part.facts) if part.facts else None)
            for n, part in enumerate(files)
        ],
    )
    if files:
        connection.execute("UPDATE documents SET source = ? WHERE id = ?", (files[0].source, document))


def every(connection: sqlite3.Connection, document: str) -> list[Part]:
    rows = connection.execute("SELECT source, name, facts FROM parts WHERE document = ? ORDER BY position", (document,))
    return [
        Part(source, name, msgspec.json.decode(facts, type=SourceFacts) if facts is not None else None)
        for source, name, facts in rows
    ]


def set_facts(connection: sqlite3.Connection, document: str, position: int, facts: SourceFacts) -> None:
    connection.execute(
        "UPDATE parts SET facts = ? WHERE document = ? AND position = ?",
        (msgspec.json.encode(facts), document, position),
    )
