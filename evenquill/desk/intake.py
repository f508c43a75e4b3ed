"""The in-tray's routes: taking files in, renaming, stopping, reading again, deleting."""

from __future__ import annotations

import errno
import secrets
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta

import msgspec
from flask import Response, request, stream_with_context

from evenquill.desk.endpoints import Api, ApiError
from evenquill.desk.house import House
from evenquill.desk.naming import document_name
from evenquill.desk.reading import ReadingRoom
from evenquill.store import documents, jobs, parts, readings
from evenquill.store.database import transaction
from evenquill.store.documents import DocumentRow, Needs, State

CHUNK = 1 << 20
UNDO_DELETE = timedelta(days=1)
"""How long a deleted document can be brought back."""


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


def take_in(house: House, name: str, source: str, size: int, route: str) -> str:
    """A new document for a source that is kept already; returns its id."""
    document = new_id()
    with transaction(house.store):
        documents.add(house.store, id=document, name=document_name(name), source=source, size=size, route=route)
        parts.add(house.store, document, [(source, name)])
        jobs.queue(house.store, document)
    return document


def purge_deleted(house: House) -> None:
    """Forgets documents that were deleted long enough ago."""
    documents.purge(house.store, (datetime.now(UTC) - UNDO_DELETE).isoformat(timespec="milliseconds"))


def add_routes(api: Api, house: House, room: ReadingRoom) -> None:
    @api.route("GET", "/api/documents", returns=list[DocumentRow])
    def list_documents() -> list[DocumentRow]:
        """All documents in the in-tray, newest first."""
        return documents.every(house.store)

    @api.route("POST", "/api/documents", returns=Taken, query={"name": "the file's name"})
    def add_document() -> Taken | Response:
        """Takes a file in; its bytes are the body of the request. A file that is there already gets 409 and Duplicate."""
        name = document_name(request.args.get("name", ""))
        try:
            source, size = house.files.take_in(iter(lambda: request.stream.read(CHUNK), b""))
        except OSError as error:
            if error.errno == errno.ENOSPC:
                raise ApiError(
                    507, "disk", "The disk is full; the file was not taken in. Make room and try again."
                ) from None
            raise
        if size == 0:
            raise ApiError(422, "empty", f"“{name}” is empty: it holds no bytes.")
        same = documents.with_source(house.store, source)
        if same:
            sentence = f"“{name}” is in the in-tray already, as “{same[0].name}”."
            body = Duplicate("duplicate", sentence, source, name, same)
            return Response(msgspec.json.encode(body), 409, mimetype="application/json")
        return started(take_in(house, name, source, size, "browser"))

    @api.route("POST", "/api/documents/again", body=Again, returns=Taken)
    def add_again(body: Again) -> Taken:
        """Makes another document from a file that is there already."""
        same = documents.with_source(house.store, body.source)
        if not same:
            raise KeyError(body.source)
        return started(take_in(house, body.name, body.source, same[0].size, "browser"))

    def started(document: str) -> Taken:
        room.wake()
        house.events.tell(document)
        return Taken(documents.get(house.store, document))

    @api.route("PATCH", "/api/documents/{document}", body=Renaming, returns=DocumentRow)
    def rename(document: str, body: Renaming) -> DocumentRow:
        """Renames a document. The source keeps its content, the delivered file takes the new name."""
        documents.get(house.store, document)
        if not body.name.strip():
            raise ApiError(422, "name", "A document needs a name.")
        documents.rename(house.store, document, document_name(body.name))
        return house.told(document)

    @api.route("POST", "/api/documents/{document}/stop", returns=DocumentRow)
    def stop(document: str) -> DocumentRow:
        """Stops reading; the pages read so far are kept."""
        row = documents.get(house.store, document)
        if row.state in (State.WAITING, State.READING):
            jobs.cancel(house.store, document)
            if documents.has_whole_proof(house.store, document):
                # Only a reading once more was stopped: the proof stays as it was.
                readings.forget(house.store, document)
                documents.set_state(house.store, document, State.TO_CORRECT)
            else:
                documents.set_state(house.store, document, State.STOPPED, problem="Reading was stopped.")
        return house.told(document)

    @api.route("POST", "/api/documents/{document}/read", returns=DocumentRow)
    def read_again(document: str) -> DocumentRow:
        """Goes on with a document that was stopped or failed."""
        return requeue(document)

    @api.route("POST", "/api/documents/{document}/password", body=Password, returns=DocumentRow)
    def give_password(document: str, body: Password) -> DocumentRow:
        """Gives the password of a locked file. It is kept in memory only."""
        house.passwords[document] = body.password
        return requeue(document)

    @api.route("POST", "/api/documents/{document}/rights", returns=DocumentRow)
    def confirm_rights(document: str) -> DocumentRow:
        """Says that the clerk may work on a file whose author set restrictions."""
        documents.get(house.store, document)
        documents.confirm_rights(house.store, document)
        return requeue(document)

    def requeue(document: str) -> DocumentRow:
        row = documents.get(house.store, document)
        if row.state is State.STOPPED:
            with transaction(house.store):
                documents.set_state(house.store, document, State.WAITING, needs=Needs.NOTHING)
                jobs.queue(house.store, document)
            room.wake()
        return house.told(document)

    @api.route("DELETE", "/api/documents/{document}")
    def delete(document: str) -> None:
        """Deletes a document. It can be restored for a day."""
        documents.get(house.store, document)
        jobs.cancel(house.store, document)
        documents.delete(house.store, document)
        house.events.tell(document)

    @api.route("POST", "/api/documents/{document}/restore", returns=DocumentRow)
    def restore(document: str) -> DocumentRow:
        """Brings a deleted document back; if it was being read, reading goes on."""
        documents.restore(house.store, document)
        row = documents.get(house.store, document)
        if row.state in (State.WAITING, State.READING):
            jobs.queue(house.store, document)
            room.wake()
        return house.told(document)

    @api.route("GET", "/api/events")
    def events() -> Response:
        """Server-sent events: the id of each document that changes."""

        def stream() -> Iterator[str]:
            for document in house.events.listen():
                yield f"data: {document}\n\n" if document else ": still here\n\n"

        return Response(
            stream_with_context(stream()), mimetype="text/event-stream", headers={"Cache-Control": "no-store"}
        )
