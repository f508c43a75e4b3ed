"""A document -> the bytes of an ODT file. odfpy keeps the parts of the package and writes their XML."""

from __future__ import annotations

import io
import itertools
import zipfile
from collections.abc import Sequence
from typing import Any

from odf.dc import Language, Title
from odf.draw import Frame, TextBox
from odf.namespaces import DRAWNS
from odf.opendocument import OpenDocument, OpenDocumentText
from odf.style import (
    Footer,
    FooterLeft,
    Header,
    HeaderLeft,
    MasterPage,
    PageLayout,
    PageLayoutProperties,
)
from odf.table import CoveredTableCell, Table, TableCell, TableColumn, TableHeaderRows, TableRow
from odf.text import BookmarkEnd, BookmarkStart, H, List, ListItem, P, Section

from evenquill.core.model import (
    Align,
    Block,
    Document,
    PictureBlock,
    Role,
    Running,
    RunningPart,
    TableBlock,
    TextBlock,
)
from evenquill.core.resolve import Resolved, resolve
from evenquill.core.resolve.figures import caption_below, goes_around
from evenquill.core.resolve.nesting import with_deeper
from evenquill.core.resolve.sections import Layout, ResolvedSection
from evenquill.core.writers.decimal_stops import with_decimal_stops
from evenquill.core.writers.odt.content import Content, bookmark, clean, formula_folder
from evenquill.core.writers.odt.styles import NO_PAGES, NUMBERS, BegunPages, Styles, points
from evenquill.core.writers.picture import GetPicture

FORMULA = "application/vnd.oasis.opendocument.formula"


def write_odt(document: Document, picture: GetPicture) -> bytes:
    """The document as OpenDocument text, blocks that are set aside left out."""
    file = OpenDocumentText()
    file.meta.addElement(Title(text=clean(document.title)))
    if document.language:
        file.meta.addElement(Language(text=document.language))
    resolved = resolve(document)
    styles = Styles(file, document.stand_ins)
    for style in document.resolved_styles.values():
        styles.add(style, document.language)
    content = Content(file, styles, resolved, picture)
    _Writer(file, styles, resolved, content).write()
    out = io.BytesIO()
    file.save(out)
    return _with_formulas(out.getvalue(), content.formulas)


def _with_formulas(data: bytes, formulas: Sequence[str]) -> bytes:
    """The package with an object for each formula, which the library has no words for (part 1, 10.4.6.2)."""
    if not formulas:
        return data
    entries = "".join(
        f'<manifest:file-entry manifest:full-path="{formula_folder(n)}/" manifest:media-type="{FORMULA}"/>'
        f'<manifest:file-entry manifest:full-path="{formula_folder(n)}/content.xml" manifest:media-type="text/xml"/>'
        for n in range(1, len(formulas) + 1)
    )
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as file, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for one in file.infolist():
            part = file.read(one)
            if one.filename == "META-INF/manifest.xml":
                part = part.replace(b"</manifest:manifest>", f"{entries}</manifest:manifest>".encode())
            made.writestr(one, part)
        for n, formula in enumerate(formulas, start=1):
            made.writestr(f"{formula_folder(n)}/content.xml", f'<?xml version="1.0" encoding="UTF-8"?>\n{formula}')
    return out.getvalue()


class _Writer:
    def __init__(self, file: OpenDocument, styles: Styles, resolved: Resolved, content: Content) -> None:
        self._file = file
        self._styles = styles
        self._resolved = resolved
        self._content = content
        self._lists = {definition.number: styles.add_list(definition) for definition in resolved.lists}
        self._begun_lists: set[int] = set()
        """Lists of which a part is written already."""
        self._masters: dict[Layout, str] = {}
        self._begun = NO_PAGES
        """The pages of the section, which its first paragraph is to name."""

    def write(self) -> None:
        for n, section in enumerate(self._resolved.sections):
            self._section(section, n)

    def _section(self, section: ResolvedSection, number: int) -> None:
        layout = section.layout
        if not section.continues or not number:
            part = layout.part
            first = part.start if part is not None and section.begins_part else None
            self._begun = BegunPages(self._master_of(layout._replace(columns=1), section), first)
        holder = self._file.text
        if layout.columns > 1:
            holder = Section(
                name=f"Columns {number + 1}", stylename=self._styles.of_columns(layout.columns, layout.column_gap)
            )
            self._file.text.addElement(holder)
        self._blocks(holder, section.blocks, layout.setup.text_width / layout.columns)

    def _blocks(self, holder: Any, blocks: Sequence[Block], width: float) -> None:
        """Blocks in order, items of one list as a list."""
        for number, group in itertools.groupby(blocks, key=lambda block: self._resolved.list_of.get(block.id, 0)):
            own = list(group)
            if number:
                self._list(holder, number, [one for one in own if isinstance(one, TextBlock)])
            else:
                self._rows(holder, own, width)

    def _rows(self, holder: Any, blocks: Sequence[Block], width: float) -> None:
        """Blocks that are no items; a figure that text goes around is held by the first paragraph of that text."""
        at = 0
        while at < len(blocks):
            block = blocks[at]
            if not isinstance(block, PictureBlock) or not goes_around(blocks, at):
                self._block(holder, block, width)
                at += 1
                continue
            caption = caption_below(blocks, at)
            at += 1 if caption is None else 2
            text = blocks[at]
            assert isinstance(text, TextBlock)
            made = self._text(text)
            if caption is None:
                self._with_bookmark(made, block, None)
            made.insertBefore(self._figure(block, caption, width), made.firstChild)
            holder.addElement(made)
            at += 1

    def _figure(self, block: PictureBlock, caption: TextBlock | None, width: float) -> Any:
        """A frame at the side of its paragraph: a picture, or a box with the picture and its caption."""
        scale = min(1.0, width / max(block.width, 1.0))
        size = block.width * scale, block.height * scale
        pictures = dict((block.sharpest, (block.picture, block.media)))
        beside = self._styles.of_frame(right=block.align is Align.RIGHT)
        if caption is None:
            return self._content.frame(pictures, *size, block.alt, beside)
        box = TextBox(minheight=points(size[1]))
        above = P(stylename=self._paragraph_style(None, False))
        self._with_bookmark(above, block, self._content.frame(pictures, *size, block.alt))
        box.addElement(above)
        box.addElement(self._text(caption))
        made = Frame(width=points(size[0]), anchortype="paragraph")
        made.setAttrNS(DRAWNS, "style-name", beside)
        made.addElement(box)
        return made

    def _block(self, holder: Any, block: Block, width: float) -> None:
        if isinstance(block, TableBlock):
            if self._begun.master:  # a page is begun by a paragraph
                holder.addElement(P(stylename=self._paragraph_style(None, False)))
            self._table(holder, block, width)
            return
        if isinstance(block, PictureBlock):
            scale = min(1.0, width / max(block.width, 1.0))
            made = P(stylename=self._paragraph_style(block.align, block.page_break))
            pictures = dict((block.sharpest, (block.picture, block.media)))
            inner: Any = self._content.frame(pictures, block.width * scale, block.height * scale, block.alt)
            self._with_bookmark(made, block, inner)
            holder.addElement(made)
            return
        holder.addElement(self._text(block))

    def _text(self, block: TextBlock) -> Any:
        style = self._resolved.style(block)
        name = self._styles.of_paragraph(
            style, block.align, block.tabs, block.page_break, self._take_begun(), block.sides
        )
        made = (
            H(outlinelevel=str(max(block.level, 1)), stylename=name)
            if block.role is Role.HEADING
            else P(stylename=name)
        )
        self._with_bookmark(made, block, None)
        self._content.fill(made, block.content, style)
        return made

    def _with_bookmark(self, made: Any, block: Block, inner: Any) -> None:
        target = self._resolved.is_target(block)
        if target:
            made.addElement(BookmarkStart(name=bookmark(block.id)))
        if inner is not None:
            made.addElement(inner)
        if target:
            made.addElement(BookmarkEnd(name=bookmark(block.id)))

    def _paragraph_style(self, align: Align | None, page_break: bool) -> str:
        return self._styles.of_paragraph(self._resolved.document.body_style, align, (), page_break, self._take_begun())

    def _take_begun(self) -> BegunPages:
        begun, self._begun = self._begun, NO_PAGES
        return begun

    def _list(self, holder: Any, number: int, items: Sequence[TextBlock]) -> None:
        goes_on = {"continuenumbering": "true"} if number in self._begun_lists else {}
        self._begun_lists.add(number)
        made = List(stylename=self._lists[number], **goes_on)
        self._items(made, items, 0)
        holder.addElement(made)

    def _items(self, parent: Any, items: Sequence[TextBlock], depth: int) -> None:
        """Items in a list at a depth; one that is deeper than that stands in lists of its own."""
        for item, deeper in with_deeper(items):
            made = inner = ListItem()
            for _ in range(item.level - depth):
                below, innermost = List(), ListItem()
                below.addElement(innermost)
                inner.addElement(below)
                inner = innermost
            inner.addElement(self._text(item))
            if deeper:
                below = List()
                self._items(below, deeper, item.level + 1)
                inner.addElement(below)
            parent.addElement(made)

    def _table(self, holder: Any, block: TableBlock, width: float) -> None:
        widths = block.widths_within(width)
        block = with_decimal_stops(block, widths, lambda text: self._resolved.style(text).size, tab=True)
        made = Table(name=f"Table {block.id}", stylename=self._styles.of_table(sum(widths), block.align))
        for column in widths:
            made.addElement(TableColumn(stylename=self._styles.of_column(round(column, 2))))
        starts = {(cell.row, cell.column): cell for cell in block.cells}
        head = TableHeaderRows() if block.header_rows else None
        first = True
        for number in range(block.row_count):
            row = TableRow()
            for column in range(len(block.widths)):
                cell = starts.get((number, column))
                if cell is None:
                    row.addElement(CoveredTableCell())
                    continue
                spans = {"numbercolumnsspanned": str(cell.columns)} if cell.columns > 1 else {}
                spans |= {"numberrowsspanned": str(cell.rows)} if cell.rows > 1 else {}
                holder_cell = TableCell(
                    stylename=self._styles.of_cell(block.sides_of(cell), cell.fill), valuetype="string", **spans
                )
                self._blocks(holder_cell, cell.texts, width)
                if first:
                    self._with_bookmark(holder_cell.getElementsByType(P)[0], block, None)
                first = False
                row.addElement(holder_cell)
            (head if head is not None and number < block.header_rows else made).addElement(row)
            if head is not None and number == block.header_rows - 1:
                made.addElement(head)
        holder.addElement(made)

    def _master_of(self, layout: Layout, section: ResolvedSection) -> str:
        """The page of a layout, made once."""
        known = self._masters.get(layout)
        if known is not None:
            return known
        n = len(self._masters) + 1
        setup, part = layout.setup, layout.part
        page = PageLayout(name=f"Page{n}")
        numbers = {"numformat": NUMBERS.get(part.format, "1")} if part is not None else {}
        page.addElement(
            PageLayoutProperties(
                pagewidth=points(setup.width), pageheight=points(setup.height), marginleft=points(setup.left),
                marginright=points(setup.right), margintop=points(setup.top), marginbottom=points(setup.bottom),
                printorientation="landscape" if setup.width > setup.height else "portrait", **numbers,
            )
        )  # fmt: skip
        self._file.automaticstyles.addElement(page)
        name = "Standard" if n == 1 else f"Pages{n}"
        first = part is not None and part.first is not None and section.begins_part
        if first and part is not None:
            self._add_master(f"First{n}", page, part, "first", nextstylename=name)
        self._add_master(name, page, part, "usual")
        self._masters[layout] = name
        return f"First{n}" if first else name

    def _add_master(self, name: str, page: PageLayout, part: RunningPart | None, pair: str, **more: str) -> None:
        made = MasterPage(name=name, pagelayoutname=page, **more)
        if part is not None:
            for side, usual, left in (("header", Header, HeaderLeft), ("footer", Footer, FooterLeft)):
                self._add_running(made, usual, getattr(getattr(part, pair), side))
                if part.even is not None and pair == "usual":
                    self._add_running(made, left, getattr(part.even, side))
        self._file.masterstyles.addElement(made)

    def _add_running(self, master: MasterPage, kind: Any, running: Running | None) -> None:
        if running is None:
            return
        style = self._resolved.document.style(running.style)
        made = kind()
        row = P(stylename=self._styles.of_paragraph(style, None, running.stops, False, sides=running.sides))
        self._content.fill(row, running.content, style)
        made.addElement(row)
        master.addElement(made)
