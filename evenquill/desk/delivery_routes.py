"""Delivery: writing the file, keeping it, and the list of what was delivered."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from typing import NamedTuple, TypeVar
from urllib.parse import quote

import msgspec
from flask import Response, request, send_file

from evenquill.core.checks import Check, checks_of, looks_check
from evenquill.core.part import Part, WrongPages, pages_named
from evenquill.core.processes import WorkerDied
from evenquill.core.queries.kinds.looks import LOOKS
from evenquill.core.writers.problem import NotWritten
from evenquill.core.writers.registry import WRITERS, SeenAs
from evenquill.desk.certificates import certificate_of
from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api, ApiError, Missing
from evenquill.desk.jobs import tasks
from evenquill.desk.kept_deliveries import keep_delivery
from evenquill.desk.naming import WrongPattern, file_name, named_by, without_ending
from evenquill.desk.sign_in import actor
from evenquill.store import deliveries, documents, looked_back
from evenquill.store.deliveries import Delivery
from evenquill.store.documents import DocumentRow

WRITE_SECONDS, PAGE_WRITE_SECONDS = 60.0, 1.0
"""Time limit for writing a document, and what each page adds to it."""


SHOWN_ONLY = (
    "sandbox; default-src 'none'; img-src data:; style-src 'unsafe-inline'; font-src data:; frame-ancestors 'self'"
)
"""What a page that is only shown may do: nothing in it is run, and nothing fetched."""

T = TypeVar("T")


class CertificateForm(NamedTuple):
    """The ending and the type of the file that a certificate is."""

    ending: str
    media: str


CERTIFICATES = {
    "certificate": CertificateForm("txt", "text/plain; charset=utf-8"),
    "certificate_pdf": CertificateForm("pdf", "application/pdf"),
}
"""The forms in which the certificate goes out, by what they are called here."""


class FormatOption(msgspec.Struct, frozen=True):
    """Something that can be wanted of a format: its name here, and what it is called."""

    name: str
    title: str


class Format(msgspec.Struct, frozen=True):
    """A format: its name here, what it is called, what it is for, the ending of its files, its options, and how its files are looked
    at."""

    name: str
    title: str
    about: str
    ending: str
    options: tuple[FormatOption, ...]
    seen_as: SeenAs


class DeliveryRequest(msgspec.Struct, frozen=True):
    """What to deliver, with the names of the options that are wanted: of all of the document, or only of the source's ``pages`` (as in
    ``1-3, 7``) or of some ``rows``. ``name`` is the file's, in which `{name}`, `{title}`, `{date}`, `{revision}` and `{pages}` stand for
    what they are; the document's own if there is none."""

    format: str
    options: tuple[str, ...] = ()
    pages: str = ""
    rows: tuple[str, ...] = ()
    name: str = ""


def add_routes(api: Api, context: AppContext) -> None:
    @api.route("GET", "/api/formats", returns=list[Format])
    def formats() -> list[Format]:
        """The formats that documents are delivered in."""
        return [
            Format(
                writer.name,
                writer.title,
                writer.about,
                writer.ending,
                tuple(FormatOption(*option) for option in writer.options),
                writer.seen_as,
            )
            for writer in WRITERS.values()
        ]

    @api.route("GET", "/api/documents/{document}/checks", returns=list[Check])
    def checks(document: str) -> list[Check]:
        """What is to be looked at before a document goes out. Nothing of it keeps it from being delivered."""
        documents.get(context.store, document)
        with context.open_documents.hold(document) as opened:
            proof = opened.proof
            rows = {query.block for query in opened.queries.values() if query.kind == LOOKS.name}
        seen = looked_back.read(context.store, document)
        looks = looks_check(proof, rows, seen.compared) if seen is not None else None
        return [*checks_of(proof), *([looks] if looks is not None else [])]

    @api.route(
        "GET", "/api/documents/{document}/previews/{form}", query={"options": "names of those wanted, parted by commas"}
    )
    def preview(document: str, form: str) -> Response:
        """The rows of the first page that has some, in a format that is looked at in a browser or as text. Formats with pages are seen as
        the outcome, and only with options as a picture from here."""
        writer = WRITERS.get(form)
        options = tuple(filter(None, request.args.get("options", "").split(",")))
        if writer is None or (writer.seen_as is SeenAs.PAGES and not options) or writer.unknown(options):
            raise Missing
        row = documents.get(context.store, document)
        if not documents.is_correctable(row):
            raise ApiError(409, "reading", "The document can be seen as soon as all pages are read.")
        # A book for reading devices looks like what a browser shows.
        name = "html" if writer.seen_as is SeenAs.BROWSER else form
        _, proof = context.open_documents.read(document)
        first = next((block.spots[0].page for block in proof.blocks if block.spots and not block.excluded), 1)
        part = Part(frozenset({first}))
        if writer.seen_as is SeenAs.PAGES:
            drawn = _run(context, partial(tasks.draw_first_page, str(context.data), document, options, part), 1)
            return Response(drawn, mimetype="image/png")
        work = partial(tasks.write_document, str(context.data), document, name, options, part)
        _, data = _run(context, work, row.page_count)
        if writer.seen_as is SeenAs.BROWSER:
            return Response(data, mimetype="text/html", headers={"Content-Security-Policy": SHOWN_ONLY})
        return Response(data, mimetype="text/plain")

    @api.route("GET", "/api/documents/{document}/deliveries", returns=list[Delivery])
    def list_deliveries(document: str) -> list[Delivery]:
        """What was delivered of a document, newest first."""
        documents.get(context.store, document)
        return deliveries.every(context.store, document)

    @api.route("POST", "/api/documents/{document}/deliveries", body=DeliveryRequest, returns=Delivery)
    def deliver(document: str, body: DeliveryRequest) -> Delivery:
        """Writes the document, or its certificate, as it is now and keeps the file."""
        if body.format not in CERTIFICATES and body.format not in WRITERS:
            raise ApiError(422, "format", f"Documents cannot be delivered as {body.format}.")
        if unknown := WRITERS[body.format].unknown(body.options) if body.format in WRITERS else body.options:
            raise ApiError(422, "option", f"There is no option {unknown[0]} for this format.")
        row = documents.get(context.store, document)
        if not documents.is_correctable(row):
            raise ApiError(409, "reading", "The document can be delivered as soon as all pages are read.")
        _file_name(
            context, row, body, row.revision
        )  # a pattern that is not understood is refused before anything is written
        revision, data = _written(context, row, body)
        named = _file_name(context, row, body, revision)
        whole = body.format not in CERTIFICATES and not body.pages and not body.rows
        return keep_delivery(context, document, body.format, named, revision, data, by=actor(), whole=whole)

    @api.route("GET", "/api/deliveries/{delivery}/file")
    def delivered_file(delivery: str) -> Response:
        """A delivered file, byte for byte as it was handed over."""
        made = deliveries.get(context.store, delivery)
        path = context.files.delivery(made.id, made.format) if made else None
        if made is None or path is None or not path.exists():
            raise Missing
        media = CERTIFICATES[made.format].media if made.format in CERTIFICATES else WRITERS[made.format].media
        response = send_file(path, mimetype=media)
        response.headers["Content-Disposition"] = (
            f"attachment; filename=\"delivery.{made.file_name.rpartition('.')[2]}\"; filename*=UTF-8''{quote(made.file_name)}"
        )
        return response


def _written(context: AppContext, row: DocumentRow, wanted: DeliveryRequest) -> tuple[int, bytes]:
    """The revision that was written, and its bytes. Raises ApiError where that takes too long, or cannot be done."""
    if wanted.format in CERTIFICATES:
        revision, proof = context.open_documents.read(row.id)
        entries = certificate_of(context, row.id, revision, proof)
        return revision, _run(
            context, partial(tasks.write_certificate_as, entries, CERTIFICATES[wanted.format].ending), 0
        )
    pages: frozenset[int] = frozenset()
    if wanted.pages:
        try:
            pages = pages_named(wanted.pages, row.page_count)
        except WrongPages as error:
            raise ApiError(422, "pages", str(error)) from None
    part = Part(pages, frozenset(wanted.rows))
    work = partial(tasks.write_document, str(context.data), row.id, wanted.format, wanted.options, part)
    return _run(context, work, row.page_count)


def _run(context: AppContext, work: Callable[[], T], pages: int) -> T:
    """What a helper process writes. Raises ApiError where that takes too long, or cannot be done."""
    try:
        return context.pages.run(work, seconds=WRITE_SECONDS + PAGE_WRITE_SECONDS * pages)
    except (TimeoutError, WorkerDied):
        raise ApiError(503, "writing", "The document could not be written in time. Try again in a moment.") from None
    except NotWritten as error:
        raise ApiError(422, "writing", str(error)) from None


def _file_name(context: AppContext, row: DocumentRow, wanted: DeliveryRequest, revision: int) -> str:
    """What the file of a revision is to be called. Raises ApiError for a pattern that asks for what is not known."""
    if wanted.format in CERTIFICATES:
        return file_name(row.name, CERTIFICATES[wanted.format].ending, ", certificate")
    _, proof = context.open_documents.read(row.id)
    name = without_ending(row.name)
    known = {
        "name": name,
        "title": proof.title or name,
        "date": datetime.now().astimezone().date().isoformat(),
        "revision": str(revision),
        "pages": wanted.pages or f"1-{row.page_count}",
    }
    try:
        return file_name(named_by(wanted.name, **known), WRITERS[wanted.format].ending)
    except WrongPattern as error:
        raise ApiError(422, "name", str(error)) from None
