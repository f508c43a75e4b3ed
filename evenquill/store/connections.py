"""Database connections of the server: one for each thread."""

from __future__ import annotations

import sqlite3
import threading
from pathlib import Path

from evenquill.store.database import connect


class Connections:
    """Connections to the database of a data folder."""

    def __init__(self, data: Path) -> None:
        self.data = data
        self._local = threading.local()

    def get(self) -> sqlite3.Connection:
        """This thread's connection."""
        connection = getattr(self._local, "connection", None)
        if connection is None:
            connection = self._local.connection = connect(self.data)
        return connection
