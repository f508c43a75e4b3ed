"""Open documents: the last few that clerks are working on, held in memory with their doubts. Whoever changes one holds it meanwhile."""

from __future__ import annotations

import gc
import threading
from collections import OrderedDict
from collections.abc import Iterator, Mapping
from contextlib import contextmanager

from evenquill.core.looking_back import LookedBack
from evenquill.core.model import Document
from evenquill.core.model.document import without
from evenquill.core.queries import Query, View
from evenquill.core.queries.kept import KeptDoubts
from evenquill.core.queries.word_measures import Vouchers
from evenquill.core.resolve.list_labels import list_labels
from evenquill.desk.office_words import OfficeWordList
from evenquill.store import history, looked_back, proofs, queries
from evenquill.store.connections import Connections

OPEN_DOCUMENTS = 4
MANY_BLOCKS = 2_000


class OpenDocument:
    """A document in memory as of ``revision``: its proof, its queries by id, and what takes time to be worked out from them.

    ``past`` are queries that are gone: undo may bring them back, and their answers took time to find. ``look_doubts`` are about what looks
    otherwise than its source.
    """

    def __init__(
        self, document: str, revision: int, proof: Document, found: dict[str, Query], seen: LookedBack | None = None
    ) -> None:
        self.id = document
        self.revision = revision
        self.proof = proof
        self.queries = found
        self.past: dict[str, Query] = {}
        self.look_doubts = seen.doubts if seen is not None else {}
        self.kept = KeptDoubts(proof.settled.kept)
        self._vouchers: Vouchers | None = None
        self._labels: dict[str, str] | None = None

    def vouchers(self, office: OfficeWordList) -> Vouchers:
        """What the words of the document say of one another; worked out once, since single edits change little of it."""
        if self._vouchers is None:
            self._vouchers = View(self.proof, office.words()).vouchers
        return self._vouchers

    @property
    def labels(self) -> Mapping[str, str]:
        """What stands before each item of a list."""
        if self._labels is None:
            self._labels = list_labels(self.proof.blocks)
        return self._labels

    def take(self, revision: int, proof: Document, *, lists_changed: bool) -> dict[str, str]:
        """Takes a change that has been written; ``lists_changed`` if items of lists may have other labels.
        Returns the labels that are others now."""
        before = self.labels if lists_changed else {}
        old, new = self.proof.settled, proof.settled
        if new is not old:
            self.kept.remove(without(old.kept, new.kept))
            self.kept.add(without(new.kept, old.kept))
        self.revision = revision
        self.proof = proof
        if not lists_changed:
            return {}
        self._labels = None
        return {name: label for name, label in self.labels.items() if before.get(name) != label}


class _Slot:
    """The lock of a document, and the document while it is open."""

    def __init__(self) -> None:
        self.lock = threading.RLock()
        self.opened: OpenDocument | None = None


class OpenDocuments:
    """The last few documents that were worked on."""

    def __init__(self, connections: Connections, office: OfficeWordList) -> None:
        self._connections = connections
        self.office = office
        self._slots: OrderedDict[str, _Slot] = OrderedDict()
        self._lock = threading.Lock()

    @contextmanager
    def hold(self, document: str) -> Iterator[OpenDocument]:
        """The document as it is stored now; nobody else changes it meanwhile. Raises KeyError where it has no proof."""
        slot = self._slot(document)
        with slot.lock:
            store = self._connections.get()
            revision = history.revision(store, document)
            if slot.opened is None or slot.opened.revision != revision:
                proof = proofs.read(store, document)
                found = {query.id: query for query, _ in queries.every(store, document)}
                slot.opened = OpenDocument(document, revision, proof, found, looked_back.read(store, document))
                if len(proof.blocks) > MANY_BLOCKS:
                    # Blocks are values without cycles: the garbage collector would look through all of them after every few edits.
                    gc.freeze()
            yield slot.opened

    @contextmanager
    def locked(self, document: str) -> Iterator[None]:
        """Nobody changes the document meanwhile; it is read anew afterwards."""
        slot = self._slot(document)
        with slot.lock:
            try:
                yield
            finally:
                slot.opened = None

    def read(self, document: str) -> tuple[int, Document]:
        """The proof and its revision. Raises KeyError where there is none."""
        with self.hold(document) as opened:
            return opened.revision, opened.proof

    def _slot(self, document: str) -> _Slot:
        """The slot of a document; of those that nobody holds, the longest unused are closed."""
        with self._lock:
            slot = self._slots.setdefault(document, _Slot())
            self._slots.move_to_end(document)
            surplus = len(self._slots) - OPEN_DOCUMENTS
            for name, other in list(self._slots.items())[: max(surplus, 0)]:
                if other.lock.acquire(blocking=False):
                    try:
                        other.opened = None
                    finally:
                        other.lock.release()
                    if other is not slot:
                        del self._slots[name]
            return slot
