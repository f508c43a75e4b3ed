"""Routes for finding text, and small faults, in all of a document. What is found is replaced by operations."""

from __future__ import annotations

import msgspec

from evenquill.core.find import Hit, Search, hits
from evenquill.core.sweep import ASK, TITLES, SweepKind, faults
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


SAMPLES = 3
"""Faults of a kind that are shown."""


class FaultsOfKind(msgspec.Struct, frozen=True):
    """Small faults of a kind: what it is called, how many there are, some of them; ``ask`` where some of them may be meant."""

    kind: SweepKind
    title: str
    total: int
    samples: tuple[Hit, ...]
    ask: bool


def add_routes(api: Api, context: AppContext) -> None:
    @api.route("POST", "/api/documents/{document}/find", body=ToFind, returns=Found)
    def find(document: str, body: ToFind) -> Found:
        """Looks for text in all of a document that is not set aside."""
        revision, proof = context.open_documents.read(document)
        found = list(hits(proof, body.find, body.becomes))
        return Found(revision, len(found), tuple(found[:MOST]))

    @api.route("GET", "/api/documents/{document}/faults", returns=list[FaultsOfKind])
    def list_faults(document: str) -> list[FaultsOfKind]:
        """Small faults that can be swept out of a document, by kind."""
        _, proof = context.open_documents.read(document)
        found: dict[SweepKind, list[Hit]] = {kind: [] for kind in SweepKind}
        for kind, hit in faults(proof):
            found[kind].append(hit)
        return [
            FaultsOfKind(kind, TITLES[kind], len(of_kind), tuple(of_kind[:SAMPLES]), kind in ASK)
            for kind, of_kind in found.items()
            if of_kind
        ]
