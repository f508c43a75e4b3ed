"""Proofs: the blocks of a document in order, its operations, undo and redo.

A change is written as the difference between two documents: blocks are values, so what is the same object has not changed.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Sequence
from typing import NamedTuple

import msgspec
from msgspec.structs import replace

from evenquill.core.edits import Operation, Undoing
from evenquill.core.model import Block, Document
from evenquill.store.database import now

ROOM = 1 << 20
"""Distance of positions; twenty insertions at one place before rows have to be numbered anew."""

_BLOCK = msgspec.json.Decoder(Block)
_OPERATION = msgspec.json.Decoder(Operation)
_INVERSE = msgspec.json.Decoder(tuple[Undoing, ...])


class Difference(NamedTuple):
    """``removed`` blocks from place ``at`` on gave way to ``blocks``."""

    at: int
    removed: int
    blocks: tuple[Block, ...]


def difference(before: Document, after: Document) -> Difference:
    """The shortest stretch of blocks that differs."""
    old, new = before.blocks, after.blocks
    start = 0
    while start < min(len(old), len(new)) and old[start] is new[start]:
        start += 1
    end = 0
    while end < min(len(old), len(new)) - start and old[-1 - end] is new[-1 - end]:
        end += 1
    return Difference(start, len(old) - start - end, new[start : len(new) - end])


def write(connection: sqlite3.Connection, document: str, proof: Document, *, preview: bool = False) -> None:
    """Writes a whole proof, in the place of any that there is; its revision is 1, its history empty."""
    connection.execute("DELETE FROM blocks WHERE document = ?", (document,))
    connection.execute("DELETE FROM operations WHERE document = ?", (document,))
    _insert(connection, document, proof.blocks, [(n + 1) * ROOM for n in range(len(proof.blocks))])
    connection.execute(
        "UPDATE documents SET properties = ?, revision = 1, preview = ?, language = ?, changed_at = ? WHERE id = ?",
        (msgspec.json.encode(replace(proof, blocks=())), int(preview), proof.language, now(), document),
    )


def read(connection: sqlite3.Connection, document: str) -> Document:
    """The whole proof. Raises KeyError where there is none yet."""
    rows = connection.execute("SELECT body FROM blocks WHERE document = ? ORDER BY position", (document,))
    blocks = tuple(_BLOCK.decode(row[0]) for row in rows)
    return replace(properties(connection, document), blocks=blocks)


def properties(connection: sqlite3.Connection, document: str) -> Document:
    """The proof without its blocks. Raises KeyError where there is none yet."""
    row = connection.execute("SELECT properties FROM documents WHERE id = ?", (document,)).fetchone()
    if row is None or row[0] is None:
        raise KeyError(document)
    return msgspec.json.decode(row[0], type=Document)


def window(connection: sqlite3.Connection, document: str, start: int, count: int) -> list[tuple[int, msgspec.Raw]]:
    """The blocks from place ``start`` as JSON, each with the page that it begins on (0 for none)."""
    rows = connection.execute(
        "SELECT page, body FROM blocks WHERE document = ? ORDER BY position LIMIT ? OFFSET ?", (document, count, start)
    )
    return [(row[0], msgspec.Raw(row[1])) for row in rows]


def count(connection: sqlite3.Connection, document: str) -> int:
    return int(connection.execute("SELECT count(*) FROM blocks WHERE document = ?", (document,)).fetchone()[0])


def has_columns(connection: sqlite3.Connection, document: str) -> bool:
    """Whether a block stands beside another."""
    query = "SELECT EXISTS (SELECT 1 FROM blocks INDEXED BY blocks_in_columns WHERE document = ? AND columns > 1)"
    return bool(connection.execute(query, (document,)).fetchone()[0])


def first_rows(connection: sqlite3.Connection, document: str) -> dict[int, int]:
    """For each page of the source the place of its first block."""
    rows = connection.execute("SELECT page FROM blocks WHERE document = ? ORDER BY position", (document,))
    places: dict[int, int] = {}
    for place, row in enumerate(rows):
        if row[0]:
            places.setdefault(row[0], place)
    return places


def write_change(connection: sqlite3.Connection, document: str, before: Document, after: Document) -> int:
    """Writes what differs and returns the new revision."""
    change = difference(before, after)
    old = before.blocks[change.at : change.at + change.removed]
    kept = {id(block) for block in old} & {id(block) for block in change.blocks}
    connection.executemany(
        "DELETE FROM blocks WHERE document = ? AND id = ?",
        [(document, block.id) for block in old if id(block) not in kept],
    )
    positions = _positions(connection, document, before, change)
    if positions is None:
        connection.execute("DELETE FROM blocks WHERE document = ?", (document,))
        _insert(connection, document, after.blocks, [(n + 1) * ROOM for n in range(len(after.blocks))])
    else:
        pairs = list(zip(change.blocks, positions, strict=True))
        connection.executemany(
            "UPDATE blocks SET position = ? WHERE document = ? AND id = ?",
            [(position, document, block.id) for block, position in pairs if id(block) in kept],
        )
        fresh = [(block, position) for block, position in pairs if id(block) not in kept]
        _insert(connection, document, [block for block, _ in fresh], [position for _, position in fresh])
    if (after.styles, after.settled) != (before.styles, before.settled):
        connection.execute(
            "UPDATE documents SET properties = ? WHERE id = ?",
            (msgspec.json.encode(replace(after, blocks=())), document),
        )
    row = connection.execute(
        "UPDATE documents SET revision = revision + 1, changed_at = ? WHERE id = ? RETURNING revision",
        (now(), document),
    ).fetchone()
    return int(row[0])


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
        "INSERT INTO blocks (document, id, position, page, columns, body) VALUES (?,?,?,?,?,?)",
        [
            (
                document,
                block.id,
                position,
                block.spots[0].page if block.spots else 0,
                block.columns,
                msgspec.json.encode(block),
            )
            for block, position in zip(blocks, positions, strict=True)
        ],
    )


class Cost(NamedTuple):
    """What an operation settled: queries, of these kept as they were; and characters typed by hand."""

    settled: int = 0
    kept: int = 0
    typed: int = 0


NOTHING = Cost()


def add_operation(
    connection: sqlite3.Connection,
    document: str,
    operation: Operation,
    inverse: tuple[Undoing, ...],
    cost: Cost = NOTHING,
) -> None:
    """Adds to the history; what was undone before can no longer be redone."""
    connection.execute("DELETE FROM operations WHERE document = ? AND undone = 1", (document,))
    connection.execute(
        """INSERT INTO operations (document, operation, inverse, made_at, settled, kept, typed) VALUES (?,?,?,?,?,?,?)""",
        (document, msgspec.json.encode(operation), msgspec.json.encode(inverse), now(), *cost),
    )


class Step(NamedTuple):
    """An operation of the history."""

    number: int
    operation: Operation
    inverse: tuple[Undoing, ...]


def last_done(connection: sqlite3.Connection, document: str) -> Step | None:
    """The operation that undo takes back."""
    return _step(connection, document, "undone = 0 ORDER BY number DESC")


def first_undone(connection: sqlite3.Connection, document: str) -> Step | None:
    """The operation that redo does again."""
    return _step(connection, document, "undone = 1 ORDER BY number")


def _step(connection: sqlite3.Connection, document: str, which: str) -> Step | None:
    row = connection.execute(
        f"SELECT number, operation, inverse FROM operations WHERE document = ? AND {which} LIMIT 1", (document,)
    ).fetchone()
    return Step(row[0], _OPERATION.decode(row[1]), _INVERSE.decode(row[2])) if row else None


def done(connection: sqlite3.Connection, document: str) -> list[Step]:
    """All operations that stand, in order."""
    rows = connection.execute(
        "SELECT number, operation, inverse FROM operations WHERE document = ? AND undone = 0 ORDER BY number",
        (document,),
    )
    return [Step(row[0], _OPERATION.decode(row[1]), _INVERSE.decode(row[2])) for row in rows]


def mark(connection: sqlite3.Connection, number: int, *, undone: bool) -> None:
    connection.execute("UPDATE operations SET undone = ? WHERE number = ?", (int(undone), number))


def set_inverse(connection: sqlite3.Connection, number: int, inverse: tuple[Undoing, ...]) -> None:
    connection.execute("UPDATE operations SET inverse = ? WHERE number = ?", (msgspec.json.encode(inverse), number))


def history(connection: sqlite3.Connection, document: str) -> tuple[bool, bool]:
    """Whether there is something to undo, and something to redo."""
    row = connection.execute(
        "SELECT sum(undone = 0), sum(undone = 1) FROM operations WHERE document = ?", (document,)
    ).fetchone()
    return bool(row[0]), bool(row[1])
