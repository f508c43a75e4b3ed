"""Pages as read."""

from __future__ import annotations

import sqlite3
import zlib
from collections.abc import Iterable

import msgspec

from evenquill.core.reading.evidence import PageEvidence

_ENCODER = msgspec.msgpack.Encoder()
_DECODER = msgspec.msgpack.Decoder(PageEvidence)


class PageRow(msgspec.Struct, frozen=True):
    """A page as the in-tray and the ladder show it."""

    number: int
    kind: str
    remark: str


def add(connection: sqlite3.Connection, document: str, page: PageEvidence) -> None:
    """Keeps a page, in the place of an earlier reading of it."""
    remark = " ".join(remark.sentence for remark in page.told())
    connection.execute(
        "INSERT OR REPLACE INTO pages (document, number, kind, remark, seconds, evidence) VALUES (?,?,?,?,?,?)",
        (document, page.number, page.kind.value, remark, page.seconds, zlib.compress(_ENCODER.encode(page), 1)),
    )


def numbers(connection: sqlite3.Connection, document: str) -> set[int]:
    """Numbers of the pages that are read."""
    return {row[0] for row in connection.execute("SELECT number FROM pages WHERE document = ?", (document,))}


def every(connection: sqlite3.Connection, document: str) -> list[PageRow]:
    rows = connection.execute("SELECT number, kind, remark FROM pages WHERE document = ? ORDER BY number", (document,))
    return [PageRow(*row) for row in rows]


def evidence(connection: sqlite3.Connection, document: str, up_to: int | None = None) -> list[PageEvidence]:
    """What was found on the pages, in order; ``up_to`` limits it to the first pages."""
    rows = connection.execute(
        "SELECT evidence FROM pages WHERE document = ? AND number <= ? ORDER BY number",
        (document, up_to if up_to is not None else 1 << 31),
    )
    return [_DECODER.decode(zlib.decompress(row[0])) for row in rows]


def one(connection: sqlite3.Connection, document: str, number: int) -> PageEvidence:
    """What was found on a page; raises KeyError where it is not read."""
    row = connection.execute(
        "SELECT evidence FROM pages WHERE document = ? AND number = ?", (document, number)
    ).fetchone()
    if row is None:
        raise KeyError(number)
    return _DECODER.decode(zlib.decompress(row[0]))


def marks(connection: sqlite3.Connection, document: str, numbers: Iterable[int]) -> dict[int, str]:
    """By page a short mark that is another one when it is read again: what its reading took, to a tenth of a millisecond."""
    wanted = set(numbers)
    rows = connection.execute("SELECT number, seconds FROM pages WHERE document = ?", (document,))
    return {number: f"{seconds:.4f}" for number, seconds in rows if number in wanted}


def forget(connection: sqlite3.Connection, document: str, numbers: Iterable[int] | None = None) -> None:
    """Forgets pages, all of them where none is named."""
    if numbers is None:
        connection.execute("DELETE FROM pages WHERE document = ?", (document,))
    else:
        connection.executemany(
            "DELETE FROM pages WHERE document = ? AND number = ?", [(document, number) for number in numbers]
        )
