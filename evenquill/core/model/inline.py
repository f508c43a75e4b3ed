"""Inline content: what a paragraph consists of. Text with marks, references to notes, fields, pictures, line breaks and tabs, in order.

Every element has a plain text: its own for text, one character for everything else. So a place in the plain text of a paragraph is a
place in its content.
"""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterable, Iterator, Sequence
from enum import IntFlag, StrEnum
from typing import ClassVar

import msgspec
from msgspec.structs import replace

from evenquill.core.model.equation import Node

OBJECT = "\ufffc"
"""Stands in plain text for what is neither text nor white space (Unicode: object replacement character)."""


class Marks(IntFlag):
    """Emphasis and position.

    RUN_IN is for a heading that begins a paragraph. BOLD and ITALIC are differences from the paragraph's style: in a bold style, text
    with BOLD is not bold. So text keeps its emphasis when its paragraph is given another kind.
    """

    NONE = 0
    BOLD = 1
    ITALIC = 2
    UNDERLINE = 4
    STRIKE = 8
    SUPER = 16
    SUB = 32
    RUN_IN = 64
    SMALL_CAPITALS = 128


class UrlLink(msgspec.Struct, frozen=True, tag="url", tag_field="to"):
    """A link to an address outside of the document."""

    url: str


class PageLink(msgspec.Struct, frozen=True, tag="page", tag_field="to"):
    """A link to a page of the source, from 1."""

    page: int


class BlockLink(msgspec.Struct, frozen=True, tag="block", tag_field="to"):
    """A link to a block of the document, by its id."""

    block: str


Link = UrlLink | PageLink | BlockLink

_SAFE_ADDRESS = re.compile(r"(https?://|mailto:)[^\x00-\x20\x7f]+", re.IGNORECASE)
_COLOR = re.compile(r"[0-9a-fA-F]{6}")


def is_safe_link(link: Link | None) -> bool:
    """Whether a link leads to a page of the web, to an address for letters, or within the document: others may run something."""
    return not isinstance(link, UrlLink) or _SAFE_ADDRESS.fullmatch(link.url) is not None


class FieldKind(StrEnum):
    """What a field is replaced by when the document is shown."""

    PAGE = "page"
    """The number of the page that it stands on."""


class Lettering(msgspec.Struct, frozen=True, omit_defaults=True):
    """How a stretch of text differs from its style by the clerk's hand: ``font`` is the name of a typeface, ``size`` in points,
    ``ground`` the colour behind it as ``rrggbb``; empty or 0 where it is as the style has it."""

    font: str = ""
    size: float = 0.0
    ground: str = ""


AS_STYLED = Lettering()
LONGEST_FONT, SIZES = 80, (2.0, 400.0)
"""Characters of the name of a typeface, and sizes in points, that a stretch of text may have."""


class _Inline(msgspec.Struct, frozen=True):
    """What all elements can do; each has ``text``, ``marks``, ``color`` and ``link``."""

    def like(self, text: str) -> Text:
        """Text of the same look."""
        return Text(text, self.marks, self.color, self.link, lettering_of(self))  # type: ignore[attr-defined]

    def same_look(self, other: Inline) -> bool:
        """Whether marks, color, link and lettering are the same."""
        mine = (self.marks, self.color, self.link, lettering_of(self))  # type: ignore[attr-defined]
        return bool(mine == (other.marks, other.color, other.link, lettering_of(other)))


class Text(_Inline, frozen=True, omit_defaults=True, tag="text"):
    """A stretch of text of one look. ``color`` is ``rrggbb`` or None for the style's own."""

    text: str
    marks: Marks = Marks.NONE
    color: str | None = None
    link: Link | None = None
    lettering: Lettering = AS_STYLED


def lettering_of(item: _Inline) -> Lettering:
    """The lettering of text; other elements have that of their style."""
    return item.lettering if isinstance(item, Text) else AS_STYLED


class Tab(_Inline, frozen=True, omit_defaults=True, tag="tab"):
    """A tab."""

    text: ClassVar[str] = "\t"
    marks: Marks = Marks.NONE
    color: str | None = None
    link: Link | None = None


class Break(_Inline, frozen=True, omit_defaults=True, tag="break"):
    """The end of a line within a paragraph."""

    text: ClassVar[str] = "\n"
    marks: Marks = Marks.NONE
    color: str | None = None
    link: Link | None = None


class NoteRef(_Inline, frozen=True, omit_defaults=True, tag="note"):
    """The mark of a note in the text: ``note`` is the id of the note's block, ``mark`` what is printed."""

    text: ClassVar[str] = OBJECT
    note: str
    mark: str = ""
    marks: Marks = Marks.SUPER
    color: str | None = None
    link: Link | None = None


class Field(_Inline, frozen=True, omit_defaults=True, tag="field"):
    """What is worked out when the document is shown."""

    text: ClassVar[str] = OBJECT
    kind: FieldKind
    marks: Marks = Marks.NONE
    color: str | None = None
    link: Link | None = None


class InlinePicture(_Inline, frozen=True, omit_defaults=True, tag="picture"):
    """A picture within a line of text, such as a sign or a key. ``picture`` is the SHA-256 of its bytes, ``media`` their type; ``width``
    and ``height`` are in points, ``alt`` describes it to those who cannot see it."""

    text: ClassVar[str] = OBJECT
    picture: str
    media: str
    width: float
    height: float
    alt: str = ""
    marks: Marks = Marks.NONE
    color: str | None = None
    link: Link | None = None


class Equation(_Inline, frozen=True, omit_defaults=True, tag="equation"):
    """An equation, within a line or, if ``display``, on lines of its own; ``number`` is what is printed beside that."""

    text: ClassVar[str] = OBJECT
    tree: Node
    display: bool = False
    number: str = ""
    marks: Marks = Marks.NONE
    color: str | None = None
    link: Link | None = None


Inline = Text | Tab | Break | NoteRef | Field | InlinePicture | Equation


def plain(content: Iterable[Inline]) -> str:
    """The plain text: one character for each element that is not text."""
    return "".join(item.text for item in content)


def readable(content: Iterable[Inline]) -> str:
    """The text as it reads: marks of notes as they are printed, and nothing for fields and pictures."""
    return "".join(item.mark if isinstance(item, NoteRef) else item.text.replace(OBJECT, "") for item in content)


_CONTROL = re.compile(r"([\t\n])")


def from_text(text: str, look: Inline | None = None) -> tuple[Inline, ...]:
    """Content for a text with tabs and line ends in it, in the look of another element."""
    return joined(((look or Text("")).like(text),))


def joined(content: Iterable[Inline]) -> tuple[Inline, ...]:
    """The content in its one form: no empty text, neighbours of one look in one text, tabs and line ends elements of their own."""
    out: list[Inline] = []
    for item in itertools.chain.from_iterable(map(_parted, content)):
        last = out[-1] if out else None
        if isinstance(item, Text) and isinstance(last, Text) and last.same_look(item):
            out[-1] = last.like(last.text + item.text)
        else:
            out.append(item)
    return tuple(out)


def _parted(item: Inline) -> Iterator[Inline]:
    """A text without tabs, line ends and characters that stand for other elements; elements of other kinds as they are."""
    if not isinstance(item, Text):
        yield item
        return
    if "\t" not in item.text and "\n" not in item.text and OBJECT not in item.text:
        if item.text:
            yield item
        return
    for piece in _CONTROL.split(item.text.replace(OBJECT, "")):
        if piece == "\t":
            yield Tab(item.marks, item.color, item.link)
        elif piece == "\n":
            yield Break(item.marks, item.color, item.link)
        elif piece:
            yield item.like(piece)


def harmless(item: Inline) -> Inline:
    """The element without a link that is not safe, and without colors, sizes and names of typefaces that are none."""
    if not is_safe_link(item.link):
        item = replace(item, link=None)
    if item.color is not None and not _COLOR.fullmatch(item.color):
        item = replace(item, color=None)
    if isinstance(item, Text) and item.lettering != AS_STYLED and not _is_lettering(item.lettering):
        item = replace(item, lettering=AS_STYLED)
    return item


def _is_lettering(lettering: Lettering) -> bool:
    least, most = SIZES
    return (
        (not lettering.size or least <= lettering.size <= most)
        and len(lettering.font) <= LONGEST_FONT
        and lettering.font.isprintable()
        and (not lettering.ground or _COLOR.fullmatch(lettering.ground) is not None)
    )


def marked(item: Inline, marks: Marks) -> Inline:
    """The element with further marks."""
    return replace(item, marks=item.marks | marks)


def cut(content: Iterable[Inline], start: int, end: int | None = None) -> tuple[Inline, ...]:
    """The content of the characters from ``start`` up to ``end`` (to the last where None)."""
    out: list[Inline] = []
    at = 0
    for item in content:
        length = len(item.text)
        left = max(start - at, 0)
        right = length if end is None else min(end - at, length)
        if left < right:
            out.append(item if right - left == length else item.like(item.text[left:right]))
        at += length
    return tuple(out)


def stripped(content: Iterable[Inline]) -> tuple[Inline, ...]:
    """The content without white space at either end."""
    kept = joined(content)
    text = plain(kept)
    start = len(text) - len(text.lstrip())
    return cut(kept, start, len(text.rstrip()))


def spans(content: Sequence[Inline]) -> Iterator[tuple[int, Inline]]:
    """Each element with the place of its first character in the plain text."""
    at = 0
    for item in content:
        yield at, item
        at += len(item.text)


def run_in_heading(content: Iterable[Inline]) -> str:
    """The heading that a paragraph begins with, nothing where it has none."""
    return readable(itertools.takewhile(lambda item: Marks.RUN_IN in item.marks, content)).strip()
