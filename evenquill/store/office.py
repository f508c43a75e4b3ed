"""The office's own list of words."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable

from evenquill.core.queries.office import ListEntry


def every(connection: sqlite3.Connection) -> list[ListEntry]:
    """All entries by the alphabet."""
    return [
        ListEntry(*row)
        for row in connection.execute("SELECT word, instead FROM office_words ORDER BY word COLLATE NOCASE, word")
    ]


def add(connection: sqlite3.Connection, entries: Iterable[ListEntry]) -> None:
    connection.executemany("INSERT OR REPLACE INTO office_words (word, instead) VALUES (?,?)", list(entries))


def remove(connection: sqlite3.Connection, words: Iterable[str]) -> None:
    connection.executemany("DELETE FROM office_words WHERE word = ?", [(word,) for word in words])
