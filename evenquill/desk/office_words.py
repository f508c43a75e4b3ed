"""The office's word list as it is looked words up in, read once for each change of it."""

from __future__ import annotations

import threading
from collections.abc import Iterable

from evenquill.core.queries.office import ListEntry, OfficeWords, office_words
from evenquill.store import office
from evenquill.store.connections import Connections
from evenquill.store.database import transaction


class OfficeWordList:
    """The list in memory; every change goes through here."""

    def __init__(self, connections: Connections) -> None:
        self._connections = connections
        self._lock = threading.Lock()
        self._words: OfficeWords | None = None

    def words(self) -> OfficeWords:
        """The list for looking up."""
        with self._lock:
            if self._words is None:
                self._words = office_words(office.every(self._connections.get()))
            return self._words

    def entries(self) -> list[ListEntry]:
        """All entries by the alphabet."""
        return office.every(self._connections.get())

    def add(self, entries: Iterable[ListEntry]) -> None:
        """Adds entries, or changes what words stand for."""
        with self._lock, transaction(self._connections.get()):
            office.add(self._connections.get(), entries)
            self._words = None

    def remove(self, words: Iterable[str]) -> None:
        with self._lock, transaction(self._connections.get()):
            office.remove(self._connections.get(), words)
            self._words = None
