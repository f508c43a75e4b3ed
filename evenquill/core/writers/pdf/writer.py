"""A document -> the bytes of a PDF: its markup for typst, which sets it."""

from __future__ import annotations

import itertools
import re
import tempfile
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Literal, TypeVar

import typst as compiler
from msgspec.structs import replace

from evenquill.core.model import (
    Align,
    Block,
    Break,
    Cell,
    Document,
    PictureBlock,
    ResolvedStyle,
    Role,
    Running,
    RunningPart,
    Tab,
    TableBlock,
    TextBlock,
)
from evenquill.core.model.decimals import DecimalPart, decimal_parts
from evenquill.core.model.inline import cut
from evenquill.core.model.sides import LINE_SPACE, SIDE_NAMES, Sides
from evenquill.core.model.styles import SINGLE
from evenquill.core.resolve import Resolved, resolve
from evenquill.core.resolve.figures import BESIDE_GAP, caption_below, goes_around
from evenquill.core.resolve.list_labels import list_labels
from evenquill.core.resolve.nesting import with_deeper
from evenquill.core.resolve.notes import NoteKind
from evenquill.core.resolve.sections import Layout, ResolvedSection
from evenquill.core.writers.pdf.around import AROUND, LEAST_BESIDE, letters_beside, part_of
from evenquill.core.writers.pdf.content import NUMBERS, SIDES, TABBED, Content, endnote_label
from evenquill.core.writers.pdf.fonts import installed_fonts
from evenquill.core.writers.pdf.markup import array, call, colour, points, shown, string
from evenquill.core.writers.pdf.pictures import Pictures
from evenquill.core.writers.pdf.place_marks import ASCENT, FOUND, PlaceMarks
from evenquill.core.writers.picture import GetPicture
from evenquill.core.writers.problem import NotWritten

B = TypeVar("B", bound=Block)

MAIN = "main.typ"

_SPACES = re.compile(r"\s+")

RULE = "0.5pt"
"""The width of a line of a table."""

UNDERLINE = 0.13
"""Ems below the baseline at which words are underlined: some typefaces say that it is at their feet."""

APART = 6.0
"""Points between text and a picture or a table, besides what the text wants."""


def write_pdf(document: Document, picture: GetPicture) -> bytes:
    """The document as PDF, blocks that are set aside left out; accessible (PDF/UA-1) where it can be. Raises NotWritten."""
    files = markup_of(document, picture)
    try:
        return _compiled(files, "ua-1")
    except RuntimeError:
        # What makes it inaccessible, such as headings that skip a level, is in the source; it is set all the same.
        try:
            return _compiled(files, None)
        except RuntimeError as error:
            raise NotWritten("The document cannot be set as PDF. Deliver it as DOCX and print that.") from error


def _compiled(files: dict[str, bytes], standard: Literal["ua-1"] | None) -> bytes:
    with tempfile.TemporaryDirectory(prefix="evenquill-") as name:
        folder = Path(name)
        for file, data in files.items():
            (folder / file).write_bytes(data)
        return compiler.compile(
            folder / MAIN, root=folder, font_paths=installed_fonts(), format="pdf", pdf_standards=standard
        )


def markup_of(document: Document, picture: GetPicture, *, with_places: bool = False) -> dict[str, bytes]:
    """The files that typst sets the document from: ``MAIN`` and its pictures; where wanted with marks that tell where rows stand."""
    resolved = resolve(document)
    pictures = Pictures(picture)
    marks = PlaceMarks(resolved.blocks if with_places else ())
    writer = _Writer(resolved, Content(pictures, resolved), pictures, marks)
    parts = [_begun(document), TABBED, AROUND]
    for n, section in enumerate(resolved.sections):
        parts.append(writer.section(section, n))
    parts.append(writer.endnotes())
    if with_places:
        parts.append(FOUND)
    return {MAIN: "\n".join(parts).encode(), **pictures.files}


def _begun(document: Document) -> str:
    lang = f"lang: {string(document.language)}, " if document.language else ""
    return "\n".join(
        (
            f"#set document(title: {string(document.title or 'Document')})",
            f"#set text({lang}hyphenate: false, top-edge: {ASCENT}em, bottom-edge: -{1 - ASCENT:.1f}em, fallback: true)",
            "#set par(spacing: 0pt)",
            f"#set underline(offset: {UNDERLINE}em)",
            "#show heading: it => it.body",
        )
    )


class _Writer:
    def __init__(self, resolved: Resolved, content: Content, pictures: Pictures, marks: PlaceMarks) -> None:
        self._resolved = resolved
        self._content = content
        self._pictures = pictures
        self._marks = marks
        self._labels = list_labels(resolved.document.blocks)
        self._after = 0.0

    def section(self, section: ResolvedSection, number: int) -> str:
        """The page of a section where a new one begins, and its blocks; columns on a page that goes on are a block of columns."""
        layout = section.layout
        gutter = points(layout.column_gap)
        if section.continues and number and layout.columns > 1:
            return "".join(self._columns(run, layout) for run in _parted_at_breaks(section.blocks))
        blocks = self._blocks(section.blocks, layout.setup.text_width)
        if section.continues and number:
            return blocks
        setup, part = layout.setup, layout.part
        mark = f"section {number}"
        start = (
            f"#counter(page).update({part.start})"
            if part is not None and part.start is not None and section.begins_part
            else ""
        )
        sides = {side: self._running(part, side, mark, setup.text_width, start) for side in ("header", "footer")}
        page = call(
            "set page", width=points(setup.width), height=points(setup.height),
            margin=f"(left: {points(setup.left)}, right: {points(setup.right)}, top: {points(setup.top)}, bottom: {points(setup.bottom)})",
            columns=str(layout.columns), numbering=string(NUMBERS[part.format]) if part is not None else None, **sides,
        ).removesuffix("[]")  # fmt: skip
        gap = f"#set columns(gutter: {gutter})\n" if layout.columns > 1 else ""
        self._after = 0.0
        return f"{page}\n{gap}#metadata(none)#label({string(mark)})\n{blocks}"

    def _columns(self, blocks: Sequence[Block], layout: Layout) -> str:
        """A block of columns, in which no page can begin: one that begins with its first row begins before it."""
        start, before = _page_break(blocks[0]), self._after + APART
        first = replace(blocks[0], page_break=False)
        inner = self._blocks([first, *blocks[1:]], layout.setup.text_width)
        return f"{start}#v({points(before)})#columns({layout.columns}, gutter: {points(layout.column_gap)})[{inner}]"

    def endnotes(self) -> str:
        """The notes that stand at the end."""
        out = []
        for note in self._resolved.notes.values():
            if note.kind is NoteKind.ENDNOTE:
                style = self._resolved.style(note.block)
                inner = (
                    call("super", shown(str(note.number))) + shown(" ") + self._content.of(note.block.content, style)
                )
                out.append(self._set(inner, style) + f"#label({string(endnote_label(note))})")
        return "\n".join(out)

    def _running(self, part: RunningPart | None, side: str, mark: str, width: float, start: str) -> str:
        """What runs at the head or the foot of pages, by their numbers. The number that the first page has (``start`` sets it) is set
        within its head: that comes before what the page says."""
        if part is None:
            return "none"
        usual = self._row(getattr(part.usual, side), width)
        even = self._row(getattr(part.even, side), width) if part.even is not None else usual
        first = self._row(getattr(part.first, side), width) if part.first is not None else ""
        on_first = f"here().page() == locate(label({string(mark)})).page()"
        choice = f"context if calc.even(counter(page).get().first()) {{ [{even}] }} else {{ [{usual}] }}"
        if part.first is not None:
            choice = f"if {on_first} {{ [{first}] }} else {{ {choice} }}"
        numbered = f"if {on_first} {{ [{start}] }}\n" if start and side == "header" else ""
        return f"context {{ {numbered}{choice} }}"

    def _row(self, running: Running | None, width: float) -> str:
        """A running head or foot, none of whose parts stands beyond the text."""
        if running is None:
            return ""
        style = self._resolved.document.style(running.style)
        stops = [replace(stop, at=min(stop.at, width)) for stop in running.stops]
        return self._set(self._content.of(running.content, style, stops), style, gap=0.0, sides=running.sides)

    def _blocks(self, blocks: Sequence[Block], width: float) -> str:
        out = []
        for number, group in itertools.groupby(blocks, key=self._list_of):
            own = list(group)
            if number:
                for run in _parted_at_breaks([one for one in own if isinstance(one, TextBlock)]):
                    out.append(_page_break(run[0]) + self._list(run))
            else:
                out += self._rows(own, width)
        return "\n".join(out)

    def _rows(self, blocks: Sequence[Block], width: float) -> Iterator[str]:
        """Blocks that are no items, pictures that text goes around with that text."""
        at = 0
        while at < len(blocks):
            block = blocks[at]
            if not isinstance(block, PictureBlock) or not goes_around(blocks, at):
                yield self._block(block, width)
                at += 1
                continue
            caption = caption_below(blocks, at)
            at += 1 if caption is None else 2
            free = width - block.width - BESIDE_GAP
            # A text between lines is as wide as the column.
            text = blocks[at]
            if free < LEAST_BESIDE or (isinstance(text, TextBlock) and text.sides):
                yield self._block(block, width)
                yield self._block(caption, width) if caption is not None else ""
                continue
            room = letters_beside(free, block.height)
            texts: list[TextBlock] = []
            for one in blocks[at:]:
                if (
                    not isinstance(one, TextBlock)
                    or one.page_break
                    or one.sides
                    or sum(len(text.text) for text in texts) > room
                ):
                    break
                texts.append(one)
            at += len(texts)
            yield self._around(block, caption, texts)

    def _around(self, block: PictureBlock, caption: TextBlock | None, texts: Sequence[TextBlock]) -> str:
        """A picture with its caption, and text around it."""
        above = self._after + APART
        figure = call("block", self._picture(block, block.width), above="0pt", below="0pt", width="100%") + self._label(
            block
        )
        if caption is not None:
            self._after = 0.0
            figure += self._block(caption, block.width)
        self._after = 0.0
        pushed = block.width + BESIDE_GAP if block.align is not Align.RIGHT else 0.0
        parts = []
        for text in texts:
            style, side = self._resolved.style(text), text.align or self._resolved.style(text).align
            gap = self._after + style.before + _leading(style)
            # What was set in by as much as the picture is wide stands beside it as it is.
            inset = max(style.left - pushed, 0.0)
            begun = self._set("#it", style, align=side, gap=gap, left=inset)
            rest = self._set("#it", style, align=side, gap=_leading(style), first=0.0)
            wide = self._set("#it", style, align=side, gap=gap)
            parts.append(part_of(self._words(text), begun, rest, wide, gap, justified=side is Align.JUSTIFY))
            self._after = style.after
        at = "right" if block.align is Align.RIGHT else "left"
        made = f"#around({at}, {points(block.width)}, {points(BESIDE_GAP)}, [{figure}], {array(parts)})"
        return _page_break(block) + call("block", made, above=points(above), below="0pt", width="100%")

    def _words(self, text: TextBlock) -> list[str]:
        """The words of a text, each with the marks before it; one with tabs, breaks or a heading is one, as it is not parted."""
        if text.role is Role.HEADING or any(isinstance(item, Tab | Break) for item in text.content):
            return [self._inner(text) + self._label(text)]
        style, marks = self._resolved.style(text), self._marks.of(text.id)
        places = [0, *(found.end() for found in _SPACES.finditer(text.text)), *(place for place, _ in marks)]
        starts = sorted({place for place in places if place < len(text.text)})
        words = []
        for start, end in itertools.pairwise([*starts, len(text.text)]):
            words.append(
                "".join(
                    mark.markup(in_line=start == 0 and bool(style.first)) for place, mark in marks if place == start
                )
                + self._content.of(cut(text.content, start, end), style)
            )
        last = "".join(mark.markup(in_line=True) for place, mark in marks if place >= len(text.text))
        return [*words[:-1], (words[-1] if words else "") + last + self._label(text)]

    def _list_of(self, block: Block) -> int:
        return self._resolved.list_of.get(block.id, 0)

    def _list(self, items: Sequence[TextBlock]) -> str:
        """Items with the labels that were counted, deeper ones as lists within theirs."""
        style = self._resolved.style(items[0])
        return self._set(self._items(items, style), style, left=0.0, first=0.0)

    def _items(self, items: Sequence[TextBlock], around: ResolvedStyle) -> str:
        """Items within text of a style; each whose letters are others has its own."""
        made, labels = [], []
        first = self._resolved.style(items[0])
        for item, deeper in with_deeper(items):
            style = self._resolved.style(item)
            inner = _lined(self._text(item, in_list=True), item.sides) + self._label(item)
            inner += self._items(deeper, style) if deeper else ""
            look = self._letters(style)
            made.append(f"[{look};{inner}]" if look != self._letters(around) else f"[{inner}]")
            labels.append(f"[{shown(self._labels.get(item.id, ''))}]")
        numbering = f"(..n) => {array(labels)}.at(n.pos().last() - 1)"
        apart = points(_leading(first) + first.before + first.after)
        return (
            f"#enum(numbering: {numbering}, indent: {points(first.size)}, body-indent: 0.5em, number-align: start, "
            f"spacing: {apart}, {', '.join(made)})"
        )

    def _letters(self, style: ResolvedStyle) -> str:
        """What makes the letters that follow look as a style says."""
        return call(
            "set text", font=self._content.faces(style.font, style.family), size=points(style.size),
            weight='"bold"' if style.bold else '"regular"', style='"italic"' if style.italic else '"normal"',
            fill=colour(style.color) if style.color else "black",
        ).removesuffix("[]")  # fmt: skip

    def _block(self, block: Block, width: float) -> str:
        start = _page_break(block)
        if isinstance(block, TableBlock):
            return start + self._table(block, width)
        if isinstance(block, PictureBlock):
            shown = f"#align({SIDES[block.align]})[{self._picture(block, width)}]"
            made = call("block", shown, above=points(self._after + APART), below="0pt", width="100%")
            self._after = APART
            return start + made + self._label(block)
        style = self._resolved.style(block)
        sticky = block.role is Role.HEADING or style.keep_next
        return (
            start
            + self._set(self._inner(block), style, align=block.align, sticky=sticky, sides=block.sides)
            + self._label(block)
        )

    def _picture(self, block: PictureBlock, width: float) -> str:
        """A picture with the marks of its places."""
        image = self._pictures.image(block.sharpest[0], min(block.width, width), block.alt)
        marks = [mark.markup() for _, mark in self._marks.of(block.id)]
        return f"{''.join(marks[:-1])}#{image}{''.join(marks[-1:])}"

    def _inner(self, block: TextBlock) -> str:
        """A text as what it is."""
        style, inner = self._resolved.style(block), self._text(block)
        if block.role is Role.HEADING:
            # Headings are larger and bold by themselves: what they are is said within.
            weight = "bold" if style.bold else "regular"
            look = f'#set text(size: {points(style.size)}, weight: "{weight}");'
            return f"#heading(level: {max(block.level, 1)})[{look}{inner}]"
        return f"#quote(block: false, quotes: false)[{inner}]" if block.role is Role.QUOTE else inner

    def _text(self, text: TextBlock, *, in_list: bool = False) -> str:
        """What a text consists of, with the marks of its places."""
        in_line = bool(self._resolved.style(text).first) and not in_list
        style, out, at = self._resolved.style(text), "", 0
        for place, mark in self._marks.of(text.id):
            if place > at:
                out += self._content.of(cut(text.content, at, place), style, text.tabs)
                at = place
            out += mark.markup(in_line=in_line)
        return out + self._content.of(cut(text.content, at) if at else text.content, style, text.tabs)

    def _label(self, block: Block) -> str:
        return f"#metadata(none)#label({string(block.id)})" if self._resolved.is_target(block) else ""

    def _set(
        self,
        inner: str,
        style: ResolvedStyle,
        *,
        align: Align | None = None,
        gap: float | None = None,
        left: float | None = None,
        first: float | None = None,
        sticky: bool = False,
        sides: Sides = Sides.NONE,
    ) -> str:
        """Content in the look of a style, as far below what stands above it as both want."""
        own_left, own_first = style.left if left is None else left, style.first if first is None else first
        side = align or style.align
        above = self._after + style.before + _leading(style) if gap is None else gap
        if gap is None:
            self._after = style.after
        leading, justified = points(_leading(style)), str(side is Align.JUSTIFY).lower()
        lines = call("set par", leading=leading, justify=justified).removesuffix("[]")
        if own_first:  # which only a paragraph has that is said to be one
            indent = f"(amount: {points(own_first)}, all: true)" if own_first > 0 else None
            hanging = points(-own_first) if own_first < 0 else None
            inner = call("par", inner, first_line_indent=indent, hanging_indent=hanging)
        inset = f"(left: {points(max(own_left + min(own_first, 0.0), 0.0))}, right: {points(max(style.right, 0.0))})"
        body = f"{self._letters(style)};{lines};#set align({SIDES[side]});{_lined(inner, sides)}"
        return call(
            "block",
            body,
            above=points(above),
            below="0pt",
            width="100%",
            inset=inset,
            sticky="true" if sticky else None,
        )

    def _table(self, block: TableBlock, width: float) -> str:
        cells: dict[bool, list[str]] = {True: [], False: []}
        kept = self._after
        header_rows = _whole_header(block)
        decimals = decimal_parts(block)
        for cell in block.cells:
            inner = ""
            for number, group in itertools.groupby(cell.texts, key=self._list_of):
                texts = list(group)
                if number:
                    self._after = 0.0
                    inner += self._list(texts)
                    continue
                for text in texts:
                    behind = _behind(decimals.get(text.id))
                    inner += self._set(self._text(text) + behind, self._resolved.style(text), align=text.align, gap=0.0)
            place = f"x: {cell.column}, y: {cell.row}, colspan: {cell.columns}, rowspan: {cell.rows}"
            made = f"table.cell({place}{_look(cell)})[{inner}]"
            cells[cell.row < header_rows].append(made)
        head = f"table.header({', '.join(cells[True])})" if cells[True] else ""
        given = ", ".join(filter(None, (head, *cells[False])))
        columns = array(list(map(points, block.widths_within(width))))
        stroke = RULE if block.ruled else "none"
        made = f"#align({SIDES[block.align]}, table(columns: {columns}, stroke: {stroke}, inset: (x: 4pt, y: 2pt), {given}))"
        self._after = APART
        return call("block", made, above=points(kept + APART), below="0pt", width="100%") + self._label(block)


def _lined(inner: str, sides: Sides) -> str:
    """A text with lines above and below."""
    if not sides:
        return inner
    names = [name for side, name in SIDE_NAMES.items() if side & sides]
    room, lines = (f"({', '.join(f'{name}: {value}' for name in names)})" for value in (points(LINE_SPACE), RULE))
    return call("block", inner, width="100%", inset=room, stroke=lines)


def _leading(style: ResolvedStyle) -> float:
    """Points between the lines of a style."""
    return max((style.leading or SINGLE * style.size) - style.size, 0.0)


def _behind(part: DecimalPart | None) -> str:
    """The room behind a number that is as wide as what longer decimals of its column have more."""
    if part is None or part.own == part.longest:
        return ""
    return f"#context h(measure[{shown(part.longest)}].width - measure[{shown(part.own)}].width)"


def _whole_header(block: TableBlock) -> int:
    """How many rows are the header, with those that its cells reach into: it is set as one."""
    rows = block.header_rows
    while (reached := max((cell.row + cell.rows for cell in block.cells if cell.row < rows), default=0)) > rows:
        rows = reached
    return rows


def _look(cell: Cell) -> str:
    """What a cell is filled with, and the lines around it where they are other than those of its table."""
    filled = f', fill: rgb("{cell.fill}")' if cell.fill else ""
    if cell.sides is None:
        return filled
    drawn = [f"{name}: {RULE if side & cell.sides else 'none'}" for side, name in SIDE_NAMES.items()]
    return f"{filled}, stroke: ({', '.join(drawn)})"


def _page_break(block: Block) -> str:
    """What begins a page where a block wants one."""
    return "#pagebreak(weak: true)" if block.page_break else ""


def _parted_at_breaks(blocks: Sequence[B]) -> list[list[B]]:
    """Blocks in runs, of which each but the first begins a page."""
    runs: list[list[B]] = []
    for block in blocks:
        if not runs or block.page_break:
            runs.append([])
        runs[-1].append(block)
    return runs
