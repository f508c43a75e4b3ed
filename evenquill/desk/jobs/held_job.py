"""A job that a runner holds: what it works on, and how what it makes is committed."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, nullcontext
from functools import partial
from typing import ParamSpec, TypeVar

from evenquill.core.evidence import PageEvidence
from evenquill.core.reading.jobs import SourcePage, page_jobs
from evenquill.core.reading.preparation import Preparation
from evenquill.desk.context import AppContext
from evenquill.desk.jobs.tasks import Proof, decoded_proof
from evenquill.store import documents, history, jobs, pages, parts, preparations, proofs, queries, snapshots
from evenquill.store.database import transaction
from evenquill.store.history import Change, StaleRevision
from evenquill.store.jobs import Job, JobKind, JobState
from evenquill.store.preparations import EVERY_PAGE
from evenquill.store.snapshots import Role, Snapshot

TRIES_WHILE_EDITED = 4
"""How often a merge is made anew because somebody went on editing meanwhile; then the document is held for as long as it takes."""


STEP_SECONDS, PAGE_STEP_SECONDS = 120.0, 2.0
"""Time limit for a step of a job besides reading pages, and what each page of the document adds to it."""

P = ParamSpec("P")
T = TypeVar("T")


class JobCancelled(Exception):
    """The job was stopped, or another runner has taken it."""


class JobRefused(Exception):
    """What the job was for cannot be done any more; the document stays as it is."""


class HeldJob:
    """A job, and the context to do it in."""

    def __init__(self, context: AppContext, job: Job, owner: str) -> None:
        self.context = context
        self.job = job
        self.owner = owner

    @property
    def document(self) -> str:
        return self.job.document

    @property
    def store(self) -> sqlite3.Connection:
        return self.context.store

    @property
    def data(self) -> str:
        return str(self.context.data)

    def check(self) -> None:
        """Raises JobCancelled if the job is no longer held."""
        if not jobs.is_held(self.store, self.job.number, self.owner):
            raise JobCancelled

    @contextmanager
    def committing(self) -> Iterator[None]:
        """A transaction in which what the job has made is written; nothing is if the job is no longer held."""
        with transaction(self.store):
            self.check()
            yield

    def end(self, then: JobKind) -> None:
        """Ends the job together with what it has committed, so that it is never done twice, and queues what comes next."""
        jobs.end(self.store, self.job.number, self.owner, JobState.DONE)
        jobs.queue(self.store, self.document, then)

    def set_stage(self, stage: str) -> None:
        """Says what is being done, in words for the clerk."""
        documents.set_stage(self.store, self.document, stage)
        self.context.events.publish(self.document)

    def run(self, function: Callable[P, T], *arguments: P.args, **named: P.kwargs) -> T:
        """What a function gives that is run in a process. Raises what it raises, JobCancelled as soon as the job is stopped, TimeoutError
        where it takes too long for a document of its size, WorkerDied where processes ended at it."""
        seconds = STEP_SECONDS + PAGE_STEP_SECONDS * documents.get(self.store, self.document).page_count
        return self.context.pages.run(partial(function, *arguments, **named), seconds=seconds, watch=self.check)

    def read_pages(
        self, source_pages: Sequence[SourcePage], preparation: Preparation | None = None
    ) -> Iterator[PageEvidence]:
        """Pages as they are read, all in one way or as was chosen for each. Raises JobCancelled when the job is stopped."""
        chosen = preparations.choices(self.store, self.document)
        if preparation is not None:
            chosen = {EVERY_PAGE: preparation}
        reading = self.context.pages.read(
            page_jobs(
                source_pages,
                self.context.files.pictures.folder,
                password=self.context.passwords.get(self.document),
                preparations=chosen,
            ),
            self.check,
        )
        try:
            for page in reading:
                self.check()
                yield page
        finally:
            reading.close()

    def merge(self, make: Callable[[], bytes], commit: Callable[[Proof], None]) -> None:
        """Makes a proof and commits it. If the document was edited meanwhile, it is made anew from what it is then."""
        opened = self.context.open_documents
        for attempt in range(TRIES_WHILE_EDITED + 1):
            last = attempt == TRIES_WHILE_EDITED
            # In the end nobody else may change the document until the merge is in.
            with opened.locked(self.document) if last else nullcontext():
                proof = decoded_proof(make())
                self.check()
                try:
                    with opened.locked(self.document):
                        commit(proof)
                except StaleRevision:
                    continue
            return
        raise StaleRevision

    def commit_proof(self, proof: Proof, change: Change, *, preview: bool = False) -> int:
        """Writes a whole proof with its place in the history and its queries; within ``committing``."""
        store, document = self.store, self.document
        number = history.commit(
            store,
            document,
            proof.expected,
            change,
            lambda: proofs.write(store, document, proof.document),
            next_id=proof.next_id,
        )
        documents.set_preview(store, document, preview)
        documents.set_kind(store, document, proof.kind, proof.sized_up)
        queries.write(store, document, proof.queries)
        if not preview:
            snapshots.keep(store, document, number, Role.READ, Snapshot(proof.as_read or proof.document))
        return number

    def snapshot(self) -> Snapshot:
        """The document as it is stored now, with all that a step may change."""
        store, document = self.store, self.document
        return Snapshot(
            proofs.read(store, document),
            pages.readings(store, document),
            tuple(parts.every(store, document)),
            preparations.choices(store, document),
            tuple(query for query, _ in queries.every(store, document)),
        )
