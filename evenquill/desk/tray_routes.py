"""The in-tray's routes: taking files in, renaming, stopping, reading again, deleting."""

from __future__ import annotations

import secrets
import shutil
import sqlite3

import msgspec
from flask import Response, request
from msgspec.structs import replace

from evenquill.core.document_state import IN_WORK, DocumentState, Event
from evenquill.desk.context import LEAST_FREE, AppContext
from evenquill.desk.endpoints import Api, ApiError, Missing
from evenquill.desk.events import News
from evenquill.desk.health import problems
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.naming import document_name
from evenquill.desk.request_values import whole_number
from evenquill.desk.sign_in import actor
from evenquill.store import documents, history, jobs, parts
from evenquill.store.database import transaction
from evenquill.store.documents import DocumentRow
from evenquill.store.history import ChangeKind
from evenquill.store.jobs import JobKind
from evenquill.store.snapshots import Part
from evenquill.store.write_failures import WriteFailure, write_failure

CHUNK = 1 << 20
RESUMABLE = frozenset({DocumentState.STOPPED, DocumentState.FAILED})


class Again(msgspec.Struct, frozen=True):
    """Takes a file in once more that is there already."""

    source: str
    name: str


class Renaming(msgspec.Struct, frozen=True):
    name: str


class Password(msgspec.Struct, frozen=True):
    password: str


class Duplicate(msgspec.Struct, frozen=True):
    """Said with status 409 for a file that is in the in-tray already."""

    error: str
    sentence: str
    source: str
    name: str
    documents: list[DocumentRow]


class Taken(msgspec.Struct, frozen=True):
    """The document that a file was taken in as."""

    document: DocumentRow


def new_id() -> str:
    return secrets.token_hex(8)


def take_in(context: AppContext, name: str, source: str, size: int, route: str) -> str:
    """A new document for a source that is kept already; returns its id."""
    document = new_id()
    with transaction(context.store):
        documents.add(context.store, id=document, name=document_name(name), source=source, size=size, route=route)
        parts.set_all(context.store, document, [Part(source, name)])
        jobs.queue(context.store, document, JobKind.READ)
    return document


def add_routes(api: Api, context: AppContext, runner: JobRunner) -> None:
    @api.route("GET", "/api/documents", returns=list[DocumentRow])
    def list_documents() -> list[DocumentRow]:
        """All documents in the in-tray, newest first."""
        return documents.every(context.store)

    @api.route("POST", "/api/documents", returns=Taken, query={"name": "the file's name"})
    def add_document() -> Taken | Response:
        """Takes a file in; its bytes are the body of the request. A file that is there already gets 409 and Duplicate."""
        name = document_name(request.args.get("name", ""))
        source, size = context.files.take_in(iter(lambda: request.stream.read(CHUNK), b""))
        if size == 0:
            raise ApiError(422, "empty", f"“{name}” is empty: it holds no bytes.")
        same = documents.with_source(context.store, source)
        if same:
            sentence = f"“{name}” is in the in-tray already, as “{same[0].name}”."
            body = Duplicate("duplicate", sentence, source, name, same)
            return Response(msgspec.json.encode(body), 409, mimetype="application/json")
        return started(take_in(context, name, source, size, "browser"))

    @api.route("POST", "/api/documents/again", body=Again, returns=Taken)
    def add_again(body: Again) -> Taken:
        """Makes another document from a file that is there already."""
        same = documents.with_source(context.store, body.source)
        if not same:
            raise Missing
        return started(take_in(context, body.name, body.source, same[0].size, "browser"))

    def started(document: str) -> Taken:
        runner.wake()
        context.events.publish(document)
        return Taken(documents.get(context.store, document))

    @api.route("PATCH", "/api/documents/{document}", body=Renaming, returns=DocumentRow)
    def rename(document: str, body: Renaming) -> DocumentRow:
        """Renames a document. The source keeps its content, the delivered file takes the new name."""
        documents.get(context.store, document)
        if not body.name.strip():
            raise ApiError(422, "name", "A document needs a name.")
        documents.rename(context.store, document, document_name(body.name))
        return context.notify_changed(document)

    @api.route("POST", "/api/documents/{document}/stop", returns=DocumentRow)
    def stop(document: str) -> DocumentRow:
        """Stops what is being done with a document; the pages read so far are kept, and a proof stays as it is."""
        documents.get(context.store, document)
        with transaction(context.store):
            jobs.cancel(context.store, document)
            if documents.get(context.store, document).state in IN_WORK:
                documents.transition(context.store, document, Event.STOP, problem="Reading was stopped.")
            else:
                documents.set_stage(context.store, document, "")
        return context.notify_changed(document)

    @api.route("POST", "/api/documents/{document}/read", returns=DocumentRow)
    def read_again(document: str) -> DocumentRow:
        """Goes on with a document that was stopped or failed."""
        return requeue(document)

    @api.route("POST", "/api/documents/{document}/password", body=Password, returns=DocumentRow)
    def give_password(document: str, body: Password) -> DocumentRow:
        """Gives the password of a locked file. It is kept in memory only."""
        context.passwords[document] = body.password
        return requeue(document)

    @api.route("POST", "/api/documents/{document}/rights", returns=DocumentRow)
    def confirm_rights(document: str) -> DocumentRow:
        """Says that the clerk may work on a file whose author set restrictions."""
        documents.get(context.store, document)
        documents.confirm_rights(context.store, document)
        return requeue(document)

    def requeue(document: str) -> DocumentRow:
        with transaction(context.store):
            if documents.get(context.store, document).state in RESUMABLE:
                documents.transition(context.store, document, Event.RESUME)
                jobs.queue(context.store, document, JobKind.READ)
        runner.wake()
        return context.notify_changed(document)

    @api.route("DELETE", "/api/documents/{document}")
    def delete(document: str) -> None:
        """Deletes a document. It can be restored for a day, or until the disk is nearly full."""
        try:
            set_aside(document)
        except sqlite3.Error as error:
            # That must work on a full disk too, or there would never be room.
            if write_failure(error) is not WriteFailure.FULL or not context.make_room():
                raise
            set_aside(document)
        context.events.publish(document)
        if shutil.disk_usage(context.data).free < LEAST_FREE:
            context.short_of_room.set()

    def set_aside(document: str) -> None:
        with transaction(context.store):
            documents.get(context.store, document)
            jobs.cancel(context.store, document)
            documents.delete(context.store, document)

    @api.route("POST", "/api/documents/{document}/restore", returns=DocumentRow)
    def restore(document: str) -> DocumentRow:
        """Brings a deleted document back; if it was being read, reading goes on."""
        with transaction(context.store):
            if not documents.is_deleted(context.store, document):
                return documents.get(context.store, document)
            documents.restore(context.store, document)
            history.mark(context.store, document, ChangeKind.RESTORE, actor())
            if documents.get(context.store, document).state in IN_WORK:
                jobs.queue(context.store, document, JobKind.READ)
        runner.wake()
        return context.notify_changed(document)

    @api.route("GET", "/api/events", returns=News, query={"since": "the number of the last answer; nothing at first"})
    def events() -> News:
        """What has changed since the last answer. Answered at once; ask again after a moment."""
        since = request.args.get("since", "")
        return replace(context.events.since(whole_number(since)), problems=problems(context, runner))
