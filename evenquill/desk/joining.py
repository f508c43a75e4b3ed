"""Routes for several files as one document: joining them, and putting them into another order."""

from __future__ import annotations

import msgspec
from msgspec.structs import replace

from evenquill.core.source import joined_facts
from evenquill.desk.endpoints import Api, ApiError
from evenquill.desk.house import House
from evenquill.desk.intake import new_id
from evenquill.desk.naming import document_name
from evenquill.desk.reading import ReadingRoom, rebuild_job
from evenquill.store import documents, jobs, pages, parts, readings
from evenquill.store.database import transaction
from evenquill.store.documents import DocumentRow, State


class Joining(msgspec.Struct, frozen=True):
    """Documents to make one of, in order, and its name."""

    documents: tuple[str, ...]
    name: str


class Order(msgspec.Struct, frozen=True):
    """The present places (from 0) of a document's files in the order wanted."""

    places: tuple[int, ...]


class FileOfDocument(msgspec.Struct, frozen=True):
    name: str
    pages: int


def add_routes(api: Api, house: House, room: ReadingRoom) -> None:
    @api.route("POST", "/api/documents/join", body=Joining, returns=DocumentRow)
    def join(body: Joining) -> DocumentRow:
        """Makes one document of several, in the order given. The single ones are deleted, and can be restored."""
        rows = [documents.get(house.store, one) for one in body.documents]
        if len(rows) < 2 or len(set(body.documents)) < len(rows):
            raise ApiError(422, "join", "Choose two or more documents to join.")
        whole = new_id()
        files = [(part.source, part.name) for row in rows for part in parts.every(house.store, row.id)]
        with transaction(house.store):
            documents.add(
                house.store,
                id=whole,
                name=document_name(body.name or rows[0].name),
                source=files[0][0],
                size=sum(row.size for row in rows),
                route=rows[0].route,
            )
            parts.add(house.store, whole, files)
            for row in rows:
                jobs.cancel(house.store, row.id)
                documents.delete(house.store, row.id)
            _take_over_pages(house, rows, whole)
            jobs.queue(house.store, whole)
        room.wake()
        for row in rows:
            house.events.tell(row.id)
        return house.told(whole)

    @api.route("GET", "/api/documents/{document}/files", returns=list[FileOfDocument])
    def files(document: str) -> list[FileOfDocument]:
        """The files that a document is made of, in order."""
        documents.get(house.store, document)
        return [
            FileOfDocument(part.name, part.facts.pages if part.facts else 0)
            for part in parts.every(house.store, document)
        ]

    @api.route("PUT", "/api/documents/{document}/files", body=Order, returns=DocumentRow)
    def order(document: str, body: Order) -> DocumentRow:
        """Puts the files of a document into another order. Nothing is read again, but the rows are made anew."""
        row = documents.get(house.store, document)
        known = parts.every(house.store, document)
        if row.state in (State.WAITING, State.READING):
            raise ApiError(409, "reading", "The document is being read. Stop that first, or wait for its end.")
        if row.revision > 1:
            raise ApiError(
                409, "corrected", "Rows have been corrected already; undo that before the files change places."
            )
        if sorted(body.places) != list(range(len(known))) or any(part.facts is None for part in known):
            raise ApiError(422, "order", "Name each file once.")
        moved = _moved_numbers([part.facts.pages for part in known if part.facts], body.places)
        with transaction(house.store):
            evidence = pages.evidence(house.store, document)
            pages.forget(house.store, document)
            for page in evidence:
                pages.add(house.store, document, replace(page, number=moved[page.number]))
            readings.take_over(house.store, document, moved, document)
            parts.reorder(house.store, document, body.places)
            facts = [part.facts for part in parts.every(house.store, document) if part.facts]
            documents.set_facts(house.store, document, joined_facts(facts))
        house.pages.run(rebuild_job, str(house.data), document, None)
        house.proofs.forget(document)
        return house.told(document)


def _take_over_pages(house: House, single: list[DocumentRow], whole: str) -> None:
    """Pages that are read already need not be read again, as long as it is known how many stand before them."""
    before = 0
    for row in single:
        if not row.page_count:
            return
        for page in pages.evidence(house.store, row.id):
            pages.add(house.store, whole, replace(page, number=before + page.number))
        numbers = {number: before + number for number in range(1, row.page_count + 1)}
        readings.take_over(house.store, row.id, numbers, whole)
        before += row.page_count


def _moved_numbers(counts: list[int], places: tuple[int, ...]) -> dict[int, int]:
    """New page numbers by old ones when files of ``counts`` pages change places."""
    starts = [sum(counts[:n]) for n in range(len(counts))]
    moved: dict[int, int] = {}
    before = 0
    for place in places:
        for n in range(1, counts[place] + 1):
            moved[starts[place] + n] = before + n
        before += counts[place]
    return moved
