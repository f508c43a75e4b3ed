"""The proof of work: figures of what was done to a document, and its certificate."""

from __future__ import annotations

from evenquill.core.edits.corrections import corrections_of
from evenquill.core.model import Document
from evenquill.core.queries.look_alikes import words_by_page
from evenquill.core.writers.certificate import Entry, WorkDone, certificate_entries
from evenquill.desk.context import AppContext
from evenquill.desk.doubts import every_query
from evenquill.store import documents, history, queries


def work_done(context: AppContext, document: str, proof: Document) -> WorkDone:
    """Words read, queries raised and settled, characters typed."""
    counts = queries.counts(context.store, document)
    return WorkDone(
        words=sum(len(words) for words in words_by_page(proof).values()),
        characters=sum(len(text.readable) for text in proof.written_texts),
        raised=counts.open + counts.left + counts.settled,
        changed=counts.settled - counts.kept,
        kept=counts.kept,
        left=counts.left,
        open=counts.open,
        typed=counts.typed,
    )


def certificate_of(context: AppContext, document: str, revision: int, proof: Document) -> list[Entry]:
    """The certificate of a document as it is now."""
    steps = history.edits_done(context.store, document)
    corrections = [one for step in steps if step.operation for one in corrections_of(step.operation, step.inverse)]
    with context.open_documents.hold(document) as opened:
        doubts = [one.query for one in every_query(context.store, opened)]
    name = documents.get(context.store, document).name
    work = work_done(context, document, proof)
    people = history.changes_by_actor(context.store, document)
    return certificate_entries(name, revision, work, people, corrections, doubts)
