"""A document looked back at, in the background: its pages are set, and each row is compared with its source. Only doubts come of it."""

from __future__ import annotations

from contextlib import closing
from functools import partial
from pathlib import Path

import msgspec

from evenquill.core.looking_back import LookedBack
from evenquill.core.looking_back.looks import SCALE
from evenquill.core.pictures import PictureFolder
from evenquill.core.queries import View, queries_in
from evenquill.core.queries.kinds.looks import KINDS
from evenquill.core.strip_types import Strip
from evenquill.core.writers.problem import NotWritten
from evenquill.desk.jobs.held_job import HeldJob
from evenquill.desk.strips import strip_of
from evenquill.store import looked_back, proofs, queries
from evenquill.store.database import connect, reading

_ENCODER = msgspec.msgpack.Encoder()
_DECODER = msgspec.msgpack.Decoder(LookedBack)


def look_back_at_document(held: HeldJob) -> None:
    """Looks back at the document as it is now and adds what is asked about that. Rows that are changed meanwhile are asked about as long
    as what was seen still holds."""
    store, document, context = held.store, held.document, held.context
    with context.open_documents.hold(document) as opened:
        pages = len(opened.proof.pages)
    strips = {n: strip_of(context, document, n, None, SCALE, "") for n in range(1, pages + 1)}
    seen = _DECODER.decode(held.run(partial(looked_back_at, held.data, document, strips)))
    names = {kind.name for kind in KINDS}
    with context.open_documents.locked(document), held.committing():
        looked_back.write(store, document, seen)
        proof = proofs.read(store, document)
        found = queries_in(View(proof, context.open_documents.office.words(), look_doubts=seen.doubts), names)
        known = {query.id for query in found}
        old = [query.id for query, _ in queries.every(store, document) if query.kind in names and query.id not in known]
        queries.remove(store, document, old)
        queries.add(store, document, found)
    context.events.publish(document)


def looked_back_at(data: str, document: str, strips: dict[int, Strip]) -> bytes:
    """In a worker: what looks otherwise than in the source, encoded; nothing where the document cannot be set."""
    from evenquill.core.looking_back.look_back import look_back

    with closing(connect(Path(data))) as store, reading(store):
        proof = proofs.read(store, document)
    try:
        return _ENCODER.encode(look_back(proof, strips, PictureFolder(Path(data) / "pictures").get))
    except (NotWritten, KeyError):
        return _ENCODER.encode(LookedBack())
