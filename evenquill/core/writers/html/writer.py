"""A document -> the bytes of an HTML file, which needs no other file."""

from __future__ import annotations

import base64
import itertools
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from evenquill.core.model import (
    Align,
    Block,
    Cell,
    Document,
    NumberFormat,
    PictureBlock,
    Role,
    TableBlock,
    TextBlock,
)
from evenquill.core.model.decimals import FIGURE_WIDTH, DecimalPart, decimal_parts
from evenquill.core.model.inline import cut
from evenquill.core.model.sides import LINE_SPACE, SIDE_NAMES
from evenquill.core.resolve import Resolved, resolve
from evenquill.core.resolve.figures import BESIDE_GAP, caption_below, goes_around
from evenquill.core.resolve.list_labels import list_labels
from evenquill.core.resolve.nesting import with_deeper
from evenquill.core.resolve.notes import Note, NoteKind
from evenquill.core.writers.html.content import Content, PictureSource, block_anchor, note_anchor
from evenquill.core.writers.html.looks import class_of, sheet_of
from evenquill.core.writers.html.markup import tag, text_of, void
from evenquill.core.writers.picture import GetPicture

DEEPEST_HEADING = 6
BACK = "\u21a9\ufe0e"
"""The sign that leads from a note to where it is called; the second character keeps it from being shown as a picture."""

LIST_TYPES = {
    NumberFormat.DECIMAL: "1", NumberFormat.LOWER_LETTER: "a", NumberFormat.UPPER_LETTER: "A", NumberFormat.LOWER_ROMAN: "i",
    NumberFormat.UPPER_ROMAN: "I",
}  # fmt: skip


class _Kind(NamedTuple):
    """Blocks that follow one another in one element."""

    name: str
    number: int = 0


def write_html(document: Document, picture: GetPicture) -> bytes:
    """The document as HTML, blocks that are set aside left out, without running heads and page numbers."""

    def within(name: str, media: str) -> str:
        return f"data:{media};base64,{base64.b64encode(picture(name)).decode()}"

    head = (
        void("meta", charset="utf-8")
        + void("meta", name="viewport", content="width=device-width, initial-scale=1")
        + tag("title", text_of(document.title))
        + tag("style", "\n" + sheet_of(document).replace("</", "<\\/"))
    )
    body = tag("body", body_of(resolve(document), within))
    page = tag("html", f"\n{tag('head', head)}\n{body}\n", lang=document.language or None)
    return f"<!DOCTYPE html>\n{page}\n".encode()


def body_of(resolved: Resolved, source: PictureSource) -> str:
    """What a page shows of a document: its blocks and its notes."""
    writer = _Writer(resolved, Content(source, resolved))
    return tag("main", writer.blocks(resolved.blocks) + writer.notes())


class _Writer:
    def __init__(self, resolved: Resolved, content: Content) -> None:
        self._resolved = resolved
        self._content = content
        self._labels = list_labels(resolved.document.blocks)
        self._decimals: dict[str, DecimalPart] = {}
        """Of the texts in the cells of tables that are aligned by decimals, by their ids."""

    def blocks(self, blocks: Sequence[Block]) -> str:
        """Blocks in order, those of one list, of one list of terms, and lines of contents in one element."""
        out = []
        for kind, group in itertools.groupby(blocks, key=self._kind):
            own = list(group)
            texts = [one for one in own if isinstance(one, TextBlock)]
            if kind.name == "list":
                out.append(self._list(texts))
            elif kind.name in ("dl", "nav"):
                out.append(tag(kind.name, "\n" + "\n".join(map(self._block, texts)) + "\n"))
            else:
                out += list(self._with_captions(own))
        return "\n".join(("", *out, ""))

    def notes(self) -> str:
        """The notes that the text leads to, each of which leads back."""
        kinds = [[note for note in self._resolved.notes.values() if note.kind is kind] for kind in NoteKind]
        return "".join(
            tag("section", tag("ol", "\n".join(map(self._note, own))), class_="notes", role="doc-endnotes")
            for own in kinds
            if own
        )

    def _note(self, note: Note) -> str:
        style = self._resolved.style(note.block)
        back = tag("a", BACK, href=f"#to-{note_anchor(note)}", role="doc-backlink")
        inner = tag("p", f"{self._content.of(note.block.content, style)} {back}", class_=class_of(style))
        return tag("li", inner, id=note_anchor(note), value=note.number)

    def _kind(self, block: Block) -> _Kind:
        if isinstance(block, TextBlock):
            if block.is_item:
                return _Kind("list", self._resolved.list_of.get(block.id, 0))
            if block.role in (Role.TERM, Role.DEFINITION):
                return _Kind("dl")
            if block.role is Role.CONTENTS:
                return _Kind("nav")
        return _Kind("")

    def _list(self, items: Sequence[TextBlock]) -> str:
        """Items as a list, deeper ones as lists within their items."""
        first = items[0].numbering
        ordered = first is not None and first.ordered
        out = []
        for item, deeper in with_deeper(items):
            inner = self._content.of(item.content, self._resolved.style(item))
            if deeper:
                inner += "\n" + self._list(deeper)
            label = self._labels.get(item.id, "")
            shown = label.replace("\\", "").replace('"', "'") + " "
            told = self._told(item)
            sides = [side for side in (told["style"], f'list-style-type: "{shown}"') if side]
            out.append(tag("li", inner, **told | {"style": "; ".join(map(str, sides))}))
        name = "ol" if ordered else "ul"
        kind = LIST_TYPES.get(first.format) if ordered and first is not None else None
        start = first.start if ordered and first is not None and first.start not in (None, 1) else None
        return tag(name, "\n" + "\n".join(out) + "\n", type=kind, start=start)

    def _with_captions(self, blocks: Sequence[Block]) -> Iterator[str]:
        """Blocks in order, a picture together with the caption right below it."""
        at = 0
        while at < len(blocks):
            block = blocks[at]
            if not isinstance(block, PictureBlock):
                yield self._block(block)
                at += 1
                continue
            inner = self._content.image(*block.sharpest, block.width, block.alt)
            around = goes_around(blocks, at)
            caption = caption_below(blocks, at)
            at += 1 if caption is None else 2
            if caption is not None:
                told = self._told(caption)
                inner += tag("figcaption", self._content.of(caption.content, self._resolved.style(caption)), **told)
            side = f"text-align: {block.align}" if block.align is not Align.LEFT else None
            yield tag("figure", inner, style=_beside(block) if around else side, id=self._id(block))

    def _block(self, block: TextBlock | TableBlock) -> str:
        if isinstance(block, TableBlock):
            return self._table(block)
        inner = self._content.of(block.content, self._resolved.style(block))
        told = self._told(block)
        if block.role is Role.HEADING:
            level = max(block.level, 1)
            return tag(
                f"h{min(level, DEEPEST_HEADING)}", inner, aria_level=level if level > DEEPEST_HEADING else None, **told
            )
        if block.role is Role.QUOTE:
            return tag("blockquote", tag("p", inner, **told))
        if block.role is Role.CODE:
            return tag("pre", tag("code", inner.replace("<br />\n", "\n")), **told)
        if block.role is Role.TERM:
            return tag("dt", inner, **told)
        if block.role is Role.DEFINITION:
            return tag("dd", inner, **told)
        if block.role is Role.EQUATION:
            return tag("div", inner, **told | {"class_": f"equation {told['class_']}"})
        if block.role is Role.CONTENTS:
            return self._entry(block)
        if "\t" in block.text:
            told["class_"] = f"tabbed {told['class_']}"
        return tag("p", inner, **told)

    def _entry(self, block: TextBlock) -> str:
        """An entry of a contents list: what it names, dots, and the page."""
        style, told = self._resolved.style(block), self._told(block)
        name, parted, _ = block.text.rpartition("\t")
        if not parted:
            return tag("p", self._content.of(block.content, style), **told)
        inner = (
            tag("span", self._content.of(cut(block.content, 0, len(name)), style))
            + tag("span", "", class_="leader")
            + tag("span", self._content.of(cut(block.content, len(name) + 1), style))
        )
        return tag("p", inner, **told | {"class_": f"entry {told['class_']}"})

    def _table(self, block: TableBlock) -> str:
        self._decimals |= decimal_parts(block)
        by_row: list[list[str]] = [[] for _ in range(block.row_count)]
        for cell in block.cells:
            name = "th" if cell.row < block.header_rows else "td"
            by_row[cell.row].append(
                tag(
                    name, self.blocks(cell.texts).strip("\n"), scope="col" if name == "th" else None,
                    rowspan=cell.rows if cell.rows > 1 else None, colspan=cell.columns if cell.columns > 1 else None,
                    style=_look(cell),
                )
            )  # fmt: skip
        rows = [tag("tr", "".join(cells)) for cells in by_row]
        total = max(sum(block.widths), 1.0)
        columns = "".join(void("col", style=f"width: {100 * width / total:.1f}%") for width in block.widths)
        head, body = rows[: block.header_rows], rows[block.header_rows :]
        inner = tag("colgroup", columns)
        inner += tag("thead", "\n".join(head)) if head else ""
        inner += tag("tbody", "\n".join(body)) if body else ""
        return tag("table", inner, class_="ruled" if block.ruled else None, id=self._id(block))

    def _told(self, block: TextBlock) -> dict[str, str | int | None]:
        """What the element of a text says of it: its style, where links lead to, its language, and how it stands otherwise."""
        style = self._resolved.style(block)
        part = self._decimals.get(block.id)
        if part is not None:
            aligned = f"text-align: right; font-variant-numeric: tabular-nums; padding-right: {_room_behind(part)}"
        elif block.align is not None and block.align is not style.align:
            aligned = f"text-align: {_side(block.align)}"
        else:
            aligned = None
        lines = [
            f"border-{name}: 0.5pt solid; padding-{name}: {LINE_SPACE}pt"
            for side, name in SIDE_NAMES.items()
            if side & block.sides
        ]
        return {
            "class_": class_of(style),
            "id": self._id(block),
            "lang": block.language or None,
            "style": "; ".join((*((aligned,) if aligned else ()), *lines)) or None,
        }

    def _id(self, block: Block) -> str | None:
        """The name of a heading, or of another block that links lead to."""
        is_heading = isinstance(block, TextBlock) and block.role is Role.HEADING
        return block_anchor(block.id) if is_heading or self._resolved.is_target(block) else None


def _beside(block: PictureBlock) -> str:
    """How a figure stands that text goes around."""
    side, free = ("right", "left") if block.align is Align.RIGHT else ("left", "right")
    return f"float: {side}; max-width: 60%; margin: 0 0 {BESIDE_GAP:g}pt 0; margin-{free}: {BESIDE_GAP:g}pt"


def _side(align: Align) -> str:
    return "right" if align is Align.DECIMAL else align


def _room_behind(part: DecimalPart) -> str:
    """As wide as what longer decimals of its column have more, by the width of a figure."""
    figures, signs = part.figures_missing, part.missing - FIGURE_WIDTH * part.figures_missing
    return f"calc({figures}ch + {signs:g}em)"


def _look(cell: Cell) -> str | None:
    """What a cell is filled with, and the lines around it where they are other than those of its table."""
    said = [f"background: #{cell.fill}"] if cell.fill else []
    if cell.sides is not None:
        said += [f"border-{name}: {'0.5pt solid' if side & cell.sides else '0'}" for side, name in SIDE_NAMES.items()]
    return "; ".join(said) or None
