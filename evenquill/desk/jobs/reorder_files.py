"""Putting the files of a document into another order. Nothing is read again; corrections stay, as one step of the history."""

from __future__ import annotations

from collections.abc import Sequence

from evenquill.core.document_state import Event
from evenquill.desk.jobs import tasks
from evenquill.desk.jobs.held_job import HeldJob, JobRefused
from evenquill.desk.jobs.read_document import whole_facts
from evenquill.desk.jobs.tasks import Proof
from evenquill.store import documents, pages, parts, preparations, snapshots
from evenquill.store.history import CLERK, Change, ChangeKind
from evenquill.store.jobs import JobKind
from evenquill.store.snapshots import Role


def reorder_files(held: HeldJob) -> None:
    """Puts the files into the order that the job names."""
    store, document = held.store, held.document
    known = parts.every(store, document)
    places = held.job.payload.places
    facts = [part.facts for part in known if part.facts is not None]
    if sorted(places) != list(range(len(known))) or len(facts) < len(known):
        raise JobRefused
    held.set_stage("putting files into another order")
    moved = moved_numbers([one.pages for one in facts], places)
    before_now = pages.readings(store, document)
    readings = {moved[number]: reading for number, reading in before_now.items()}
    run = held.run
    fresh = run(tasks.reread_document, held.data, document, readings, tuple(places))

    def make() -> bytes:
        return run(tasks.merge_reordering, held.data, document, fresh, moved, readings)

    def commit(proof: Proof) -> None:
        with held.committing():
            if pages.readings(store, document) != before_now:
                raise JobRefused
            before = held.snapshot()
            number = held.commit_proof(proof, Change(ChangeKind.REORDER, held.job.payload.actor or CLERK))
            pages.set_readings(store, document, readings)
            parts.set_all(store, document, [known[place] for place in places])
            chosen = preparations.choices(store, document)
            preparations.set_all(
                store, document, {moved.get(page, page): preparation for page, preparation in chosen.items()}
            )
            documents.set_facts(store, document, whole_facts(held, [facts[place] for place in places]))
            snapshots.keep(store, document, number, Role.BEFORE, before)
            snapshots.keep(store, document, number, Role.AFTER, held.snapshot())
            documents.transition(store, document, Event.CHANGE)
            held.end(then=JobKind.WORD_SHAPES)

    held.merge(make, commit)


def moved_numbers(counts: Sequence[int], places: Sequence[int]) -> dict[int, int]:
    """New page numbers by old ones when files of ``counts`` pages change places."""
    starts = [sum(counts[:n]) for n in range(len(counts))]
    moved: dict[int, int] = {}
    before = 0
    for place in places:
        for n in range(1, counts[place] + 1):
            moved[starts[place] + n] = before + n
        before += counts[place]
    return moved
