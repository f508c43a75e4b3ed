"""Routes for several files as one document: joining them, and putting them into another order."""

from __future__ import annotations

from contextlib import ExitStack

import msgspec

from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api, ApiError
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.naming import document_name
from evenquill.desk.sign_in import actor
from evenquill.desk.tray_routes import new_id
from evenquill.store import documents, jobs, pages, parts, preparations
from evenquill.store.database import transaction
from evenquill.store.documents import DocumentRow
from evenquill.store.jobs import JobKind, Payload
from evenquill.store.snapshots import Part


class Joining(msgspec.Struct, frozen=True):
    """Documents to make one of, in order, and its name."""

    documents: tuple[str, ...]
    name: str


class Order(msgspec.Struct, frozen=True):
    """The present places (from 0) of a document's files in the order wanted."""

    places: tuple[int, ...]


class FileOfDocument(msgspec.Struct, frozen=True):
    name: str
    pages: int


def add_routes(api: Api, context: AppContext, runner: JobRunner) -> None:
    @api.route("POST", "/api/documents/join", body=Joining, returns=DocumentRow)
    def join(body: Joining) -> DocumentRow:
        """Makes one document of several, in the order given. The single ones are deleted, and can be restored."""
        if len(body.documents) < 2 or len(set(body.documents)) < len(body.documents):
            raise ApiError(422, "join", "Choose two or more documents to join.")
        whole = new_id()
        with ExitStack() as held:
            # Nobody corrects the single ones any more from here on: what they have is what the whole takes over.
            for single in sorted(body.documents):
                held.enter_context(context.open_documents.locked(single))
            with transaction(context.store):
                rows = [documents.get(context.store, single) for single in body.documents]
                _join(context, rows, whole, body.name)
        runner.wake()
        for row in rows:
            context.events.publish(row.id)
        return context.notify_changed(whole)

    @api.route("GET", "/api/documents/{document}/files", returns=list[FileOfDocument])
    def files(document: str) -> list[FileOfDocument]:
        """The files that a document is made of, in order."""
        documents.get(context.store, document)
        return [
            FileOfDocument(part.name, part.facts.pages if part.facts else 0)
            for part in parts.every(context.store, document)
        ]

    @api.route("PUT", "/api/documents/{document}/files", body=Order, returns=DocumentRow)
    def order(document: str, body: Order) -> DocumentRow:
        """Puts the files of a document into another order, in the background. Nothing is read again, and corrections stay."""
        known = parts.every(context.store, document)
        if sorted(body.places) != list(range(len(known))) or any(part.facts is None for part in known):
            raise ApiError(422, "order", "Name each file once.")
        with transaction(context.store):
            row = documents.get(context.store, document)
            if not documents.is_correctable(row) or row.busy:
                raise ApiError(409, "reading", "The document is being read. Stop that first, or wait for its end.")
            if body.places != tuple(range(len(known))):
                jobs.queue(context.store, document, JobKind.REORDER, Payload(places=body.places, actor=actor()))
        runner.wake()
        return context.notify_changed(document)


def _join(context: AppContext, rows: list[DocumentRow], whole: str, name: str) -> None:
    """Makes a document of several, which takes over their files, pages and choices; they are deleted."""
    store = context.store
    files = [part for row in rows for part in parts.every(store, row.id)]
    documents.add(
        store,
        id=whole,
        name=document_name(name or rows[0].name),
        source=files[0].source,
        size=sum(row.size for row in rows),
        route=rows[0].route,
    )
    parts.set_all(store, whole, [Part(part.source, part.name) for part in files])
    before = 0
    for row in rows:
        jobs.cancel(store, row.id)
        documents.delete(store, row.id, joined_into=whole)
        if before >= 0 and row.page_count:
            # Pages that are read already need not be read again, as long as it is known how many stand before them.
            pages.take_over(store, row.id, whole, before)
            preparations.take_over(store, row.id, whole, before, row.page_count)
            before += row.page_count
        else:
            before = -1
    jobs.queue(store, whole, JobKind.READ, Payload(actor=actor()))
