"""Endpoints with their schemas: what a route takes and gives is said once, checked at run time, and documented from there.

Bodies and answers are msgspec types, the model's own among them, so nothing is described twice.
"""

from __future__ import annotations

import gzip
import logging
from collections.abc import Callable
from typing import Any, NamedTuple

import msgspec
from flask import Flask, Response, request
from werkzeug.exceptions import HTTPException

from evenquill.core.document_state import TransitionRefused
from evenquill.core.errors import EditError, SourceError
from evenquill.desk.editing import JoinUndone, NotCorrectable, NothingToUndo
from evenquill.store.documents import NoDocument
from evenquill.store.history import StaleRevision
from evenquill.store.write_failures import WriteFailure, write_failure

log = logging.getLogger(__name__)


LONG_ANSWER, PACKING = 8_192, 5
"""Bytes from which an answer is packed, and how hard gzip tries (1 to 9)."""


class Problem(msgspec.Struct, frozen=True):
    """An error as the browser gets it: a short name for the program, a sentence for the clerk."""

    error: str
    sentence: str


REFUSALS = {
    404: ("missing", "There is no such address."),
    405: ("method", "That address cannot be asked for in this way."),
    413: ("size", "The request is too large."),
}
"""Name and sentence for what Flask refuses by itself."""


class ApiError(Exception):
    """Ends a request with a status, a name and a sentence."""

    def __init__(self, status: int, error: str, sentence: str) -> None:
        super().__init__(sentence)
        self.status = status
        self.problem = Problem(error, sentence)


class Missing(Exception):
    """What an address names is not there."""


class Endpoint(NamedTuple):
    """A route as it is documented. ``query`` names parameters and says what they are."""

    method: str
    path: str
    summary: str
    body: Any
    returns: Any
    query: dict[str, str]


class Api:
    """Collects endpoints and hangs them into a Flask application."""

    def __init__(self) -> None:
        self.endpoints: list[Endpoint] = []
        self._handlers: list[tuple[Endpoint, Callable[..., Any]]] = []

    def route(
        self, method: str, path: str, *, body: Any = None, returns: Any = None, query: dict[str, str] | None = None
    ) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
        """Decorates a handler. It gets the path's names and, where there is a body, ``body``; it returns a value of
        type ``returns``, None for no content, or a finished Response."""

        def add(handler: Callable[..., Any]) -> Callable[..., Any]:
            summary = (handler.__doc__ or "").strip()
            endpoint = Endpoint(method, path, summary, body, returns, query or {})
            self.endpoints.append(endpoint)
            self._handlers.append((endpoint, handler))
            return handler

        return add

    def install(self, app: Flask) -> None:
        for endpoint, handler in self._handlers:
            rule = endpoint.path.replace("{", "<").replace("}", ">")
            name = f"{endpoint.method} {endpoint.path}".replace(".", "-")
            app.add_url_rule(rule, name, _view(endpoint, handler), methods=[endpoint.method])
        app.after_request(_packed)
        app.register_error_handler(ApiError, lambda error: _json(error.problem, error.status))
        app.register_error_handler(EditError, lambda error: _json(Problem("edit", str(error)), 422))
        app.register_error_handler(SourceError, lambda error: _json(Problem("source", str(error)), 422))
        app.register_error_handler(
            StaleRevision,
            lambda error: _json(
                Problem("stale", "This document was changed in another window; here is its newest state."), 409
            ),
        )
        app.register_error_handler(
            NotCorrectable,
            lambda error: _json(Problem("reading", "Corrections can be made as soon as all pages are read."), 409),
        )
        app.register_error_handler(
            NothingToUndo, lambda error: _json(Problem("history", "There is nothing more to undo or redo."), 409)
        )
        app.register_error_handler(
            JoinUndone,
            lambda error: _json(
                Problem("parted", "The files are single documents again, as before they were joined."), 410
            ),
        )
        app.register_error_handler(
            TransitionRefused,
            lambda error: _json(Problem("state", f"That cannot be done while the document is {error.state}."), 409),
        )
        for missing in (NoDocument, Missing):
            app.register_error_handler(
                missing,
                lambda error: _json(Problem("missing", "That is no longer there; it may have been deleted."), 404),
            )
        app.register_error_handler(Exception, _failed)
        app.register_error_handler(
            msgspec.ValidationError,
            lambda error: _json(Problem("request", f"The request is not understood: {error}."), 400),
        )


def _view(endpoint: Endpoint, handler: Callable[..., Any]) -> Callable[..., Response]:
    decoder = msgspec.json.Decoder(endpoint.body) if endpoint.body is not None else None

    def view(**names: str) -> Response:
        if decoder is not None:
            if request.mimetype != "application/json":
                raise ApiError(415, "media", "The request has to be JSON (application/json).")
            try:
                names["body"] = decoder.decode(request.get_data())
            except msgspec.DecodeError as error:
                raise ApiError(400, "request", f"The request is not understood: {error}.") from None
            except RecursionError:
                raise ApiError(400, "request", "The request has parts within parts too deep to be read.") from None
        answer = handler(**names)
        if isinstance(answer, Response):
            return answer
        return Response(status=204) if answer is None else _json(answer, 200)

    return view


def _failed(error: Exception) -> Response:
    """An error that nobody foresaw is logged with what was asked for, and said to be one."""
    if isinstance(error, HTTPException):
        name, sentence = REFUSALS.get(error.code or 500, ("request", "The request is not understood."))
        return _json(Problem(name, sentence), error.code or 500)
    log.exception("%s %s failed", request.method, request.path)
    if failure := write_failure(error):
        busy = failure is WriteFailure.BUSY
        return _json(Problem("busy" if busy else "disk", failure.value), 503 if busy else 507)
    return _json(
        Problem("server", "Something went wrong in the server. What was saved before is safe; try again."), 500
    )


def _packed(response: Response) -> Response:
    """A long answer in JSON, packed for a browser that takes it so: a table of 200 rows is 270 KB, and packed less than a tenth."""
    wanted = response.mimetype == "application/json" and request.accept_encodings.quality("gzip") > 0
    if wanted and not response.direct_passthrough and "Content-Encoding" not in response.headers:
        data = response.get_data()
        if len(data) > LONG_ANSWER:
            response.set_data(gzip.compress(data, PACKING, mtime=0))
            response.headers["Content-Encoding"] = "gzip"
            response.headers.add("Vary", "Accept-Encoding")
    return response


def _json(value: Any, status: int) -> Response:
    return Response(msgspec.json.encode(value), status, mimetype="application/json")
