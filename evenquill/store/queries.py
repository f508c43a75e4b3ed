"""Queries of a document as they stand, and what of its history settled some."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterable

import msgspec

from evenquill.core.queries import Query, kinds

_QUERY = msgspec.json.Decoder(Query)


class QueryCounts(msgspec.Struct, frozen=True):
    """Of the queries that count: still open, left for later; settled so far, of these kept as they were; characters typed by hand."""

    open: int = 0
    left: int = 0
    settled: int = 0
    kept: int = 0
    typed: int = 0


def write(connection: sqlite3.Connection, document: str, queries: Iterable[Query]) -> None:
    """Puts queries in the place of all that there are; those that were left for later and come again stay so."""
    fresh = list(queries)
    kept = {query.id for query in fresh}
    old = [row[0] for row in connection.execute("SELECT id FROM queries WHERE document = ?", (document,))]
    remove(connection, document, [id for id in old if id not in kept])
    add(connection, document, fresh)


def add(connection: sqlite3.Connection, document: str, queries: Iterable[Query]) -> None:
    """Adds queries, or changes those that are there; what was left for later stays so."""
    kept_by_nature = {kind.name for kind in kinds() if kind.kept}
    connection.executemany(
        """INSERT INTO queries (document, id, block, kind, counted, left, body) VALUES (?,?,?,?,?,0,?)
           ON CONFLICT (document, id) DO UPDATE SET block = excluded.block, kind = excluded.kind, counted = excluded.counted,
             body = excluded.body""",
        [
            (
                document,
                query.id,
                query.block,
                query.kind,
                int(query.kind not in kept_by_nature),
                msgspec.json.encode(query),
            )
            for query in queries
        ],
    )


def remove(connection: sqlite3.Connection, document: str, ids: Iterable[str]) -> None:
    connection.executemany("DELETE FROM queries WHERE document = ? AND id = ?", [(document, id) for id in ids])


def every(connection: sqlite3.Connection, document: str) -> list[tuple[Query, bool]]:
    """All queries, each with whether it was left for later; in no order."""
    rows = connection.execute("SELECT body, left FROM queries WHERE document = ?", (document,))
    return [(_QUERY.decode(row[0]), bool(row[1])) for row in rows]


def left(connection: sqlite3.Connection, document: str, ids: Iterable[str]) -> set[str]:
    """Those of some queries that were left for later."""
    wanted = list(ids)
    found: set[str] = set()
    for id in wanted:
        row = connection.execute("SELECT left FROM queries WHERE document = ? AND id = ?", (document, id)).fetchone()
        if row is not None and row[0]:
            found.add(id)
    return found


def leave(connection: sqlite3.Connection, document: str, ids: Iterable[str], *, left: bool) -> None:
    """Leaves queries for later, or takes them up again."""
    connection.executemany(
        "UPDATE queries SET left = ? WHERE document = ? AND id = ?", [(int(left), document, id) for id in ids]
    )


def counts(connection: sqlite3.Connection, document: str) -> QueryCounts:
    open_, left = connection.execute(
        "SELECT coalesce(sum(left = 0), 0), coalesce(sum(left), 0) FROM queries WHERE document = ? AND counted = 1",
        (document,),
    ).fetchone()
    settled, kept, typed = connection.execute(
        """SELECT coalesce(sum(settled), 0), coalesce(sum(kept), 0), coalesce(sum(typed), 0)
           FROM changes INDEXED BY changes_by_status WHERE document = ? AND status = 'done'""",
        (document,),
    ).fetchone()
    return QueryCounts(open_, left, settled, kept, typed)
