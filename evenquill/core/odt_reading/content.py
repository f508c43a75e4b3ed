"""What a paragraph of OpenDocument consists of (part 3, 6), as inline content."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

from lxml import etree
from msgspec.structs import replace

from evenquill.core.equations.mathml_reader import read_mathml
from evenquill.core.equations.problem import EquationProblem
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
    NoteRef,
    ResolvedStyle,
    Tab,
    Text,
    UrlLink,
)
from evenquill.core.model.inline import harmless, joined
from evenquill.core.odt_reading.names import DRAW, OFFICE, STYLE, SVG, TEXT, XLINK, Element, points, whole
from evenquill.core.odt_reading.package import Package
from evenquill.core.odt_reading.styles import Styles
from evenquill.core.pictures import PictureFolder

MOST_SPACES = 1000

_SPACE = re.compile(r"[ \t\r\n]+")
_MARKS = frozenset(f"{TEXT}{name}" for name in ("bookmark", "bookmark-start", "reference-mark", "reference-mark-start"))
_SKIPPED = frozenset(
    f"{TEXT}{name}"
    for name in ("bookmark-end", "reference-mark-end", "soft-page-break", "tracked-changes", "hidden-paragraph", "hidden-text",
                 "change-end", "ruby-text", "note-citation", "alphabetical-index-mark", "toc-mark")
) | {f"{OFFICE}annotation-end", f"{OFFICE}forms"}  # fmt: skip
_USUAL_SIDE = 100.0
"""Points of a picture of which no size is said."""

_AROUND = ("left", "right", "parallel", "dynamic", "biggest")
"""How text stands to a frame that it goes around (part 3, 20.390)."""

_PLAIN = Text("")


@dataclass(slots=True)
class Found:
    """What stands in a file beside its text: remarks of its readers, how many pictures cannot be shown."""

    annotations: list[str] = field(default_factory=list)
    unshown: int = 0


@dataclass(slots=True)
class ParagraphContent:
    """What was read of a paragraph: its content, the pictures and boxes that it goes around (with the side at which they stand), the names
    of places in it that links lead to, the text boxes that hang on it, and the elements of the notes that are called in it, by the names
    that its marks have."""

    content: list[Inline] = field(default_factory=list)
    beside: list[tuple[InlinePicture | Element, Align]] = field(default_factory=list)
    bookmarks: list[str] = field(default_factory=list)
    boxes: list[Element] = field(default_factory=list)
    notes: list[tuple[str, Element]] = field(default_factory=list)


class ContentReader:
    """Reads the paragraphs of a file."""

    def __init__(self, package: Package, styles: Styles, pictures: PictureFolder) -> None:
        self._package = package
        self._styles = styles
        self._pictures = pictures
        self._notes = 0
        self.found = Found()

    def read(self, paragraph: Element, style: ResolvedStyle) -> ParagraphContent:
        """The content of a paragraph that has a style."""
        out = ParagraphContent()
        self._take_inside(paragraph, style, _PLAIN, out)
        out.content = [harmless(item) for item in _with_single_spaces(joined(out.content))]
        return out

    def _take_inside(self, element: Element, style: ResolvedStyle, look: Text, out: ParagraphContent) -> None:
        self._take_text(element.text, look, out)
        for child in element:
            if isinstance(child.tag, str):
                self._take(child, style, look, out)
            self._take_text(child.tail, look, out)

    def _take_text(self, text: str | None, look: Text, out: ParagraphContent) -> None:
        if text:
            out.content.append(look.like(_SPACE.sub(" ", text)))

    def _take(self, element: Element, style: ResolvedStyle, look: Text, out: ParagraphContent) -> None:
        tag = element.tag
        if tag in _SKIPPED:
            return
        if tag == f"{TEXT}span":
            self._take_span(element, style, look, out)
        elif tag == f"{TEXT}a":
            own = _link(element) or look.link
            self._take_inside(element, style, Text("", look.marks, None, own, look.lettering), out)
        elif tag == f"{TEXT}s":
            count = min(max(whole(element.get(f"{TEXT}c"), 1), 1), MOST_SPACES)
            out.content.append(look.like(_KEPT * count))
        elif tag == f"{TEXT}tab":
            out.content.append(Tab(look.marks, look.color, look.link))
        elif tag == f"{TEXT}line-break":
            out.content.append(Break(look.marks, look.color, look.link))
        elif tag == f"{TEXT}page-number":
            out.content.append(Field(FieldKind.PAGE))
        elif tag in _MARKS:
            out.bookmarks.append(element.get(f"{TEXT}name", ""))
        elif tag == f"{TEXT}note":
            self._take_note(element, out)
        elif tag == f"{OFFICE}annotation":
            self.found.annotations.append(" ".join("".join(map(str, element.itertext())).split()))
        elif tag.startswith(DRAW):
            self._take_drawing(element, look, out)
        else:  # fields show what they came to when the file was written
            self._take_inside(element, style, look, out)

    def _take_span(self, element: Element, style: ResolvedStyle, look: Text, out: ParagraphContent) -> None:
        own = self._styles.text(element.get(f"{TEXT}style-name", ""), style)
        if own.hidden:
            return
        lettering = replace(
            look.lettering,
            font=own.lettering.font or look.lettering.font,
            size=own.lettering.size or look.lettering.size,
            ground=own.lettering.ground or look.lettering.ground,
        )
        color = None if look.link is not None else own.color or look.color
        self._take_inside(element, style, Text("", look.marks | own.marks, color, look.link, lettering), out)

    def _take_note(self, element: Element, out: ParagraphContent) -> None:
        self._notes += 1
        name = f"note {self._notes}"
        out.notes.append((name, element))
        out.content.append(NoteRef(name))

    def _take_drawing(self, element: Element, look: Text, out: ParagraphContent) -> None:
        """A frame, or shapes, whose text stands in boxes."""
        if element.tag != f"{DRAW}frame":
            inner = [child for child in element if isinstance(child.tag, str)]
            if any(child.tag in (f"{TEXT}p", f"{TEXT}list") for child in inner):
                out.boxes.append(element)
                return
            for child in inner:
                if child.tag.startswith(DRAW):
                    self._take_drawing(child, look, out)
            return
        box, side = element.find(f"{DRAW}text-box"), self._side_beside(element)
        if box is not None and side is not None and next(box.iter(f"{DRAW}image"), None) is not None:
            out.beside.append((box, side))
            return
        if box is not None:
            out.boxes.append(box)
            return
        item = self._equation(element) or self._picture(element)
        if isinstance(item, InlinePicture) and side is not None:
            out.beside.append((item, side))
        elif item is not None:
            out.content.append(replace(item, link=look.link))
        elif element.find(f"{DRAW}image") is not None or element.find(f"{DRAW}object") is not None:
            self.found.unshown += 1

    def _side_beside(self, frame: Element) -> Align | None:
        """The side at which a frame stands that text goes around, None for one in the line, or with text above and below."""
        if frame.get(f"{TEXT}anchor-type") not in ("paragraph", "char"):
            return None
        style = frame.get(f"{DRAW}style-name", "")
        if self._styles.value("graphic", style, "graphic", f"{STYLE}wrap") not in _AROUND:
            return None
        place = self._styles.value("graphic", style, "graphic", f"{STYLE}horizontal-pos")
        return Align.RIGHT if place in ("right", "outside") else Align.LEFT

    def _equation(self, frame: Element) -> Equation | None:
        """The formula that an object in a frame holds: as a part of the package, or within it."""
        for one in frame.iterfind(f"{DRAW}object"):
            address = one.get(f"{XLINK}href", "")
            name = self._package.inner(f"{address.rstrip('/')}/content.xml") if address else None
            inside = next((child for child in one if isinstance(child.tag, str)), None)
            try:
                if name is not None:
                    return Equation(read_mathml(self._package.data(name).decode("utf-8", "replace")))
                if inside is not None and inside.tag.endswith("}math"):
                    return Equation(read_mathml(_as_text(inside)))
            except EquationProblem:
                continue
        return None

    def _picture(self, frame: Element) -> InlinePicture | None:
        """The first picture of a frame that can be shown: they are the same one in several forms."""
        for image in frame.iterfind(f"{DRAW}image"):
            name = self._package.inner(image.get(f"{XLINK}href", ""))
            picture = usable_picture(self._package.data(name)) if name is not None else None
            if picture is not None:
                width, height = (points(frame.get(f"{SVG}{side}")) or _USUAL_SIDE for side in ("width", "height"))
                alt = next((said for part in ("desc", "title") if (said := frame.findtext(f"{SVG}{part}"))), "")
                return InlinePicture(self._pictures.keep(*picture), picture.media, width, height, alt.strip())
        return None


_KEPT = "\ue000"
"""Stands for a space that is said to be one, until those that only part words are made single."""


def _with_single_spaces(items: tuple[Inline, ...]) -> Iterator[Inline]:
    """Content in which spaces that follow one another, or begin a paragraph, are one or none (part 3, 6.1.2)."""
    before = " "
    for item in items:
        if isinstance(item, Text):
            text = item.text
            if before == " ":
                text = text.lstrip(" ")
            text = _SPACE.sub(" ", text)
            before = text[-1:] or before
            if text:
                yield item.like(text.replace(_KEPT, " "))
        else:
            before = " " if isinstance(item, Break) else ""
            yield item


def _link(element: Element) -> Link | None:
    address = element.get(f"{XLINK}href", "")
    if address.startswith("#"):
        name = address[1:].split("|")[0]
        return BlockLink(name) if name else None
    return UrlLink(address) if address else None


def _as_text(element: Element) -> str:
    return str(etree.tostring(element, encoding="unicode", with_tail=False))
