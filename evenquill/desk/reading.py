"""The reading room: takes waiting documents one after another and has their pages read in worker processes.

Every page is stored as soon as it is read, so a stop or a crash costs only the pages under way. While later pages are read, the
first ones can be looked at already: the proof of the pages so far is rebuilt whenever their number has doubled.
"""

from __future__ import annotations

import logging
import sqlite3
import threading
from collections.abc import Iterator
from pathlib import Path

from msgspec.structs import replace

from evenquill.core.convert import joined_leaves, with_source_remarks
from evenquill.core.errors import PasswordNeeded, SourceError
from evenquill.core.languages import short_code
from evenquill.core.queries import find_queries
from evenquill.core.queries.office import office_words
from evenquill.core.reading.evidence import PageEvidence, PageKind
from evenquill.core.reading.jobs import Leaf, page_jobs
from evenquill.core.reading.sizing import in_words
from evenquill.core.rebuild import rebuild
from evenquill.core.rebuild.carry import carried_over
from evenquill.core.source import SourceFacts, examine, joined_facts, rights_sentence
from evenquill.desk.house import House
from evenquill.desk.look_alikes import take_shapes
from evenquill.store import documents, jobs, office, pages, parts, proofs, queries, readings
from evenquill.store.database import connect, transaction
from evenquill.store.documents import Needs, State

FIRST_PREVIEW = 1
"""Pages after which a first proof can be looked at."""

DOCUMENTS_AT_ONCE = 2
"""So that a letter need not wait for the end of a manual."""

log = logging.getLogger(__name__)


class ReadingRoom:
    """Threads that work through the reading jobs."""

    def __init__(self, house: House) -> None:
        self._house = house
        self._wake = threading.Event()
        self._stopped = threading.Event()
        self._threads = [
            threading.Thread(target=self._work, name=f"reading {n}", daemon=True) for n in range(DOCUMENTS_AT_ONCE)
        ]

    def start(self) -> None:
        """Begins, with what an earlier server left unfinished first."""
        jobs.resume(self._house.store)
        for thread in self._threads:
            thread.start()

    def wake(self) -> None:
        """Says that there is something to read."""
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
                job = jobs.take(self._house.store)
            except sqlite3.Error:
                log.exception("the list of jobs cannot be read")
            if job is None:
                self._wake.wait(timeout=2.0)
                self._wake.clear()
                continue
            self._run(*job)

    def _run(self, job: int, document: str) -> None:
        store = self._house.store
        try:
            state = self._read(job, document)
        except SourceError as error:
            state = "failed"
            needs = Needs.PASSWORD if isinstance(error, PasswordNeeded) else Needs.NOTHING
            documents.set_state(store, document, State.STOPPED, needs=needs, problem=str(error))
        except Exception as error:
            if self._stopped.is_set():
                return  # the pools are being closed; the job stays as it is and is taken up again
            log.exception("reading %s failed", document)
            state = "failed"
            self._say_stopped(document, _sentence(error))
        try:
            jobs.end(store, job, state)
        except sqlite3.Error:
            log.exception("the end of job %s cannot be written", job)
        self._house.events.tell(document)
        if state == "done":
            # When the job has ended: the clerk may ask for more by then.
            self._take_shapes(document)

    def _say_stopped(self, document: str, sentence: str) -> None:
        try:
            documents.set_state(self._house.store, document, State.STOPPED, problem=sentence)
        except sqlite3.Error:
            log.exception("the state of %s cannot be written", document)

    def _read(self, job: int, document: str) -> str:
        """Reads what is not read yet, then rebuilds; returns how the job ended."""
        house, store = self._house, self._house.store
        documents.set_state(store, document, State.READING)
        self._say_stage(document, "opening the file")
        password = house.passwords.get(document)
        facts, leaves = self._examined(document, password)
        if facts.restrictions and not documents.rights_confirmed(store, document):
            documents.set_state(
                store, document, State.STOPPED, needs=Needs.RIGHTS, problem=rights_sentence(facts.restrictions)
            )
            return "cancelled"
        known = pages.numbers(store, document)
        left = [leaf for leaf in leaves if leaf.number not in known]
        self._say_stage(document, "reading pages")
        # The first page is read alone, so that it can be looked at as soon as in a short document.
        rounds = [left[:1], left[1:]] if left and left[0].number == 1 else [left]
        preview_at = max(FIRST_PREVIEW, 2 * _in_a_row(known))
        for some in rounds:
            for page in self._pages(job, document, some):
                pages.add(store, document, page)
                known.add(page.number)
                house.events.tell(document)
                if preview_at <= _in_a_row(known) < facts.pages:
                    self._rebuild(document, up_to=_in_a_row(known))
                    preview_at = 2 * _in_a_row(known)
            if jobs.is_cancelled(store, job):
                return "cancelled"
        if left:
            self._say_stage(document, "putting pages together, looking for doubts")
            self._rebuild(document, up_to=None)
        wanted = set(readings.waiting(store, document))
        for page in self._pages(job, document, [leaf for leaf in leaves if leaf.number in wanted]):
            readings.keep(store, document, page)
            house.events.tell(document)
        if jobs.is_cancelled(store, job):
            return "cancelled"
        if readings.done(store, document):
            self._say_stage(document, "carrying corrections over, looking for doubts")
            house.pages.run(carry_job, str(house.data), document)
            house.proofs.forget(document)
        elif not left and not documents.has_whole_proof(store, document):
            self._rebuild(document, up_to=None)
        documents.set_state(store, document, State.TO_CORRECT)
        return "done"

    def _take_shapes(self, document: str) -> None:
        """In the background of a document that is read: without shapes there are no look-alikes, and nothing else is amiss."""
        try:
            self._house.pages.run(take_shapes, str(self._house.data), document)
        except Exception:
            if not self._stopped.is_set():
                log.exception("the shapes of %s could not be taken", document)

    def _say_stage(self, document: str, stage: str) -> None:
        documents.set_stage(self._house.store, document, stage)
        self._house.events.tell(document)

    def _examined(self, document: str, password: str | None) -> tuple[SourceFacts, list[Leaf]]:
        """Facts of the whole document, and its pages with the files that they are in."""
        house, store = self._house, self._house.store
        found: list[tuple[Path, SourceFacts]] = []
        for part in parts.every(store, document):
            path = house.files.source(part.source)
            facts = house.pages.run(examine_job, str(path), password, str(house.files.repaired_copy(part.source)))
            parts.set_facts(store, document, part.position, facts)
            found.append((path, facts))
        whole = joined_facts([facts for _, facts in found])
        chosen = readings.choices(store, document).get(readings.EVERY_PAGE)
        if chosen is not None and chosen.languages:
            whole = replace(whole, language=short_code(chosen.languages[0]))
        documents.set_facts(store, document, whole)
        return whole, joined_leaves(found)

    def _pages(self, job: int, document: str, leaves: list[Leaf]) -> Iterator[PageEvidence]:
        """Pages as they are read; ends early when the job is cancelled."""
        house = self._house
        reading = house.pages.read(
            page_jobs(
                leaves,
                house.files.pictures.folder,
                password=house.passwords.get(document),
                preparations=readings.choices(house.store, document),
            )
        )
        try:
            for page in reading:
                if jobs.is_cancelled(house.store, job):
                    return
                yield page
        finally:
            reading.close()

    def _rebuild(self, document: str, *, up_to: int | None) -> None:
        self._house.pages.run(rebuild_job, str(self._house.data), document, up_to)
        self._house.proofs.forget(document)
        self._house.events.tell(document)


def examine_job(source: str, password: str | None, repair_into: str) -> SourceFacts:
    """In a worker: facts about a source."""
    return examine(Path(source), password=password, repair_into=Path(repair_into))


def rebuild_job(data: str, document: str, up_to: int | None) -> None:
    """In a worker: rebuilds a document from its stored pages and stores the proof; ``up_to`` makes it a preview."""
    store = connect(Path(data))
    try:
        evidence = pages.evidence(store, document, up_to)
        facts = documents.facts(store, document)
        if facts is None:
            return
        proof = with_source_remarks(rebuild(evidence, facts), facts)
        found = find_queries(proof, office_words(office.every(store))) if up_to is None else []
        with transaction(store):
            proofs.write(store, document, proof, preview=up_to is not None)
            _set_kind(store, document, evidence)
            queries.write(store, document, found)
    finally:
        store.close()


def carry_job(data: str, document: str) -> None:
    """In a worker: new readings of some pages take the place of the old ones; corrections are carried over."""
    store = connect(Path(data))
    try:
        facts = documents.facts(store, document)
        if facts is None:
            return
        old = pages.evidence(store, document)
        new = {page.number: page for page in readings.done(store, document)}
        whole = [new.get(page.number, page) for page in old]
        proof = carried_over(
            rebuild(old, facts),
            proofs.read(store, document),
            with_source_remarks(rebuild(whole, facts), facts),
            frozenset(new),
        )
        found = find_queries(proof, office_words(office.every(store)))
        with transaction(store):
            for page in new.values():
                pages.add(store, document, page)
            readings.forget(store, document)
            proofs.write(store, document, proof)
            _set_kind(store, document, whole)
            queries.write(store, document, found)
    finally:
        store.close()


def _set_kind(store: sqlite3.Connection, document: str, evidence: list[PageEvidence]) -> None:
    kinds = {page.kind for page in evidence}
    kind = "mixed" if len(kinds) > 1 else next(iter(kinds), PageKind.NATIVE).value
    documents.set_kind(store, document, kind, in_words(evidence))


def _in_a_row(numbers: set[int]) -> int:
    """How many pages from the first on are there."""
    n = 0
    while n + 1 in numbers:
        n += 1
    return n


def _sentence(error: Exception) -> str:
    """What to tell the clerk of an error that nobody foresaw."""
    if _is_disk_full(error):
        return "The disk is full. Make room, then read this document again; the pages read so far are kept."
    return "Something went wrong while reading. Read it again; the pages read so far are kept."


def _is_disk_full(error: Exception) -> bool:
    if isinstance(error, OSError) and error.errno == 28:
        return True
    return isinstance(error, sqlite3.OperationalError) and "full" in str(error)
