"""The files that a document is made of."""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence

import msgspec

from evenquill.core.source import SourceFacts


class Part(msgspec.Struct, frozen=True):
    """A file of a document: its place from 0, SHA-256, name, and what is known of it once it was examined."""

    position: int
    source: str
    name: str
    facts: SourceFacts | None = None


def add(connection: sqlite3.Connection, document: str, files: Sequence[tuple[str, str]]) -> None:
    """The files (SHA-256, name) of a new document, in order."""
    connection.executemany(
        "INSERT INTO parts (document, position, source, name) VALUES (?,?,?,?)",
        [(document, n, source, name) for n, (source, name) in enumerate(files)],
    )


def every(connection: sqlite3.Connection, document: str) -> list[Part]:
    rows = connection.execute(
        "SELECT position, source, name, facts FROM parts WHERE document = ? ORDER BY position", (document,)
    )
    return [
        Part(position, source, name, msgspec.json.decode(facts, type=SourceFacts) if facts is not None else None)
        for position, source, name, facts in rows
    ]


def set_facts(connection: sqlite3.Connection, document: str, position: int, facts: SourceFacts) -> None:
    connection.execute(
        "UPDATE parts SET facts = ? WHERE document = ? AND position = ?",
        (msgspec.json.encode(facts), document, position),
    )


def reorder(connection: sqlite3.Connection, document: str, order: Sequence[int]) -> None:
    """Puts the parts into another order: ``order`` names their present places. Raises ValueError if it does not name each once."""
    known = every(connection, document)
    if sorted(order) != [part.position for part in known]:
        raise ValueError(order)
    connection.execute("DELETE FROM parts WHERE document = ?", (document,))
    connection.executemany(
        "INSERT INTO parts (document, position, source, name, facts) VALUES (?,?,?,?,?)",
        [
            (
                document,
                n,
                known[old].source,
                known[old].name,
                msgspec.json.encode(known[old].facts) if known[old].facts else None,
            )
            for n, old in enumerate(order)
        ],
    )
    connection.execute("UPDATE documents SET source = ? WHERE id = ?", (known[order[0]].source, document))
