"""What a paragraph of DOCX consists of (ISO/IEC 29500-1, 17.3), as inline content."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.docx_reading.equations import tree_of
from evenquill.core.docx_reading.names import EMU, MC, TWIP, WP, A, Element, M, R, V, W, is_on, number, value, whole
from evenquill.core.docx_reading.numbering import BULLETS
from evenquill.core.docx_reading.package import Package, Relation
from evenquill.core.docx_reading.styles import Styles
from evenquill.core.file_pictures import usable_picture
from evenquill.core.model import (
    Align,
    BlockLink,
    Break,
    Equation,
    Field,
    FieldKind,
    Inline,
    InlinePicture,
    Link,
    Marks,
    NoteRef,
    ResolvedStyle,
    Tab,
    Text,
    UrlLink,
)
from evenquill.core.model.inline import AS_STYLED, Lettering, harmless, joined
from evenquill.core.pictures import PictureFolder

_HIGHLIGHTS = {
    "yellow": "ffff00", "green": "00ff00", "cyan": "00ffff", "magenta": "ff00ff", "blue": "0000ff", "red": "ff0000",
    "darkBlue": "000080", "darkCyan": "008080", "darkGreen": "008000", "darkMagenta": "800080", "darkRed": "800000",
    "darkYellow": "808000", "darkGray": "808080", "lightGray": "c0c0c0", "black": "000000",
}  # fmt: skip
_WITHIN = frozenset({"sdt", "sdtContent", "smartTag", "customXml", "ins", "moveTo", "dir", "bdo"})
_DELETED = frozenset({"del", "moveFrom"})
_BLACK = frozenset({"auto", "000000"})


class Found(NamedTuple):
    """What stands in a file beside its text, counted: changes that are tracked, pictures that cannot be shown."""

    tracked: int = 0
    unshown: int = 0


@dataclass(slots=True)
class _Field:
    """A field that is open (17.16.18): what it does, and whether its result is being read."""

    instruction: str = ""
    shown: bool = False


@dataclass(slots=True)
class ParagraphContent:
    """What was read of a paragraph: its content, the pictures that it goes around (with the side at which they stand), the names of
    bookmarks in it, the text boxes that hang on it, and whether the next paragraph begins a page."""

    content: list[Inline] = field(default_factory=list)
    beside: list[tuple[InlinePicture, Align]] = field(default_factory=list)
    bookmarks: list[str] = field(default_factory=list)
    boxes: list[Element] = field(default_factory=list)
    page_ends: bool = False
    notes: list[tuple[str, str]] = field(default_factory=list)
    """Notes that are called: their sort (``footnote``, ``endnote``) and number."""


class ContentReader:
    """Reads the paragraphs of one part of a file; fields may go on from one paragraph to the next."""

    def __init__(self, package: Package, part: str, styles: Styles, pictures: PictureFolder) -> None:
        self._package = package
        self._relations: dict[str, Relation] = package.relations(part)
        self._styles = styles
        self._pictures = pictures
        self._fields: list[_Field] = []
        self.found = Found()

    def read(self, paragraph: Element, style: ResolvedStyle) -> ParagraphContent:
        """The content of a paragraph that has a style. Notes are named ``sort number``, links within the document by their bookmarks."""
        out = ParagraphContent()
        for child in paragraph:
            self._take(child, style, None, out)
        out.content = [harmless(item) for item in joined(out.content)]
        return out

    def _take(self, element: Element, style: ResolvedStyle, link: Link | None, out: ParagraphContent) -> None:
        if not isinstance(element.tag, str):
            return
        space, _, name = element.tag.rpartition("}")
        if space == M[:-1]:
            self._take_equation(element, name, out)
        elif space != W[:-1]:
            return
        elif name == "r":
            self._take_run(element, style, link, out)
        elif name == "hyperlink":
            own = self._link(element) or link
            for child in element:
                self._take(child, style, own, out)
        elif name == "fldSimple":
            self._take_simple_field(element, style, link, out)
        elif name == "bookmarkStart":
            out.bookmarks.append(element.get(f"{W}name", ""))
        elif name in _DELETED:
            self.found = self.found._replace(tracked=self.found.tracked + 1)
        elif name in _WITHIN:
            if name in ("ins", "moveTo"):
                self.found = self.found._replace(tracked=self.found.tracked + 1)
            for child in element:
                self._take(child, style, link, out)

    def _take_equation(self, element: Element, name: str, out: ParagraphContent) -> None:
        if self._is_hidden():
            return
        for math in [element] if name == "oMath" else element.iter(f"{M}oMath"):
            tree = tree_of(math)
            if tree is not None:
                out.content.append(Equation(tree, display=name == "oMathPara"))

    def _take_simple_field(
        self, element: Element, style: ResolvedStyle, link: Link | None, out: ParagraphContent
    ) -> None:
        if _does(element.get(f"{W}instr", "")) == "PAGE":
            out.content.append(Field(FieldKind.PAGE))
            return
        for child in element:
            self._take(child, style, link, out)

    def _link(self, element: Element) -> Link | None:
        relation = self._relations.get(element.get(f"{R}id", ""))
        if relation is not None and relation.external:
            return UrlLink(relation.target)
        anchor = element.get(f"{W}anchor")
        return BlockLink(anchor) if anchor else None

    def _is_hidden(self) -> bool:
        """Whether what is read now is the instruction of a field, or a result that is worked out anew."""
        return any(not one.shown or _does(one.instruction) == "PAGE" for one in self._fields)

    def _take_run(self, run: Element, style: ResolvedStyle, link: Link | None, out: ParagraphContent) -> None:
        look = self._look(run, style, link or self._link_of_field())
        for child in run:
            if not isinstance(child.tag, str):
                continue
            if child.tag == f"{MC}AlternateContent":
                self._take_alternative(child, look, out)
            elif child.tag.startswith(W):
                self._take_part(child, child.tag[len(W) :], look, out)

    def _link_of_field(self) -> Link | None:
        for one in self._fields:
            if one.shown and _does(one.instruction) == "HYPERLINK":
                words = one.instruction.replace("“", '"').split('"')
                inside = "\\l" in words[0]
                if len(words) > 1 and words[1]:
                    return BlockLink(words[1]) if inside else UrlLink(words[1])
        return None

    def _take_part(self, part: Element, name: str, look: Text | None, out: ParagraphContent) -> None:
        if name == "fldChar":
            self._turn_field(part.get(f"{W}fldCharType", ""), out)
        elif name == "instrText":
            if self._fields and not self._fields[-1].shown:
                self._fields[-1].instruction += part.text or ""
        elif self._is_hidden() or look is None:
            return
        elif name == "t":
            out.content.append(look.like(part.text or ""))
        elif name in ("tab", "ptab"):
            out.content.append(Tab(look.marks, look.color, look.link))
        elif name in ("br", "cr"):
            if part.get(f"{W}type") == "page":
                out.page_ends = True
            elif part.get(f"{W}type") != "column":
                out.content.append(Break(look.marks, look.color, look.link))
        elif name == "noBreakHyphen":
            out.content.append(look.like("\u2011"))
        elif name == "sym":
            out.content.append(look.like(_symbol(part.get(f"{W}char", ""))))
        elif name in ("footnoteReference", "endnoteReference"):
            sort, own = name.removesuffix("Reference"), part.get(f"{W}id", "")
            if sort != "footnote" or whole(own) > 0 or own == "0":
                out.notes.append((sort, own))
                out.content.append(NoteRef(f"{sort} {own}"))
        elif name in ("drawing", "pict", "object"):
            self._take_drawing(part, look, out)

    def _take_alternative(self, element: Element, look: Text | None, out: ParagraphContent) -> None:
        """What stands first of several forms of one thing (ISO/IEC 29500-3)."""
        chosen = element.find(f"{MC}Choice")
        for child in chosen if chosen is not None else ():
            if isinstance(child.tag, str) and child.tag.startswith(W):
                self._take_part(child, child.tag[len(W) :], look, out)

    def _turn_field(self, turn: str, out: ParagraphContent) -> None:
        if turn == "begin":
            self._fields.append(_Field())
        elif turn == "separate" and self._fields:
            self._fields[-1].shown = True
        elif turn == "end" and self._fields:
            ended = self._fields.pop()
            if _does(ended.instruction) == "PAGE" and not self._is_hidden():
                out.content.append(Field(FieldKind.PAGE))

    def _take_drawing(self, part: Element, look: Text, out: ParagraphContent) -> None:
        boxes = list(part.iter(f"{W}txbxContent"))
        out.boxes += boxes
        picture = self._picture(part)
        side = _side_beside(part)
        if picture is not None and side is not None:
            out.beside.append((picture, side))
        elif picture is not None:
            out.content.append(replace(picture, link=look.link))
        elif not boxes and (next(part.iter(f"{A}blip", f"{V}imagedata"), None) is not None):
            self.found = self.found._replace(unshown=self.found.unshown + 1)

    def _picture(self, drawing: Element) -> InlinePicture | None:
        shown = next(drawing.iter(f"{A}blip", f"{V}imagedata"), None)
        if shown is None:
            return None
        relation = self._relations.get(shown.get(f"{R}embed") or shown.get(f"{R}id") or "")
        if relation is None or relation.external or not self._package.has(relation.target):
            return None
        picture = usable_picture(self._package.data(relation.target))
        if picture is None:
            return None
        width, height = _size(drawing)
        described = next(drawing.iter(f"{WP}docPr"), None)
        alt = described.get("descr", "") if described is not None else ""
        return InlinePicture(self._pictures.keep(*picture), picture.media, width, height, alt)

    def _look(self, run: Element, style: ResolvedStyle, link: Link | None) -> Text | None:
        """Text without characters in the look of a run; None for what is not to be seen."""
        said = run.find(f"{W}rPr")
        if is_on(said, "vanish"):
            return None
        character = self._styles.character(value(said, "rStyle"))
        marks = character.marks

        def differs(name: str, of_character: bool | None, of_style: bool) -> bool:
            own = is_on(said, name)
            effective = own if own is not None else of_character if of_character is not None else of_style
            return effective != of_style

        marks |= Marks.BOLD if differs("b", character.bold, style.bold) else Marks.NONE
        marks |= Marks.ITALIC if differs("i", character.italic, style.italic) else Marks.NONE
        for name, mark in (("smallCaps", Marks.SMALL_CAPITALS), ("strike", Marks.STRIKE), ("dstrike", Marks.STRIKE)):
            marks |= mark if is_on(said, name) else Marks.NONE
        if link is None and (value(said, "u") or "none") != "none":
            marks |= Marks.UNDERLINE
        raised = value(said, "vertAlign")
        marks |= Marks.SUPER if raised == "superscript" else Marks.SUB if raised == "subscript" else Marks.NONE
        return Text("", marks, _color(said, style) if link is None else None, link, _lettering(said, style))


def _does(instruction: str) -> str:
    """The name of what a field does."""
    return instruction.split()[0].upper() if instruction.split() else ""


def _color(said: Element | None, style: ResolvedStyle) -> str | None:
    color = (value(said, "color") or "auto").lower()
    return None if color in _BLACK or color == (style.color or "").lower() else color


def _lettering(said: Element | None, style: ResolvedStyle) -> Lettering:
    if said is None:
        return AS_STYLED
    size = number(value(said, "sz")) / 2
    font = value(said, "rFonts", "ascii") or ""
    ground = (value(said, "shd", "fill") or "auto").lower()
    ground = _HIGHLIGHTS.get(value(said, "highlight") or "", "" if ground in ("auto", "ffffff") else ground)
    return Lettering(font if font != style.font else "", size if size != style.size else 0.0, ground)


def _symbol(code: str) -> str:
    """A character of a symbol font by its code."""
    try:
        sign = chr(int(code, 16))
    except (ValueError, OverflowError):
        return ""
    return BULLETS.get(sign, sign)


def _side_beside(drawing: Element) -> Align | None:
    """The side at which a drawing stands that text goes around (20.4.2.3), None for one in the line, or with text above and below."""
    anchor = next(drawing.iter(f"{WP}anchor"), None)
    if anchor is None or all(anchor.find(f"{WP}wrap{kind}") is None for kind in ("Square", "Tight", "Through")):
        return None
    place = anchor.find(f"{WP}positionH")
    said = (place.findtext(f"{WP}align") or "").strip() if place is not None else ""
    return Align.RIGHT if said in ("right", "outside") else Align.LEFT


def _size(drawing: Element) -> tuple[float, float]:
    """Width and height in points."""
    extent = next(drawing.iter(f"{WP}extent"), None)
    if extent is not None:
        return round(number(extent.get("cx")) * EMU, 2), round(number(extent.get("cy")) * EMU, 2)
    shape = next(drawing.iter(f"{V}shape"), None)
    said = dict(
        part.split(":", 1) for part in (shape.get("style", "") if shape is not None else "").split(";") if ":" in part
    )
    return _points(said.get("width", "")), _points(said.get("height", ""))


def _points(length: str) -> float:
    units = {"pt": 1.0, "in": 72.0, "cm": 72 / 2.54, "mm": 7.2 / 2.54, "px": 0.75}
    length = length.strip()
    return round(number(length[:-2]) * units.get(length[-2:], 0.0), 2) or 100.0


def paragraphs_in(holder: Element) -> Iterator[Element]:
    """The paragraphs of a cell, a note or a text box, those of tables within it too."""
    return holder.iter(f"{W}p")


def points(text: str | None) -> float:
    """A length in twentieths of a point, in points."""
    return round(number(text) * TWIP, 2)
