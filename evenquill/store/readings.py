"""How pages are to be read, and pages that are being read again."""

from __future__ import annotations

import sqlite3
import zlib
from collections.abc import Iterable

import msgspec

from evenquill.core.reading.evidence import PageEvidence
from evenquill.core.reading.preparation import Preparation

EVERY_PAGE = 0

_ENCODER = msgspec.msgpack.Encoder()
_DECODER = msgspec.msgpack.Decoder(PageEvidence)


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
        (zlib.compress(_ENCODER.encode(page), 1), document, page.number),
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
    return [_DECODER.decode(zlib.decompress(row[0])) for row in rows]


def forget(connection: sqlite3.Connection, document: str) -> None:
    connection.execute("DELETE FROM readings_again WHERE document = ?", (document,))
