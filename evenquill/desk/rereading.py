"""Routes for how pages are read: languages, what was done to a page, reading again, several files as one document."""

from __future__ import annotations

from pathlib import Path

import msgspec
from msgspec.structs import replace

from evenquill.core.errors import LanguageMissing
from evenquill.core.model import Box, TextBlock
from evenquill.core.reading.evidence import PageEvidence
from evenquill.core.reading.pages import open_source
from evenquill.core.reading.preparation import AS_FOUND, Preparation
from evenquill.core.reading.region import cleaned_scan, native_scan, read_region
from evenquill.core.reading.scanned.recogniser import check_languages, installed_languages
from evenquill.core.source import joined_facts
from evenquill.desk.endpoints import Api, ApiError
from evenquill.desk.house import House
from evenquill.desk.intake import new_id
from evenquill.desk.naming import document_name
from evenquill.desk.reading import ReadingRoom, rebuild_job
from evenquill.desk.strips import place_of_page
from evenquill.store import documents, jobs, pages, parts, readings
from evenquill.store.database import transaction
from evenquill.store.documents import DocumentRow, State
from evenquill.store.readings import EVERY_PAGE


class PageReading(msgspec.Struct, frozen=True):
    """How a page was read: ``steps`` say in words what was done to it, ``cleaned`` is its cleaned picture if it has one."""

    number: int
    kind: str
    languages: tuple[str, ...]
    steps: tuple[str, ...]
    remarks: tuple[str, ...]
    cleaned: str
    preparation: Preparation


class ReadAgain(msgspec.Struct, frozen=True):
    """Pages to read again, all of them if none is named, and how."""

    pages: tuple[int, ...]
    preparation: Preparation


class RowAgain(msgspec.Struct, frozen=True):
    """Languages to read a row in; found again if none is named."""

    languages: tuple[str, ...] = ()


class RowText(msgspec.Struct, frozen=True):
    text: str


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
    @api.route("GET", "/api/languages", returns=list[str])
    def languages() -> list[str]:
        """Codes (ISO 639-2) of the languages that can be read."""
        return list(installed_languages())

    @api.route("GET", "/api/documents/{document}/pages/{page}", returns=PageReading)
    def page_reading(document: str, page: str) -> PageReading:
        """How a page was read, and how it is to be read when it is read again."""
        evidence = _evidence(house, document, page)
        chosen = readings.choices(house.store, document)
        return PageReading(
            number=evidence.number,
            kind=evidence.kind.value,
            languages=evidence.languages,
            steps=steps_in_words(evidence),
            remarks=tuple(remark.sentence for remark in evidence.told()),
            cleaned=evidence.cleaned.picture if evidence.cleaned else "",
            preparation=chosen.get(evidence.number) or chosen.get(EVERY_PAGE) or AS_FOUND,
        )

    @api.route("POST", "/api/documents/{document}/again", body=ReadAgain, returns=DocumentRow)
    def read_again(document: str, body: ReadAgain) -> DocumentRow:
        """Reads pages again in another way. Corrections are carried over where the words still match."""
        row = documents.get(house.store, document)
        _check(body.preparation)
        numbers = body.pages or tuple(range(1, row.page_count + 1))
        if any(not 1 <= number <= row.page_count for number in numbers):
            raise ApiError(422, "pages", f"The document has pages 1 to {row.page_count}.")
        if row.state in (State.WAITING, State.READING):
            raise ApiError(409, "reading", "The document is being read. Stop that first, or wait for its end.")
        with transaction(house.store):
            chosen = numbers if body.pages else (EVERY_PAGE,)
            readings.choose(house.store, document, chosen, body.preparation)
            read = pages.numbers(house.store, document)
            if documents.has_whole_proof(house.store, document):
                readings.ask_again(house.store, document, numbers)
            else:
                pages.forget(house.store, document, read & set(numbers))
            documents.set_state(house.store, document, State.WAITING)
            jobs.queue(house.store, document)
        room.wake()
        return _told(house, document)

    @api.route("POST", "/api/documents/{document}/rows/{block}/again", body=RowAgain, returns=RowText)
    def read_row(document: str, block: str, body: RowAgain) -> RowText:
        """Reads the place on the page that a row came from once more; changes nothing by itself."""
        _check(Preparation(languages=body.languages))
        _, proof = house.proofs.read(document)
        row = proof.blocks[proof.index(block)]
        if not isinstance(row, TextBlock) or not row.spots:
            raise ApiError(422, "row", "This row came from no place on a page.")
        texts = []
        for spot in row.spots:
            evidence = _evidence(house, document, str(spot.page))
            source, page = place_of_page(house, document, spot.page)
            job = RowJob(
                source=source,
                page=page,
                password=house.passwords.get(document),
                cleaned=str(house.files.pictures.path(evidence.cleaned.picture)) if evidence.cleaned else "",
                width=evidence.width,
                box=spot.box,
                languages=body.languages or evidence.languages,
            )
            texts.append(house.pages.run(read_row_job, job))
        return RowText(" ".join(text for text in texts if text))

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
            _take_over_pages(house, [row.id for row in rows], whole)
            jobs.queue(house.store, whole)
        room.wake()
        for row in rows:
            house.events.tell(row.id)
        return _told(house, whole)

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
            parts.reorder(house.store, document, body.places)
            facts = [part.facts for part in parts.every(house.store, document) if part.facts]
            documents.set_facts(house.store, document, joined_facts(facts))
        house.pages.run(rebuild_job, str(house.data), document, None)
        house.proofs.forget(document)
        return _told(house, document)


class RowJob(msgspec.Struct, frozen=True):
    """A place to read again: file and page in it, its cleaned picture if it has one, page width and box in points."""

    source: str
    page: int
    password: str | None
    cleaned: str
    width: float
    box: Box
    languages: tuple[str, ...]


def read_row_job(job: RowJob) -> str:
    """In a worker: the text at a place."""
    scan = (
        cleaned_scan(Path(job.cleaned), job.width)
        if job.cleaned
        else native_scan(open_source(job.source, job.password), job.page)
    )
    # The picture is clean already.
    return read_region(scan, [job.box], Preparation(languages=job.languages, despeckle=not job.cleaned))


def steps_in_words(evidence: PageEvidence) -> tuple[str, ...]:
    """What cleaning did to a page."""
    done = evidence.cleaned
    if done is None:
        return ()
    steps = []
    if done.sheet:
        steps.append("sheet found in the photo and flattened")
    if done.turn:
        steps.append({1: "turned to the right", 2: "turned upside down", 3: "turned to the left"}[done.turn])
    if done.skew:
        steps.append(f"straightened by {abs(done.skew):.1f} degrees")
    if done.curl:
        steps.append("curved lines made level")
    if done.light:
        steps.append("light evened out")
    if done.darkened:
        steps.append("faint print darkened")
    if done.specks:
        steps.append("1 speck taken off" if done.specks == 1 else f"{done.specks} specks taken off")
    return tuple(steps)


def _check(preparation: Preparation) -> None:
    try:
        check_languages(preparation.languages)
    except LanguageMissing as error:
        raise ApiError(422, "language", str(error)) from None
    if preparation.turn not in (None, 0, 90, 180, 270):
        raise ApiError(422, "turn", "Pages can be turned by 0, 90, 180 or 270 degrees.")


def _evidence(house: House, document: str, page: str) -> PageEvidence:
    if not page.isdigit():
        raise KeyError(page)
    return pages.one(house.store, document, int(page))


def _take_over_pages(house: House, single: list[str], whole: str) -> None:
    """Pages that are read already need not be read again, as long as all pages before them are known."""
    before = 0
    for document in single:
        count = documents.get_any(house.store, document).page_count
        if not count:
            return
        for page in pages.evidence(house.store, document):
            pages.add(house.store, whole, replace(page, number=before + page.number))
        before += count


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


def _told(house: House, document: str) -> DocumentRow:
    house.events.tell(document)
    return documents.get(house.store, document)
