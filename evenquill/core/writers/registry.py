"""The formats that documents are written in: what each is called, its file ending, its media type, its options, and what writes it."""

from __future__ import annotations

from collections.abc import Callable, Collection
from enum import StrEnum
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.model import Document
from evenquill.core.writers.docx import write_docx
from evenquill.core.writers.html import write_epub, write_html
from evenquill.core.writers.markdown import write_markdown
from evenquill.core.writers.odt import write_odt
from evenquill.core.writers.pdf import write_pdf
from evenquill.core.writers.picture import GetPicture
from evenquill.core.writers.plain_text import write_plain_text
from evenquill.core.writers.rtf import write_rtf


class Option(NamedTuple):
    """Something that can be wanted of a format. ``name`` is what the command line and the API call it, ``title`` what the clerk sees."""

    name: str
    title: str


class SeenAs(StrEnum):
    """How files of a format are looked at: as pages, in a browser, or as plain text."""

    PAGES = "pages"
    BROWSER = "browser"
    TEXT = "text"


class Writer(NamedTuple):
    """A format. ``name`` is what the command line and the API call it, ``title`` and ``about``, a sentence, what the clerk sees; ``write``
    takes the names of the ``options`` that are wanted, and raises NotWritten where the document cannot be written so."""

    name: str
    title: str
    about: str
    ending: str
    media: str
    options: tuple[Option, ...]
    write: Callable[[Document, GetPicture, Collection[str]], bytes]
    seen_as: SeenAs = SeenAs.PAGES

    def unknown(self, wanted: Collection[str]) -> list[str]:
        """Names that are no options of this format."""
        return sorted(set(wanted) - {option.name for option in self.options})


WITHOUT_RUNNING_HEADS = Option("without_running_heads", "Without running heads and feet")


ONE_LINE = Option("one_line", "Each paragraph on one line")


def _as_wanted(document: Document, options: Collection[str]) -> Document:
    """The document without what is not wanted of it."""
    return replace(document, running=()) if WITHOUT_RUNNING_HEADS.name in options else document


def _docx(document: Document, picture: GetPicture, options: Collection[str]) -> bytes:
    return write_docx(_as_wanted(document, options), picture)


def _odt(document: Document, picture: GetPicture, options: Collection[str]) -> bytes:
    return write_odt(_as_wanted(document, options), picture)


def _pdf(document: Document, picture: GetPicture, options: Collection[str]) -> bytes:
    return write_pdf(_as_wanted(document, options), picture)


def _rtf(document: Document, picture: GetPicture, options: Collection[str]) -> bytes:
    return write_rtf(_as_wanted(document, options), picture)


def _html(document: Document, picture: GetPicture, options: Collection[str]) -> bytes:
    return write_html(document, picture)


def _epub(document: Document, picture: GetPicture, options: Collection[str]) -> bytes:
    return write_epub(document, picture)


def _markdown(document: Document, picture: GetPicture, options: Collection[str]) -> bytes:
    return write_markdown(document, picture)


def _plain_text(document: Document, picture: GetPicture, options: Collection[str]) -> bytes:
    return write_plain_text(document, one_line=ONE_LINE.name in options)


_EVERY = (
    Writer(
        "docx",
        "DOCX",
        "For word processors: styles, tables, notes and running heads.",
        "docx",
        "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
        (WITHOUT_RUNNING_HEADS,),
        _docx,
    ),
    Writer(
        "odt",
        "ODT",
        "For word processors that keep to the open standard: the same as DOCX.",
        "odt",
        "application/vnd.oasis.opendocument.text",
        (WITHOUT_RUNNING_HEADS,),
        _odt,
    ),
    Writer(
        "pdf",
        "PDF",
        "For reading and printing: bookmarks, links, and tags for those who listen.",
        "pdf",
        "application/pdf",
        (WITHOUT_RUNNING_HEADS,),
        _pdf,
    ),
    Writer(
        "rtf",
        "RTF",
        "For older programs: formulas are pictures.",
        "rtf",
        "application/rtf",
        (WITHOUT_RUNNING_HEADS,),
        _rtf,
    ),
    Writer(
        "html",
        "HTML",
        "For browsers: one file with its pictures, notes and equations.",
        "html",
        "text/html; charset=utf-8",
        (),
        _html,
        SeenAs.BROWSER,
    ),
    Writer(
        "epub",
        "EPUB",
        "For reading devices: headings lead through it, and letters are as large as one likes.",
        "epub",
        "application/epub+zip",
        (),
        _epub,
        SeenAs.BROWSER,
    ),
    Writer(
        "markdown",
        "Markdown",
        "For editors of plain text: headings, lists, tables, notes and formulas.",
        "md",
        "text/markdown; charset=utf-8",
        (),
        _markdown,
        SeenAs.TEXT,
    ),
    Writer(
        "text",
        "Plain text",
        "The words alone, with tabs between the cells of tables.",
        "txt",
        "text/plain; charset=utf-8",
        (ONE_LINE,),
        _plain_text,
        SeenAs.TEXT,
    ),
)

WRITERS = {writer.name: writer for writer in _EVERY}
"""By name."""
