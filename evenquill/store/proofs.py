"""Proofs: the blocks of a document in order, its styles and pages, and what the clerk has decided about doubts.

A change is written as the difference between two documents: blocks are values, so what is the same object has not changed. Only
``history`` writes here.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable, Sequence
from typing import NamedTuple

import msgspec
from msgspec.structs import replace

from evenquill.core.model import Block, Document, DoubtKey, PageGeometry, Settled
from evenquill.core.model.document import without
from evenquill.store.database import now

ROOM = 1 << 20
"""Distance of positions; twenty insertions at one place before rows have to be numbered anew."""

STRETCH = 1024
"""Blocks that are compared at once."""

_BLOCK = msgspec.json.Decoder(Block)
_KEY = msgspec.json.Decoder(DoubtKey)
_PAGE = msgspec.json.Decoder(PageGeometry)


class NoProof(KeyError):
    """No page of the document has been read yet."""


class Difference(NamedTuple):
    """``removed`` blocks from place ``at`` on gave way to ``blocks``."""

    at: int
    removed: int
    blocks: tuple[Block, ...]


def difference(before: Document, after: Document) -> Difference:
    """The shortest stretch of blocks that differs."""
    old, new = before.blocks, after.blocks
    shorter = min(len(old), len(new))
    start = _same_in_front(old, new, shorter)
    end = _same_behind(old, new, shorter - start)
    return Difference(start, len(old) - start - end, new[start : len(new) - end])


def _same_in_front(old: Sequence[Block], new: Sequence[Block], limit: int) -> int:
    """How many blocks from the beginning on are the same; stretches of them are compared at once, which takes next to no time."""
    at = 0
    while at < limit and old[at : min(at + STRETCH, limit)] == new[at : min(at + STRETCH, limit)]:
        at += STRETCH
    while at < limit and old[at] is new[at]:
        at += 1
    return min(at, limit)


def _same_behind(old: Sequence[Block], new: Sequence[Block], limit: int) -> int:
    """How many blocks at the end are the same."""
    count = 0
    while count < limit:
        size = min(STRETCH, limit - count)
        old_end, new_end = len(old) - count, len(new) - count
        if old[old_end - size : old_end] != new[new_end - size : new_end]:
            break
        count += size
    while count < limit and old[len(old) - 1 - count] is new[len(new) - 1 - count]:
        count += 1
    return count


def write(connection: sqlite3.Connection, document: str, proof: Document) -> None:
    """Writes a whole proof, in the place of any that there is."""
    connection.execute("DELETE FROM blocks WHERE document = ?", (document,))
    _insert(connection, document, proof.blocks, [(n + 1) * ROOM for n in range(len(proof.blocks))])
    _write_properties(connection, document, proof)
    _write_pages(connection, document, proof.pages)
    connection.execute(
        "UPDATE documents SET language = ?, block_count = ? WHERE id = ?", (proof.language, len(proof.blocks), document)
    )
    connection.execute("DELETE FROM kept_doubts WHERE document = ?", (document,))
    connection.execute("DELETE FROM document_words WHERE document = ?", (document,))
    _write_settled(connection, document, Settled(), proof.settled)


def write_difference(
    connection: sqlite3.Connection, document: str, before: Document, after: Document, change: Difference | None = None
) -> None:
    """Writes what differs between the proof that is stored and another one; it is worked out where it is not given."""
    change = change or difference(before, after)
    old = before.blocks[change.at : change.at + change.removed]
    same = {id(block) for block in old} & {id(block) for block in change.blocks}
    names = {block.id for block in change.blocks}
    connection.executemany(
        "DELETE FROM blocks WHERE document = ? AND id = ?",
        [(document, block.id) for block in old if block.id not in names],
    )
    positions = _positions(connection, document, before, change)
    if positions is None:
        connection.execute("DELETE FROM blocks WHERE document = ?", (document,))
        _insert(connection, document, after.blocks, [(n + 1) * ROOM for n in range(len(after.blocks))])
    else:
        pairs = list(zip(change.blocks, positions, strict=True))
        connection.executemany(
            "UPDATE blocks SET position = ? WHERE document = ? AND id = ?",
            [(position, document, block.id) for block, position in pairs if id(block) in same],
        )
        fresh = [(block, position) for block, position in pairs if id(block) not in same]
        _insert(connection, document, [block for block, _ in fresh], [position for _, position in fresh])
    if len(after.blocks) != len(before.blocks):
        connection.execute("UPDATE documents SET block_count = ? WHERE id = ?", (len(after.blocks), document))
    if any(
        getattr(after, part) is not getattr(before, part) for part in ("styles", "sections", "running", "stand_ins")
    ):
        _write_properties(connection, document, after)
    _write_settled(connection, document, before.settled, after.settled)


def _write_properties(connection: sqlite3.Connection, document: str, proof: Document) -> None:
    properties = replace(proof, blocks=(), pages=(), settled=Settled())
    connection.execute(
        "UPDATE documents SET properties = ?, changed_at = ? WHERE id = ?",
        (msgspec.json.encode(properties), now(), document),
    )


def _write_pages(connection: sqlite3.Connection, document: str, pages: Sequence[PageGeometry]) -> None:
    connection.execute("DELETE FROM page_geometry WHERE document = ?", (document,))
    connection.executemany(
        "INSERT INTO page_geometry (document, number, label, body) VALUES (?,?,?,?)",
        [(document, number, page.label, msgspec.json.encode(page)) for number, page in enumerate(pages, 1)],
    )


def _write_settled(connection: sqlite3.Connection, document: str, before: Settled, after: Settled) -> None:
    """Writes decisions that were added, and takes out those that are gone."""
    if after is before:
        return
    kept, words = (before.kept, after.kept), (before.words, after.words)
    for table, column, gone, come in (
        ("kept_doubts", "doubt", _encoded(without(*kept)), _encoded(without(*reversed(kept)))),
        ("document_words", "word", without(*words), without(*reversed(words))),
    ):
        connection.executemany(
            f"DELETE FROM {table} WHERE document = ? AND {column} = ?", [(document, one) for one in gone]
        )
        last = connection.execute(f"SELECT max(position) FROM {table} WHERE document = ?", (document,)).fetchone()[0]
        first = 0 if last is None else last + 1
        connection.executemany(
            f"INSERT INTO {table} (document, position, {column}) VALUES (?,?,?)",
            [(document, first + n, one) for n, one in enumerate(come)],
        )


def _encoded(keys: Iterable[DoubtKey]) -> list[bytes]:
    return [msgspec.json.encode(key) for key in keys]


def read(connection: sqlite3.Connection, document: str) -> Document:
    """The whole proof. Raises NoProof where there is none yet."""
    rows = connection.execute("SELECT body FROM blocks WHERE document = ? ORDER BY position", (document,))
    blocks = tuple(_BLOCK.decode(row[0]) for row in rows)
    pages = connection.execute("SELECT body FROM page_geometry WHERE document = ? ORDER BY number", (document,))
    return replace(
        properties(connection, document),
        blocks=blocks,
        pages=tuple(_PAGE.decode(row[0]) for row in pages),
        settled=settled(connection, document),
    )


def properties(connection: sqlite3.Connection, document: str) -> Document:
    """The proof without its blocks, its pages and what is settled. Raises NoProof where there is none yet."""
    row = connection.execute("SELECT properties FROM documents WHERE id = ?", (document,)).fetchone()
    if row is None or row[0] is None:
        raise NoProof(document)
    return msgspec.json.decode(row[0], type=Document)


def page_geometry(connection: sqlite3.Connection, document: str, numbers: Iterable[int]) -> dict[int, PageGeometry]:
    """Some pages of the source by number; those that are not there are left out."""
    query = "SELECT body FROM page_geometry WHERE document = ? AND number = ?"
    rows = {number: connection.execute(query, (document, number)).fetchone() for number in numbers}
    return {number: _PAGE.decode(row[0]) for number, row in rows.items() if row is not None}


def page_labels(connection: sqlite3.Connection, document: str) -> dict[int, str]:
    """The numbers that are printed on the pages of the source."""
    rows = connection.execute("SELECT number, label FROM page_geometry WHERE document = ?", (document,))
    return {row[0]: row[1] for row in rows}


def settled(connection: sqlite3.Connection, document: str) -> Settled:
    """What the clerk has decided about doubts."""
    kept = connection.execute("SELECT doubt FROM kept_doubts WHERE document = ? ORDER BY position", (document,))
    words = connection.execute("SELECT word FROM document_words WHERE document = ? ORDER BY position", (document,))
    return Settled(tuple(_KEY.decode(row[0]) for row in kept), tuple(row[0] for row in words))


def window(connection: sqlite3.Connection, document: str, start: int, count: int) -> list[tuple[int, msgspec.Raw]]:
    """The blocks from place ``start`` as JSON, each with the page that it begins on (0 for none)."""
    rows = connection.execute(
        "SELECT page, body FROM blocks WHERE document = ? ORDER BY position LIMIT ? OFFSET ?", (document, count, start)
    )
    return [(row[0], msgspec.Raw(row[1])) for row in rows]


def count(connection: sqlite3.Connection, document: str) -> int:
    """How many blocks a document has; 0 where there is no such document."""
    row = connection.execute("SELECT block_count FROM documents WHERE id = ?", (document,)).fetchone()
    return int(row[0]) if row is not None else 0


def first_rows(connection: sqlite3.Connection, document: str) -> dict[int, int]:
    """For each page of the source the place of its first block."""
    rows = connection.execute("SELECT page FROM blocks WHERE document = ? ORDER BY position", (document,))
    places: dict[int, int] = {}
    for place, row in enumerate(rows):
        if row[0]:
            places.setdefault(row[0], place)
    return places


def _positions(connection: sqlite3.Connection, document: str, before: Document, change: Difference) -> list[int] | None:
    """Positions for the new blocks between their neighbours', None where there is no room left."""

    def position(place: int) -> int | None:
        if not 0 <= place < len(before.blocks):
            return None
        row = connection.execute(
            "SELECT position FROM blocks WHERE document = ? AND id = ?", (document, before.blocks[place].id)
        ).fetchone()
        return int(row[0])

    low = position(change.at - 1)
    high = position(change.at + change.removed)
    low = low if low is not None else 0
    number = len(change.blocks)
    if high is None:
        return [low + (n + 1) * ROOM for n in range(number)]
    step = (high - low) // (number + 1)
    return [low + (n + 1) * step for n in range(number)] if step > 0 else None


def _insert(connection: sqlite3.Connection, document: str, blocks: Sequence[Block], positions: Sequence[int]) -> None:
    connection.executemany(
        """INSERT INTO blocks (document, id, position, page, body) VALUES (?,?,?,?,?)
           ON CONFLICT (document, id) DO UPDATE SET position = excluded.position, page = excluded.page, body = excluded.body""",
        [
            (
                document,
                block.id,
                position,
                block.spots[0].page if block.spots else 0,
                msgspec.json.encode(block),
            )
            for block, position in zip(blocks, positions, strict=True)
        ],
    )
