"""Routes for how pages are read: languages, what was done to a page, reading again."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

import msgspec
from msgspec.structs import replace

from evenquill.core.document_state import IN_WORK, Event
from evenquill.core.edits import CutPicture, ReadRegion
from evenquill.core.edits.lookup import place_of_row
from evenquill.core.errors import LanguageMissing, SourceError
from evenquill.core.evidence import PageEvidence
from evenquill.core.model import Box, Spot, TextBlock, WordSpot
from evenquill.core.model.equation import Node
from evenquill.core.reading.preparation import AS_FOUND, Preparation
from evenquill.core.reading.reading_data import check_languages, installed_languages
from evenquill.core.source import WORD_FILES
from evenquill.desk.context import AppContext
from evenquill.desk.drawing import DrawingError
from evenquill.desk.endpoints import Api, ApiError, Missing
from evenquill.desk.interactive import HelperFailed
from evenquill.desk.job_runner import JobRunner
from evenquill.desk.request_values import whole_number
from evenquill.desk.sign_in import actor
from evenquill.desk.strips import place_of_page, strip_of
from evenquill.store import documents, jobs, pages, parts, preparations
from evenquill.store.database import transaction
from evenquill.store.documents import DocumentRow
from evenquill.store.jobs import JobKind, Payload
from evenquill.store.preparations import EVERY_PAGE
from evenquill.store.snapshots import Part

if TYPE_CHECKING:
    # Only the helper process loads the readers.
    from evenquill.core.reading.scanned.prepared import Scan

Read = TypeVar("Read")

REGION_SECONDS = 60.0
"""Time limit for reading a region."""

LARGEST = 1e5
"""Points; no page is as large."""

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


class EquationThere(msgspec.Struct, frozen=True):
    """The equation at a place, None where none can be read; how likely all of its symbols are right, and what else it may be, in TeX."""

    tree: Node | None = None
    sure: float = 0.0
    others: tuple[str, ...] = ()


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


def add_routes(api: Api, context: AppContext, runner: JobRunner) -> None:
    @api.route("GET", "/api/languages", returns=list[str])
    def languages() -> list[str]:
        """Codes (ISO 639-2) of the languages that can be read."""
        return list(installed_languages())

    @api.route("GET", "/api/documents/{document}/pages/{page}", returns=PageReading)
    def page_reading(document: str, page: str) -> PageReading:
        """How a page was read, and how it is to be read when it is read again."""
        evidence = _evidence(context, document, whole_number(page) or 0)
        chosen = preparations.choices(context.store, document)
        return PageReading(
            number=evidence.number,
            kind=evidence.kind.value,
            languages=evidence.languages,
            steps=steps_in_words(evidence),
            remarks=tuple(remark.sentence for remark in evidence.page_remarks()),
            cleaned=evidence.cleaned.picture if evidence.cleaned else "",
            preparation=chosen.get(evidence.number) or chosen.get(EVERY_PAGE) or AS_FOUND,
        )

    @api.route("POST", "/api/documents/{document}/again", body=ReadAgain, returns=DocumentRow)
    def read_again(document: str, body: ReadAgain) -> DocumentRow:
        """Reads pages again in another way. The document can be corrected meanwhile; corrections are merged with the new reading."""
        _check(body.preparation)
        with transaction(context.store):
            row = documents.get(context.store, document)
            numbers = body.pages or tuple(range(1, row.page_count + 1))
            if any(not 1 <= number <= row.page_count for number in numbers):
                raise ApiError(422, "pages", f"The document has pages 1 to {row.page_count}.")
            if row.state in IN_WORK or row.busy:
                raise ApiError(409, "reading", "The document is being read. Stop that first, or wait for its end.")
            if pages_of_word_files(parts.every(context.store, document)).issuperset(numbers):
                raise ApiError(
                    409, "set", "These pages were set from a word-processor file: there is nothing to read again."
                )
            if documents.has_whole_proof(context.store, document):
                wanted = Payload(pages=numbers, every_page=not body.pages, preparation=body.preparation, actor=actor())
                jobs.queue(context.store, document, JobKind.READ_AGAIN, wanted)
            else:
                chosen = numbers if body.pages else (EVERY_PAGE,)
                preparations.choose(context.store, document, chosen, body.preparation)
                pages.forget(context.store, document, numbers)
                documents.transition(context.store, document, Event.RESUME)
                jobs.queue(context.store, document, JobKind.READ)
        runner.wake()
        return context.notify_changed(document)

    @api.route("POST", "/api/documents/{document}/rows/{block}/again", body=RowAgain, returns=ReadRegion)
    def read_row(document: str, block: str, body: RowAgain) -> ReadRegion:
        """Reads the place on the page that a row came from once more; changes nothing by itself."""
        _check(Preparation(languages=body.languages))
        # The row's places are those of the reading that stands now: nothing may come between the two.
        with context.open_documents.hold(document) as opened:
            row = opened.proof.blocks[place_of_row(opened.proof, block)]
            if not isinstance(row, TextBlock) or not row.spots:
                raise ApiError(422, "row", "This row came from no place on a page.")
            places = []
            for spot in row.spots:
                languages = body.languages or _evidence(context, document, spot.page).languages
                places.append(_place_to_read(context, document, spot, Preparation(languages=languages)))
        parts = [_read(context, place) for place in places]
        return _one(parts)

    @api.route("POST", "/api/documents/{document}/regions/read", body=RegionAgain, returns=ReadRegion)
    def read_place(document: str, body: RegionAgain) -> ReadRegion:
        """Reads a place on a page; changes nothing by itself."""
        _check(body.preparation)
        _check_place(context, document, body.page, body.box)
        evidence = _evidence(context, document, body.page)
        languages = body.preparation.languages or evidence.languages
        preparation = replace(body.preparation, languages=languages)
        spot = Spot(body.page, body.box)
        return _read(context, _place_to_read(context, document, spot, preparation, as_table=body.as_table))

    @api.route("POST", "/api/documents/{document}/regions/equation", body=RegionCut, returns=EquationThere)
    def equation_there(document: str, body: RegionCut) -> EquationThere:
        """Reads a place on a page as an equation; changes nothing by itself."""
        _check_place(context, document, body.page, body.box)
        evidence = _evidence(context, document, body.page)
        preparation = Preparation(languages=evidence.languages)
        place = _place_to_read(context, document, Spot(body.page, body.box), preparation)
        return _in_helper(context, read_equation_in_helper, replace(place, size=_usual_size(evidence)))

    @api.route("POST", "/api/documents/{document}/regions/cut", body=RegionCut, returns=CutPicture)
    def cut_place(document: str, body: RegionCut) -> CutPicture:
        """Cuts a picture out of a page; changes nothing by itself."""
        _check_place(context, document, body.page, body.box)
        wanted = strip_of(context, document, body.page, body.box, CUT_SCALE, "")
        try:
            data = context.strips.draw(wanted)
        except DrawingError as error:
            raise ApiError(422, "drawing", str(error)) from None
        return CutPicture(context.files.pictures.keep(data, "image/png"), "image/png")


def pages_of_word_files(files: Iterable[Part]) -> set[int]:
    """The numbers of the pages of a document that were set from word-processor files."""
    found: set[int] = set()
    before = 0
    for file in files:
        count = file.facts.pages if file.facts else 0
        if file.facts and file.facts.media in WORD_FILES:
            found.update(range(before + 1, before + count + 1))
        before += count
    return found


def _check_place(context: AppContext, document: str, page: int, box: Box) -> None:
    if not 1 <= page <= documents.get(context.store, document).page_count:
        raise Missing
    if not (all(abs(side) < LARGEST for side in box) and box.width > 0 and box.height > 0):
        raise ApiError(422, "place", "There is nothing in that place of the page.")


def _place_to_read(
    context: AppContext, document: str, spot: Spot, preparation: Preparation, *, as_table: bool = False
) -> RegionToRead:
    head = pages.head(context.store, document, spot.page)
    source, page = place_of_page(context, document, spot.page)
    return RegionToRead(
        source=source,
        page=page,
        password=context.passwords.get(document),
        cleaned=str(context.files.pictures.path(head.cleaned.picture)) if head.cleaned else "",
        width=head.width,
        spot=spot,
        # The picture is clean already.
        preparation=replace(preparation, despeckle=preparation.despeckle and head.cleaned is None),
        as_table=as_table,
        turn=head.turn,
    )


def _read(context: AppContext, place: RegionToRead) -> ReadRegion:
    return _in_helper(context, read_in_helper, place)


def _in_helper(context: AppContext, read: Callable[[RegionToRead], Read], place: RegionToRead) -> Read:
    try:
        return context.region_reading.run(read, place, REGION_SECONDS)
    except SourceError as error:
        raise ApiError(422, "source", str(error)) from None
    except HelperFailed:
        raise ApiError(
            503, "busy", "This part of the page could not be read in time. Try again, or read a smaller part."
        ) from None


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


class RegionToRead(msgspec.Struct, frozen=True):
    """A place to read: file and page in it, its cleaned picture if it has one, page width in points, and how; ``as_table`` keeps its
    lines as rows of a table, ``size`` is that of the page's text in points, ``turn`` by how many quarter turns the page is looked at
    turned."""

    source: str
    page: int
    password: str | None
    cleaned: str
    width: float
    spot: Spot
    preparation: Preparation
    as_table: bool = False
    size: float = 0.0
    turn: int = 0


def _usual_size(evidence: PageEvidence) -> float:
    """The size of most letters of a page, in points, 0 where it has none."""
    letters: Counter[float] = Counter()
    for line in evidence.lines:
        letters[line.size] += len(line.text)
    return max(letters, key=lambda size: letters[size], default=0.0)


def read_in_helper(wanted: RegionToRead) -> ReadRegion:
    """In the helper process, which alone loads the readers: the text at a place."""
    from evenquill.core.region_reading import read_region

    found = read_region(
        _scan(wanted), [wanted.spot.box], wanted.preparation, wanted.spot.page, as_table=wanted.as_table
    )
    return ReadRegion(*found)


def read_equation_in_helper(wanted: RegionToRead) -> EquationThere:
    """In the helper process: the equation at a place."""
    from evenquill.core.region_reading import read_equation_in

    found = read_equation_in(_scan(wanted), wanted.spot.box, wanted.preparation, wanted.size)
    return EquationThere() if found is None else EquationThere(*found)


def _scan(wanted: RegionToRead) -> Scan:
    """The page of a place, in the helper process."""
    from pypdfium2 import PdfiumError

    from evenquill.core.region_reading import cleaned_scan, native_scan
    from evenquill.core.source.opened import open_pdf

    try:
        if wanted.cleaned:
            return cleaned_scan(Path(wanted.cleaned), wanted.width)
        return native_scan(open_pdf(wanted.source, wanted.password), wanted.page, wanted.turn)
    except (OSError, PdfiumError) as error:
        raise SourceError("This page of the file can no longer be opened.") from error


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


def _evidence(context: AppContext, document: str, page: int) -> PageEvidence:
    try:
        return pages.one(context.store, document, page)
    except KeyError:
        raise Missing from None
