"""The pages of a document as they come out, and how they can be made to fit."""

from __future__ import annotations

import msgspec
from flask import Response, request

from evenquill.core.edits import FitPages
from evenquill.core.model import StandIn
from evenquill.core.outcome.fitting import Way
from evenquill.core.outcome.misfits import Misfit
from evenquill.core.outcome.setting import PageSize, RowPlaces, SourceStart
from evenquill.core.strip_types import Strip
from evenquill.core.writers.problem import NotWritten
from evenquill.desk.context import AppContext
from evenquill.desk.drawing import DrawingError
from evenquill.desk.endpoints import Api, ApiError, Missing
from evenquill.desk.jobs.set_outcome import OutcomeMade
from evenquill.desk.outcomes import OutcomeFailed
from evenquill.desk.request_values import number_parameter, whole_number, whole_parameter
from evenquill.store import documents, history, proofs

SCALES = (0.1, 3.0)
"""Pixels for each point of a page."""

NO_FIT = {
    Way.SPACING: "Spacing alone does not do it: lines would touch, or fall apart.",
    Way.SIZE: "Letters of another size do not do it: they would differ too much from the source.",
    Way.SOURCE: "The pages of the source end within rows, or they do not go on pages here.",
}
"""Why a document cannot be made to fit in a way."""


class OutcomeView(msgspec.Struct, frozen=True):
    """How a document comes out at a ``revision``, made to fit by ``fit`` where a ``way`` was asked for: its pages, where its rows and the
    pages of the source begin, what does not fit, and which typefaces stand for those that are not at hand."""

    revision: int
    way: str
    pages: tuple[PageSize, ...]
    source_pages: tuple[PageSize, ...]
    rows: tuple[RowPlaces, ...]
    source_starts: tuple[SourceStart, ...]
    misfits: tuple[Misfit, ...]
    fit: FitPages | None
    stand_ins: tuple[StandIn, ...]
    seconds: float


class FitView(msgspec.Struct, frozen=True):
    """How a document would come out if it were made to fit in a way, or a sentence why it cannot be."""

    outcome: OutcomeView | None
    sentence: str


def add_routes(api: Api, context: AppContext) -> None:
    @api.route("GET", "/api/documents/{document}/outcome", returns=OutcomeView)
    def outcome(document: str) -> OutcomeView:
        """How a document comes out as it is now."""
        made = _made(context, document, "")
        if made is None:
            raise Missing
        return _view(context, document, "", made)

    @api.route("GET", "/api/documents/{document}/outcome/fits/{way}", returns=FitView)
    def fit(document: str, way: str) -> FitView:
        """How a document would come out if it were made to fit: by `spacing`, by the `size` of its letters, or with pages that begin as in
        the `source`. Nothing is changed."""
        if way not in list(Way):
            raise ApiError(422, "way", f"Documents cannot be made to fit by {way}.")
        made = _made(context, document, way)
        return FitView(_view(context, document, way, made), "") if made else FitView(None, NO_FIT[Way(way)])

    @api.route(
        "GET",
        "/api/documents/{document}/outcome/pages/{number}",
        query={
            "revision": "of the document that was set",
            "way": "in which it was made to fit",
            "scale": "pixels a point",
        },
    )
    def page(document: str, number: str) -> Response:
        """A page of an outcome that was set, as a PNG picture."""
        documents.get(context.store, document)
        file = context.outcomes.file(document, whole_parameter("revision", 0), request.args.get("way", ""))
        at = whole_number(number)
        if file is None or not at:
            raise Missing
        scale = round(min(max(number_parameter("scale", 1.0), SCALES[0]), SCALES[1]), 2)
        try:
            data = context.strips.draw(Strip(str(file), None, at, None, scale))
        except DrawingError as error:
            raise ApiError(422, "drawing", str(error)) from None
        return Response(data, mimetype="image/png", headers={"Cache-Control": "private, max-age=3600"})


def _made(context: AppContext, document: str, way: str) -> OutcomeMade | None:
    """The outcome of a document as it is now. Raises ApiError where it cannot be set."""
    row = documents.get(context.store, document)
    if not documents.is_correctable(row):
        raise ApiError(409, "reading", "The outcome can be seen as soon as all pages are read.")
    try:
        return context.outcomes.get(document, history.revision(context.store, document), row.page_count, way)
    except OutcomeFailed:
        raise ApiError(503, "setting", "The pages could not be set in time. Try again in a moment.") from None
    except NotWritten as error:
        raise ApiError(422, "setting", str(error)) from None


def _view(context: AppContext, document: str, way: str, made: OutcomeMade) -> OutcomeView:
    numbers = range(1, documents.get(context.store, document).page_count + 1)
    source_pages = proofs.page_geometry(context.store, document, numbers).values()
    return OutcomeView(
        made.revision,
        way,
        made.outcome.pages,
        tuple(PageSize(page.width, page.height) for page in source_pages),
        made.outcome.rows,
        made.outcome.source_starts,
        made.misfits,
        made.fit,
        made.stand_ins,
        round(made.seconds, 3),
    )
