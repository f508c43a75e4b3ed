"""Routes for how pages are read: languages, what was done to a page, reading again."""

from __future__ import annotations

from pathlib import Path

import msgspec
from msgspec.structs import replace

from evenquill.core.edits import CutPicture, ReadRegion
from evenquill.core.errors import LanguageMissing
from evenquill.core.model import Box, Spot, TextBlock, WordSpot
from evenquill.core.reading.evidence import PageEvidence
from evenquill.core.reading.leaves import open_source
from evenquill.core.reading.preparation import AS_FOUND, Preparation
from evenquill.core.reading.reading_data import check_languages, installed_languages
from evenquill.core.reading.region import cleaned_scan, native_scan, read_region
from evenquill.desk.drawing import DrawingError
from evenquill.desk.endpoints import Api, ApiError
from evenquill.desk.house import House
from evenquill.desk.reading import ReadingRoom
from evenquill.desk.strips import place_of_page, strip_of
from evenquill.store import documents, jobs, pages, readings
from evenquill.store.database import transaction
from evenquill.store.documents import DocumentRow, State
from evenquill.store.readings import EVERY_PAGE

CUT_SCALE = 300 / 72
"""Pixels a point of pictures that are cut out by hand."""


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


class RegionAgain(msgspec.Struct, frozen=True):
    """A place on a page to read, and how: languages (found again if none is named) and cleaning."""

    page: int
    box: Box
    preparation: Preparation = AS_FOUND
    as_table: bool = False


class RegionCut(msgspec.Struct, frozen=True):
    """A place on a page to cut a picture out of."""

    page: int
    box: Box


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
        return house.told(document)

    @api.route("POST", "/api/documents/{document}/rows/{block}/again", body=RowAgain, returns=ReadRegion)
    def read_row(document: str, block: str, body: RowAgain) -> ReadRegion:
        """Reads the place on the page that a row came from once more; changes nothing by itself."""
        _check(Preparation(languages=body.languages))
        _, proof = house.proofs.read(document)
        row = proof.blocks[proof.index(block)]
        if not isinstance(row, TextBlock) or not row.spots:
            raise ApiError(422, "row", "This row came from no place on a page.")
        parts = []
        for spot in row.spots:
            evidence = _evidence(house, document, str(spot.page))
            languages = body.languages or evidence.languages
            parts.append(_read_place(house, document, spot, Preparation(languages=languages)))
        return _one(parts)

    @api.route("POST", "/api/documents/{document}/regions/read", body=RegionAgain, returns=ReadRegion)
    def read_place(document: str, body: RegionAgain) -> ReadRegion:
        """Reads a place on a page; changes nothing by itself."""
        _check(body.preparation)
        evidence = _evidence(house, document, str(body.page))
        languages = body.preparation.languages or evidence.languages
        preparation = replace(body.preparation, languages=languages)
        return _read_place(house, document, Spot(body.page, body.box), preparation, as_table=body.as_table)

    @api.route("POST", "/api/documents/{document}/regions/cut", body=RegionCut, returns=CutPicture)
    def cut_place(document: str, body: RegionCut) -> CutPicture:
        """Cuts a picture out of a page; changes nothing by itself."""
        wanted = strip_of(house, document, body.page, body.box, CUT_SCALE, "")
        try:
            data = house.drawing.draw(wanted)
        except DrawingError as error:
            raise ApiError(422, "drawing", str(error)) from None
        return CutPicture(house.files.pictures.keep(data, "image/png"), "image/png")


def _read_place(
    house: House, document: str, spot: Spot, preparation: Preparation, *, as_table: bool = False
) -> ReadRegion:
    evidence = _evidence(house, document, str(spot.page))
    source, page = place_of_page(house, document, spot.page)
    job = RowJob(
        source=source,
        page=page,
        password=house.passwords.get(document),
        cleaned=str(house.files.pictures.path(evidence.cleaned.picture)) if evidence.cleaned else "",
        width=evidence.width,
        spot=spot,
        # The picture is clean already.
        preparation=replace(preparation, despeckle=preparation.despeckle and evidence.cleaned is None),
        as_table=as_table,
    )
    return house.pages.run(read_row_job, job)


def _one(parts: list[ReadRegion]) -> ReadRegion:
    """What was read at several places, one behind the other."""
    text = ""
    words: list[WordSpot] = []
    for part in parts:
        if part.text:
            text += " " if text else ""
            words += [word._replace(start=word.start + len(text), end=word.end + len(text)) for word in part.words]
            text += part.text
    return ReadRegion(text, tuple(words))


class RowJob(msgspec.Struct, frozen=True):
    """A place to read again: file and page in it, its cleaned picture if it has one, page width in points, and how; ``as_table``
    keeps its lines as rows of a table."""

    source: str
    page: int
    password: str | None
    cleaned: str
    width: float
    spot: Spot
    preparation: Preparation
    as_table: bool = False


def read_row_job(job: RowJob) -> ReadRegion:
    """In a worker: the text at a place."""
    scan = (
        cleaned_scan(Path(job.cleaned), job.width)
        if job.cleaned
        else native_scan(open_source(job.source, job.password), job.page)
    )
    return ReadRegion(*read_region(scan, [job.spot.box], job.preparation, job.spot.page, as_table=job.as_table))


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
