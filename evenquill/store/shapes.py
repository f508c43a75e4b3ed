"""How the words of a document's pages look."""

from __future__ import annotations

import sqlite3

import numpy as np

from evenquill.core.queries.look_alikes import SHAPE_BYTES, PageShapes


def add(connection: sqlite3.Connection, document: str, page: int, reading: int, shapes: PageShapes) -> None:
    connection.execute(
        "INSERT OR REPLACE INTO word_shapes (document, page, reading, boxes, shapes) VALUES (?,?,?,?,?)",
        (document, page, reading, shapes.boxes.astype(np.float32).tobytes(), shapes.bits.tobytes()),
    )


def readings(connection: sqlite3.Connection, document: str) -> dict[int, int]:
    """By page the reading that its shapes are of."""
    return dict(connection.execute("SELECT page, reading FROM word_shapes WHERE document = ?", (document,)).fetchall())


def every(connection: sqlite3.Connection, document: str) -> dict[int, PageShapes]:
    """The shapes of all pages that have some."""
    rows = connection.execute("SELECT page, boxes, shapes FROM word_shapes WHERE document = ?", (document,))
    return {
        page: PageShapes(
            np.frombuffer(boxes, np.float32).reshape(-1, 4), np.frombuffer(bits, np.uint8).reshape(-1, SHAPE_BYTES)
        )
        for page, boxes, bits in rows
    }
