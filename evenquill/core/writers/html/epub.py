"""A document -> the bytes of an EPUB 3 file (W3C EPUB 3.3): its page, its looks, its pictures, and a contents list of its headings."""

from __future__ import annotations

import hashlib
import io
import mimetypes
import uuid
import zipfile
from collections.abc import Sequence
from datetime import UTC, datetime

from evenquill.core.model import Document, Role, TextBlock
from evenquill.core.resolve import Resolved, resolve
from evenquill.core.resolve.nesting import with_deeper
from evenquill.core.writers.html.content import block_anchor
from evenquill.core.writers.html.looks import sheet_of
from evenquill.core.writers.html.markup import tag, text_of, void
from evenquill.core.writers.html.writer import body_of
from evenquill.core.writers.picture import GetPicture

DECLARED = '<?xml version="1.0" encoding="UTF-8"?>\n'
XHTML = "http://www.w3.org/1999/xhtml"
OPS = "http://www.idpf.org/2007/ops"
PACKAGE = "http://www.idpf.org/2007/opf"
PAGE, NAVIGATION, LOOKS = "text.xhtml", "contents.xhtml", "looks.css"
UNNAMED = "Document"
"""Title of a document that has none; readers need one."""

UNKNOWN_LANGUAGE = "und"

_CONTAINER = (
    DECLARED
    + '<container version="1.0" xmlns="urn:oasis:names:tc:opendocument:xmlns:container"><rootfiles>'
    + '<rootfile full-path="book/package.opf" media-type="application/oebps-package+xml"/></rootfiles></container>'
)


def write_epub(document: Document, picture: GetPicture) -> bytes:
    """The document as EPUB, blocks that are set aside left out."""
    resolved = resolve(document)
    pictures: dict[str, str] = {}

    def beside(name: str, media: str) -> str:
        pictures.setdefault(name, media)
        return _file_of(name, media)

    body = body_of(resolved, beside)
    language = document.language or UNKNOWN_LANGUAGE
    title = document.title.strip() or UNNAMED
    page = _page(title, language, body)
    files = {
        PAGE: page.encode(),
        NAVIGATION: _page(title, language, _navigation(resolved, title)).encode(),
        LOOKS: sheet_of(document).encode(),
        **{_file_of(name, media): picture(name) for name, media in pictures.items()},
    }
    package = _package(title, language, pictures, has_maths="<math" in body, content=page)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("mimetype", "application/epub+zip", zipfile.ZIP_STORED)
        archive.writestr("META-INF/container.xml", _CONTAINER)
        archive.writestr("book/package.opf", package)
        for name, data in files.items():
            archive.writestr(f"book/{name}", data)
    return out.getvalue()


def _file_of(name: str, media: str) -> str:
    return f"pictures/{name}{mimetypes.guess_extension(media) or ''}"


def _page(title: str, language: str, body: str) -> str:
    head = tag("title", text_of(title)) + void("link", rel="stylesheet", href=LOOKS)
    inner = f"\n{tag('head', head)}\n{tag('body', body)}\n"
    return f'{DECLARED}<!DOCTYPE html>\n<html xmlns="{XHTML}" xmlns:epub="{OPS}" lang="{language}" xml:lang="{language}">{inner}</html>\n'


def _navigation(resolved: Resolved, title: str) -> str:
    """The contents list: the headings, each within the one that it stands below; the document itself where it has none."""
    headings = [
        block
        for block in resolved.blocks
        if isinstance(block, TextBlock) and block.role is Role.HEADING and block.readable.strip()
    ]
    entries = _entries(headings) if headings else tag("li", tag("a", text_of(title), href=PAGE))
    return f'<nav epub:type="toc" role="doc-toc">{tag("h1", text_of(title))}{tag("ol", entries)}</nav>'


def _entries(headings: Sequence[TextBlock]) -> str:
    out = []
    for own, below in with_deeper(headings):
        name = tag("a", text_of(" ".join(own.readable.split())), href=f"{PAGE}#{block_anchor(own.id)}")
        out.append(tag("li", name + (tag("ol", _entries(below)) if below else "")))
    return "".join(out)


def _package(title: str, language: str, pictures: dict[str, str], *, has_maths: bool, content: str) -> str:
    """What the file consists of, and what is to be known of it, its accessibility too (EPUB Accessibility 1.1)."""
    identifier = uuid.UUID(bytes=hashlib.sha256(content.encode()).digest()[:16], version=4)
    known = {
        "schema:accessMode": "textual", "schema:accessModeSufficient": "textual", "schema:accessibilityFeature": "structuralNavigation",
        "schema:accessibilityHazard": "none", "dcterms:modified": f"{datetime.now(UTC):%Y-%m-%dT%H:%M:%SZ}",
    }  # fmt: skip
    metadata = (
        f'<dc:identifier id="id">urn:uuid:{identifier}</dc:identifier>'
        + tag("dc:title", text_of(title))
        + tag("dc:language", language)
        + "".join(tag("meta", value, property=name) for name, value in known.items())
    )
    items = [
        void("item", id="contents", href=NAVIGATION, media_type="application/xhtml+xml", properties="nav"),
        void(
            "item", id="text", href=PAGE, media_type="application/xhtml+xml", properties="mathml" if has_maths else None
        ),
        void("item", id="looks", href=LOOKS, media_type="text/css"),
        *(
            void("item", id=f"picture-{n}", href=_file_of(name, media), media_type=media)
            for n, (name, media) in enumerate(pictures.items(), 1)
        ),
    ]
    return (
        f'{DECLARED}<package xmlns="{PACKAGE}" version="3.0" unique-identifier="id" xml:lang="{language}">'
        f'<metadata xmlns:dc="http://purl.org/dc/elements/1.1/">{metadata}</metadata>'
        f"{tag('manifest', ''.join(items))}<spine>{void('itemref', idref='text')}</spine></package>"
    )
