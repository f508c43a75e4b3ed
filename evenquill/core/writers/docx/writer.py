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

from evenquill.core.model import Align, Document, PictureBlock, Role, Running, TabStop, TextBlock
from evenquill.core.writers.docx.numbering import lists_of, write_numbering
from evenquill.core.writers.docx.paragraphs import bookmark_name, paragraph, write_runs, write_tabs
from evenquill.core.writers.docx.sections import PageSetup, section_properties, setups
from evenquill.core.writers.docx.styles import JUSTIFICATION, style_id, write_styles
from evenquill.core.writers.docx.xml import Element, R, W, child, clean, element, emus

GetPicture = Callable[[str], bytes]
"""Gives the bytes of a picture by its SHA-256; raises KeyError where there is none."""

_FOOTNOTES = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/footnotes"


def write_docx(document: Document, picture: GetPicture) -> bytes:
    """The document as DOCX, blocks that are set aside left out."""
    package = docx.Document(io.BytesIO(_template()))
    part = package.part
    write_styles(package.styles.element, document.styles, document.language)
    properties = package.core_properties
    properties.title = clean(document.title)[:255]
    properties.language = document.language

    written = [block for block in document.blocks if not block.aside]
    lists, list_numbers = lists_of(document.blocks)
    write_numbering(part.part_related_by(RELATIONSHIP_TYPE.NUMBERING).element, lists)

    def relate(address: str) -> str:
        return str(part.relate_to(clean(address), RELATIONSHIP_TYPE.HYPERLINK, is_external=True))

    notes = _write_notes(package, document, written)
    page_setups = setups(document.pages) or [PageSetup(595.3, 841.9, 72.0, 72.0, 72.0, 72.0)]
    references, first_references = _running_parts(package, document)
    body = package.element.body
    for old in list(body):
        body.remove(old)
    targets = _linked_pages(written)

    def section(setup: PageSetup, first: bool) -> Element:
        return section_properties(
            setup,
            references=[*references(), *(first_references() if first else [])],
            plain_first=first and document.first_page_plain,
            first_number=document.first_number if first and document.first_number >= 0 else None,
        )

    current = page_setups[0]
    first_section = True
    styles = {style.name: style for style in document.styles}
    for block in written:
        if isinstance(block, TextBlock) and block.id in notes:
            continue
        page = block.spots[0].page if block.spots else 0
        setup = page_setups[min(page, len(page_setups)) - 1] if page else current
        if setup != current:
            _end_section(body, section(current, first_section))
            current, first_section = setup, False
        if isinstance(block, TextBlock):
            style = styles.get(block.style) or document.style(block.style)
            made = paragraph(block, style, relate, notes, list_numbers.get(block.id))
        else:
            made = _picture(package, block, current, picture, len(body) + 1)
        if page in targets:
            _bookmark(made, page)
            targets.discard(page)
        body.append(made)
    if not len(body):
        body.append(element("p"))
    body.append(section(current, first_section))

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


def _write_notes(
    package: docx.document.Document, document: Document, written: list[TextBlock | PictureBlock]
) -> dict[str, int]:
    """Writes the notes that have a mark in the text into the footnotes part; numbers by block id (17.11)."""
    marked = {run.note for block in written if isinstance(block, TextBlock) for run in block.runs if run.note}
    notes = [
        block for block in written if isinstance(block, TextBlock) and block.role is Role.NOTE and block.id in marked
    ]
    if not notes:
        return {}
    related = package.part.part_related_by(_FOOTNOTES)
    root = parse_xml(related.blob)
    part = XmlPart(related.partname, related.content_type, root, package.part.package)
    for relationship in package.part.rels.values():
        if relationship.reltype == _FOOTNOTES:
            relationship._target = part

    def relate(address: str) -> str:
        return str(part.relate_to(clean(address), RELATIONSHIP_TYPE.HYPERLINK, is_external=True))

    numbers = {block.id: n for n, block in enumerate(notes, 1)}
    for block in notes:
        style = document.style(block.style)
        note = child(root, "footnote", id=numbers[block.id])
        made = element("p")
        child(child(made, "pPr"), "pStyle", val=style_id(style.name))
        mark = child(made, "r")
        child(child(mark, "rPr"), "rStyle", val="FootnoteReference")
        child(mark, "footnoteRef")
        space = child(child(made, "r"), "t")
        space.text = " "
        space.set("{http://www.w3.org/XML/1998/namespace}space", "preserve")
        write_runs(made, block.runs, style, relate, {})
        note.append(made)
    return numbers


def _running_parts(
    package: docx.document.Document, document: Document
) -> tuple[Callable[[], list[Element]], Callable[[], list[Element]]]:
    """Header and footer parts; gives makers of the references to them, for all pages and for a plain first page."""
    usual: list[tuple[str, str, str]] = []
    first: list[tuple[str, str, str]] = []
    for tag, running in (("header", document.header), ("footer", document.footer)):
        if running is None:
            continue
        add = package.part.add_header_part if tag == "header" else package.part.add_footer_part
        part, relationship = add()
        _fill(part.element, running, document)
        usual.append((tag, "default", relationship))
        if document.first_page_plain:
            empty, relationship = add()
            _empty(empty.element)
            first.append((tag, "first", relationship))

    def maker(entries: list[tuple[str, str, str]]) -> Callable[[], list[Element]]:
        def make() -> list[Element]:
            made = []
            for tag, kind, relationship in entries:
                reference = element(f"{tag}Reference", type=kind)
                reference.set(f"{{{R}}}id", relationship)
                made.append(reference)
            return made

        return make

    return maker(usual), maker(first)


def _empty(root: Element) -> None:
    for old in list(root):
        root.remove(old)
    child(root, "p")


def _fill(root: Element, running: Running, document: Document) -> None:
    for old in list(root):
        root.remove(old)
    made = child(root, "p")
    properties = child(made, "pPr")
    style = document.style(running.style)
    child(properties, "pStyle", val=style_id(style.name))
    kinds = (Align.CENTER, Align.RIGHT)
    write_tabs(properties, tuple(TabStop(at, align) for at, align in zip(running.tabs, kinds, strict=False)))
    write_runs(made, running.runs, style, lambda address: "", {})


def _linked_pages(written: list[TextBlock | PictureBlock]) -> set[int]:
    """Pages of the source that links lead to."""
    return {
        int(run.link.removeprefix("#page="))
        for block in written
        if isinstance(block, TextBlock)
        for run in block.runs
        if run.link and run.link.startswith("#page=")
    }


def _bookmark(made: Element, page: int) -> None:
    start = element("bookmarkStart", id=page, name=bookmark_name(page))
    end = element("bookmarkEnd", id=page)
    place = 1 if len(made) and made[0].tag == f"{{{W}}}pPr" else 0
    made.insert(place, start)
    made.insert(place + 1, end)


def _end_section(body: Element, properties: Element) -> None:
    """A section ends with the paragraph that carries its properties (17.6.18)."""
    last = body[-1] if len(body) else child(body, "p")
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
