"""Editing: operations on open documents, undo and redo. Every change is written before it is answered; one that was made of an older
revision is refused."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable

import msgspec
from msgspec.structs import replace

from evenquill.core.document_state import Event, TransitionRefused
from evenquill.core.edits import Focus, KeepAsItIs, Operation, SettleWords, apply, undo
from evenquill.core.edits.typed import typed_characters
from evenquill.core.model import Block, Document, ResolvedStyle, texts_of
from evenquill.core.model.ids import Ids
from evenquill.desk.doubts import DoubtChange, PlacedQuery, doubts_after, placed, take_doubts
from evenquill.desk.events import Events
from evenquill.desk.open_documents import OpenDocument, OpenDocuments
from evenquill.store import documents, history, jobs, parts, preparations, proofs, queries, snapshots
from evenquill.store import pages as page_store
from evenquill.store.connections import Connections
from evenquill.store.database import transaction
from evenquill.store.history import CLERK, Change, ChangeKind, Cost, StaleRevision, Step
from evenquill.store.proofs import Difference
from evenquill.store.queries import QueryCounts
from evenquill.store.snapshots import Snapshot


class NotCorrectable(Exception):
    """The document is not in a state in which it can be changed."""


class NothingToUndo(Exception):
    """The history has no step in that direction."""


class JoinUndone(Exception):
    """The joining of files was undone: the document gave way to those that it was made of."""


class Changed(msgspec.Struct, frozen=True):
    """What a change did: ``removed`` rows from place ``at`` on gave way to ``blocks``, or all of them to others (``whole``); the queries
    with ids in ``gone`` went, and ``queries`` came or changed; ``counts`` are those after it, ``labels`` those of
    list items that have others now, ``styles`` all of them where some are others now. ``focus`` is where the clerk goes on."""

    revision: int
    at: int
    removed: int
    blocks: tuple[Block, ...]
    total: int
    can_undo: bool
    can_redo: bool
    gone: tuple[str, ...]
    queries: tuple[PlacedQuery, ...]
    counts: QueryCounts
    labels: dict[str, str]
    focus: Focus | None = None
    whole: bool = False
    styles: tuple[ResolvedStyle, ...] | None = None


class Editor:
    """Changes documents one operation at a time."""

    def __init__(self, connections: Connections, opened: OpenDocuments, events: Events) -> None:
        self._connections = connections
        self._opened = opened
        self._events = events

    def operate(self, document: str, revision: int, operation: Operation, actor: str = CLERK) -> Changed:
        """Applies an operation made of ``revision``; ``actor`` is who did it. Raises StaleRevision, NotCorrectable, EditError, KeyError."""
        with self._opened.hold(document) as opened:
            self._check(opened, revision)
            ids = Ids(documents.new_ids(self._connections.get(), document))
            first_id = ids.next
            edit = apply(opened.proof, operation, ids)

            def change(doubts: DoubtChange) -> Change:
                cost = _cost(opened.proof, operation, doubts)
                return Change(
                    ChangeKind.EDIT, actor, operation=operation, first_id=first_id, inverse=edit.inverse, cost=cost
                )

            return self._write(opened, edit.document, change, focus=edit.focus, next_id=ids.next)

    def undo(self, document: str, revision: int, actor: str = CLERK) -> Changed:
        """Takes the last step back. Raises JoinUndone where that was the joining of the document's files."""
        with self._opened.hold(document) as opened:
            self._check(opened, revision)
            step = _existing(history.last_done(self._connections.get(), document))
            if step.kind is ChangeKind.JOIN:
                self._part_again(document, actor)
                raise JoinUndone
            if step.kind is not ChangeKind.EDIT:
                return self._exchange(opened, ChangeKind.UNDO, step, actor)
            after = undo(opened.proof, step.inverse)
            return self._write(opened, after, lambda _: Change(ChangeKind.UNDO, actor, target=step.number))

    def redo(self, document: str, revision: int, actor: str = CLERK) -> Changed:
        """Does the last step that was undone again."""
        with self._opened.hold(document) as opened:
            self._check(opened, revision)
            store = self._connections.get()
            step = _existing(history.first_undone(store, document))
            if step.kind is not ChangeKind.EDIT or step.operation is None:
                return self._exchange(opened, ChangeKind.REDO, step, actor)
            edit = apply(opened.proof, step.operation, Ids(step.first_id))
            return self._write(
                opened,
                edit.document,
                lambda _: Change(ChangeKind.REDO, actor, target=step.number),
                also=lambda: history.set_inverse(store, document, step.number, edit.inverse),
                focus=edit.focus,
            )

    def _check(self, opened: OpenDocument, revision: int) -> None:
        if not documents.is_correctable(documents.get(self._connections.get(), opened.id)):
            raise NotCorrectable
        if revision != opened.revision:
            raise StaleRevision

    def _write(
        self,
        opened: OpenDocument,
        after: Document,
        change_of: Callable[[DoubtChange], Change],
        *,
        also: Callable[[], None] = lambda: None,
        focus: Focus | None = None,
        next_id: int | None = None,
    ) -> Changed:
        """Writes a change, its place in the history and what it makes of the queries as one, then tells of it."""
        store, document = self._connections.get(), opened.id
        difference = proofs.difference(opened.proof, after)
        opened.proof.derive_places(after, difference.at, difference.removed)
        doubts = doubts_after(opened, after, difference, self._opened.office)
        change = change_of(doubts)
        try:
            with transaction(store):
                revision = history.commit_edit(
                    store, document, opened.revision, change, opened.proof, after, difference, next_id
                )
                also()
                queries.remove(store, document, doubts.gone)
                queries.add(store, document, doubts.come)
                documents.transition(store, document, Event.CHANGE)
        except TransitionRefused:
            raise NotCorrectable from None
        lists_changed = _has_items(opened.proof, difference)
        restyled = after.styles is not opened.proof.styles
        labels = opened.take(revision, after, lists_changed=lists_changed)
        take_doubts(opened, doubts)
        self._events.publish(document)
        changed = self._changed(opened, difference, doubts, focus, labels)
        return replace(changed, styles=tuple(after.resolved_styles.values())) if restyled else changed

    def _changed(
        self,
        opened: OpenDocument,
        difference: Difference,
        doubts: DoubtChange,
        focus: Focus | None,
        labels: dict[str, str],
    ) -> Changed:
        store = self._connections.get()
        can_undo, can_redo = history.directions(store, opened.id)
        left = queries.left(store, opened.id, [query.id for query in doubts.come])
        return Changed(
            opened.revision,
            difference.at,
            difference.removed,
            difference.blocks,
            len(opened.proof.blocks),
            can_undo,
            can_redo,
            doubts.gone,
            tuple(placed(doubts.come, opened.proof, left)),
            queries.counts(store, opened.id),
            labels,
            focus,
        )

    def _exchange(self, opened: OpenDocument, kind: ChangeKind, step: Step, actor: str) -> Changed:
        """Undoes or does again a step that is no edit: the whole document gives way to what it was, or had become."""
        store, document = self._connections.get(), opened.id
        role = snapshots.Role.BEFORE if kind is ChangeKind.UNDO else snapshots.Role.AFTER
        snapshot = snapshots.get(store, document, step.number, role)

        def write() -> None:
            proofs.write(store, document, snapshot.document)
            put_back(store, document, snapshot)

        with transaction(store):
            revision = history.commit(store, document, opened.revision, Change(kind, actor, target=step.number), write)
            queries.write(store, document, snapshot.queries)
            documents.transition(store, document, Event.CHANGE)
        self._events.publish(document)
        can_undo, can_redo = history.directions(store, document)
        return Changed(
            revision,
            0,
            len(opened.proof.blocks),
            (),
            len(snapshot.document.blocks),
            can_undo,
            can_redo,
            (),
            (),
            queries.counts(store, document),
            {},
            whole=True,
        )

    def _part_again(self, document: str, actor: str) -> None:
        """The documents that were joined into one are there again, and the one is deleted."""
        store = self._connections.get()
        with transaction(store):
            for single in documents.joined_into(store, document):
                documents.restore(store, single)
                history.mark(store, single, ChangeKind.RESTORE, actor)
            jobs.cancel(store, document)
            documents.delete(store, document)
        self._events.publish(document)


def put_back(store: sqlite3.Connection, document: str, snapshot: Snapshot) -> None:
    """Lets the readings, files and choices of a snapshot stand again."""
    page_store.set_readings(store, document, snapshot.readings)
    parts.set_all(store, document, snapshot.parts)
    preparations.set_all(store, document, snapshot.preparations)


def _has_items(before: Document, difference: Difference) -> bool:
    """Whether a change concerns items of lists."""
    old = before.blocks[difference.at : difference.at + difference.removed]
    return any(text.is_item for block in (*old, *difference.blocks) for text in texts_of(block))


def _cost(before: Document, operation: Operation, doubts: DoubtChange) -> Cost:
    """What an operation settled, and what was typed for it."""
    typed = typed_characters(before, operation)
    if isinstance(operation, SettleWords):
        kept = sum(answer.text == answer.read for answer in operation.answers)
        return Cost(len(operation.answers), kept, typed)
    if isinstance(operation, KeepAsItIs):
        return Cost(len(operation.doubts), len(operation.doubts), typed)
    return Cost(doubts.settled, 0, typed)


def _existing(step: Step | None) -> Step:
    if step is None:
        raise NothingToUndo
    return step
