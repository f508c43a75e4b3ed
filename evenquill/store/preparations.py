"""How pages are to be read, as the clerk chose."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Mapping

import msgspec

from evenquill.core.reading.preparation import Preparation

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


def set_all(connection: sqlite3.Connection, document: str, chosen: Mapping[int, Preparation]) -> None:
    """Puts choices in the place of all that there are."""
    connection.execute("DELETE FROM preparations WHERE document = ?", (document,))
    for number, preparation in chosen.items():
        choose(connection, document, [number], preparation)


def take_over(connection: sqlite3.Connection, document: str, into: str, before: int, pages: int) -> None:
    """Gives what was chosen for the pages of a document to another one, where ``before`` pages come before them."""
    chosen = choices(connection, document)
    for number in range(1, pages + 1):
        preparation = chosen.get(number) or chosen.get(EVERY_PAGE)
        if preparation is not None:
            choose(connection, into, [before + number], preparation)
