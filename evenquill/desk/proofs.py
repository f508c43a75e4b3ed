"""Open proofs: the documents that clerks are working on, held in memory, changed one operation at a time.

Every change is written before it is answered. A change that was made against an older revision is refused.
"""

from __future__ import annotations

import sqlite3
import threading
from collections import OrderedDict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING

import msgspec

from evenquill.core.edits import KeepAsItIs, Operation, SettleWords, apply, undo
from evenquill.core.edits.typed import typed_characters
from evenquill.core.model import Block, Document
from evenquill.desk.doubts import Doubted, Standing, placed
from evenquill.store import documents, proofs, queries
from evenquill.store.database import transaction
from evenquill.store.documents import State
from evenquill.store.proofs import Cost, Step
from evenquill.store.queries import QueryCounts

if TYPE_CHECKING:
    from evenquill.desk.house import House

OPEN_PROOFS = 4


class StaleRevision(Exception):
    """The change was made against a revision that is no longer the newest."""


class NotCorrectable(Exception):
    """The document is not in a state in which it can be changed."""


class NothingToUndo(Exception):
    """The history has no step in that direction."""


class Changed(msgspec.Struct, frozen=True):
    """What a change did: ``removed`` rows from place ``at`` on gave way to ``blocks``, the queries with ids in ``gone`` went, and
    ``queries`` came or changed; ``counts`` are those after it."""

    revision: int
    at: int
    removed: int
    blocks: tuple[Block, ...]
    total: int
    can_undo: bool
    can_redo: bool
    gone: tuple[str, ...]
    queries: tuple[Standing, ...]
    counts: QueryCounts


class OpenProofs:
    """The last few proofs that were worked on."""

    def __init__(self, house: House) -> None:
        self._house = house
        self._open: OrderedDict[str, tuple[int, Document]] = OrderedDict()
        self._locks: dict[str, threading.Lock] = {}
        self._lock = threading.Lock()

    def read(self, document: str) -> tuple[int, Document]:
        """The proof and its revision. Raises KeyError where there is none."""
        with self._locked(document):
            return self._load(document)

    def operate(self, document: str, revision: int, operation: Operation) -> Changed:
        """Applies an operation made against ``revision``. Raises StaleRevision, NotCorrectable, EditError, KeyError."""
        with self._locked(document):
            before = self._for_change(document, revision)
            edit = apply(before, operation)
            return self._write(
                document,
                before,
                edit.document,
                lambda store, doubted: proofs.add_operation(
                    store, document, operation, edit.inverse, _cost(before, operation, doubted)
                ),
            )

    def undo(self, document: str, revision: int) -> Changed:
        """Takes the last operation back."""
        with self._locked(document):
            before = self._for_change(document, revision)
            step = _existing(proofs.last_done(self._house.store, document))
            after = undo(before, step.inverse)
            return self._write(document, before, after, lambda store, _: proofs.mark(store, step.number, undone=True))

    def redo(self, document: str, revision: int) -> Changed:
        """Does the last operation that was undone again."""
        with self._locked(document):
            before = self._for_change(document, revision)
            step = _existing(proofs.first_undone(self._house.store, document))
            edit = apply(before, step.operation)

            def keep(store: sqlite3.Connection, _: Doubted) -> None:
                proofs.set_inverse(store, step.number, edit.inverse)
                proofs.mark(store, step.number, undone=False)

            return self._write(document, before, edit.document, keep)

    def forget(self, document: str) -> None:
        """Drops what is in memory, after the proof was written anew."""
        with self._locked(document):
            self._open.pop(document, None)
            self._house.doubts.forget(document)

    @contextmanager
    def _locked(self, document: str) -> Iterator[None]:
        with self._lock:
            lock = self._locks.setdefault(document, threading.Lock())
        with lock:
            yield

    def _for_change(self, document: str, revision: int) -> Document:
        row = documents.get(self._house.store, document)
        if row.preview or row.state in (State.WAITING, State.READING):
            raise NotCorrectable
        newest, proof = self._load(document)
        if revision != newest:
            raise StaleRevision
        return proof

    def _load(self, document: str) -> tuple[int, Document]:
        revision = documents.get(self._house.store, document).revision
        known = self._open.get(document)
        if known is None or known[0] != revision:
            known = self._open[document] = (revision, proofs.read(self._house.store, document))
        self._open.move_to_end(document)
        while len(self._open) > OPEN_PROOFS:
            self._open.popitem(last=False)
        return known

    def _reopen(self, document: str) -> None:
        """A delivered document that is changed is one to correct again."""
        row = documents.get(self._house.store, document)
        if row.state in (State.DELIVERED, State.READY):
            documents.set_state(self._house.store, document, State.TO_CORRECT)

    def _write(
        self,
        document: str,
        before: Document,
        after: Document,
        keep_history: Callable[[sqlite3.Connection, Doubted], None],
    ) -> Changed:
        """Writes a change, its place in the history and what it makes of the queries as one, then tells of it."""
        store, doubts = self._house.store, self._house.doubts
        change = proofs.difference(before, after)
        doubted = doubts.after(document, before, after, change.blocks)
        with transaction(store):
            revision = proofs.write_change(store, document, before, after)
            keep_history(store, doubted)
            queries.remove(store, document, doubted.gone)
            queries.add(store, document, doubted.come)
            self._reopen(document)
        self._open[document] = (revision, after)
        doubts.take(document, doubted)
        can_undo, can_redo = proofs.history(store, document)
        self._house.events.tell(document)
        return Changed(
            revision,
            change.at,
            change.removed,
            change.blocks,
            len(after.blocks),
            can_undo,
            can_redo,
            doubted.gone,
            tuple(placed(doubted.come, after)),
            queries.counts(store, document),
        )


def _cost(before: Document, operation: Operation, doubted: Doubted) -> Cost:
    """What an operation settled, and what was typed for it."""
    typed = typed_characters(before, operation)
    if isinstance(operation, SettleWords):
        kept = sum(answer.text == answer.read for answer in operation.answers)
        return Cost(len(operation.answers), kept, typed)
    if isinstance(operation, KeepAsItIs):
        return Cost(len(operation.queries), len(operation.queries), typed)
    return Cost(len(doubted.settled), 0, typed)


def _existing(step: Step | None) -> Step:
    if step is None:
        raise NothingToUndo
    return step
