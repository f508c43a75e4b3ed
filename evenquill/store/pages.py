"""Pages as read."""

from __future__ import annotations

import sqlite3
import zlib
from collections.abc import Iterable

import msgspec

from evenquill.core.reading.evidence import PageEvidence

_ENCODER = msgspec.msgpack.Encoder()
_DECODER = msgspec.msgpack.Decoder(PageEvidence)


def packed(page: PageEvidence) -> bytes:
    """A page's evidence as it is stored: compressed MessagePack."""
    return zlib.compress(_ENCODER.encode(page), 1)


def unpacked(data: bytes) -> PageEvidence:
    """The evidence from its stored form."""
    return _DECODER.decode(zlib.decompress(data))


class PageRow(msgspec.Struct, frozen=True):
    """A page as the in-tray and the ladder show it."""

    number: int
    kind: str
    remark: str


def add(connection: sqlite3.Connection, document: str, page: PageEvidence) -> None:
    """Keeps a page, in the place of an earlier reading of it."""
    remark = " ".join(remark.sentence for remark in page.told())
    data = packed(page)
    connection.execute(
        """INSERT OR REPLACE INTO pages (document, number, kind, remark, seconds, reading, evidence)
           VALUES (?,?,?,?,?,?,?)""",
        (document, page.number, page.kind.value, remark, page.seconds, zlib.crc32(data), data),
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
    return [unpacked(row[0]) for row in rows]


def one(connection: sqlite3.Connection, document: str, number: int) -> PageEvidence:
    """What was found on a page; raises KeyError where it is not read."""
    row = connection.execute(
        "SELECT evidence FROM pages WHERE document = ? AND number = ?", (document, number)
    ).fetchone()
    if row is None:
        raise KeyError(number)
    return unpacked(row[0])


def readings(connection: sqlite3.Connection, document: str, numbers: Iterable[int]) -> dict[int, int]:
    """By page a number that is another one whenever the page is read again or comes to stand in another place."""
    wanted = set(numbers)
    rows = connection.execute("SELECT number, reading FROM pages WHERE document = ?", (document,))
    return {number: reading for number, reading in rows if number in wanted}


def forget(connection: sqlite3.Connection, document: str, numbers: Iterable[int] | None = None) -> None:
    """Forgets pages, all of them where none is named."""
    if numbers is None:
        connection.execute("DELETE FROM pages WHERE document = ?", (document,))
    else:
        connection.executemany(
            "DELETE FROM pages WHERE document = ? AND number = ?", [(document, number) for number in numbers]
        )
