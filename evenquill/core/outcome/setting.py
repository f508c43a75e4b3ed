"""A document -> its pages as they come out, and what stands where on them."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path
from typing import Any, NamedTuple, cast

import msgspec
import pypdfium2 as pdfium
import typst

from evenquill.core.model import Document
from evenquill.core.writers.pdf.fonts import installed_fonts
from evenquill.core.writers.pdf.place_marks import LABEL, SOURCE, START
from evenquill.core.writers.pdf.writer import MAIN, markup_of
from evenquill.core.writers.picture import GetPicture
from evenquill.core.writers.problem import NotWritten

CANNOT = "The pages cannot be set. The document can be delivered all the same."


class Place(msgspec.Struct, frozen=True):
    """A place on a page (from 1) of the outcome, in points from its left and upper edges."""

    page: int
    x: float
    y: float


class RowPlaces(msgspec.Struct, frozen=True):
    """Where a row (block id), at its ``place`` among the document's, begins and ends: at the upper edge of its first line, and at the lower
    one of its last."""

    row: str
    place: int
    start: Place
    end: Place


class SourceStart(msgspec.Struct, frozen=True):
    """Where the text of a page of the source begins: in which row (block id), and at what place."""

    page: int
    row: str
    at: Place


class PageSize(msgspec.Struct, frozen=True):
    """Width and height in points."""

    width: float
    height: float


class Outcome(msgspec.Struct, frozen=True):
    """How a document comes out: its pages, where its rows stand, in their order, and where the pages of the source begin."""

    pages: tuple[PageSize, ...]
    rows: tuple[RowPlaces, ...]
    source_starts: tuple[SourceStart, ...]


class SetPages(NamedTuple):
    """An outcome and its pages as PDF."""

    outcome: Outcome
    pdf: bytes


def set_pages(document: Document, picture: GetPicture) -> SetPages:
    """Sets a document. Raises NotWritten where that cannot be done."""
    with tempfile.TemporaryDirectory(prefix="evenquill-") as name:
        folder = Path(name)
        for file, data in markup_of(document, picture, with_places=True).items():
            (folder / file).write_bytes(data)
        try:
            compiler = typst.Compiler(folder / MAIN, root=folder, font_paths=installed_fonts())
            pdf = cast(bytes, compiler.compile(format="pdf"))
            (found,) = json.loads(compiler.query(f"<{LABEL}>", field="value"))
        except RuntimeError as error:
            raise NotWritten(CANNOT) from error
    return SetPages(_outcome(document, found, _sizes(pdf)), pdf)


def _outcome(document: Document, found: list[list[Any]], pages: tuple[PageSize, ...]) -> Outcome:
    """What the marks tell. Those in the header of a table come again on each of its pages: the first one counts."""
    starts: dict[str, Place] = {}
    ends: dict[str, Place] = {}
    source: dict[int, SourceStart] = {}
    for kind, row, page, position in found:
        at = Place(position["page"], _points(position["x"]), _points(position["y"]))
        if kind == SOURCE:
            source.setdefault(page, SourceStart(page, row, at))
        else:
            (starts if kind == START else ends).setdefault(row, at)
    rows = tuple(RowPlaces(row, document.places[row], starts[row], end) for row, end in ends.items())
    return Outcome(pages, rows, tuple(source.values()))


def _sizes(pdf: bytes) -> tuple[PageSize, ...]:
    with pdfium.PdfDocument(pdf) as document:
        return tuple(PageSize(*document.get_page_size(page)) for page in range(len(document)))


def _points(length: str) -> float:
    return float(length.removesuffix("pt"))
