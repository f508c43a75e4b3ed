"""Pages as read."""

from __future__ import annotations

import sqlite3
import zlib

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
    remark = " ".join(remark.sentence for remark in page.remarks)
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


def forget(connection: sqlite3.Connection, document: str) -> None:
    connection.execute("DELETE FROM pages WHERE document = ?", (document,))
