"""What jobs have done in worker processes: functions of what is stored, which write nothing. Who asked commits what they find out."""

from __future__ import annotations

import itertools
import sqlite3
from collections.abc import Mapping, Sequence
from contextlib import closing
from pathlib import Path

import msgspec
from msgspec.structs import replace

from evenquill.core.evidence import PageEvidence
from evenquill.core.model import Document
from evenquill.core.model.appending import appended
from evenquill.core.model.ids import Ids, ids_in, renamed
from evenquill.core.model.moving import with_pages_moved
from evenquill.core.page_kinds import kind_of, kinds_in_words
from evenquill.core.part import WHOLE, Part, part_of
from evenquill.core.pictures import PictureFolder
from evenquill.core.queries import Query, find_queries
from evenquill.core.queries.office import office_words
from evenquill.core.rebase import keep_ids, rebase_corrections
from evenquill.core.rebase.identity import PROVISIONAL
from evenquill.core.rebuild_files import SourceFile, rebuild_files
from evenquill.core.source import SourceFacts, joined_facts
from evenquill.core.typefaces import stand_ins_with
from evenquill.core.word_files import examine_file
from evenquill.core.writers.certificate import Entry, certificate_text
from evenquill.store import documents, history, office, pages, parts, proofs, snapshots
from evenquill.store.database import connect, reading
from evenquill.store.files import Files


class Proof(msgspec.Struct, frozen=True):
    """A proof that was made of revision ``expected``: the document, how it was read if that is not the same, where ids go on, its queries,
    and what kind of pages it has."""

    expected: int
    document: Document
    as_read: Document | None
    next_id: int
    queries: tuple[Query, ...]
    kind: str
    sized_up: str


PREVIEW_SCALE = 1.5
"""Pixels of a page that is shown before it is delivered, for each point."""

_ENCODER = msgspec.msgpack.Encoder()
_PROOF = msgspec.msgpack.Decoder(Proof)
_DOCUMENT = msgspec.msgpack.Decoder(Document)


def decoded_proof(data: bytes) -> Proof:
    return _PROOF.decode(data)


def examine_source(data: str, source: str, password: str | None, copy: str) -> SourceFacts:
    """Facts about a source; ``copy`` is where one that is read in its place may go."""
    return examine_file(Path(source), password=password, copy=Path(copy), pictures=Files(Path(data)).pictures.folder)


def rebuild_document(data: str, document: str, up_to: int | None) -> bytes:
    """The proof of a document's pages, encoded; ``up_to`` makes it one of the first pages only, which is not looked through for doubts."""
    with closing(connect(Path(data))) as store, reading(store):
        evidence = pages.evidence(store, document, up_to)
        fresh = _rebuilt(Path(data), store, document, evidence)
        known = _known(store, document)
        named = keep_ids(fresh, known or Document())
        ids = Ids(documents.new_ids(store, document))
        (whole,) = _numbered(ids, named)
        found = () if up_to is not None else tuple(find_queries(whole, office_words(office.every(store))))
        return _proof(store, document, whole, whole, ids.next, found, evidence)


def rebuild_joined(data: str, document: str) -> bytes:
    """The first proof of a document that others were joined into, with the corrections that these have."""
    with closing(connect(Path(data))) as store, reading(store):
        evidence = pages.evidence(store, document)
        base, mine = _joined(Path(data), store, documents.joined_into(store, document))
        every = frozenset(range(1, len(evidence) + 1))
        return _merged_proof(
            store, document, base, mine, _rebuilt(Path(data), store, document, evidence), every, evidence
        )


def reread_document(data: str, document: str, readings: Mapping[int, int], order: tuple[int, ...] = ()) -> bytes:
    """The document as it is with other readings of its pages, or with its files in another order, encoded, without corrections and with
    ids of its own."""
    with closing(connect(Path(data))) as store, reading(store):
        return _ENCODER.encode(_rebuilt(Path(data), store, document, pages.evidence_of(store, readings), order))


def merge_rereading(
    data: str, document: str, fresh: bytes, readings: Mapping[int, int], again: frozenset[int]
) -> bytes:
    """The proof that a new reading of some pages and the corrections so far come to, encoded."""
    with closing(connect(Path(data))) as store, reading(store):
        mine = proofs.read(store, document)
        base = _as_read(Path(data), store, document, mine)
        evidence = pages.evidence_of(store, readings)
        return _merged_proof(store, document, base, mine, _DOCUMENT.decode(fresh), again, evidence)


def merge_reordering(
    data: str, document: str, fresh: bytes, moved: Mapping[int, int], readings: Mapping[int, int]
) -> bytes:
    """The proof with its pages in another order, encoded; ``moved`` are new page numbers by old ones."""
    with closing(connect(Path(data))) as store, reading(store):
        mine = proofs.read(store, document)
        base = with_pages_moved(_as_read(Path(data), store, document, mine), moved)
        every = frozenset(moved.values())
        evidence = pages.evidence_of(store, readings)
        fresh_document = _DOCUMENT.decode(fresh)
        return _merged_proof(store, document, base, with_pages_moved(mine, moved), fresh_document, every, evidence)


def write_certificate_as(entries: list[Entry], ending: str) -> bytes:
    """A certificate as a file: plain text, or pages."""
    from evenquill.core.writers.certificate_pages import certificate_pages

    return certificate_pages(entries) if ending == "pdf" else certificate_text(entries).encode()


def write_document(
    data: str, document: str, form: str, options: tuple[str, ...], part: Part = WHOLE
) -> tuple[int, bytes]:
    """A part of the document as it is now in a format, and its revision. Raises KeyError where it has no proof."""
    from evenquill.core.writers.registry import WRITERS  # only here is anything written

    pictures = PictureFolder(Path(data) / "pictures")
    with closing(connect(Path(data))) as store, reading(store):
        revision, proof = history.revision(store, document), proofs.read(store, document)
    return revision, WRITERS[form].write(part_of(proof, part), pictures.get, options)


def draw_first_page(data: str, document: str, options: tuple[str, ...], part: Part) -> bytes:
    """The first page of a part of the document, as formats with pages have it, drawn as PNG."""
    from evenquill.core.strip_drawing import draw_pdf_page  # only here is anything drawn

    _, written = write_document(data, document, "pdf", options, part)
    return draw_pdf_page(written, PREVIEW_SCALE)


def _merged_proof(
    store: sqlite3.Connection,
    document: str,
    base: Document,
    mine: Document,
    fresh: Document,
    again: frozenset[int],
    evidence: list[PageEvidence],
) -> bytes:
    """The proof that a ``fresh`` reading of the pages ``again`` and the corrections that made ``mine`` of ``base`` come to, encoded."""
    theirs = keep_ids(fresh, base)
    merged = rebase_corrections(base, mine, theirs, again).document
    ids = Ids(documents.new_ids(store, document))
    whole, as_read = _numbered(ids, merged, theirs)
    found = tuple(find_queries(whole, office_words(office.every(store))))
    return _proof(store, document, whole, as_read, ids.next, found, evidence)


def _as_read(data: Path, store: sqlite3.Connection, document: str, mine: Document) -> Document:
    """The document as it was read; where that was not kept it is rebuilt, with the ids of the corrected one."""
    kept = snapshots.as_read(store, document)
    if kept is not None:
        return kept
    return keep_ids(_rebuilt(data, store, document, pages.evidence(store, document)), mine)


def _rebuilt(
    data: Path, store: sqlite3.Connection, document: str, evidence: list[PageEvidence], order: Sequence[int] = ()
) -> Document:
    """The document as it was read; its files in another ``order`` of their places where one is given."""
    known = documents.facts(store, document)
    if known is None:
        raise KeyError(document)
    kept = Files(data)
    listed = parts.every(store, document)
    files = [
        SourceFile(kept.source(part.source), facts)
        for part in ([listed[place] for place in order] if order else listed)
        if (facts := kept.facts_here(part)) is not None
    ]
    facts = replace(joined_facts([file.facts for file in files]), language=known.language)
    rebuilt = rebuild_files(evidence, files, facts, kept.pictures)
    return replace(rebuilt, stand_ins=stand_ins_with(office.stand_ins(store), rebuilt.stand_ins))


def _known(store: sqlite3.Connection, document: str) -> Document | None:
    """The proof that is there already, whose ids are kept."""
    try:
        return proofs.read(store, document)
    except KeyError:
        return None


def _numbered(ids: Ids, *versions: Document) -> list[Document]:
    """Versions of a document with ids from the counter in the place of provisional ones, the same in all of them."""
    names: dict[str, str] = {}
    for name in itertools.chain.from_iterable(map(ids_in, versions)):
        if name.startswith(PROVISIONAL) and name not in names:
            names[name] = ids.new()
    return [renamed(version, names) for version in versions]


def _joined(data: Path, store: sqlite3.Connection, singles: list[str]) -> tuple[Document, Document]:
    """Documents one after the other, as they were read and as they were corrected, with ids that tell them apart."""
    base, mine = Document(), Document()
    before = 0
    for n, single in enumerate(singles):
        facts = documents.facts(store, single)
        corrected = _known(store, single)
        if corrected is not None:
            read = _as_read(data, store, single, corrected)
            moved = {page: before + page for page in range(1, len(corrected.pages) + 1)}
            base = appended(base, with_pages_moved(read, moved), f"file{n}.")
            mine = appended(mine, with_pages_moved(corrected, moved), f"file{n}.")
        before += facts.pages if facts else 0
    return base, mine


def _proof(
    store: sqlite3.Connection,
    document: str,
    whole: Document,
    as_read: Document,
    next_id: int,
    found: tuple[Query, ...],
    evidence: list[PageEvidence],
) -> bytes:
    kept = None if as_read is whole else as_read
    media = {part.facts.media for part in parts.every(store, document) if part.facts is not None}
    kinds = kind_of(evidence), kinds_in_words(evidence, media)
    return _ENCODER.encode(Proof(history.revision(store, document), whole, kept, next_id, found, *kinds))
