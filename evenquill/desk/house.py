"""What the parts of the server share: the data folder, database connections, pools, events, passwords."""

from __future__ import annotations

import sqlite3
import threading
from pathlib import Path

from evenquill.core.reading.pages import PagePool
from evenquill.desk.doubts import Doubts
from evenquill.desk.drawing import DrawingPool
from evenquill.desk.events import Events
from evenquill.desk.look_alikes import OpenLookAlikes
from evenquill.desk.proofs import OpenProofs
from evenquill.store import documents
from evenquill.store.database import connect
from evenquill.store.documents import DocumentRow
from evenquill.store.files import Files


class House:
    """One data folder and what works on it. The pools belong to whoever made them."""

    def __init__(self, data: Path, *, pages: PagePool, drawing: DrawingPool) -> None:
        self.data = data.resolve()
        self.files = Files(self.data)
        self.events = Events()
        self.passwords: dict[str, str] = {}
        """By document; in memory only."""
        self.pages = pages
        self.drawing = drawing
        self._local = threading.local()
        self.doubts = Doubts(self)
        self.look_alikes = OpenLookAlikes(self)
        self.proofs = OpenProofs(self)

    @property
    def store(self) -> sqlite3.Connection:
        """This thread's connection."""
        connection = getattr(self._local, "connection", None)
        if connection is None:
            connection = self._local.connection = connect(self.data)
        return connection

    def told(self, document: str) -> DocumentRow:
        """The document as it is now, after telling everybody that it changed."""
        self.events.tell(document)
        return documents.get(self.store, document)
