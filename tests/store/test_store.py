"""The store: what is written is found again, in order, after a restart; histories run both ways."""

from __future__ import annotations

import sqlite3
import stat
import threading

import pytest
from msgspec.structs import replace

from evenquill.core.document_state import DocumentState, Event, TransitionRefused
from evenquill.core.edits import Exclude, InsertParagraph, KeepAsItIs, MoveBlock, apply, undo
from evenquill.core.evidence import PageEvidence
from evenquill.core.model import Box, Document, DoubtKey, ParagraphStyle, Spot, Text, TextBlock
from evenquill.core.model.ids import Ids
from evenquill.core.source import SourceFacts
from evenquill.store import deliveries, documents, history, jobs, pages, proofs
from evenquill.store.database import connect, transaction
from evenquill.store.documents import Needs
from evenquill.store.files import Files
from evenquill.store.history import Change, ChangeKind, StaleRevision
from evenquill.store.jobs import JobKind, JobState, Payload


@pytest.fixture
def store(tmp_path):
    connection = connect(tmp_path)
    documents.add(connection, id="d", name="Report.pdf", source="5" * 64, size=10, route="browser")
    return connection


def row(id: str, page: int = 1) -> TextBlock:
    return TextBlock(id, content=(Text(id),), style="Body text", spots=(Spot(page, Box(0, 0, 1, 1)),))


def proof(*names: str) -> Document:
    return Document("Report", "en", (ParagraphStyle("Body text"),), tuple(row(name) for name in names))


def order(store) -> list[str]:
    return [block.id for block in proofs.read(store, "d").blocks]


def test_a_document_goes_through_its_states(store):
    assert documents.get(store, "d").state is DocumentState.WAITING
    with pytest.raises(TransitionRefused):
        documents.transition(store, "d", Event.ASK, needs=Needs.PASSWORD)
    documents.transition(store, "d", Event.BEGIN_READING)
    documents.transition(store, "d", Event.ASK, needs=Needs.PASSWORD, problem="It is locked.")
    found = documents.get(store, "d")
    assert (found.state, found.needs, found.problem) == (DocumentState.STOPPED, Needs.PASSWORD, "It is locked.")
    with pytest.raises(TransitionRefused):
        documents.transition(store, "d", Event.DELIVER)
    assert documents.get(store, "d").state is DocumentState.STOPPED
    with pytest.raises(sqlite3.IntegrityError):
        store.execute("UPDATE documents SET state = 'lost' WHERE id = 'd'")


def test_names_are_data_whatever_they_hold(store):
    name = "Robert'); DROP TABLE documents;-- \"<b>"
    documents.rename(store, "d", name)
    assert documents.get(store, "d").name == name


def test_a_deleted_document_can_be_brought_back_until_it_is_purged(store):
    proofs.write(store, "d", proof("a"))
    documents.delete(store, "d")
    with pytest.raises(KeyError):
        documents.get(store, "d")
    documents.restore(store, "d")
    assert order(store) == ["a"]
    documents.delete(store, "d")
    assert documents.purge(store, "2000-01-01") == []
    assert documents.purge(store, "9999-01-01") == ["d"]
    assert store.execute("SELECT count(*) FROM blocks").fetchone()[0] == 0


def test_pages_and_facts_are_kept_as_they_were(store):
    facts = SourceFacts(3, "Title", "en", restrictions=("printing it",))
    documents.set_facts(store, "d", facts)
    assert documents.facts(store, "d") == facts
    evidence = PageEvidence(2, 595.0, 842.0, seconds=0.5)
    pages.add(store, "d", evidence)
    pages.add(store, "d", PageEvidence(1, 595.0, 842.0))
    assert pages.numbers(store, "d") == {1, 2}
    assert pages.evidence(store, "d")[1] == evidence
    assert len(pages.evidence(store, "d", up_to=1)) == 1
    assert documents.get(store, "d").pages_read == 2


def test_a_proof_is_read_back_whole_and_by_window(store):
    written = proof(*"abcdef")
    proofs.write(store, "d", written)
    assert proofs.read(store, "d") == written
    assert bytes(proofs.window(store, "d", 2, 2)[0][1]).startswith(b'{"type":"text","id":"c"')
    assert proofs.count(store, "d") == 6
    assert proofs.first_rows(store, "d") == {1: 0}


def test_a_change_writes_only_what_differs(store):
    before = proof(*"abcdef")
    proofs.write(store, "d", before)
    kept = store.execute("SELECT id, position FROM blocks WHERE id != 'c'").fetchall()
    after = apply(before, Exclude("c", True)).document
    assert proofs.difference(before, after)[:2] == (2, 1)
    proofs.write_difference(store, "d", before, after)
    assert proofs.read(store, "d") == after
    assert [tuple(r) for r in store.execute("SELECT id, position FROM blocks WHERE id != 'c'")] == [
        tuple(r) for r in kept
    ]


def test_rows_keep_their_order_through_many_insertions_at_one_place(store):
    document = proof(*"ab")
    proofs.write(store, "d", document)
    for n in range(40):
        after = apply(document, InsertParagraph("a"), Ids(n)).document
        proofs.write_difference(store, "d", document, after)
        document = after
    assert order(store) == ["a", *(f"b{n}" for n in reversed(range(40))), "b"]


def test_a_row_moved_far_is_found_where_it_was_put(store):
    document = proof(*"abcdefgh")
    proofs.write(store, "d", document)
    for operation in (MoveBlock("b", None), MoveBlock("h", "a"), MoveBlock("c", "g")):
        after = apply(document, operation).document
        proofs.write_difference(store, "d", document, after)
        document = after
        assert order(store) == [block.id for block in document.blocks]


def commit(store, document, operation):
    """Makes an edit; returns the document after it."""
    edit = apply(document, operation)
    change = Change(ChangeKind.EDIT, operation=operation, first_id=1, inverse=edit.inverse)
    with transaction(store):
        history.commit_edit(store, "d", history.revision(store, "d"), change, document, edit.document)
    return edit.document


def written(store, document):
    """The first proof of a document."""
    with transaction(store):
        history.commit(
            store, "d", 0, Change(ChangeKind.READ, history.READING), lambda: proofs.write(store, "d", document)
        )
    return document


def test_undo_and_redo_walk_the_history_and_a_new_operation_ends_what_was_undone(store):
    document = written(store, proof(*"ab"))
    assert history.directions(store, "d") == (False, False)
    for name in ("b", "a"):
        document = commit(store, document, Exclude(name, True))
    step = history.last_done(store, "d")
    assert step.operation == Exclude("a", True)
    before = undo(document, step.inverse)
    with transaction(store):
        history.commit_edit(store, "d", 3, Change(ChangeKind.UNDO, target=step.number), document, before)
    assert history.directions(store, "d") == (True, True)
    assert history.last_done(store, "d").operation == Exclude("b", True)
    assert history.first_undone(store, "d").operation == Exclude("a", True)
    commit(store, before, MoveBlock("a"))
    assert history.first_undone(store, "d") is None
    # Nothing of it is forgotten: who did what when, and what it was made of.
    told = store.execute("SELECT number, parent, kind, actor, status FROM changes ORDER BY number").fetchall()
    assert [tuple(row) for row in told] == [
        (1, 0, "read", "reading", None),
        (2, 1, "edit", "clerk", "done"),
        (3, 2, "edit", "clerk", "superseded"),
        (4, 3, "undo", "clerk", None),
        (5, 4, "edit", "clerk", "done"),
    ]


def test_a_change_of_an_older_revision_is_refused_and_leaves_nothing(store):
    document = written(store, proof(*"ab"))
    commit(store, document, Exclude("b", True))
    edit = apply(document, Exclude("a", True))
    with pytest.raises(StaleRevision), transaction(store):
        history.commit_edit(store, "d", 1, Change(ChangeKind.EDIT), document, edit.document)
    assert history.revision(store, "d") == 2
    assert [block.excluded for block in proofs.read(store, "d").blocks] == [False, True]


def test_revisions_only_grow_whatever_takes_the_place_of_the_proof(store):
    written(store, proof(*"ab"))
    with transaction(store):
        history.commit(
            store, "d", 1, Change(ChangeKind.READ_AGAIN, history.READING), lambda: proofs.write(store, "d", proof("c"))
        )
    documents.delete(store, "d")
    with pytest.raises(KeyError):
        history.revision(store, "d")
    documents.restore(store, "d")
    with transaction(store):
        assert history.mark(store, "d", ChangeKind.RESTORE) == 3
    assert documents.get(store, "d").revision == 3


def test_what_is_settled_is_added_and_taken_out_by_itself(store):
    keys = tuple(DoubtKey("word", 1, f"word{n}", box=Box(n, 0, n + 1, 1)) for n in range(3))
    start = written(store, proof("a"))
    kept = commit(store, start, KeepAsItIs(keys))
    assert proofs.read(store, "d").settled.kept == keys
    without = replace(kept, settled=replace(kept.settled, kept=(keys[0], keys[2]), words=("Oskery",)))
    proofs.write_difference(store, "d", kept, without)
    assert proofs.read(store, "d").settled == without.settled
    properties = store.execute("SELECT properties FROM documents WHERE id = 'd'").fetchone()[0]
    assert b"word1" not in properties  # which is written with every new style


def test_a_transaction_that_fails_leaves_nothing(store):
    def half() -> None:
        with transaction(store):
            documents.rename(store, "d", "Half done")
            documents.transition(store, "d", Event.DELIVER)

    with pytest.raises(TransitionRefused):
        half()
    assert documents.get(store, "d").name == "Report.pdf"


def test_jobs_are_taken_in_turn_once_and_by_another_when_their_lease_has_run_out(store, tmp_path):
    documents.add(store, id="e", name="Second.pdf", source="6" * 64, size=1, route="browser")
    for name in ("d", "d", "e"):
        jobs.queue(store, name, JobKind.READ)
    assert jobs.queue(store, "d", JobKind.WORD_SHAPES) is not None
    first = jobs.take(store, "one")
    assert (first.document, first.kind, first.tries) == ("d", JobKind.READ, 1)
    second = jobs.take(store, "one")
    assert second.document == "e"
    # The shapes of “d” wait: a document has one job at a time.
    assert jobs.take(store, "two") is None
    store.execute("UPDATE jobs SET lease_until = '2001-01-01' WHERE number = ?", (first.number,))
    again = jobs.take(store, "two")
    assert (again.number, again.tries) == (first.number, 2)
    assert not jobs.is_held(store, first.number, "one")
    jobs.end(store, first.number, "one", JobState.DONE)  # too late: another has it
    assert jobs.is_held(store, first.number, "two")
    jobs.cancel(store, "d")
    assert not jobs.is_held(store, first.number, "two")
    restarted = connect(tmp_path)
    assert jobs.release(restarted, "three") == 1
    assert jobs.take(restarted, "three").number == second.number


def test_a_job_knows_what_it_is_for_and_keeps_pages_until_all_are_there(store):
    number = jobs.queue(store, "d", JobKind.READ_AGAIN, Payload(pages=(1, 2)))
    job = jobs.take(store, "one")
    assert (job.number, job.payload.pages) == (number, (1, 2))
    jobs.keep_page(store, job, PageEvidence(2, 595.0, 842.0))
    assert set(jobs.kept_pages(store, job.number)) == {2}
    assert pages.numbers(store, "d") == set()
    row = documents.get(store, "d")
    assert (row.busy, row.again, row.again_read) == ("read again", 2, 1)


def test_deliveries_are_listed_newest_first(store):
    for revision in (1, 4):
        deliveries.add(
            store,
            id=f"x{revision}",
            document="d",
            format="docx",
            file_name="R.docx",
            revision=revision,
            size=9,
            actor="Oske",
        )
    assert [one.revision for one in deliveries.every(store, "d")] == [4, 1]
    assert deliveries.get(store, "x4").file_name == "R.docx"
    assert deliveries.get(store, "nothing") is None


def test_writers_in_two_threads_wait_for_one_another(tmp_path):
    connect(tmp_path).close()

    def add(n: int) -> None:
        own = connect(tmp_path)
        for k in range(20):
            with transaction(own):
                documents.add(own, id=f"{n}-{k}", name="x", source="0" * 64, size=1, route="browser")
        own.close()

    threads = [threading.Thread(target=add, args=(n,)) for n in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(documents.every(connect(tmp_path))) == 80


def test_the_database_keeps_foreign_keys_and_a_write_ahead_log(store):
    assert store.execute("PRAGMA journal_mode").fetchone()[0] == "wal"
    with pytest.raises(sqlite3.IntegrityError):
        pages.add(store, "nobody", PageEvidence(1, 1, 1))


def test_a_source_is_kept_once_unchanged_and_read_only(tmp_path):
    files = Files(tmp_path)
    first, size = files.take_in([b"%PDF-", b"1.7"])
    again, _ = files.take_in([b"%PDF-1.7"])
    assert (first, size) == (again, 8)
    path = files.source(first)
    assert path.read_bytes() == b"%PDF-1.7"
    assert not path.stat().st_mode & stat.S_IWUSR
    assert not list(files.incoming.iterdir())


def test_a_source_that_breaks_off_leaves_nothing_behind(tmp_path):
    files = Files(tmp_path)

    def chunks():
        yield b"%PDF-"
        raise OSError(28, "No space left on device")

    with pytest.raises(OSError):
        files.take_in(chunks())
    assert not list(files.incoming.iterdir())
    assert not list(files.sources.rglob("*"))


def test_styles_that_an_operation_added_are_kept(store):
    before = proof("a")
    proofs.write(store, "d", before)
    after = replace(before, styles=(*before.styles, ParagraphStyle("Heading 1", outline=1)))
    proofs.write_difference(store, "d", before, after)
    assert proofs.properties(store, "d").styles == after.styles


def test_what_goes_on_behind_gives_way_to_what_the_clerk_asks_for(store):
    jobs.queue(store, "d", JobKind.LOOK_BACK)
    behind = jobs.take(store, "one")
    assert behind.kind is JobKind.LOOK_BACK
    jobs.queue(store, "d", JobKind.READ_AGAIN)
    assert not jobs.is_held(store, behind.number, "one")
    assert jobs.take(store, "two").kind is JobKind.READ_AGAIN
