"""The way back: a DOCX or ODT file that was delivered and edited elsewhere, and what was changed in it."""

from __future__ import annotations

import io
from functools import partial

import msgspec
from flask import request

from evenquill.core.errors import SourceError
from evenquill.core.processes import WorkerDied
from evenquill.core.returned import ReturnedChange
from evenquill.core.source import ODT
from evenquill.core.source.sniffing import media_of_package
from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api, ApiError
from evenquill.desk.jobs.compare_returned import compare_returned
from evenquill.store import deliveries, documents

MOST_BYTES = 200_000_000
COMPARE_SECONDS, PAGE_COMPARE_SECONDS = 60.0, 1.0
"""Time limit for comparing a file, and what each page adds to it."""


def form_of(data: bytes) -> str:
    """The format that a file which was brought back is of; DOCX where it is of none, which who reads it says."""
    try:
        return "odt" if media_of_package(io.BytesIO(data)) == ODT else "docx"
    except SourceError:
        return "docx"


class ReturnedView(msgspec.Struct, frozen=True):
    """What was changed in a file since it was delivered (``compared_with``: the delivery's id, "" for the document as it is now), for
    the document at a ``revision``. ``remarks`` are sentences about what of the file is not taken."""

    revision: int
    compared_with: str
    remarks: tuple[str, ...]
    changes: tuple[ReturnedChange, ...]


def add_routes(api: Api, context: AppContext) -> None:
    @api.route("POST", "/api/documents/{document}/returned", returns=ReturnedView)
    def bring_back(document: str) -> ReturnedView:
        """Compares a DOCX or ODT file, the body of the request, with what was last delivered in its format. Nothing is changed; each change
        comes with the operation that takes it over."""
        row = documents.get(context.store, document)
        if not documents.is_correctable(row):
            raise ApiError(409, "reading", "A file can be brought back as soon as all pages are read.")
        if (request.content_length or 0) > MOST_BYTES:
            raise ApiError(413, "size", f"The file is larger than {MOST_BYTES // 1_000_000} MB.")
        returned = request.get_data()
        form = form_of(returned)
        last = next((one for one in deliveries.every(context.store, document) if one.format == form), None)
        path = str(context.files.delivery(last.id, last.format)) if last else None
        work = partial(compare_returned, str(context.data), document, returned, path, form)
        try:
            found = context.pages.run(work, seconds=COMPARE_SECONDS + PAGE_COMPARE_SECONDS * row.page_count)
        except (TimeoutError, WorkerDied):
            raise ApiError(503, "comparing", "The file could not be compared in time. Try again in a moment.") from None
        return ReturnedView(found.revision, last.id if last else "", found.remarks, found.changes)
