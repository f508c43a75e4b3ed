"""Delivery: writing the file, keeping it, and the list of what was delivered."""

from __future__ import annotations

import errno
from urllib.parse import quote

import msgspec
from flask import Response, send_file

from evenquill.core.model import Document
from evenquill.core.writers.docx import write_docx
from evenquill.desk.certificates import certificate_of
from evenquill.desk.endpoints import Api, ApiError
from evenquill.desk.house import House
from evenquill.desk.intake import new_id
from evenquill.desk.naming import file_name
from evenquill.store import deliveries, documents
from evenquill.store.database import transaction
from evenquill.store.deliveries import Delivery
from evenquill.store.documents import State

CERTIFICATE = "certificate"
MEDIA = {
    "docx": "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
    CERTIFICATE: "text/plain; charset=utf-8",
}
WRITERS = {"docx": write_docx}


class DeliveryRequest(msgspec.Struct, frozen=True):
    format: str = "docx"


def add_routes(api: Api, house: House) -> None:
    @api.route("GET", "/api/documents/{document}/deliveries", returns=list[Delivery])
    def list_deliveries(document: str) -> list[Delivery]:
        """What was delivered of a document, newest first."""
        documents.get(house.store, document)
        return deliveries.every(house.store, document)

    @api.route("POST", "/api/documents/{document}/deliveries", body=DeliveryRequest, returns=Delivery)
    def deliver(document: str, body: DeliveryRequest) -> Delivery:
        """Writes the document, or its certificate, as it is now and keeps the file."""
        if body.format not in MEDIA:
            raise ApiError(422, "format", f"Documents cannot be delivered as {body.format} yet.")
        row = documents.get(house.store, document)
        if row.preview or row.state in (State.WAITING, State.READING):
            raise ApiError(409, "reading", "The document can be delivered as soon as all pages are read.")
        revision, proof = house.proofs.read(document)
        delivery = new_id()
        path = house.files.delivery(delivery, body.format)
        try:
            path.write_bytes(_written(house, document, revision, proof, body.format))
        except OSError as error:
            path.unlink(missing_ok=True)
            if error.errno == errno.ENOSPC:
                raise ApiError(
                    507, "disk", "The disk is full; nothing was delivered. Make room and try again."
                ) from None
            raise
        store = house.store
        with transaction(store):
            made = deliveries.add(
                store,
                id=delivery,
                document=document,
                format=body.format,
                file_name=_file_name(row.name, body.format),
                revision=revision,
                size=path.stat().st_size,
            )
            if body.format != CERTIFICATE:
                documents.set_state(store, document, State.DELIVERED)
        house.events.tell(document)
        return made

    @api.route("GET", "/api/deliveries/{delivery}/file")
    def delivered_file(delivery: str) -> Response:
        """A delivered file, byte for byte as it was handed over."""
        made = deliveries.get(house.store, delivery)
        path = house.files.delivery(made.id, made.format)
        if not path.exists():
            raise KeyError(delivery)
        response = send_file(path, mimetype=MEDIA[made.format])
        response.headers["Content-Disposition"] = (
            f"attachment; filename=\"delivery.{made.file_name.rpartition('.')[2]}\"; filename*=UTF-8''{quote(made.file_name)}"
        )
        return response


def _written(house: House, document: str, revision: int, proof: Document, form: str) -> bytes:
    if form == CERTIFICATE:
        return certificate_of(house, document, revision, proof)
    return WRITERS[form](proof, house.files.pictures.get)


def _file_name(name: str, form: str) -> str:
    return file_name(name, "txt", ", certificate") if form == CERTIFICATE else file_name(name, form)
