"""The desk's routes: a document's rows by window, operations on them, strips of the source, pictures."""

from __future__ import annotations

import io

import msgspec
from flask import Response, request
from PIL import Image, UnidentifiedImageError

from evenquill.core.edits import Operation
from evenquill.core.edits.plain_edits import Plainness, plainness
from evenquill.core.model import Block, Box, Remark, ResolvedStyle, Role, TextBlock
from evenquill.core.model.inline import run_in_heading
from evenquill.core.picture_changes import changed_picture
from evenquill.core.pictures import pictures_named
from evenquill.core.style_uses import StyleUse, uses_of
from evenquill.desk.context import AppContext
from evenquill.desk.drawing import DrawingError
from evenquill.desk.editing import Changed
from evenquill.desk.endpoints import Api, ApiError, Missing
from evenquill.desk.request_values import number_parameter, whole_number, whole_parameter
from evenquill.desk.sign_in import actor
from evenquill.desk.strips import strip_of
from evenquill.store import documents, history, pages, proofs
from evenquill.store.database import reading
from evenquill.store.documents import DocumentRow
from evenquill.store.proofs import NoProof

MOST_ROWS = 400
"""Rows in one window."""

SCALES = (0.5, 8.0)
"""Pixels for each point of the source."""

MOST_PICTURE_BYTES = 60_000_000
FOR_A_WHILE = "private, max-age=900"
"""Strips and pictures end with their document, in browsers too."""

SHOWN_MEDIA = {"PNG": "image/png", "JPEG": "image/jpeg"}


class OutlineEntry(msgspec.Struct, frozen=True):
    """A heading: its row, the place of that, its level, its text, and the page that it stands on (0 where it came from none); ``run_in`` if
    it begins a paragraph."""

    block: str
    place: int
    level: int
    text: str
    page: int
    run_in: bool = False


class PageInfo(msgspec.Struct, frozen=True):
    """A page on the ladder: the number printed on it, the place of its first row (None if it has none), and what is to be said of it."""

    number: int
    label: str
    kind: str
    remark: str
    first_row: int | None


class PageEdges(msgspec.Struct, frozen=True):
    """A page's size and the left and right edge of its text, in points; ``reading`` changes when it is read again."""

    number: int
    reading: int
    width: float
    height: float
    text_left: float
    text_right: float


class Opened(msgspec.Struct, frozen=True):
    """A document without its rows and pages: what the desk needs at once. ``columns`` if some of it is set in several."""

    document: DocumentRow
    title: str
    total: int
    styles: tuple[ResolvedStyle, ...]
    remarks: tuple[Remark, ...]
    columns: bool
    can_undo: bool
    can_redo: bool
    language: str = "en"


class Window(msgspec.Struct, frozen=True):
    """Rows from place ``start`` on, as of ``revision``, and the pages that they come from."""

    revision: int
    start: int
    total: int
    blocks: list[Block]
    pages: list[PageEdges]


class Labels(msgspec.Struct, frozen=True):
    """By block id what stands before items of lists, as of ``revision``."""

    revision: int
    labels: dict[str, str]


class PageRows(msgspec.Struct, frozen=True):
    """The rows that came from a page, as of ``revision``; the page's size in points, and the number of its reading."""

    revision: int
    width: float
    height: float
    reading: int
    blocks: list[Block]


class OperationRequest(msgspec.Struct, frozen=True):
    """An operation on the document as it was at ``revision``."""

    revision: int
    operation: Operation


class RevisionRequest(msgspec.Struct, frozen=True):
    revision: int


class PictureChange(msgspec.Struct, frozen=True):
    """What is made of a picture: the part of it in a box (left, top, right, bottom, as shares of its sides), turned by quarters to the
    right."""

    quarter_turns: int = 0
    box: tuple[float, float, float, float] = (0.0, 0.0, 1.0, 1.0)


class Uploaded(msgspec.Struct, frozen=True):
    """A picture that was taken in."""

    picture: str
    media: str
    pixel_width: int
    pixel_height: int


def add_routes(api: Api, context: AppContext) -> None:
    @api.route("GET", "/api/documents/{document}", returns=Opened)
    def open_document(document: str) -> Opened:
        """A document without its rows."""
        row = documents.get(context.store, document)
        try:
            proof = proofs.properties(context.store, document)
        except NoProof:
            raise ApiError(409, "unread", "No page of this document has been read yet.") from None
        can_undo, can_redo = history.directions(context.store, document)
        context.outcomes.prepare()
        return Opened(
            document=row,
            title=proof.title,
            total=proofs.count(context.store, document),
            styles=tuple(proof.resolved_styles.values()),
            remarks=proof.remarks,
            columns=any(section.columns > 1 for section in proof.sections),
            can_undo=can_undo,
            can_redo=can_redo,
            language=proof.language,
        )

    @api.route("GET", "/api/documents/{document}/ladder", returns=list[PageInfo])
    def ladder(document: str) -> list[PageInfo]:
        """All pages of a document, with the place of the first row of each."""
        row = documents.get(context.store, document)
        first_rows = proofs.first_rows(context.store, document)
        known = {page.number: page for page in pages.every(context.store, document)}
        printed = proofs.page_labels(context.store, document)
        return [
            PageInfo(
                number,
                printed.get(number, ""),
                known[number].kind if number in known else "",
                known[number].remark if number in known else "",
                first_rows.get(number),
            )
            for number in range(1, row.page_count + 1)
        ]

    @api.route("GET", "/api/documents/{document}/styles", returns=list[StyleUse])
    def styles(document: str) -> list[StyleUse]:
        """The styles of a document, with where each is used."""
        _, proof = context.open_documents.read(document)
        return list(uses_of(proof))

    @api.route("GET", "/api/documents/{document}/plain", returns=Plainness)
    def plain(document: str) -> Plainness:
        """What making the document plain would do to it."""
        _, proof = context.open_documents.read(document)
        return plainness(proof)

    @api.route("GET", "/api/documents/{document}/outline", returns=list[OutlineEntry])
    def outline(document: str) -> list[OutlineEntry]:
        """All headings of a document, in order."""
        _, proof = context.open_documents.read(document)
        entries: list[OutlineEntry] = []
        level = 0
        for place, block in enumerate(proof.blocks):
            if not isinstance(block, TextBlock) or block.excluded:
                continue
            page = block.spots[0].page if block.spots else 0
            if block.role is Role.HEADING:
                level = block.level
                entries.append(OutlineEntry(block.id, place, level, block.readable, page))
            elif title := run_in_heading(block.content):
                entries.append(OutlineEntry(block.id, place, level + 1, title.rstrip(".:—– "), page, run_in=True))
        return entries

    @api.route(
        "GET",
        "/api/documents/{document}/rows",
        returns=Window,
        query={"start": "place of the first row", "count": f"how many rows, {MOST_ROWS} at the most"},
    )
    def rows(document: str) -> Response:
        """A window of rows."""
        start = max(whole_parameter("start", 0), 0)
        count = min(max(whole_parameter("count", 60), 1), MOST_ROWS)
        with reading(context.store):
            # All of one revision, whatever is written meanwhile.
            revision = history.revision(context.store, document)
            window = proofs.window(context.store, document, start, count)
            total = proofs.count(context.store, document)
        answer = {
            "revision": revision,
            "start": start,
            "total": total,
            "blocks": [body for _, body in window],
            "pages": _edges(context, document, [page for page, _ in window]),
        }
        return Response(msgspec.json.encode(answer), mimetype="application/json")

    @api.route("GET", "/api/documents/{document}/labels", returns=Labels)
    def labels(document: str) -> Labels:
        """What stands before each item of a list: its bullet or its number."""
        with context.open_documents.hold(document) as opened:
            return Labels(opened.revision, dict(opened.labels))

    @api.route("GET", "/api/documents/{document}/pages/{page}/rows", returns=PageRows)
    def page_rows(document: str, page: str) -> PageRows:
        """The rows that came from a page, and the page's size."""
        revision, proof = context.open_documents.read(document)
        number = whole_number(page) or 0
        if not 1 <= number <= len(proof.pages):
            raise Missing
        blocks = [block for block in proof.blocks if any(spot.page == number for spot in block.spots)]
        geometry = proof.pages[number - 1]
        reading = pages.readings(context.store, document, [number]).get(number, 0)
        return PageRows(revision, geometry.width, geometry.height, reading, blocks)

    @api.route("POST", "/api/documents/{document}/operations", body=OperationRequest, returns=Changed)
    def operate(document: str, body: OperationRequest) -> Changed:
        """Changes the document. Answered when the change is on disk; 409 where the revision is not the newest."""
        for name in pictures_named(msgspec.json.encode(body.operation)):
            if not context.files.pictures.has(name):
                raise ApiError(422, "picture", "That picture is not here; take it in first.")
        return context.editor.operate(document, body.revision, body.operation, actor())

    @api.route("POST", "/api/documents/{document}/undo", body=RevisionRequest, returns=Changed)
    def undo(document: str, body: RevisionRequest) -> Changed:
        """Takes the last operation back."""
        return context.editor.undo(document, body.revision, actor())

    @api.route("POST", "/api/documents/{document}/redo", body=RevisionRequest, returns=Changed)
    def redo(document: str, body: RevisionRequest) -> Changed:
        """Does the last operation again that was undone."""
        return context.editor.redo(document, body.revision, actor())

    @api.route(
        "GET",
        "/api/documents/{document}/strip",
        query={
            "page": "page from 1",
            "box": "x0,y0,x1,y1 in points; the whole page without",
            "scale": "pixels a point",
            "view": "came for the page as it came, else as it was cleaned",
        },
    )
    def strip(document: str) -> Response:
        """A part of a page of the source as a PNG picture."""
        row = documents.get(context.store, document)
        page = whole_parameter("page", 1)
        if not 1 <= page <= row.page_count:
            raise Missing
        scale = round(min(max(number_parameter("scale", 2.0), SCALES[0]), SCALES[1]), 2)
        wanted = strip_of(context, document, page, _box(request.args.get("box")), scale, request.args.get("view", ""))
        try:
            data = context.strips.draw(wanted)
        except DrawingError as error:
            raise ApiError(422, "drawing", str(error)) from None
        return Response(data, mimetype="image/png", headers={"Cache-Control": FOR_A_WHILE})

    @api.route("GET", "/api/pictures/{picture}")
    def picture(picture: str) -> Response:
        """The bytes of a picture."""
        try:
            data = context.files.pictures.get(picture)
        except KeyError:
            raise Missing from None
        media = "image/png" if data.startswith(b"\x89PNG") else "image/jpeg"
        return Response(
            data, mimetype=media, headers={"Cache-Control": FOR_A_WHILE, "X-Content-Type-Options": "nosniff"}
        )

    @api.route("POST", "/api/pictures", returns=Uploaded)
    def add_picture() -> Uploaded:
        """Takes a picture in that is to replace another; its bytes are the body of the request."""
        if (request.content_length or 0) > MOST_PICTURE_BYTES:
            raise ApiError(413, "size", f"The picture is larger than {MOST_PICTURE_BYTES // 1_000_000} MB.")
        return _taken_in(context, request.get_data())

    @api.route("POST", "/api/pictures/{picture}/changed", body=PictureChange, returns=Uploaded)
    def change_picture(picture: str, body: PictureChange) -> Uploaded:
        """Makes another picture of one, which can replace it: a part of it, turned."""
        try:
            data = context.files.pictures.get(picture)
        except KeyError:
            raise Missing from None
        made = changed_picture(data, body.quarter_turns, body.box)
        return Uploaded(context.files.pictures.keep(made.data, made.media), made.media, made.width, made.height)


def _edges(context: AppContext, document: str, numbers: list[int]) -> list[PageEdges]:
    """The pages of a window of rows; a row that began on one page may end on the next."""
    wanted = sorted({number for first in numbers for number in (first, first + 1)})
    readings = pages.readings(context.store, document, wanted)
    return [
        PageEdges(number, readings.get(number, 0), page.width, page.height, page.text_box.x0, page.text_box.x1)
        for number, page in proofs.page_geometry(context.store, document, wanted).items()
    ]


def _taken_in(context: AppContext, data: bytes) -> Uploaded:
    try:
        with Image.open(io.BytesIO(data)) as image:
            width, height = image.size
            if image.format in SHOWN_MEDIA and image.mode in ("L", "RGB", "RGBA", "P", "1"):
                media = SHOWN_MEDIA[image.format]
            else:
                out = io.BytesIO()
                image.convert("RGB").save(out, "PNG")
                data, media = out.getvalue(), "image/png"
    except (UnidentifiedImageError, OSError, Image.DecompressionBombError):
        raise ApiError(422, "picture", "This is not a picture that can be read. Use PNG or JPEG.") from None
    return Uploaded(context.files.pictures.keep(data, media), media, width, height)


def _box(text: str | None) -> Box | None:
    if text is None:
        return None
    try:
        x0, y0, x1, y1 = (float(part) for part in text.split(","))
    except ValueError:
        raise ApiError(400, "request", "“box” takes four numbers.") from None
    if not (x0 < x1 and y0 < y1):
        raise ApiError(400, "request", "“box” is empty.")
    return Box(x0, y0, x1, y1)
