"""A document -> the bytes of a DOCX file.

python-docx opens our template and keeps parts and relationships; the content of the parts is made here.
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Iterator, Sequence
from importlib.resources import files
from importlib.resources.abc import Traversable

import docx
from docx.opc.constants import RELATIONSHIP_TYPE
from docx.opc.part import XmlPart
from docx.oxml.parser import parse_xml

from evenquill.core.model import Align, Block, Document, PageSetup, PictureBlock, TableBlock, TextBlock
from evenquill.core.resolve import Resolved, resolve
from evenquill.core.resolve.figures import figure_around
from evenquill.core.resolve.notes import Note, NoteKind
from evenquill.core.resolve.sections import ResolvedSection
from evenquill.core.writers.docx.contents import close_field, open_field
from evenquill.core.writers.docx.embedding import Embedding, PictureParts
from evenquill.core.writers.docx.font_table import font_table
from evenquill.core.writers.docx.frames import Frame, add_frame
from evenquill.core.writers.docx.numbering import write_numbering
from evenquill.core.writers.docx.paragraphs import (
    REFERENCE_STYLES,
    block_bookmark,
    bookmark_name,
    paragraph,
    write_content,
)
from evenquill.core.writers.docx.running import RunningParts
from evenquill.core.writers.docx.sections import section_properties
from evenquill.core.writers.docx.styles import JUSTIFICATION, style_id, write_styles
from evenquill.core.writers.docx.tables import table
from evenquill.core.writers.docx.xml import Element, W, child, clean, element
from evenquill.core.writers.picture import GetPicture

BLOCK_BOOKMARKS = 1_000_000
"""Numbers of bookmarks at blocks begin here; those at pages have the page's."""

_FOOTNOTES = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/footnotes"
_ENDNOTES = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/endnotes"


def write_docx(document: Document, picture: GetPicture) -> bytes:
    """The document as DOCX, blocks that are set aside left out."""
    resolved = resolve(document)
    package = docx.Document(io.BytesIO(_template()))
    part = package.part
    write_styles(package.styles.element, document.resolved_styles.values(), document.language)
    properties = package.core_properties
    properties.title = clean(document.title)[:255]
    properties.language = document.language
    part.part_related_by(RELATIONSHIP_TYPE.FONT_TABLE)._blob = font_table(document)
    write_numbering(part.part_related_by(RELATIONSHIP_TYPE.NUMBERING).element, resolved.lists)
    pictures = PictureParts(picture)
    for kind, relationship in ((NoteKind.FOOTNOTE, _FOOTNOTES), (NoteKind.ENDNOTE, _ENDNOTES)):
        notes = [note for note in resolved.notes.values() if note.kind is kind]
        if notes:
            _write_notes_part(package, document, notes, relationship, pictures)
    body = package.element.body
    for old in list(body):
        body.remove(old)
    running = RunningParts(package, document)
    embedding = Embedding(part, pictures)
    for n, section in enumerate(resolved.sections):
        if n:
            _end_section(body, section_properties(resolved.sections[n - 1], running))
        for at, block in enumerate(section.blocks):
            body.append(_written(embedding, block, section, resolved, body))
            figure = figure_around(section.blocks, at)
            if figure is not None:
                add_frame(body[-1], Frame(figure.width, figure.align is Align.RIGHT))
    if not len(body):
        body.append(element("p"))
    body.append(section_properties(resolved.sections[-1], running))
    out = io.BytesIO()
    package.save(out)
    return out.getvalue()


def _written(
    embedding: Embedding, block: Block, section: ResolvedSection, resolved: Resolved, body: Element
) -> Element:
    """A block as an element of the body, with its bookmarks and fields."""
    layout = section.layout

    def in_cell(text: TextBlock) -> Element:
        return paragraph(text, resolved.style(text), embedding, resolved.notes, resolved.list_of.get(text.id))

    if isinstance(block, TableBlock):
        if len(body) and body[-1].tag == f"{{{W}}}tbl":
            body.append(_parting())
        made = table(block, layout.setup.text_width / layout.columns, in_cell, lambda text: resolved.style(text).size)
    elif isinstance(block, TextBlock):
        caption = resolved.captions.get(block.id)
        made = paragraph(
            block, resolved.style(block), embedding, resolved.notes, resolved.list_of.get(block.id), caption
        )
        if block.id in resolved.contents_begin:
            open_field(made, resolved.contents_begin[block.id])
        if block.id in resolved.contents_end:
            close_field(made)
    else:
        made = _picture(embedding, block, layout.setup)
    if block.id in resolved.block_targets:
        _bookmark(made, BLOCK_BOOKMARKS + len(body), block_bookmark(block.id))
    if block.id in resolved.page_targets:
        page = resolved.page_targets[block.id]
        _bookmark(made, page, bookmark_name(page))
    return made


def _template() -> bytes:
    """Our template's parts as a package."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as package:
        for name, data in _template_parts(files(__package__) / "template", ""):
            package.writestr(name, data)
    return out.getvalue()


def _template_parts(folder: Traversable, prefix: str) -> Iterator[tuple[str, bytes]]:
    for entry in sorted(folder.iterdir(), key=lambda entry: entry.name):
        if entry.is_dir():
            yield from _template_parts(entry, f"{prefix}{entry.name}/")
        else:
            yield prefix + entry.name, entry.read_bytes()


def _write_notes_part(
    package: docx.document.Document,
    document: Document,
    notes: Sequence[Note],
    relationship_type: str,
    pictures: PictureParts,
) -> None:
    related = package.part.part_related_by(relationship_type)
    root = parse_xml(related.blob)
    part = XmlPart(related.partname, related.content_type, root, package.part.package)
    for relationship in package.part.rels.values():
        if relationship.reltype == relationship_type:
            relationship._target = part
    embedding = Embedding(part, pictures)
    for kind, number, block in notes:
        style = document.style(block.style)
        note = child(root, kind.value, id=number)
        made = element("p")
        child(child(made, "pPr"), "pStyle", val=style_id(style.name))
        mark = child(made, "r")
        child(child(mark, "rPr"), "rStyle", val=REFERENCE_STYLES[kind])
        child(mark, f"{kind}Ref")
        space = child(child(made, "r"), "t")
        space.text = " "
        space.set("{http://www.w3.org/XML/1998/namespace}space", "preserve")
        write_content(made, block.content, style, embedding, {})
        note.append(made)


def _parting() -> Element:
    """A paragraph without text, as low as can be: what parts tables, or ends a section, behind a table."""
    made = element("p")
    properties = child(made, "pPr")
    child(properties, "spacing", before=0, after=0, line=20, lineRule="exact")
    return made


def _bookmark(made: Element, number: int, name: str) -> None:
    if made.tag == f"{{{W}}}tbl":
        made = next(made.iter(f"{{{W}}}p"))
    start = element("bookmarkStart", id=number, name=name)
    end = element("bookmarkEnd", id=number)
    place = 1 if len(made) and made[0].tag == f"{{{W}}}pPr" else 0
    made.insert(place, start)
    made.insert(place + 1, end)


def _end_section(body: Element, properties: Element) -> None:
    """A section ends with the paragraph that carries its properties (17.6.18)."""
    if not len(body) or body[-1].tag == f"{{{W}}}tbl":
        body.append(_parting())
    last = body[-1]
    holder = last.find(f"{{{W}}}pPr")
    if holder is None:
        holder = element("pPr")
        last.insert(0, holder)
    holder.append(properties)


def _picture(embedding: Embedding, block: PictureBlock, setup: PageSetup) -> Element:
    """A paragraph with the picture in the line, no wider or taller than the text."""
    made = element("p")
    properties = child(made, "pPr")
    if block.page_break:
        child(properties, "pageBreakBefore")
    if block.align is not Align.LEFT:
        child(properties, "jc", val=JUSTIFICATION[block.align])
    scale = min(1.0, setup.text_width / max(block.width, 1.0), setup.text_height / max(block.height, 1.0))
    child(made, "r").append(embedding.drawing(block, scale))
    return made
