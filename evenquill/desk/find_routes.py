"""Routes for finding: what stands where in all of a document. It is replaced by an operation."""

from __future__ import annotations

import msgspec

from evenquill.core.find import Hit, Search, hits
from evenquill.desk.context import AppContext
from evenquill.desk.endpoints import Api

MOST = 500
"""Hits that are shown at once."""


class ToFind(msgspec.Struct, frozen=True):
    """What is looked for, and what is to stand there instead, None where nothing is to be replaced."""

    find: Search
    becomes: str | None = None


class Found(msgspec.Struct, frozen=True):
    """What was found in the document of ``revision``: how much, and the first of it."""

    revision: int
    total: int
    hits: tuple[Hit, ...]


def add_routes(api: Api, context: AppContext) -> None:
    @api.route("POST", "/api/documents/{document}/find", body=ToFind, returns=Found)
    def find(document: str, body: ToFind) -> Found:
        """Looks for text in all of a document that is not set aside."""
        revision, proof = context.open_documents.read(document)
        found = list(hits(proof, body.find, body.becomes))
        return Found(revision, len(found), tuple(found[:MOST]))
