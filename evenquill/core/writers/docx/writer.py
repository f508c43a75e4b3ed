"""A document -> the bytes of a DOCX file.

python-docx opens our template and keeps parts and relationships; the content of the parts is made here.
"""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable, Iterator
from importlib.resources import files
from importlib.resources.abc import Traversable

import docx
from docx.opc.constants import RELATIONSHIP_TYPE
from docx.opc.part import XmlPart
from docx.oxml.parser import parse_xml
from lxml import etree
from msgspec.structs import replace

from evenquill.core.model import (
    Align,
    Block,
    BlockLink,
    Document,
    Link,
    NoteRef,
    PageLink,
    PictureBlock,
    Role,
    TableBlock,
    TextBlock,
    texts_of,
    with_changed,
)
from evenquill.core.writers.docx.captions import number_fields
from evenquill.core.writers.docx.contents import close_field, contents_of, open_field
from evenquill.core.writers.docx.numbering import lists_of, write_numbering
from evenquill.core.writers.docx.paragraphs import (
    NoteKind,
    NoteReference,
    block_bookmark,
    bookmark_name,
    paragraph,
    write_content,
)
from evenquill.core.writers.docx.sections import PageSetup, Section, Sections
from evenquill.core.writers.docx.styles import JUSTIFICATION, style_id, write_styles
from evenquill.core.writers.docx.tables import table
from evenquill.core.writers.docx.xml import Element, W, child, clean, element, emus

BLOCK_BOOKMARKS = 1_000_000
"""Numbers of bookmarks at blocks begin here; those at pages have the page's."""

GetPicture = Callable[[str], bytes]
"""Gives the bytes of a picture by its SHA-256; raises KeyError where there is none."""

_FOOTNOTES = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/footnotes"
_ENDNOTES = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/endnotes"


def write_docx(document: Document, picture: GetPicture) -> bytes:
    """The document as DOCX, blocks that are set aside left out."""
    package = docx.Document(io.BytesIO(_template()))
    part = package.part
    write_styles(package.styles.element, document.styles, document.language)
    properties = package.core_properties
    properties.title = clean(document.title)[:255]
    properties.language = document.language

    written = _without_dead_links([block for block in document.blocks if not block.excluded])
    lists, list_numbers = lists_of(document.blocks)
    write_numbering(part.part_related_by(RELATIONSHIP_TYPE.NUMBERING).element, lists)

    def relate(address: str) -> str:
        return str(part.relate_to(clean(address), RELATIONSHIP_TYPE.HYPERLINK, is_external=True))

    notes = _write_notes(package, document, written)
    sections = Sections(package, document)
    body = package.element.body
    for old in list(body):
        body.remove(old)
    targets = {link.page for link in _links(written) if isinstance(link, PageLink)}
    numbers = number_fields(written)
    contents = contents_of(written, numbers)
    led_to = contents.targets | _linked_blocks(written)
    current: Section | None = None
    styles = {style.name: style for style in document.styles}

    def in_cell(text: TextBlock) -> Element:
        return paragraph(text, styles.get(text.style) or document.style(text.style), relate, notes)

    for block in written:
        if isinstance(block, TextBlock) and block.id in notes:
            continue
        page = block.spots[0].page if block.spots else 0
        section = sections.of(block, current)
        if current is not None and section != current:
            _end_section(body, sections.properties(current))
        if section != current:
            sections.begin(section, after=current, on_new_page=block.page_break)
            if current is not None and block.page_break:
                block = replace(block, page_break=False)
            current = section
        if isinstance(block, TableBlock):
            if len(body) and body[-1].tag == f"{{{W}}}tbl":
                body.append(_parting())
            made = table(block, section.setup.text_width / section.columns, in_cell)
        elif isinstance(block, TextBlock):
            style = styles.get(block.style) or document.style(block.style)
            entry = contents.entries.get(block.id, block)
            made = paragraph(entry, style, relate, notes, list_numbers.get(block.id), numbers.get(block.id))
            if block.id in contents.begins:
                open_field(made, contents.begins[block.id])
            if block.id in contents.ends:
                close_field(made)
            if block.id in led_to:
                _bookmark(made, BLOCK_BOOKMARKS + len(body), block_bookmark(block.id))
        else:
            made = _picture(package, block, section.setup, picture, len(body) + 1)
        if page in targets:
            _bookmark(made, page, bookmark_name(page))
            targets.discard(page)
        body.append(made)
    if not len(body):
        body.append(element("p"))
    body.append(sections.properties(current or sections.whole()))

    out = io.BytesIO()
    package.save(out)
    return out.getvalue()


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


def _write_notes(package: docx.document.Document, document: Document, written: list[Block]) -> dict[str, NoteReference]:
    """Writes the notes that have a mark in the text into the parts for foot- and endnotes; references by block id (17.11)."""
    marked = {
        item.note for block in written for text in texts_of(block) for item in text.content if isinstance(item, NoteRef)
    }
    references: dict[str, NoteReference] = {}
    for role, kind, relationship in (
        (Role.NOTE, NoteKind.FOOTNOTE, _FOOTNOTES),
        (Role.ENDNOTE, NoteKind.ENDNOTE, _ENDNOTES),
    ):
        notes = [
            block for block in written if isinstance(block, TextBlock) and block.role is role and block.id in marked
        ]
        if notes:
            _write_notes_part(package, document, notes, kind, relationship)
        references |= {block.id: NoteReference(kind, n) for n, block in enumerate(notes, 1)}
    return references


def _write_notes_part(
    package: docx.document.Document, document: Document, notes: list[TextBlock], kind: NoteKind, relationship_type: str
) -> None:
    related = package.part.part_related_by(relationship_type)
    root = parse_xml(related.blob)
    part = XmlPart(related.partname, related.content_type, root, package.part.package)
    for relationship in package.part.rels.values():
        if relationship.reltype == relationship_type:
            relationship._target = part

    def relate(address: str) -> str:
        return str(part.relate_to(clean(address), RELATIONSHIP_TYPE.HYPERLINK, is_external=True))

    for number, block in enumerate(notes, 1):
        style = document.style(block.style)
        note = child(root, kind.value, id=number)
        made = element("p")
        child(child(made, "pPr"), "pStyle", val=style_id(style.name))
        mark = child(made, "r")
        child(child(mark, "rPr"), "rStyle", val=kind.reference_style)
        child(mark, f"{kind}Ref")
        space = child(child(made, "r"), "t")
        space.text = " "
        space.set("{http://www.w3.org/XML/1998/namespace}space", "preserve")
        write_content(made, block.content, style, relate, {})
        note.append(made)


def _without_dead_links(written: list[Block]) -> list[Block]:
    """The blocks without links to those that are not written: a caption that is set aside leads nowhere."""
    dead = _linked_blocks(written) - {block.id for block in written}
    if not dead:
        return written

    def is_dead(link: Link | None) -> bool:
        return isinstance(link, BlockLink) and link.block in dead

    out = []
    for block in written:
        for text in texts_of(block):
            if any(is_dead(item.link) for item in text.content):
                content = tuple(replace(item, link=None) if is_dead(item.link) else item for item in text.content)
                block = with_changed(block, replace(text, content=content))
        out.append(block)
    return out


def _links(written: list[Block]) -> Iterator[Link]:
    """All links of the text."""
    for block in written:
        for text in texts_of(block):
            for item in text.content:
                if item.link is not None:
                    yield item.link


def _linked_blocks(written: list[Block]) -> set[str]:
    """The blocks that links lead to."""
    return {link.block for link in _links(written) if isinstance(link, BlockLink)}


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


def _picture(
    package: docx.document.Document, block: PictureBlock, setup: PageSetup, picture: GetPicture, number: int
) -> Element:
    """A paragraph with the picture in the line (20.4.2.8), no wider or taller than the text."""
    made = element("p")
    properties = child(made, "pPr")
    if block.page_break:
        child(properties, "pageBreakBefore")
    if block.align is not Align.LEFT:
        child(properties, "jc", val=JUSTIFICATION[block.align])
    scale = min(1.0, setup.text_width / max(block.width, 1.0), setup.text_height / max(block.height, 1.0))
    relationship, image = package.part.get_or_add_image(io.BytesIO(picture(block.picture)))
    inline = package.part.new_pic_inline(io.BytesIO(image.blob), emus(block.width * scale), emus(block.height * scale))
    del relationship
    inline.docPr.set("id", str(number))
    inline.docPr.set("name", f"Picture {number}")
    inline.docPr.set("descr", clean(block.alt))
    drawing = etree.SubElement(child(made, "r"), f"{{{W}}}drawing")
    drawing.append(inline)
    return made
