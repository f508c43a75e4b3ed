"""The store: what is written is found again, in order, after a restart; histories run both ways."""

from __future__ import annotations

import sqlite3
import stat
import threading

import pytest
from msgspec.structs import replace

from evenquill.core.edits import InsertParagraph, MoveBlock, SetAside, apply
from evenquill.core.model import Box, Document, ParagraphStyle, Run, Running, RunningPair, RunningPart, Spot, TextBlock
from evenquill.core.reading.evidence import PageEvidence
from evenquill.core.source import SourceFacts
from evenquill.store import deliveries, documents, jobs, pages, proofs
from evenquill.store.database import connect, transaction
from evenquill.store.documents import Needs, State
from evenquill.store.files import Files


@pytest.fixture
def store(tmp_path):
    connection = connect(tmp_path)
    documents.add(connection, id="d", name="Report.pdf", source="5" * 64, size=10, route="browser")
    return connection


def row(id: str, page: int = 1) -> TextBlock:
    return TextBlock(id, runs=(Run(id),), style="Body text", spots=(Spot(page, Box(0, 0, 1, 1)),))


def proof(*names: str) -> Document:
    return Document("Report", "en", (ParagraphStyle("Body text"),), tuple(row(name) for name in names))


def order(store) -> list[str]:
    return [block.id for block in proofs.read(store, "d").blocks]


def test_a_document_goes_through_its_states(store):
    assert documents.get(store, "d").state is State.WAITING
    documents.set_state(store, "d", State.STOPPED, needs=Needs.PASSWORD, problem="It is locked.")
    found = documents.get(store, "d")
    assert (found.state, found.needs, found.problem) == (State.STOPPED, Needs.PASSWORD, "It is locked.")
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
    assert documents.purge(store, "2000-01-01") == 0
    assert documents.purge(store, "9999-01-01") == 1
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
    after = apply(before, SetAside("c", True)).document
    assert proofs.difference(before, after)[:2] == (2, 1)
    assert proofs.write_change(store, "d", before, after) == 2
    assert proofs.read(store, "d") == after
    assert [tuple(r) for r in store.execute("SELECT id, position FROM blocks WHERE id != 'c'")] == [
        tuple(r) for r in kept
    ]


def test_rows_keep_their_order_through_many_insertions_at_one_place(store):
    document = proof(*"ab")
    proofs.write(store, "d", document)
    for n in range(40):
        after = apply(document, InsertParagraph(f"n{n}", "a")).document
        proofs.write_change(store, "d", document, after)
        document = after
    assert order(store) == ["a", *(f"n{n}" for n in reversed(range(40))), "b"]


def test_a_row_moved_far_is_found_where_it_was_put(store):
    document = proof(*"abcdefgh")
    proofs.write(store, "d", document)
    for operation in (MoveBlock("b", None), MoveBlock("h", "a"), MoveBlock("c", "g")):
        after = apply(document, operation).document
        proofs.write_change(store, "d", document, after)
        document = after
        assert order(store) == [block.id for block in document.blocks]


def test_undo_and_redo_walk_the_history_and_a_new_operation_ends_what_was_undone(store):
    document = proof(*"ab")
    proofs.write(store, "d", document)
    assert proofs.history(store, "d") == (False, False)
    for name in ("b", "a"):
        edit = apply(document, SetAside(name, True))
        proofs.add_operation(store, "d", SetAside(name, True), edit.inverse)
        document = edit.document
    step = proofs.last_done(store, "d")
    assert step.operation == SetAside("a", True)
    proofs.mark(store, step.number, undone=True)
    assert proofs.history(store, "d") == (True, True)
    assert proofs.last_done(store, "d").operation == SetAside("b", True)
    assert proofs.first_undone(store, "d").operation == SetAside("a", True)
    proofs.add_operation(store, "d", MoveBlock("a"), ())
    assert proofs.first_undone(store, "d") is None


def test_a_transaction_that_fails_leaves_nothing(store):
    def half() -> None:
        with transaction(store):
            documents.rename(store, "d", "Half done")
            documents.set_state(store, "d", "lost")

    with pytest.raises(AttributeError):
        half()
    assert documents.get(store, "d").name == "Report.pdf"


def test_jobs_are_taken_in_turn_once_and_resumed_after_a_restart(store, tmp_path):
    documents.add(store, id="e", name="Second.pdf", source="6" * 64, size=1, route="browser")
    for name in ("d", "d", "e"):
        jobs.queue(store, name)
    first = jobs.take(store)
    assert first[1] == "d"
    assert jobs.take(store)[1] == "e"
    assert jobs.take(store) is None
    again = connect(tmp_path)
    assert jobs.resume(again) == 2
    assert jobs.take(again) == first
    jobs.cancel(again, "d")
    assert jobs.is_cancelled(again, first[0])


def test_deliveries_are_listed_newest_first(store):
    for revision in (1, 4):
        deliveries.add(
            store, id=f"x{revision}", document="d", format="docx", file_name="R.docx", revision=revision, size=9
        )
    assert [one.revision for one in deliveries.every(store, "d")] in ([4, 1], [1, 4])
    assert deliveries.get(store, "x4").file_name == "R.docx"
    with pytest.raises(KeyError):
        deliveries.get(store, "nothing")


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
    proofs.write_change(store, "d", before, after)
    assert proofs.properties(store, "d").styles == after.styles


def set_back(connection, version):
    """The data as a release wrote them that knew no later version of the schema, closed."""
    for change in (
        "DROP INDEX blocks_in_columns",
        "DROP INDEX readings_of_pages",
        "ALTER TABLE blocks DROP COLUMN columns",
    ):
        connection.execute(change)
    connection.execute(f"PRAGMA user_version = {version:d}")
    connection.close()


def test_columns_of_documents_read_earlier_are_known(tmp_path):
    earlier = connect(tmp_path)
    for id, columns in (("d", 2), ("plain", 1)):
        documents.add(earlier, id=id, name="Paper.pdf", source="5" * 64, size=10, route="browser")
        blocks = (TextBlock("a", runs=(Run('"columns":3'),)), TextBlock("b", columns=columns))
        proofs.write(earlier, id, replace(proof("a"), blocks=blocks))
    set_back(earlier, 4)
    now = connect(tmp_path)
    assert [proofs.has_columns(now, id) for id in ("d", "plain")] == [True, False]
    before = proofs.read(now, "d")
    after = replace(before, blocks=tuple(replace(block, columns=1) for block in before.blocks))
    proofs.write_change(now, "d", before, after)
    assert not proofs.has_columns(now, "d")


def test_running_heads_of_documents_read_earlier_are_kept(tmp_path):
    earlier = connect(tmp_path)
    documents.add(earlier, id="d", name="Report.pdf", source="5" * 64, size=10, route="browser")
    documents.add(earlier, id="plain", name="Letter.pdf", source="6" * 64, size=10, route="browser")
    head = '{"title":"Report","header":{"runs":[{"text":"Gauges"}],"style":"Running head"},"first_page_plain":true,"first_number":3}'
    for id, properties in (("d", head), ("plain", '{"title":"Letter"}')):
        earlier.execute("UPDATE documents SET properties = ? WHERE id = ?", (properties.encode(), id))
    set_back(earlier, 3)
    (part,) = proofs.properties(connect(tmp_path), "d").running
    assert part == RunningPart(1, RunningPair(Running((Run("Gauges"),), "Running head")), first=RunningPair(), start=3)
    assert proofs.properties(connect(tmp_path), "plain").running == ()
