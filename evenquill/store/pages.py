"""Pages as read: which reading stands for each page, and what was found in it. Readings are never changed, and kept."""

from __future__ import annotations

import sqlite3
import zlib
from collections.abc import Iterable, Mapping
from typing import NamedTuple

import msgspec
from msgspec.structs import replace

from evenquill.core.evidence import Cleaned, PageEvidence

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


class PageHead(NamedTuple):
    """What drawing needs to know of a page: its size in points, how it was cleaned, None where it was read from the file's own text, and by
    how many quarter turns clockwise it was turned then."""

    width: float
    height: float
    cleaned: Cleaned | None
    turn: int


def add(connection: sqlite3.Connection, document: str, page: PageEvidence) -> int:
    """Keeps a reading of a page and lets it stand for the page; returns its number."""
    reading = add_reading(connection, document, page)
    connection.execute(
        "INSERT OR REPLACE INTO pages (document, number, reading) VALUES (?,?,?)", (document, page.number, reading)
    )
    return reading


def add_reading(connection: sqlite3.Connection, document: str, page: PageEvidence) -> int:
    """Keeps a reading of a page without letting it stand for the page; returns its number."""
    row = connection.execute(
        """INSERT INTO page_readings (document, kind, remark, seconds, width, height, cleaned, turn, evidence)
           VALUES (?,?,?,?,?,?,?,?,?) RETURNING id""",
        (
            document,
            page.kind.value,
            " ".join(remark.sentence for remark in page.page_remarks()),
            page.seconds,
            page.width,
            page.height,
            msgspec.json.encode(page.cleaned) if page.cleaned else None,
            page.turn,
            packed(page),
        ),
    ).fetchone()
    return int(row[0])


def numbers(connection: sqlite3.Connection, document: str) -> set[int]:
    """Numbers of the pages that are read."""
    return {row[0] for row in connection.execute("SELECT number FROM pages WHERE document = ?", (document,))}


_READ = "FROM pages p JOIN page_readings r ON r.id = p.reading WHERE p.document = ?"


def every(connection: sqlite3.Connection, document: str) -> list[PageRow]:
    rows = connection.execute(f"SELECT p.number, r.kind, r.remark {_READ} ORDER BY p.number", (document,))
    return [PageRow(*row) for row in rows]


def evidence(connection: sqlite3.Connection, document: str, up_to: int | None = None) -> list[PageEvidence]:
    """What was found on the pages, in order; ``up_to`` limits it to the first pages."""
    rows = connection.execute(
        f"SELECT p.number, r.evidence {_READ} AND p.number <= ? ORDER BY p.number",
        (document, up_to if up_to is not None else 1 << 31),
    )
    return [replace(unpacked(row[1]), number=row[0]) for row in rows]


def evidence_of(connection: sqlite3.Connection, readings: Mapping[int, int]) -> list[PageEvidence]:
    """What was found in readings, in the order of the numbers of the pages that they are to stand for."""
    out = []
    for number in sorted(readings):
        row = connection.execute("SELECT evidence FROM page_readings WHERE id = ?", (readings[number],)).fetchone()
        out.append(replace(unpacked(row[0]), number=number))
    return out


def one(connection: sqlite3.Connection, document: str, number: int) -> PageEvidence:
    """What was found on a page; raises KeyError where it is not read."""
    row = connection.execute(f"SELECT r.evidence {_READ} AND p.number = ?", (document, number)).fetchone()
    if row is None:
        raise KeyError(number)
    return replace(unpacked(row[0]), number=number)


def head(connection: sqlite3.Connection, document: str, number: int) -> PageHead:
    """What drawing needs to know of a page; raises KeyError where it is not read."""
    row = connection.execute(
        f"SELECT r.width, r.height, r.cleaned, r.turn {_READ} AND p.number = ?", (document, number)
    ).fetchone()
    if row is None:
        raise KeyError(number)
    return PageHead(row[0], row[1], msgspec.json.decode(row[2], type=Cleaned) if row[2] is not None else None, row[3])


def readings(connection: sqlite3.Connection, document: str, numbers: Iterable[int] | None = None) -> dict[int, int]:
    """By page the number of the reading that stands for it: another one whenever the page is read again or changes its place."""
    if numbers is None:
        return dict(connection.execute("SELECT number, reading FROM pages WHERE document = ?", (document,)).fetchall())
    query = "SELECT number, reading FROM pages WHERE document = ? AND number = ?"
    found = (connection.execute(query, (document, number)).fetchone() for number in numbers)
    return {row[0]: row[1] for row in found if row is not None}


def set_readings(connection: sqlite3.Connection, document: str, readings: Mapping[int, int]) -> None:
    """Lets readings stand for the pages of these numbers, and none for any other page."""
    connection.execute("DELETE FROM pages WHERE document = ?", (document,))
    connection.executemany(
        "INSERT INTO pages (document, number, reading) VALUES (?,?,?)",
        [(document, number, reading) for number, reading in readings.items()],
    )


def forget(connection: sqlite3.Connection, document: str, numbers: Iterable[int]) -> None:
    """Lets nothing stand for pages, so that they are read anew."""
    connection.executemany(
        "DELETE FROM pages WHERE document = ? AND number = ?", [(document, number) for number in numbers]
    )


def take_over(connection: sqlite3.Connection, document: str, into: str, before: int) -> None:
    """Copies the readings of a document's pages to another one, where ``before`` pages come before them."""
    for number, reading in readings(connection, document).items():
        row = connection.execute(
            """INSERT INTO page_readings (document, kind, remark, seconds, width, height, cleaned, turn, evidence)
               SELECT ?, kind, remark, seconds, width, height, cleaned, turn, evidence FROM page_readings WHERE id = ?
               RETURNING id""",
            (into, reading),
        ).fetchone()
        connection.execute(
            "INSERT INTO pages (document, number, reading) VALUES (?,?,?)", (into, before + number, row[0])
        )
