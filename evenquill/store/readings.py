"""How pages are to be read, and pages that are being read again."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping

import msgspec

from evenquill.core.reading.evidence import PageEvidence
from evenquill.core.reading.preparation import Preparation
from evenquill.store.pages import packed, unpacked

EVERY_PAGE = 0


def choose(connection: sqlite3.Connection, document: str, numbers: Iterable[int], preparation: Preparation) -> None:
    """Sets how pages are to be read; EVERY_PAGE sets it for all and forgets what was chosen for single ones."""
    wanted = list(numbers)
    if EVERY_PAGE in wanted:
        connection.execute("DELETE FROM preparations WHERE document = ?", (document,))
    connection.executemany(
        "INSERT OR REPLACE INTO preparations (document, number, choices) VALUES (?,?,?)",
        [(document, number, msgspec.json.encode(preparation)) for number in wanted],
    )


def choices(connection: sqlite3.Connection, document: str) -> dict[int, Preparation]:
    """By page number what was chosen."""
    rows = connection.execute("SELECT number, choices FROM preparations WHERE document = ?", (document,))
    return {number: msgspec.json.decode(chosen, type=Preparation) for number, chosen in rows}


def take_over(connection: sqlite3.Connection, document: str, numbers: Mapping[int, int], into: str) -> None:
    """Gives what was chosen for pages of a document to pages of another, or of the same: ``numbers`` are new ones by old ones."""
    chosen = choices(connection, document)
    if into == document:
        connection.execute("DELETE FROM preparations WHERE document = ? AND number <> ?", (document, EVERY_PAGE))
    for old, new in numbers.items():
        preparation = chosen.get(old) or (chosen.get(EVERY_PAGE) if into != document else None)
        if preparation is not None:
            choose(connection, into, [new], preparation)


def ask_again(connection: sqlite3.Connection, document: str, numbers: Iterable[int]) -> None:
    """Asks for pages to be read again."""
    connection.executemany(
        "INSERT OR REPLACE INTO readings_again (document, number, evidence) VALUES (?,?,NULL)",
        [(document, number) for number in numbers],
    )


def keep(connection: sqlite3.Connection, document: str, page: PageEvidence) -> None:
    """Keeps the new reading of a page until all are there."""
    connection.execute(
        "UPDATE readings_again SET evidence = ? WHERE document = ? AND number = ?",
        (packed(page), document, page.number),
    )


def waiting(connection: sqlite3.Connection, document: str) -> list[int]:
    """Pages that are still to be read again."""
    rows = connection.execute(
        "SELECT number FROM readings_again WHERE document = ? AND evidence IS NULL ORDER BY number", (document,)
    )
    return [row[0] for row in rows]


def done(connection: sqlite3.Connection, document: str) -> list[PageEvidence]:
    """The new readings, in order."""
    rows = connection.execute(
        "SELECT evidence FROM readings_again WHERE document = ? AND evidence IS NOT NULL ORDER BY number", (document,)
    )
    return [unpacked(row[0]) for row in rows]


def forget(connection: sqlite3.Connection, document: str) -> None:
    connection.execute("DELETE FROM readings_again WHERE document = ?", (document,))
