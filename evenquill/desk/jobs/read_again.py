"""Reading pages again, in another way. The document can be corrected meanwhile: when all pages are there, the corrections of then are
merged with them, as one step of the history."""

from __future__ import annotations

from evenquill.core.document_state import Event
from evenquill.desk.jobs import tasks
from evenquill.desk.jobs.held_job import HeldJob, JobRefused
from evenquill.desk.jobs.read_document import examined
from evenquill.desk.jobs.tasks import Proof
from evenquill.store import documents, jobs, pages, preparations, snapshots
from evenquill.store.history import READING, Change, ChangeKind
from evenquill.store.jobs import JobKind
from evenquill.store.preparations import EVERY_PAGE
from evenquill.store.snapshots import Role


def read_pages_again(held: HeldJob) -> None:
    """Reads the pages that the job names and merges them into the document."""
    store, document = held.store, held.document
    held.set_stage("reading pages again")
    _, source_pages = examined(held)
    payload = held.job.payload
    wanted = set(payload.pages)
    kept = jobs.kept_pages(store, held.job.number)
    left = [
        source_page for source_page in source_pages if source_page.number in wanted and source_page.number not in kept
    ]
    for page in held.read_pages(left, payload.preparation):
        with held.committing():
            jobs.keep_page(store, held.job, page)
        held.context.events.publish(document)
    again = jobs.kept_pages(store, held.job.number)
    if not again:
        raise JobRefused
    held.set_stage("carrying corrections over, looking for doubts")
    readings = {**pages.readings(store, document), **again}
    run = held.run
    fresh = run(tasks.reread_document, held.data, document, readings)

    def make() -> bytes:
        return run(tasks.merge_rereading, held.data, document, fresh, readings, frozenset(again))

    def commit(proof: Proof) -> None:
        with held.committing():
            before = held.snapshot()
            number = held.commit_proof(proof, Change(ChangeKind.READ_AGAIN, payload.actor or READING))
            pages.set_readings(store, document, readings)
            if payload.preparation is not None:
                chosen = (EVERY_PAGE,) if payload.every_page else payload.pages
                preparations.choose(store, document, chosen, payload.preparation)
            snapshots.keep(store, document, number, Role.BEFORE, before)
            snapshots.keep(store, document, number, Role.AFTER, held.snapshot())
            documents.transition(store, document, Event.CHANGE)
            held.end(then=JobKind.WORD_SHAPES)

    held.merge(make, commit)
