"""The bytes of a DOCX file -> a document."""

from __future__ import annotations

import re
from typing import NamedTuple

from lxml import etree
from msgspec.structs import replace

from evenquill.core.docx_reading.content import ContentReader, ParagraphContent, paragraphs_in, points
from evenquill.core.docx_reading.names import W, is_on, number, usual_names, value, whole
from evenquill.core.docx_reading.numbering import Counted, NumberingSheet
from evenquill.core.docx_reading.package import Package
from evenquill.core.docx_reading.paragraph_lines import paragraph_sides
from evenquill.core.docx_reading.sections import SectionReader
from evenquill.core.docx_reading.styles import Look, Styles
from evenquill.core.docx_reading.tables import table_of
from evenquill.core.docx_styles import StyleSheet
from evenquill.core.errors import DamagedSource
from evenquill.core.file_lines import with_lines
from evenquill.core.file_remarks import NotTaken
from evenquill.core.model import (
    Align,
    Block,
    BlockLink,
    Document,
    Equation,
    Inline,
    InlinePicture,
    NoteRef,
    PictureBlock,
    ResolvedStyle,
    Role,
    Running,
    Tab,
    TableBlock,
    TabStop,
    Text,
    TextBlock,
)
from evenquill.core.model.blocks import DEEPEST_LIST
from evenquill.core.model.decimals import with_stops_as_read
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import joined, plain, stripped
from evenquill.core.model.sides import Sides
from evenquill.core.model.styles import BODY, style_of
from evenquill.core.pictures import PictureFolder

Element = etree._Element

_AROUND = ("around", "auto", "tight", "through")
"""How text stands to a frame that it goes around (17.18.104)."""

_ALIGN = {
    "left": Align.LEFT, "start": Align.LEFT, "right": Align.RIGHT, "end": Align.RIGHT, "center": Align.CENTER, "both": Align.JUSTIFY,
    "distribute": Align.JUSTIFY,
}  # fmt: skip
_STOPS = {**_ALIGN, "both": Align.LEFT, "decimal": Align.DECIMAL}
_NOTE_ROLES = {"footnote": Role.NOTE, "endnote": Role.ENDNOTE}
_CP = "{http://purl.org/dc/elements/1.1/}"
_WITHIN = frozenset({f"{W}sdt", f"{W}sdtContent", f"{W}customXml", f"{W}ins", f"{W}moveTo"})


class _Part(NamedTuple):
    """A part of a file that has paragraphs: its root, and what reads them."""

    root: Element
    reader: ContentReader


def read_docx(data: bytes, pictures: PictureFolder) -> Document:
    """The document that a DOCX file holds, as if all changes that are tracked in it were accepted; its pictures are kept in a folder.

    What could not be taken is said in remarks. Raises UnsupportedSource for what is no DOCX file, DamagedSource and TooLarge. Nothing
    that the file wants to have run is run, nothing that it names outside is fetched.
    """
    package = Package(data)
    try:
        return _Reader(package, pictures).document()
    except RecursionError:
        raise DamagedSource("The file has parts within parts too deep to be read.") from None


class _Reader:
    def __init__(self, package: Package, pictures: PictureFolder) -> None:
        self._package = package
        self._pictures = pictures
        self._ids = Ids(1)
        relations = package.relations(package.main)
        self._related = {
            one.kind: one.target for one in relations.values() if not one.external and package.has(one.target)
        }
        styles, theme, numbering = (self._root(kind) for kind in ("styles", "theme", "numbering"))
        empty = etree.Element(f"{W}styles")
        self._styles = Styles(StyleSheet(styles if styles is not None else empty, theme))
        self._numbering = NumberingSheet(numbering)
        self._main = self._part(package.main)
        self._notes = {
            sort: self._part(self._related[f"{sort}s"])
            for sort in ("footnote", "endnote")
            if f"{sort}s" in self._related
        }
        settings = self._root("settings")
        self._sections = SectionReader(
            relations, self._ids, self._running, even_differs=bool(is_on(settings, "evenAndOddHeaders"))
        )
        self._blocks: list[Block] = []
        self._section = self._ids.new()
        self._begins_page = False
        self._bookmarks: dict[str, str] = {}
        self._waiting: list[str] = []
        """Bookmarks that stand before what they are at."""
        self._called: dict[tuple[str, str], str] = {}
        """The ids of the blocks of notes by their sort and number."""

    def _root(self, kind: str) -> Element | None:
        return usual_names(self._package.root(self._related[kind])) if kind in self._related else None

    def _part(self, name: str) -> _Part:
        return _Part(
            usual_names(self._package.root(name)), ContentReader(self._package, name, self._styles, self._pictures)
        )

    def document(self) -> Document:
        body = self._main.root.find(f"{W}body")
        if body is None:
            raise DamagedSource("The file is broken: it has no text.")
        self._take_all(body)
        self._sections.add(body.find(f"{W}sectPr"), self._section)
        blocks = tuple(self._linked(block) for block in self._blocks)
        first = next(
            (block.style for block in blocks if isinstance(block, TextBlock) and block.role is Role.PARAGRAPH), ""
        )
        usual = self._styles.of(None).style
        if not first:
            first = self._styles.used.use(usual)
        language, title = self._language(), self._title()
        return Document(
            title=title,
            language=language,
            styles=self._styles.used.made(first) or (style_of(BODY),),
            blocks=blocks,
            sections=tuple(self._sections.sections),
            running=self._sections.running,
            remarks=self._not_taken().remarks(),
        )

    def _take_all(self, holder: Element) -> None:
        for child in holder:
            if child.tag == f"{W}p":
                self._take_paragraph(child)
            elif child.tag == f"{W}tbl":
                self._take_table(child)
            elif child.tag == f"{W}bookmarkStart":
                self._waiting.append(child.get(f"{W}name", ""))
            elif child.tag in _WITHIN:
                self._take_all(child)

    def _take_paragraph(self, paragraph: Element) -> None:
        properties = paragraph.find(f"{W}pPr")
        look = self._styles.of(value(properties, "pStyle"))
        style = _with_indents(look.style, properties)
        content = self._main.reader.read(paragraph, style)
        self._waiting += content.bookmarks
        begins = bool(is_on(properties, "pageBreakBefore")) or self._begins_page
        beside = [self._picture(picture, side, around=True) for picture, side in content.beside]
        sides = paragraph_sides(properties, look.sides)
        made = self._made(content, look, style, properties)
        for block in [*beside, *with_lines(self._blocks, made, sides)]:
            for name in self._waiting:
                self._bookmarks.setdefault(name, block.id)
            self._waiting = []
            self._blocks.append(replace(block, page_break=begins))
            begins = self._begins_page = False
        self._begins_page = begins or content.page_ends
        for note in content.notes:
            self._take_note(*note)
        for box in content.boxes:
            self._take_all(box)
        section = properties.find(f"{W}sectPr") if properties is not None else None
        if section is not None:
            self._sections.add(section, self._section)
            self._section = self._ids.new()

    def _picture(self, picture: InlinePicture, side: Align, *, around: bool) -> PictureBlock:
        """A picture that stands by itself, or that the text below goes ``around``."""
        return PictureBlock(
            self._ids.new(), picture.picture, picture.media, picture.width, picture.height, side, picture.alt,
            section=self._section, around=around,
        )  # fmt: skip

    def _made(
        self, content: ParagraphContent, look: Look, style: ResolvedStyle, properties: Element | None
    ) -> list[Block]:
        """What a paragraph becomes: a row of text, pictures that stand by themselves, or nothing where it is empty."""
        items = stripped(joined(content.content))
        if not items:
            return []
        align = _ALIGN.get(value(properties, "jc") or "")
        if all(isinstance(item, InlinePicture) or not item.text.strip() for item in items):
            frame = properties.find(f"{W}framePr") if properties is not None else None
            around = frame is not None and frame.get(f"{W}wrap", "around") in _AROUND
            if frame is not None and around:
                side = Align.RIGHT if frame.get(f"{W}xAlign") in ("right", "outside") else Align.LEFT
            else:
                side = align or style.align
            return [self._picture(item, side, around=around) for item in items if isinstance(item, InlinePicture)]
        if (equation := _displayed(items)) is not None:
            return [self._text(Role.EQUATION, (equation,), style, align, properties)]
        role, level, numbering = look.role, look.level, None
        counted = self._counted(look, properties)
        if counted is not None and role in (Role.PARAGRAPH, Role.LIST_ITEM):
            role, level, numbering = Role.LIST_ITEM, min(counted[0], DEEPEST_LIST), counted[1].numbering
        elif counted is not None and counted[1].numbering.ordered:
            items = joined((Text(f"{counted[1].label} "), *items))
        elif role is Role.LIST_ITEM:
            role = Role.PARAGRAPH
        block = self._text(role, items, style, align, properties)
        return [replace(block, level=level, numbering=numbering)]

    def _counted(self, look: Look, properties: Element | None) -> tuple[int, Counted] | None:
        """The level and the mark of a paragraph that is numbered."""
        own = properties.find(f"{W}numPr") if properties is not None else None
        wanted, level = look.numbering or (0, 0)
        if own is not None:
            wanted, level = whole(value(own, "numId"), wanted), whole(value(own, "ilvl"), level)
        counted = self._numbering.counted(wanted, level) if wanted else None
        return (level, counted) if counted is not None else None

    def _text(
        self,
        role: Role,
        items: tuple[Inline, ...],
        style: ResolvedStyle,
        align: Align | None,
        properties: Element | None,
    ) -> TextBlock:
        block = TextBlock(
            self._ids.new(),
            role,
            items,
            self._styles.used.use(style),
            align=align if align is not style.align else None,
            tabs=_tabs(properties),
            section=self._section,
        )
        return with_stops_as_read(block)

    def _take_table(self, element: Element) -> None:
        def read(holder: Element | None) -> tuple[TextBlock, ...]:
            texts = [self._cell_text(one) for one in paragraphs_in(holder)] if holder is not None else []
            filled = [text for text in texts if text.content]
            return tuple(
                filled or texts[:1] or [TextBlock(self._ids.new(), Role.CELL, (), self._styles.used.use(BODY))]
            )

        table = table_of(element, self._ids, read, self._section)
        if table is None:
            return
        for name in self._waiting:
            self._bookmarks.setdefault(name, table.id)
        self._waiting = []
        self._blocks.append(replace(table, page_break=self._begins_page))
        self._begins_page = False
        for sort, own in [key for key, name in self._called.items() if name == ""]:
            self._take_note(sort, own)

    def _cell_text(self, paragraph: Element) -> TextBlock:
        properties = paragraph.find(f"{W}pPr")
        style = _with_indents(self._styles.of(value(properties, "pStyle")).style, properties)
        content = self._main.reader.read(paragraph, style)
        self._waiting += content.bookmarks
        for note in content.notes:
            self._called.setdefault(note, "")
        align = _ALIGN.get(value(properties, "jc") or "")
        items = stripped(joined(content.content))
        counted = self._counted(self._styles.of(value(properties, "pStyle")), properties) if items else None
        text = self._text(Role.CELL, items, style, align, properties)
        if counted is None:
            return text
        return replace(text, level=min(counted[0], DEEPEST_LIST), numbering=counted[1].numbering)

    def _take_note(self, sort: str, number: str) -> None:
        """Puts a note behind what calls it first."""
        if self._called.get((sort, number)) or sort not in self._notes:
            return
        part = self._notes[sort]
        note = next((one for one in part.root.iterfind(f"{W}{sort}") if one.get(f"{W}id") == number), None)
        if note is None:
            return
        items: list[Inline] = []
        style = BODY
        for n, paragraph in enumerate(note.iter(f"{W}p")):
            own = self._styles.of(value(paragraph.find(f"{W}pPr"), "pStyle")).style
            style = own if not n else style
            parting = (Text(" "),) if n else ()
            items += [*parting, *part.reader.read(paragraph, style).content]
        block = TextBlock(
            self._ids.new(),
            _NOTE_ROLES[sort],
            stripped(joined(items)),
            self._styles.used.use(style),
            section=self._section,
        )
        self._called[sort, number] = block.id
        self._blocks.append(block)

    def _running(self, name: str) -> Running | None:
        part = self._part(name)
        rows: list[tuple[Inline, ...]] = []
        first: tuple[ResolvedStyle, tuple[TabStop, ...]] | None = None
        sides = Sides.NONE
        for paragraph in part.root.iter(f"{W}p"):
            properties = paragraph.find(f"{W}pPr")
            look = self._styles.of(value(properties, "pStyle"))
            align = _ALIGN.get(value(properties, "jc") or "")
            style = replace(look.style, align=align) if align is not None else look.style
            sides |= paragraph_sides(properties, look.sides)
            items = joined(part.reader.read(paragraph, style).content)
            if not items:
                continue
            first = first or (style, _tabs(properties))
            rows.append(items)
        if first is None:
            return None
        content = joined(item for n, row in enumerate(rows) for item in ((Text("\n"), *row) if n else row))
        return Running(content, self._styles.used.use(first[0]), tuple(stop.at for stop in first[1][:2]), sides)

    def _linked(self, block: Block) -> Block:
        """The block with its notes and the links within the document named by the ids of what they lead to."""
        if isinstance(block, TextBlock):
            return replace(block, content=tuple(self._led(item) for item in block.content if not self._is_lost(item)))
        if isinstance(block, TableBlock):
            cells = tuple(replace(cell, texts=tuple(self._linked(text) for text in cell.texts)) for cell in block.cells)
            return replace(block, cells=cells)
        return block

    def _is_lost(self, item: Inline) -> bool:
        """Whether it is the mark of a note that is not there."""
        if not isinstance(item, NoteRef):
            return False
        sort, _, own = item.note.partition(" ")
        return not self._called.get((sort, own))

    def _led(self, item: Inline) -> Inline:
        if isinstance(item, NoteRef):
            sort, _, own = item.note.partition(" ")
            item = replace(item, note=self._called[sort, own])
        if isinstance(item.link, BlockLink):
            known = self._bookmarks.get(item.link.block)
            item = replace(item, link=BlockLink(known) if known else None)
        return item

    def _language(self) -> str:
        styles = self._root("styles")
        said = next(styles.iter(f"{W}lang"), None) if styles is not None else None
        found = re.match(r"[a-z]{2}\b", said.get(f"{W}val", "")) if said is not None else None
        return found[0] if found else ""

    def _title(self) -> str:
        core = next((one.target for one in self._package.relations("").values() if one.kind == "core-properties"), "")
        if not core or not self._package.has(core):
            return ""
        found = next(self._package.root(core).iter(f"{_CP}title"), None)
        return (found.text or "").strip() if found is not None else ""

    def _not_taken(self) -> NotTaken:
        readers = (self._main.reader, *(part.reader for part in self._notes.values()))
        comments = self._root("comments")
        listed = comments.iter(f"{W}comment") if comments is not None else ()
        return NotTaken(
            sum(one.found.tracked for one in readers),
            ["".join(map(str, one.itertext())) for one in listed],
            sum(one.found.unshown for one in readers),
            self._package.has_macros,
            self._package.outside > 0,
        )


def _displayed(items: tuple[Inline, ...]) -> Equation | None:
    """The equation that a paragraph consists of, with the number behind it."""
    (*equations,) = (item for item in items if isinstance(item, Equation))
    if len(equations) != 1 or not (equations[0].display or isinstance(items[0], Tab)):
        return None
    before = plain(items[: items.index(equations[0])]).strip()
    behind = plain(items[items.index(equations[0]) + 1 :]).strip()
    if before or (behind and not (equations[0].number or "\t" in plain(items[items.index(equations[0]) + 1 :]))):
        return None
    return replace(equations[0], display=True, number=behind)


def _with_indents(style: ResolvedStyle, properties: Element | None) -> ResolvedStyle:
    """The look of a paragraph that is set in, or spaced, otherwise than its style."""
    if properties is None:
        return style
    said: dict[str, float] = {}
    for field, names in (("left", ("left", "start")), ("right", ("right", "end"))):
        for name in names:
            if (found := value(properties, "ind", name)) is not None:
                said[field] = points(found)
    if (hanging := value(properties, "ind", "hanging")) is not None:
        said["first"] = -points(hanging)
    elif (first := value(properties, "ind", "firstLine")) is not None:
        said["first"] = points(first)
    for field in ("before", "after"):
        if (found := value(properties, "spacing", field)) is not None:
            said[field] = points(found)
    line = value(properties, "spacing", "line")
    if line is not None:
        exact = value(properties, "spacing", "lineRule") in ("exact", "atLeast")
        said["leading"] = (
            points(line) if exact else round(number(line) / 240 * style.size * 1.15, 2) if line != "240" else 0.0
        )
    return replace(style, **said) if said else style


def _tabs(properties: Element | None) -> tuple[TabStop, ...]:
    stops = properties.findall(f"{W}tabs/{W}tab") if properties is not None else []
    found = [
        TabStop(
            points(stop.get(f"{W}pos")),
            _STOPS.get(stop.get(f"{W}val", ""), Align.LEFT),
            stop.get(f"{W}leader", "none") not in ("none",),
        )
        for stop in stops
        if stop.get(f"{W}val") != "clear"
    ]
    return tuple(sorted(found, key=lambda stop: stop.at))
