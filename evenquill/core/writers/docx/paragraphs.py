"""Text blocks as ``w:p`` (ECMA-376 part 1, 17.3)."""

from __future__ import annotations

import itertools

from evenquill.core.languages import locale_of
from evenquill.core.model import (
    Align,
    BlockLink,
    Break,
    Equation,
    Field,
    Inline,
    InlinePicture,
    Link,
    Marks,
    NoteRef,
    PageLink,
    ResolvedStyle,
    Tab,
    TabStop,
    Text,
    TextBlock,
    UrlLink,
)
from evenquill.core.model.inline import cut, lettering_of
from evenquill.core.model.sides import LINE_SPACE, SIDE_NAMES, Sides
from evenquill.core.resolve.captions import CaptionNumber
from evenquill.core.resolve.notes import Note, NoteKind
from evenquill.core.writers.docx.embedding import Embedding
from evenquill.core.writers.docx.omml import omml
from evenquill.core.writers.docx.styles import JUSTIFICATION, style_id
from evenquill.core.writers.docx.xml import XML_SPACE, Element, R, W, attribute, child, clean, element, twips

TAB_ALIGNMENT = {
    Align.LEFT: "left",
    Align.RIGHT: "right",
    Align.CENTER: "center",
    Align.JUSTIFY: "left",
    Align.DECIMAL: "decimal",
}


REFERENCE_STYLES = {NoteKind.FOOTNOTE: "FootnoteReference", NoteKind.ENDNOTE: "EndnoteReference"}
"""Character styles of marks."""


def paragraph(
    block: TextBlock,
    style: ResolvedStyle,
    embedding: Embedding,
    notes: dict[str, Note],
    list_number: int | None = None,
    number: CaptionNumber | None = None,
) -> Element:
    """The block as a paragraph; ``notes`` gives the notes by block id, ``number`` is the field for a caption's own."""
    made = element("p")
    properties = child(made, "pPr")
    child(properties, "pStyle", val=style_id(style.name))
    if block.page_break:
        child(properties, "pageBreakBefore")
    if list_number is not None:
        numbering = child(properties, "numPr")
        child(numbering, "ilvl", val=block.level)
        child(numbering, "numId", val=list_number)
    write_lines(properties, block.sides)
    write_tabs(properties, block.tabs)
    if block.align is not None and block.align is not style.align:
        child(properties, "jc", val=JUSTIFICATION[block.align])
    if number is None:
        write_content(made, block.content, style, embedding, notes)
    else:
        write_content(made, cut(block.content, 0, number.start), style, embedding, notes)
        made.append(field_mark("begin"))
        made.append(field_text(_instruction(number)))
        made.append(field_mark("separate"))
        write_content(made, cut(block.content, number.start, number.end), style, embedding, notes)
        made.append(field_mark("end"))
        write_content(made, cut(block.content, number.end), style, embedding, notes)
    if block.language:
        _say_language(made, block.language)
    return made


def _instruction(number: CaptionNumber) -> str:
    """The field that counts a caption (17.16.5.56)."""
    reset = "" if number.reset is None else f"\\r {number.reset} "
    return f" SEQ {number.sequence} {reset}\\* ARABIC "


def _say_language(made: Element, language: str) -> None:
    """Says of each run which language it is in, for those who check or read it aloud (17.3.2.20)."""
    for run in made.iter(f"{{{W}}}r"):
        properties = run.find(f"{{{W}}}rPr")
        if properties is None:
            properties = element("rPr")
            run.insert(0, properties)
        child(properties, "lang", val=locale_of(language))


def field_mark(kind: str) -> Element:
    """Where a field begins, where its result begins, or where it ends (17.16.18)."""
    made = element("r")
    child(made, "fldChar", fldCharType=kind)
    return made


def field_text(instruction: str) -> Element:
    """What a field does."""
    made = element("r")
    text = child(made, "instrText")
    text.text = instruction
    text.set(XML_SPACE, "preserve")
    return made


def write_lines(properties: Element, sides: Sides) -> None:
    """The lines above and below a paragraph (17.3.1.24); neighbours that have the same ones are one to readers, with a line between."""
    if not sides:
        return
    lines = child(properties, "pBdr")
    for name in (*(name for side, name in SIDE_NAMES.items() if side & sides), "between"):
        child(lines, name, val="single", sz=4, space=LINE_SPACE, color="auto")


def write_tabs(properties: Element, stops: tuple[TabStop, ...]) -> None:
    if not stops:
        return
    tabs = child(properties, "tabs")
    for stop in stops:
        tab = child(tabs, "tab", val=TAB_ALIGNMENT[stop.align])
        if stop.leader:
            attribute(tab, "leader", "dot")
        attribute(tab, "pos", twips(stop.at))


def write_content(
    parent: Element,
    content: tuple[Inline, ...],
    style: ResolvedStyle,
    embedding: Embedding | None,
    notes: dict[str, Note],
) -> None:
    """Content as runs: neighbours of one link within one ``w:hyperlink``, those of one look in one ``w:r``.

    Without an ``embedding``, links are not written and pictures are what describes them.
    """
    for link, linked in itertools.groupby(content, key=lambda item: item.link):
        holder = _hyperlink(parent, link, embedding) if link is not None and embedding is not None else parent
        run: Element | None = None
        last: Inline | None = None
        for item in linked:
            if isinstance(item, NoteRef):
                if item.note in notes:
                    _note_mark(holder, notes[item.note])
                elif item.mark:
                    _write_text(_run(holder, item, style), item.mark)
                last = None
            elif isinstance(item, Field):
                simple = child(holder, "fldSimple", instr=f" {item.kind.upper()} ")
                _write_text(_run(simple, item, style), "1")
                last = None
            elif isinstance(item, Equation):
                _write_equation(holder, item, style)
                last = None
            elif isinstance(item, InlinePicture):
                run = _run(holder, item, style)
                if embedding is not None:
                    run.append(embedding.drawing(item))
                elif item.alt:
                    _write_text(run, item.alt)
                last = None
            else:
                if run is None or last is None or not last.same_look(item):
                    run = _run(holder, item, style)
                last = item
                if isinstance(item, Break):
                    child(run, "br")
                elif isinstance(item, Tab):
                    child(run, "tab")
                else:
                    _write_text(run, item.text)


def _write_equation(parent: Element, item: Equation, style: ResolvedStyle) -> None:
    """An equation; one that has a number in the middle, behind a tab, and its number at the right margin behind another."""
    look = Text("", color=item.color)
    if item.number:
        child(_run(parent, look, style), "tab")
    parent.append(omml(item.tree, display=item.display))
    if item.number:
        run = _run(parent, look, style)
        child(run, "tab")
        _write_text(run, item.number)


def _hyperlink(parent: Element, link: Link, embedding: Embedding) -> Element:
    match link:
        case PageLink(page):
            return child(parent, "hyperlink", anchor=bookmark_name(page))
        case BlockLink(block):
            return child(parent, "hyperlink", anchor=block_bookmark(block))
        case UrlLink(url):
            made = child(parent, "hyperlink")
            made.set(f"{{{R}}}id", embedding.relate(url))
            return made


def bookmark_name(page: int) -> str:
    """The bookmark at the first block of a page of the source."""
    return f"page_{page}"


def block_bookmark(block: str) -> str:
    """The bookmark at a block that a link leads to."""
    return f"block_{block}"


def _note_mark(parent: Element, note: Note) -> None:
    made = child(parent, "r")
    child(child(made, "rPr"), "rStyle", val=REFERENCE_STYLES[note.kind])
    child(made, f"{note.kind}Reference", id=note.number)


def _run(parent: Element, item: Inline, style: ResolvedStyle) -> Element:
    made = child(parent, "r")
    properties = element("rPr")
    if item.link is not None and not isinstance(
        item.link, BlockLink
    ):  # within the document, text stays as it is printed
        child(properties, "rStyle", val="Hyperlink")
    elif Marks.RUN_IN in item.marks:
        child(properties, "rStyle", val="RunInHeading")
    lettering = lettering_of(item)
    if lettering.font:
        child(properties, "rFonts", ascii=lettering.font, hAnsi=lettering.font, cs=lettering.font)
    _toggle(properties, "b", Marks.BOLD in item.marks, style.bold)
    _toggle(properties, "i", Marks.ITALIC in item.marks, style.italic)
    if Marks.SMALL_CAPITALS in item.marks:
        child(properties, "smallCaps")
    if Marks.STRIKE in item.marks:
        child(properties, "strike")
    if item.color and item.link is None:
        child(properties, "color", val=item.color.upper())
    if lettering.size:
        for tag in ("sz", "szCs"):
            child(properties, tag, val=round(2 * lettering.size))
    if Marks.UNDERLINE in item.marks and item.link is None:
        child(properties, "u", val="single")
    if lettering.ground:
        child(properties, "shd", val="clear", color="auto", fill=lettering.ground.upper())
    if Marks.SUPER in item.marks:
        child(properties, "vertAlign", val="superscript")
    elif Marks.SUB in item.marks:
        child(properties, "vertAlign", val="subscript")
    if len(properties):
        made.append(properties)
    return made


def _toggle(properties: Element, tag: str, differs: bool, in_style: bool) -> None:
    """Said only where the run differs from its style, as the model has it."""
    if differs and in_style:
        child(properties, tag, val="0")
    elif differs:
        child(properties, tag)


def _write_text(run: Element, text: str) -> None:
    made = child(run, "t")
    made.text = clean(text)
    made.set(XML_SPACE, "preserve")
