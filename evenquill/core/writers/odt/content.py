"""What a paragraph consists of, as elements of OpenDocument."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Mapping
from typing import Any

from odf.draw import Frame, Image, Object
from odf.namespaces import DRAWNS
from odf.opendocument import OpenDocument
from odf.svg import Desc
from odf.text import A, LineBreak, Note, NoteBody, NoteCitation, P, PageNumber, S, Span, Tab

from evenquill.core.equations.mathml import mathml
from evenquill.core.equations.speech import said
from evenquill.core.model import (
    BlockLink,
    Break,
    Equation,
    Field,
    Inline,
    InlinePicture,
    Link,
    NoteRef,
    PageLink,
    ResolvedStyle,
    UrlLink,
)
from evenquill.core.model import Tab as TabItem
from evenquill.core.model.inline import joined
from evenquill.core.resolve import Resolved
from evenquill.core.resolve.notes import NoteKind
from evenquill.core.writers.odt.styles import Styles, points, style_name
from evenquill.core.writers.picture import GetPicture

_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]")
_SPACES = re.compile(r"( {2,}|^ | $)")


class Content:
    """Fills paragraphs of one file; notes are written where they are first called."""

    def __init__(self, file: OpenDocument, styles: Styles, resolved: Resolved, picture: GetPicture) -> None:
        self._file = file
        self._styles = styles
        self._resolved = resolved
        self._picture = picture
        self._pages = resolved.block_of_page
        self._called: set[str] = set()
        self._pictures: dict[str, str] = {}
        self.formulas: list[str] = []
        """As MathML, in the order of their objects."""

    def fill(self, parent: Any, content: Iterable[Inline], style: ResolvedStyle) -> None:
        """Puts content of a style into an element, neighbours of one link within one."""
        for link, items in itertools.groupby(joined(content), key=lambda item: item.link):
            address = self._address(link)
            holder = A(href=address, type="simple") if address else parent
            for item in items:
                self._put(holder, item, style)
            if address:
                parent.addElement(holder)

    def frame(self, pictures: Mapping[str, str], width: float, height: float, alt: str, beside: str = "") -> Frame:
        """A picture in the line, or ``beside`` its paragraph by the style of that name; sizes in points. ``pictures`` are its media types
        by the names of its files, of which a program takes the first that it can show. Raises KeyError where there is none of that name."""
        made = Frame(width=points(width), height=points(height), anchortype="paragraph" if beside else "as-char")
        if beside:
            made.setAttrNS(DRAWNS, "style-name", beside)
        for picture, media in pictures.items():
            if picture not in self._pictures:
                self._pictures[picture] = self._file.addPictureFromString(self._picture(picture), media)
            made.addElement(Image(href=self._pictures[picture], type="simple", show="embed", actuate="onLoad"))
        if alt:
            made.addElement(Desc(text=clean(alt)))
        return made

    def _address(self, link: Link | None) -> str:
        match link:
            case UrlLink(url):
                return clean(url)
            case PageLink(page):
                return f"#{bookmark(self._pages[page])}" if page in self._pages else ""
            case BlockLink(block):
                return f"#{bookmark(block)}"
            case _:
                return ""

    def _put(self, parent: Any, item: Inline, style: ResolvedStyle) -> None:
        if isinstance(item, NoteRef):
            self._note(parent, item, style)
        elif isinstance(item, Equation):
            parent.addElement(self._equation(item))
            if item.number:
                parent.addText(f" {clean(item.number)}")
        elif isinstance(item, InlinePicture):
            parent.addElement(self.frame({item.picture: item.media}, item.width, item.height, item.alt))
        elif isinstance(item, Field):
            parent.addElement(PageNumber(selectpage="current"))
        elif isinstance(item, Break):
            parent.addElement(LineBreak())
        elif isinstance(item, TabItem):
            parent.addElement(Tab())
        else:
            name = self._styles.of_text(item, style)
            holder = Span(stylename=name) if name else parent
            _put_text(holder, clean(item.text))
            if name:
                parent.addElement(holder)

    def _note(self, parent: Any, item: NoteRef, style: ResolvedStyle) -> None:
        note = self._resolved.notes.get(item.note)
        if note is None or item.note in self._called:
            mark = item.mark or (str(note.number) if note is not None else "")
            if mark:
                holder = Span(stylename=self._styles.of_text(item, style))
                holder.addText(clean(mark))
                parent.addElement(holder)
            return
        self._called.add(item.note)
        own = self._resolved.style(note.block)
        made = Note(
            id=f"note-{note.kind}-{note.number}", noteclass="footnote" if note.kind is NoteKind.FOOTNOTE else "endnote"
        )
        made.addElement(NoteCitation(text=str(note.number)))
        body = NoteBody()
        row = P(stylename=style_name(own.id))
        self.fill(row, note.block.content, own)
        body.addElement(row)
        made.addElement(body)
        parent.addElement(made)

    def _equation(self, item: Equation) -> Frame:
        """An equation as an object of its own, with what a screen reader says."""
        self.formulas.append(mathml(item.tree, display=item.display))
        made = Frame(anchortype="as-char")
        made.addElement(
            Object(href=f"./{formula_folder(len(self.formulas))}", type="simple", show="embed", actuate="onLoad")
        )
        made.addElement(Desc(text=said(item.tree, self._resolved.document.language)))
        return made


def formula_folder(number: int) -> str:
    """Where in the package the formula of a number (from 1) is."""
    return f"Object {number}"


def bookmark(block: str) -> str:
    """The name of the place of a block that links lead to."""
    return f"block_{block}"


def clean(text: str) -> str:
    """Text without what XML has no place for."""
    return _CONTROL.sub("", text)


def _put_text(parent: Any, text: str) -> None:
    """Text with its spaces: those that follow one another, and those at its ends, would be lost."""
    for n, part in enumerate(_SPACES.split(text)):
        if n % 2:
            parent.addElement(S(c=str(len(part))))
        elif part:
            parent.addText(part)
