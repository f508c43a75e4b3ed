"""The job runner: threads that take jobs and do them, each kind by its own function.

A job holds its document by a lease, which a thread of its own renews. What a job makes is committed only while the job is still held, so
that one that was stopped changes nothing any more. A job that fails in a way that nobody foresaw is tried again.
"""

from __future__ import annotations

import logging
import secrets
import sqlite3
import threading
import time
from collections.abc import Callable, Mapping
from typing import NamedTuple

from evenquill.core.document_state import Event, TransitionRefused
from evenquill.core.errors import PasswordNeeded, SourceError
from evenquill.core.processes import WorkerDied
from evenquill.desk.context import AppContext
from evenquill.desk.jobs.held_job import HeldJob, JobCancelled, JobRefused
from evenquill.desk.jobs.look_back import look_back_at_document
from evenquill.desk.jobs.read_again import read_pages_again
from evenquill.desk.jobs.read_document import read_document
from evenquill.desk.jobs.reorder_files import reorder_files
from evenquill.desk.jobs.word_shapes import take_word_shapes
from evenquill.store import documents, jobs
from evenquill.store.database import transaction
from evenquill.store.documents import Needs
from evenquill.store.jobs import Job, JobKind, JobState
from evenquill.store.write_failures import WriteFailure, write_failure

THREADS = 3
"""Jobs at once: a letter need not wait for the end of a manual, nor either for what goes on in the background."""

RENEWED_EVERY = 15.0
"""Seconds; leases are longer."""

MOST_TRIES = 2

WRITTEN_AGAIN = 5.0
"""Seconds after which it is tried again to write how a job ended."""


class Outcome(NamedTuple):
    """How a job ended; where it could not be done, the ``problem`` in a sentence, what that does to the document, and what it needs."""

    state: JobState
    problem: str = ""
    event: Event | None = None
    needs: Needs = Needs.NOTHING


Run = Callable[[HeldJob], None]
RUNS: Mapping[JobKind, Run] = {
    JobKind.READ: read_document,
    JobKind.READ_AGAIN: read_pages_again,
    JobKind.REORDER: reorder_files,
    JobKind.WORD_SHAPES: take_word_shapes,
    JobKind.LOOK_BACK: look_back_at_document,
}

log = logging.getLogger(__name__)


class JobRunner:
    """Threads that work through the jobs of a data folder."""

    def __init__(self, context: AppContext) -> None:
        self._context = context
        self._owner = secrets.token_hex(8)
        self._wake = threading.Event()
        self._stopped = threading.Event()
        self._failing: WriteFailure | None = None
        self._threads = [threading.Thread(target=self._work, name=f"jobs {n}", daemon=True) for n in range(THREADS)]
        self._threads.append(threading.Thread(target=self._renew, name="leases", daemon=True))

    def start(self) -> None:
        """Begins, with what an earlier server left unfinished first."""
        jobs.release(self._context.store, self._owner)
        for thread in self._threads:
            thread.start()

    @property
    def is_working(self) -> bool:
        """Whether all its threads are there."""
        return all(thread.is_alive() for thread in self._threads)

    @property
    def failing(self) -> WriteFailure | None:
        """What keeps jobs from being taken up, None where nothing does."""
        return self._failing

    def wake(self) -> None:
        """Says that there is something to do."""
        self._wake.set()

    def stop(self) -> None:
        self._stopped.set()
        self._wake.set()
        for thread in self._threads:
            thread.join(timeout=10)

    def _work(self) -> None:
        while not self._stopped.is_set():
            job = None
            try:
                job = jobs.take(self._context.store, self._owner)
                self._failing = None
                if job is not None:
                    self._do(job)
            except Exception as error:
                # Whatever happens, the thread goes on: other documents wait for it.
                if failure := write_failure(error):
                    # What waits is taken up when there is room again.
                    self._report(failure)
                    self._stopped.wait(WRITTEN_AGAIN)
                else:
                    log.exception("job %s of document %s went wrong", job and job.number, job and job.document)
            if job is None:
                self._wake.wait(timeout=1.0)
                self._wake.clear()

    def _report(self, failure: WriteFailure) -> None:
        """Says once that nothing can be written, and not every few seconds."""
        if failure is not self._failing:
            log.error("no job can be taken up: %s", failure)
        self._failing = failure

    def _renew(self) -> None:
        while not self._stopped.wait(RENEWED_EVERY):
            try:
                jobs.renew(self._context.store, self._owner)
            except sqlite3.Error:
                log.exception("the leases of jobs cannot be renewed")

    def _do(self, job: Job) -> None:
        """Does a job and writes how it ended."""
        held = HeldJob(self._context, job, self._owner)
        started = time.monotonic()
        outcome = Outcome(JobState.DONE)
        try:
            RUNS[job.kind](held)
        except (JobCancelled, JobRefused, documents.NoDocument):
            outcome = Outcome(JobState.CANCELLED)
        except SourceError as error:
            needs = Needs.PASSWORD if isinstance(error, PasswordNeeded) else Needs.NOTHING
            outcome = Outcome(JobState.FAILED, str(error), Event.ASK if needs else Event.FAIL, needs)
        except Exception as error:
            if self._stopped.is_set():
                return  # the pools are being closed; the job is taken up again by the next server
            log.exception("job %s (%s) of document %s failed", job.number, job.kind, job.document)
            # A disk that is full is no fault of the document's.
            event = Event.STOP if write_failure(error) else Event.FAIL
            outcome = Outcome(JobState.FAILED, sentence_for(error), event)
            if job.tries < MOST_TRIES and not _would_fail_again(error):
                outcome = Outcome(JobState.WAITING, outcome.problem)
        seconds = time.monotonic() - started
        log.info("job %s (%s) of document %s: %s, %.1f s", job.number, job.kind, job.document, outcome.state, seconds)
        self._write_outcome(held, outcome)
        self._context.events.publish(job.document)

    def _write_outcome(self, held: HeldJob, outcome: Outcome) -> None:
        """Writes how a job ended as soon as that can be written: the document is not left as if it were still being read."""
        store, job = self._context.store, held.job
        while True:
            try:
                with transaction(store):
                    if outcome.event is not None:
                        self._stop_document(held, outcome)
                    jobs.end(store, job.number, self._owner, outcome.state, outcome.problem)
            except sqlite3.Error as error:
                log.warning("the end of job %s of document %s cannot be written: %s", job.number, job.document, error)
                if write_failure(error) is WriteFailure.FULL and self._context.make_room():
                    continue
                if self._stopped.wait(WRITTEN_AGAIN):
                    return
            else:
                return

    def _stop_document(self, held: HeldJob, outcome: Outcome) -> None:
        """Says on the docket why reading cannot go on. One that has a proof stays as it is."""
        store, job = self._context.store, held.job
        try:
            if outcome.event and job.kind is JobKind.READ and jobs.is_held(store, job.number, self._owner):
                documents.transition(store, job.document, outcome.event, needs=outcome.needs, problem=outcome.problem)
            elif job.kind not in jobs.BEHIND:
                documents.set_problem(store, job.document, outcome.problem)
        except (TransitionRefused, KeyError):
            log.warning("document %s is no longer being read: %s", job.document, outcome.problem)


def _would_fail_again(error: Exception) -> bool:
    """Whether a job is not tried once more, since workers tried already, or since nothing will have changed so soon."""
    crashed = isinstance(error, WorkerDied) and error.crashed
    return crashed or isinstance(error, TimeoutError) or write_failure(error) is WriteFailure.FULL


def sentence_for(error: Exception) -> str:
    """What to tell the clerk of an error that nobody foresaw."""
    if isinstance(error, TimeoutError):
        return "It takes too long to put the pages of this document together. Split it and try again."
    if isinstance(error, WorkerDied) and error.crashed:
        return "It takes more memory than there is to put this document together. Split it and try again."
    if failure := write_failure(error):
        return f"{failure} The pages read so far are kept."
    return "Something went wrong while reading. Read it again; the pages read so far are kept."
