"""Text blocks as ``w:p`` (ECMA-376 part 1, 17.3)."""

from __future__ import annotations

from collections.abc import Callable
from enum import StrEnum
from typing import NamedTuple

from evenquill.core.model import Align, Marks, ParagraphStyle, Run, TabStop, TextBlock
from evenquill.core.model.text import cut
from evenquill.core.writers.docx.captions import NumberField
from evenquill.core.writers.docx.styles import JUSTIFICATION, locale_of, style_id
from evenquill.core.writers.docx.xml import XML_SPACE, Element, R, W, attribute, child, clean, element, twips

TAB_ALIGNMENT = {Align.LEFT: "left", Align.RIGHT: "right", Align.CENTER: "center", Align.JUSTIFY: "left"}

PAGE_FIELD = "{page}"

PAGE_LINK, BLOCK_LINK = "#page=", "#block="
"""Begins a link to a block of the document."""


class NoteKind(StrEnum):
    """Where notes stand; the value is what their elements are called."""

    FOOTNOTE = "footnote"
    ENDNOTE = "endnote"

    @property
    def reference_style(self) -> str:
        """The character style of marks."""
        return f"{self.value.title()}Reference"


class NoteReference(NamedTuple):
    """A note by its number in the part that holds those of its kind."""

    kind: NoteKind
    number: int


Relate = Callable[[str], str]
"""Gives the relationship id for an external address."""


def paragraph(
    block: TextBlock,
    style: ParagraphStyle,
    relate: Relate,
    notes: dict[str, NoteReference],
    list_number: int | None = None,
    number: NumberField | None = None,
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
    write_tabs(properties, block.tabs)
    if block.align is not None and block.align is not style.align:
        child(properties, "jc", val=JUSTIFICATION[block.align])
    if number is None:
        write_runs(made, block.runs, style, relate, notes)
    else:
        write_runs(made, cut(block.runs, 0, number.start), style, relate, notes)
        made.append(field_mark("begin"))
        made.append(field_text(number.instruction))
        made.append(field_mark("separate"))
        write_runs(made, cut(block.runs, number.start, number.end), style, relate, notes)
        made.append(field_mark("end"))
        write_runs(made, cut(block.runs, number.end), style, relate, notes)
    if block.language:
        _say_language(made, block.language)
    return made


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


def write_tabs(properties: Element, stops: tuple[TabStop, ...]) -> None:
    if not stops:
        return
    tabs = child(properties, "tabs")
    for stop in stops:
        tab = child(tabs, "tab", val=TAB_ALIGNMENT[stop.align])
        if stop.leader:
            attribute(tab, "leader", "dot")
        attribute(tab, "pos", twips(stop.at))


def write_runs(
    parent: Element, runs: tuple[Run, ...], style: ParagraphStyle, relate: Relate, notes: dict[str, NoteReference]
) -> None:
    """Runs, neighbours of one link within one ``w:hyperlink``."""
    holder, link = parent, None
    for run in runs:
        if run.link != link:
            holder, link = (_hyperlink(parent, run.link, relate) if run.link else parent), run.link
        if run.note is not None and run.note in notes:
            _note_mark(holder, notes[run.note])
        else:
            _write_run(holder, run, style)


def _hyperlink(parent: Element, address: str, relate: Relate) -> Element:
    if address.startswith(PAGE_LINK):
        return child(parent, "hyperlink", anchor=bookmark_name(int(address.removeprefix(PAGE_LINK))))
    if address.startswith(BLOCK_LINK):
        return child(parent, "hyperlink", anchor=block_bookmark(address.removeprefix(BLOCK_LINK)))
    made = child(parent, "hyperlink")
    made.set(f"{{{R}}}id", relate(address))
    return made


def bookmark_name(page: int) -> str:
    """The bookmark at the first block of a page of the source."""
    return f"page_{page}"


def block_bookmark(block: str) -> str:
    """The bookmark at a block that a link leads to."""
    return f"block_{block}"


def _note_mark(parent: Element, note: NoteReference) -> None:
    made = child(parent, "r")
    child(child(made, "rPr"), "rStyle", val=note.kind.reference_style)
    child(made, f"{note.kind}Reference", id=note.number)


def _write_run(parent: Element, run: Run, style: ParagraphStyle) -> None:
    before, field, after = run.text.partition(PAGE_FIELD) if PAGE_FIELD in run.text else (run.text, "", "")
    if before:
        _write_text(_run(parent, run, style), before)
    if field:
        simple = child(parent, "fldSimple", instr=" PAGE ")
        _write_text(_run(simple, run, style), "1")
        if after:
            _write_run(parent, run.like(after), style)


def _run(parent: Element, run: Run, style: ParagraphStyle) -> Element:
    made = child(parent, "r")
    properties = element("rPr")
    if run.link and not run.link.startswith(BLOCK_LINK):  # within the document, text stays as it is printed
        child(properties, "rStyle", val="Hyperlink")
    elif Marks.RUN_IN in run.marks:
        child(properties, "rStyle", val="RunInHeading")
    _toggle(properties, "b", Marks.BOLD in run.marks, style.bold)
    _toggle(properties, "i", Marks.ITALIC in run.marks, style.italic)
    if Marks.STRIKE in run.marks:
        child(properties, "strike")
    if run.color and not run.link:
        child(properties, "color", val=run.color.upper())
    if Marks.UNDERLINE in run.marks and not run.link:
        child(properties, "u", val="single")
    if Marks.SUPER in run.marks:
        child(properties, "vertAlign", val="superscript")
    elif Marks.SUB in run.marks:
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
    for n, line in enumerate(text.split("\n")):
        if n:
            child(run, "br")
        for m, piece in enumerate(line.split("\t")):
            if m:
                child(run, "tab")
            if piece:
                made = child(run, "t")
                made.text = clean(piece)
                made.set(XML_SPACE, "preserve")
