"""Words of open documents by their looks: shapes are taken in the background, page by page, and kept."""

from __future__ import annotations

import threading
from collections import OrderedDict

from evenquill.core.queries.look_alikes import LookAlikes, WordPlace, words_by_page
from evenquill.desk.open_documents import OpenDocuments
from evenquill.store import shapes
from evenquill.store.connections import Connections

OPEN_DOCUMENTS = 3


class OpenLookAlikes:
    """Look-alikes of the last few documents that were worked on."""

    def __init__(self, connections: Connections, documents: OpenDocuments) -> None:
        self._connections = connections
        self._documents = documents
        self._open: OrderedDict[str, tuple[tuple[int, int], LookAlikes]] = OrderedDict()
        self._lock = threading.Lock()

    def of(self, document: str, block: str, start: int) -> list[WordPlace]:
        """The words that look like the one at a place; none while their shapes have not been taken."""
        revision, proof = self._documents.read(document)
        state = (revision, len(shapes.readings(self._connections.get(), document)))
        with self._lock:
            known = self._open.get(document)
            if known is None or known[0] != state:
                words = [word for own in words_by_page(proof).values() for word in own]
                known = self._open[document] = (
                    state,
                    LookAlikes(words, shapes.every(self._connections.get(), document)),
                )
            self._open.move_to_end(document)
            while len(self._open) > OPEN_DOCUMENTS:
                self._open.popitem(last=False)
        return known[1].of(block, start)
