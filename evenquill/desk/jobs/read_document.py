"""The first reading of a document.

Every page is stored as soon as it is read, so a stop or a crash costs only the pages under way. While later pages are read, the first
ones can be looked at already: the proof of the pages so far is rebuilt whenever their number has doubled.
"""

from __future__ import annotations

from msgspec.structs import replace

from evenquill.core.convert import source_pages_of
from evenquill.core.document_state import Event
from evenquill.core.errors import TooLarge
from evenquill.core.languages import short_code
from evenquill.core.reading.jobs import SourcePage
from evenquill.core.rebuild_files import SourceFile
from evenquill.core.source import SourceFacts, joined_facts, rights_sentence
from evenquill.desk.jobs import tasks
from evenquill.desk.jobs.held_job import HeldJob, JobCancelled
from evenquill.store import documents, history, pages, parts, preparations
from evenquill.store.database import transaction
from evenquill.store.documents import Needs
from evenquill.store.history import READING, Change, ChangeKind
from evenquill.store.jobs import JobKind
from evenquill.store.preparations import EVERY_PAGE

FIRST_PREVIEW = 1
"""Pages after which a first proof can be looked at."""


def read_document(held: HeldJob) -> None:
    """Reads what is not read yet, then rebuilds."""
    with held.committing():
        documents.transition(held.store, held.document, Event.BEGIN_READING)
    held.set_stage("opening the file")
    facts, source_pages = examined(held)
    if facts.restrictions and not documents.rights_confirmed(held.store, held.document):
        with held.committing():
            documents.transition(
                held.store,
                held.document,
                Event.ASK,
                needs=Needs.RIGHTS,
                problem=rights_sentence(facts.restrictions),
            )
        raise JobCancelled
    _read_missing(held, facts, source_pages)
    held.set_stage("putting pages together, looking for doubts")
    joined = bool(documents.joined_into(held.store, held.document))
    run = held.run
    made = (
        run(tasks.rebuild_joined, held.data, held.document)
        if joined
        else run(tasks.rebuild_document, held.data, held.document, None)
    )
    proof = tasks.decoded_proof(made)
    with held.context.open_documents.locked(held.document), held.committing():
        held.commit_proof(
            proof, Change(ChangeKind.JOIN if joined else ChangeKind.READ, held.job.payload.actor or READING)
        )
        documents.transition(held.store, held.document, Event.FINISH_READING)
        held.end(then=JobKind.WORD_SHAPES)


def examined(held: HeldJob) -> tuple[SourceFacts, list[SourcePage]]:
    """Facts of the whole document, and its pages with the files that they are in. Raises SourceError."""
    context, store, document = held.context, held.store, held.document
    password = context.passwords.get(document)
    found: list[SourceFile] = []
    for position, part in enumerate(parts.every(store, document)):
        path = context.files.source(part.source)
        copy = str(context.files.copy_to_read(part.source))
        try:
            facts = held.run(tasks.examine_source, held.data, str(path), password, copy)
        except TimeoutError:
            raise TooLarge("The file takes too long to open. Split it and try again.") from None
        parts.set_facts(store, document, position, facts)
        found.append(SourceFile(path, facts))
    whole = whole_facts(held, [file.facts for file in found])
    with transaction(store):
        documents.set_facts(store, document, whole)
    return whole, source_pages_of(found)


def whole_facts(held: HeldJob, found: list[SourceFacts]) -> SourceFacts:
    """Facts of files as one document, in the language that the clerk has chosen for it."""
    whole = joined_facts(found)
    chosen = preparations.choices(held.store, held.document).get(EVERY_PAGE)
    if chosen is not None and chosen.languages:
        whole = replace(whole, language=short_code(chosen.languages[0]))
    return whole


def _read_missing(held: HeldJob, facts: SourceFacts, source_pages: list[SourcePage]) -> None:
    known = pages.numbers(held.store, held.document)
    left = [source_page for source_page in source_pages if source_page.number not in known]
    held.set_stage("reading pages")
    # The first page is read alone, so that it can be looked at as soon as in a short document.
    rounds = [left[:1], left[1:]] if left and left[0].number == 1 else [left]
    preview_at = max(FIRST_PREVIEW, 2 * _in_a_row(known))
    for some in rounds:
        for page in held.read_pages(some):
            with held.committing():
                pages.add(held.store, held.document, page)
            known.add(page.number)
            held.context.events.publish(held.document)
            so_far = _in_a_row(known)
            if preview_at <= so_far < facts.pages:
                _preview(held, so_far)
                preview_at = 2 * so_far


def _preview(held: HeldJob, up_to: int) -> None:
    """The proof of the pages so far."""
    made = held.run(tasks.rebuild_document, held.data, held.document, up_to)
    proof = tasks.decoded_proof(made)
    with held.context.open_documents.locked(held.document), held.committing():
        if history.revision(held.store, held.document) == proof.expected:
            held.commit_proof(proof, Change(ChangeKind.PREVIEW, READING), preview=True)
    held.context.events.publish(held.document)


def _in_a_row(numbers: set[int]) -> int:
    """How many pages from the first on are there."""
    n = 0
    while n + 1 in numbers:
        n += 1
    return n
