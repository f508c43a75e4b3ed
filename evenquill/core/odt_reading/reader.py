"""The bytes of an ODT file -> a document."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from copy import deepcopy
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.errors import DamagedSource, UnsupportedSource
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
    Role,
    Running,
    TableBlock,
    Text,
    TextBlock,
)
from evenquill.core.model.blocks import DEEPEST_LIST
from evenquill.core.model.decimals import with_stops_as_read
from evenquill.core.model.ids import Ids
from evenquill.core.model.inline import joined, plain, stripped
from evenquill.core.model.sides import Sides
from evenquill.core.model.styles import BODY, style_of
from evenquill.core.odt_reading.content import ContentReader
from evenquill.core.odt_reading.lists import Counted, ListSheet
from evenquill.core.odt_reading.names import DC, DRAW, FO, OFFICE, STYLE, TABLE, TEXT, Element, whole
from evenquill.core.odt_reading.package import CONTENT, META, STYLES, Package
from evenquill.core.odt_reading.sections import SectionReader
from evenquill.core.odt_reading.styles import ParagraphLook, Styles
from evenquill.core.odt_reading.tables import table_of
from evenquill.core.pictures import PictureFolder

MOST_COLUMNS = 12
_PARAGRAPHS = frozenset((f"{TEXT}p", f"{TEXT}h"))
_INDEXES = frozenset(
    f"{TEXT}{name}"
    for name in ("table-of-content", "illustration-index", "table-index", "object-index", "user-index", "alphabetical-index",
                 "bibliography", "index-body", "index-title")
)  # fmt: skip


class _Item(NamedTuple):
    """The item of a list that a paragraph begins: how deep it is, and how it is marked."""

    depth: int
    counted: Counted


def read_odt(data: bytes, pictures: PictureFolder) -> Document:
    """The document that an ODT file holds, as if all changes that are tracked in it were accepted; its pictures are kept in a folder.

    What could not be taken is said in remarks. Raises UnsupportedSource for what is no ODT file, DamagedSource and TooLarge. Nothing that
    the file wants to have run is run, nothing that it names outside is fetched.
    """
    package = Package(data)
    try:
        return _Reader(package, pictures).document()
    except RecursionError:
        raise DamagedSource("The file has parts within parts too deep to be read.") from None


class _Reader:
    def __init__(self, package: Package, pictures: PictureFolder) -> None:
        self._package = package
        self._root = package.root(CONTENT)
        shared = package.part(STYLES)
        self._styles = Styles(self._root, shared)
        # Running heads have automatic styles of their own, which may be called as those of the text are.
        self._running_styles = Styles(shared)
        self._lists = ListSheet(self._root, shared)
        self._content = ContentReader(package, self._styles, pictures)
        self._running_content = ContentReader(package, self._running_styles, pictures)
        self._ids = Ids(1)
        self._sections = SectionReader(shared, self._ids, self._running)
        self._blocks: list[Block] = []
        self._bookmarks: dict[str, str] = {}
        self._waiting: list[str] = []
        """Names of places that stand before what they are at."""
        self._note_ids: dict[str, str] = {}

    def document(self) -> Document:
        body = self._root.find(f"{OFFICE}body/{OFFICE}text")
        if body is None:
            raise UnsupportedSource("This is no ODT file: it has no text.")
        self._take_all(body)
        if not self._sections.sections:
            self._sections.begin_columns(0)
        blocks = tuple(self._linked(block) for block in self._blocks)
        first = next(
            (block.style for block in blocks if isinstance(block, TextBlock) and block.role is Role.PARAGRAPH), ""
        )
        first = first or self._styles.used.use(self._styles.paragraph("Standard").named)
        meta = self._package.part(META)
        said = (next(meta.iter(f"{DC}language"), None), next(meta.iter(f"{DC}title"), None))
        language, title = ((one.text or "").strip() if one is not None else "" for one in said)
        return Document(
            title=title,
            language=language[:2].lower() if language[:2].isalpha() else self._styles.language,
            styles=self._styles.used.made(first) or (style_of(BODY),),
            blocks=blocks,
            sections=tuple(self._sections.sections),
            running=self._sections.running,
            remarks=self._not_taken().remarks(),
        )

    def _take_all(self, holder: Iterable[Element]) -> None:
        for child in holder:
            tag = child.tag
            if not isinstance(tag, str):
                continue
            if tag in _PARAGRAPHS:
                self._take_paragraph(child, None)
            elif tag == f"{TEXT}list":
                self._take_list(child, "", 0)
            elif tag == f"{TEXT}numbered-paragraph":
                self._take_numbered(child)
            elif tag == f"{TABLE}table":
                self._take_table(child)
            elif tag == f"{TEXT}section":
                self._take_section(child)
            elif tag in _INDEXES:
                self._take_all(child)
            elif tag.startswith(DRAW):
                self._take_frame(child)
            elif tag in (f"{TEXT}bookmark", f"{TEXT}bookmark-start"):
                self._waiting.append(child.get(f"{TEXT}name", ""))

    def _take_section(self, element: Element) -> None:
        if element.get(f"{TEXT}display") == "none":
            return
        style = element.get(f"{TEXT}style-name", "")
        columns = next(
            (
                whole(one.get(f"{FO}column-count"), 1)
                for properties in self._styles.properties("section", style, "section")
                for one in properties.iterfind(f"{STYLE}columns")
            ),
            1,
        )
        if columns > 1:
            self._sections.begin_columns(min(columns, MOST_COLUMNS))
        self._take_all(element)
        if columns > 1:
            self._sections.begin_columns(1)

    def _take_frame(self, element: Element) -> None:
        """What stands on a page and in no paragraph."""
        holder = element.makeelement(f"{TEXT}p")
        holder.append(deepcopy(element))
        self._take_paragraph(holder, None)

    def _take_list(self, element: Element, style: str, depth: int) -> None:
        own = element.get(f"{TEXT}style-name", style)
        goes_on = element.get(f"{TEXT}continue-numbering") == "true" or bool(element.get(f"{TEXT}continue-list"))
        if depth == 0:
            self._lists.begin(own, goes_on=goes_on)
        for item in element:
            if item.tag not in (f"{TEXT}list-item", f"{TEXT}list-header"):
                continue
            begins = item.tag == f"{TEXT}list-item"
            said = item.get(f"{TEXT}start-value")
            for child in item:
                if child.tag in _PARAGRAPHS:
                    style_of_list = own or self._styles.paragraph(child.get(f"{TEXT}style-name", "")).list_style
                    counted = (
                        self._lists.item(style_of_list, depth, whole(said, 1) if said else None) if begins else None
                    )
                    begins = False
                    self._take_paragraph(child, _Item(min(depth, DEEPEST_LIST), counted) if counted else None)
                elif child.tag == f"{TEXT}list":
                    begins = False
                    self._take_list(child, own, depth + 1)
                else:
                    self._take_all([child])

    def _take_numbered(self, element: Element) -> None:
        style, depth = element.get(f"{TEXT}style-name", ""), max(whole(element.get(f"{TEXT}level"), 1) - 1, 0)
        for child in element:
            if child.tag in _PARAGRAPHS:
                self._take_paragraph(child, _Item(min(depth, DEEPEST_LIST), self._lists.item(style, depth, None)))

    def _take_paragraph(self, paragraph: Element, item: _Item | None) -> None:
        look = self._styles.paragraph(paragraph.get(f"{TEXT}style-name", ""))
        if look.master:
            self._sections.begin_pages(look.master, look.number)
        read = self._content.read(paragraph, look.own)
        self._waiting += read.bookmarks
        begins = look.begins_page and not look.master
        for one, side in read.beside:
            if isinstance(one, InlinePicture):
                self._blocks.append(self._picture(one, side, around=True))
            else:
                self._take_beside(one, side)
        for block in with_lines(self._blocks, self._made(paragraph, read.content, look, item), look.sides):
            for name in self._waiting:
                self._bookmarks.setdefault(name, block.id)
            self._waiting = []
            self._blocks.append(replace(block, page_break=begins))
            begins = False
        for name, note in read.notes:
            self._take_note(name, note)
        for box in read.boxes:
            self._take_all(box)

    def _picture(self, picture: InlinePicture, side: Align, *, around: bool) -> PictureBlock:
        """A picture that stands by itself, or that the text below goes ``around``."""
        return PictureBlock(
            self._ids.new(), picture.picture, picture.media, picture.width, picture.height, side, picture.alt,
            section=self._sections.current, around=around,
        )  # fmt: skip

    def _take_beside(self, box: Element, side: Align) -> None:
        """A box that text goes around, as rows of their own: its pictures stand at its side."""
        first = len(self._blocks)
        self._take_all(box)
        self._blocks[first:] = [
            replace(block, align=side, around=True) if isinstance(block, PictureBlock) else block
            for block in self._blocks[first:]
        ]

    def _made(self, paragraph: Element, content: list[Inline], look: ParagraphLook, item: _Item | None) -> list[Block]:
        """What a paragraph becomes: a row of text, pictures that stand by themselves, or nothing where it is empty."""
        items = stripped(joined(content))
        if not items:
            return []
        if all(isinstance(one, InlinePicture) or not one.text.strip() for one in items):
            return [self._picture(one, look.own.align, around=False) for one in items if isinstance(one, InlinePicture)]
        if (equation := _displayed(items)) is not None:
            return [self._text(Role.EQUATION, (equation,), look)]
        role, level, numbering = look.role, look.level, None
        if paragraph.tag == f"{TEXT}h":
            role, level = Role.HEADING, max(whole(paragraph.get(f"{TEXT}outline-level"), 1), 1)
            label = item.counted.label if item and item.counted.numbering.ordered else self._lists.heading(level)
            items = joined((Text(f"{label} "), *items)) if label else items
        elif item is not None and role in (Role.PARAGRAPH, Role.LIST_ITEM):
            role, level, numbering = Role.LIST_ITEM, item.depth, item.counted.numbering
        elif role in (Role.LIST_ITEM, Role.HEADING, Role.NOTE, Role.ENDNOTE):
            role, level = Role.PARAGRAPH, 0
        block = self._text(role, items, look)
        return [replace(block, level=level, numbering=numbering)]

    def _text(self, role: Role, items: tuple[Inline, ...], look: ParagraphLook) -> TextBlock:
        """A row of text. That it stands on another side than its style says is said of the row."""
        align = look.own.align if look.own.align is not look.named.align else None
        style = replace(look.own, align=look.named.align, outline=look.named.outline)
        block = TextBlock(
            self._ids.new(), role, items, self._styles.used.use(style), align=align, tabs=look.tabs,
            section=self._sections.current,
        )  # fmt: skip
        return with_stops_as_read(block)

    def _take_table(self, element: Element) -> None:
        style = element.get(f"{TABLE}style-name", "")
        begins = self._styles.value("table", style, "table", f"{FO}break-before") == "page"
        notes: list[tuple[str, Element]] = []

        def read(holder: Element | None) -> tuple[TextBlock, ...]:
            texts: list[TextBlock] = []
            for paragraph, item in self._with_items(holder if holder is not None else (), "", 0):
                look = self._styles.paragraph(paragraph.get(f"{TEXT}style-name", ""))
                content = self._content.read(paragraph, look.own)
                self._waiting += content.bookmarks
                notes.extend(content.notes)
                items = stripped(joined(content.content))
                text = self._text(Role.CELL, items, look)
                texts.append(
                    replace(text, level=item.depth, numbering=item.counted.numbering) if item and items else text
                )
                texts += [text for box in content.boxes for text in read(box)]
            filled = [text for text in texts if text.content]
            empty = TextBlock(self._ids.new(), Role.CELL, (), self._styles.used.use(BODY))
            return tuple(filled or texts[:1] or [empty])

        table = table_of(element, self._styles, self._ids, read, self._sections.current)
        if table is None:
            return
        for name in self._waiting:
            self._bookmarks.setdefault(name, table.id)
        self._waiting = []
        self._blocks.append(replace(table, page_break=begins))
        for name, note in notes:
            self._take_note(name, note)

    def _with_items(self, holder: Iterable[Element], style: str, depth: int) -> Iterator[tuple[Element, _Item | None]]:
        """The paragraphs of a cell, with the items of lists that they are."""
        for child in holder:
            if child.tag in _PARAGRAPHS:
                yield child, None
            elif child.tag == f"{TEXT}list":
                own = child.get(f"{TEXT}style-name", style)
                if depth == 0:
                    self._lists.begin(own, goes_on=child.get(f"{TEXT}continue-numbering") == "true")
                for item in child:
                    begins = item.tag == f"{TEXT}list-item"
                    for paragraph, deeper in self._with_items(item, own, depth + 1):
                        if deeper is None and begins:
                            deeper = _Item(min(depth, DEEPEST_LIST), self._lists.item(own, depth, None))
                        begins = False
                        yield paragraph, deeper
            elif isinstance(child.tag, str):
                yield from self._with_items(child, style, depth)

    def _take_note(self, name: str, note: Element) -> None:
        """Puts a note behind what calls it."""
        items: list[Inline] = []
        style = BODY
        body = note.find(f"{TEXT}note-body")
        paragraphs = _paragraphs_in(body if body is not None else ())
        for n, paragraph in enumerate(paragraphs):
            look = self._styles.paragraph(paragraph.get(f"{TEXT}style-name", ""))
            style = look.named if not n else style
            items += [*((Text(" "),) if n else ()), *self._content.read(paragraph, look.own).content]
        role = Role.ENDNOTE if note.get(f"{TEXT}note-class") == "endnote" else Role.NOTE
        block = TextBlock(
            self._ids.new(), role, stripped(joined(items)), self._styles.used.use(style), section=self._sections.current
        )
        self._note_ids[name] = block.id
        self._blocks.append(block)

    def _running(self, element: Element) -> Running | None:
        rows: list[tuple[Inline, ...]] = []
        first: ParagraphLook | None = None
        sides = Sides.NONE
        for paragraph in _paragraphs_in(element):
            look = self._running_styles.paragraph(paragraph.get(f"{TEXT}style-name", ""))
            items = joined(self._running_content.read(paragraph, look.own).content)
            sides |= look.sides
            if items:
                first = first or look
                rows.append(items)
        if first is None:
            return None
        content = joined(item for n, row in enumerate(rows) for item in ((Text("\n"), *row) if n else row))
        style = replace(first.own, outline=0)
        return Running(content, self._styles.used.use(style), tuple(stop.at for stop in first.tabs[:2]), sides)

    def _linked(self, block: Block) -> Block:
        """The block with its notes and the links within the document named by the ids of what they lead to."""
        if isinstance(block, TextBlock):
            return replace(block, content=tuple(map(self._led, block.content)))
        if isinstance(block, TableBlock):
            cells = tuple(
                replace(cell, texts=tuple(replace(text, content=tuple(map(self._led, text.content))) for text in cell.texts))
                for cell in block.cells
            )  # fmt: skip
            return replace(block, cells=cells)
        return block

    def _led(self, item: Inline) -> Inline:
        if isinstance(item, NoteRef):
            item = replace(item, note=self._note_ids[item.note])
        if isinstance(item.link, BlockLink):
            known = self._bookmarks.get(item.link.block)
            item = replace(item, link=BlockLink(known) if known else None)
        return item

    def _not_taken(self) -> NotTaken:
        found = self._content.found
        tracked = sum(1 for _ in self._root.iter(f"{TEXT}changed-region"))
        return NotTaken(tracked, found.annotations, found.unshown, self._package.has_macros)


def _paragraphs_in(holder: Iterable[Element]) -> Iterator[Element]:
    """The paragraphs of a cell, a note or a running head, those of lists and tables within it too; not those of notes called there."""
    for child in holder:
        if child.tag in _PARAGRAPHS:
            yield child
        elif isinstance(child.tag, str):
            yield from _paragraphs_in(child)


def _displayed(items: tuple[Inline, ...]) -> Equation | None:
    """The equation that a paragraph consists of, with the number behind it."""
    equations = [item for item in items if isinstance(item, Equation)]
    if len(equations) != 1 or items[0] is not equations[0]:
        return None
    behind = plain(items[1:]).strip()
    numbered = behind.startswith("(") and behind.endswith(")") and len(behind) < 12
    return replace(equations[0], display=True, number=behind) if not behind or numbered else None
