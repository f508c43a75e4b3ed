"""What a paragraph consists of, as HTML."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable

from evenquill.core.equations.mathml import mathml
from evenquill.core.equations.speech import said
from evenquill.core.font_names import family_called
from evenquill.core.model import (
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
    UrlLink,
)
from evenquill.core.model.inline import lettering_of
from evenquill.core.resolve import Resolved
from evenquill.core.resolve.notes import Note
from evenquill.core.typefaces import faces_for
from evenquill.core.writers.html.markup import tag, text_of, void

PictureSource = Callable[[str, str], str]

ELEMENTS = (
    (Marks.SUPER, "sup"), (Marks.SUB, "sub"), (Marks.UNDERLINE, "u"), (Marks.STRIKE, "s"),
)  # fmt: skip


class Content:
    """Makes HTML of content; notes lead to where they stand. ``source`` says where the picture of a name (its SHA-256) and type is to be
    had, and raises KeyError where there is none."""

    def __init__(self, source: PictureSource, resolved: Resolved) -> None:
        self._source = source
        self._notes = resolved.notes
        self._language = resolved.document.language
        self._stand_ins = resolved.document.stand_ins
        self._pages = resolved.block_of_page
        self._led_from: set[str] = set()

    def of(self, content: Iterable[Inline], style: ResolvedStyle) -> str:
        """Content of a style, in which bold and slanted mean what differs from that."""
        return "".join(
            self._linked(link, "".join(self._item(item, style) for item in items))
            for link, items in itertools.groupby(content, key=lambda item: item.link)
        )

    def image(self, picture: str, media: str, width: float, alt: str) -> str:
        """A picture, no wider than there is room for; ``width`` in points. Raises KeyError where there is none of that name."""
        return void("img", src=self._source(picture, media), alt=alt, style=f"width: {width:.0f}pt")

    def _linked(self, link: Link | None, inner: str) -> str:
        match link:
            case UrlLink(url):
                return tag("a", inner, href=url)
            case PageLink(page):
                return tag("a", inner, href=f"#{block_anchor(self._pages[page])}") if page in self._pages else inner
            case BlockLink(block):
                return tag("a", inner, href=f"#{block_anchor(block)}")
            case None:
                return inner

    def _item(self, item: Inline, style: ResolvedStyle) -> str:
        if isinstance(item, NoteRef):
            return self._note_mark(item)
        if isinstance(item, Equation):
            made = mathml(item.tree, display=item.display)
            spoken = said(item.tree, self._language)
            number = tag("span", text_of(item.number), class_="number") if item.number else ""
            return tag("span", made, aria_label=spoken, role="math") + number
        if isinstance(item, InlinePicture):
            return self.image(item.picture, item.media, item.width, item.alt)
        if isinstance(item, Field):
            return ""  # pages have no numbers here
        if isinstance(item, Break):
            return "<br />\n"
        return self._dressed("\t" if isinstance(item, Tab) else text_of(item.text), item, style)

    def _dressed(self, inner: str, item: Inline, style: ResolvedStyle) -> str:
        """Text in its look."""
        for mark, name in ELEMENTS:
            if mark in item.marks:
                inner = tag(name, inner)
        bold, italic = Marks.BOLD in item.marks, Marks.ITALIC in item.marks
        looks = []
        if bold and not style.bold:
            inner = tag("strong", inner)
        elif bold:
            looks.append("font-weight: normal")
        if italic and not style.italic:
            inner = tag("em", inner)
        elif italic:
            looks.append("font-style: normal")
        if Marks.SMALL_CAPITALS in item.marks:
            looks.append("font-variant: small-caps")
        if item.color and item.link is None:
            looks.append(f"color: #{item.color}")
        lettering = lettering_of(item)
        if lettering.size:
            looks.append(f"font-size: {lettering.size:g}pt")
        if lettering.font:
            faces = faces_for(lettering.font, family_called(lettering.font), self._stand_ins)
            looks.append(f"font-family: {', '.join(map(quoted, faces))}")
        if lettering.ground:
            looks.append(f"background: #{lettering.ground}")
        return tag("span", inner, style="; ".join(looks)) if looks else inner

    def _note_mark(self, item: NoteRef) -> str:
        note = self._notes.get(item.note)
        if note is None:
            return tag("sup", text_of(item.mark)) if item.mark else ""
        first = item.note not in self._led_from
        self._led_from.add(item.note)
        anchor = tag(
            "a",
            str(note.number),
            href=f"#{note_anchor(note)}",
            role="doc-noteref",
            id=f"to-{note_anchor(note)}" if first else None,
        )
        return tag("sup", anchor)


def quoted(name: str) -> str:
    """A name as a string of CSS."""
    return '"' + "".join(c for c in name if c not in '"\\<>;{}') + '"'


def note_anchor(note: Note) -> str:
    return f"{note.kind}-{note.number}"


def block_anchor(block: str) -> str:
    """The place of a block that a link leads to."""
    return f"block-{block}"
