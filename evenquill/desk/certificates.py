"""The proof of work: figures of what was done to a document, and its certificate."""

from __future__ import annotations

from evenquill.core.edits.corrections import corrections_of
from evenquill.core.model import Document
from evenquill.core.queries.look_alikes import words_by_page
from evenquill.core.writers.certificate import WorkDone, write_certificate
from evenquill.desk.house import House
from evenquill.store import documents, proofs, queries


def work_done(house: House, document: str, proof: Document) -> WorkDone:
    """Words read, queries raised and settled, characters typed."""
    counts = queries.counts(house.store, document)
    return WorkDone(
        words=sum(len(words) for words in words_by_page(proof).values()),
        characters=sum(len(text.text) for text in proof.written_texts),
        raised=counts.open + counts.left + counts.settled,
        changed=counts.settled - counts.kept,
        kept=counts.kept,
        left=counts.left,
        open=counts.open,
        typed=counts.typed,
    )


def certificate_of(house: House, document: str, revision: int, proof: Document) -> bytes:
    """The certificate of a document as it is now."""
    steps = proofs.done(house.store, document)
    corrections = [one for step in steps for one in corrections_of(step.operation, step.inverse)]
    doubts = [standing.query for standing in house.doubts.standing(document, proof)]
    name = documents.get(house.store, document).name
    return write_certificate(name, revision, work_done(house, document, proof), corrections, doubts).encode()
