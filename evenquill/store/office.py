"""What holds for the whole office: its own list of words, the typefaces that stand for others, and the looks that it keeps."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Sequence

import msgspec

from evenquill.core.model import ResolvedStyle, StandIn
from evenquill.core.queries.office import ListEntry

_STYLES = msgspec.json.Decoder(tuple[ResolvedStyle, ...])


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


def stand_ins(connection: sqlite3.Connection) -> tuple[StandIn, ...]:
    """The typefaces that stand for others in every document, by the alphabet."""
    return tuple(StandIn(*row) for row in connection.execute("SELECT name, stands FROM stand_ins ORDER BY name"))


def set_stand_in(connection: sqlite3.Connection, one: StandIn) -> None:
    """Says which typeface stands for another; "" leaves that to the application."""
    if one.stands:
        connection.execute("INSERT OR REPLACE INTO stand_ins (name, stands) VALUES (?,?)", (one.name, one.stands))
    else:
        connection.execute("DELETE FROM stand_ins WHERE name = ?", (one.name,))


def looks(connection: sqlite3.Connection) -> list[str]:
    """The names of the looks that the office keeps, by the alphabet."""
    return [name for (name,) in connection.execute("SELECT name FROM office_looks ORDER BY name")]


def look(connection: sqlite3.Connection, name: str) -> tuple[ResolvedStyle, ...] | None:
    """The styles of a look, None where there is none of that name."""
    row = connection.execute("SELECT styles FROM office_looks WHERE name = ?", (name,)).fetchone()
    return _STYLES.decode(row[0]) if row else None


def keep_look(connection: sqlite3.Connection, name: str, styles: Sequence[ResolvedStyle]) -> None:
    """Keeps styles under a name, in the place of those that were kept under it."""
    connection.execute(
        "INSERT OR REPLACE INTO office_looks (name, styles) VALUES (?,?)", (name, msgspec.json.encode(styles).decode())
    )


def drop_look(connection: sqlite3.Connection, name: str) -> None:
    connection.execute("DELETE FROM office_looks WHERE name = ?", (name,))
