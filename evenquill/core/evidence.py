"""What a reader found on one page. Every reader (text layer, OCR) gives the same things.

Coordinates are points from the top left of the page as it is looked at.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from enum import StrEnum
from typing import NamedTuple

import msgspec
from msgspec.structs import replace

from evenquill.core.model import Box, Family, OtherReading, PageLink, Remark, RemarkKind, UrlLink
from evenquill.core.model.equation import Node
from evenquill.core.model.inline import is_safe_link


class PageKind(StrEnum):
    NATIVE = "native"
    SCANNED = "scanned"


class TextLayer(StrEnum):
    """What became of text that came with a picture of a page."""

    NONE = "none"
    BELIEVED = "believed"
    DROPPED = "dropped"


class Type(NamedTuple):
    """A look of letters: font family name as the source gives it, kind of family, size, weight, slant, colour.

    ``color`` is ``rrggbb`` or None for black. ``symbol`` is True for fonts of signs and not of letters. ``face`` is the font's whole
    name in the file, by which its characters are repaired; a rebuilt document has no more use for it. ``unseen`` letters are not
    painted.
    """

    font: str
    family: Family
    size: float
    bold: bool = False
    italic: bool = False
    color: str | None = None
    symbol: bool = False
    face: str = ""
    unseen: bool = False


class Tag(NamedTuple):
    """An element of the file's own tag tree on a page: its kind (H1, P, Figure ...) and the description of what it shows.

    ``depth`` is the depth of the list that it is in, from 0; -1 for none. ``language`` is the one that the file says it is in (two
    letters), nothing where it says none for it.
    """

    kind: str
    alt: str = ""
    depth: int = -1
    language: str = ""

    @property
    def heading_level(self) -> int:
        """1 to 6 for a heading that says its level, else 0."""
        return int(self.kind[1]) if len(self.kind) == 2 and self.kind[0] == "H" and self.kind[1].isdigit() else 0


class Vote(NamedTuple):
    """On a page, characters that a font claims to be ``claimed`` were read ``times`` times as ``drawn`` from what is drawn."""

    face: str
    claimed: str
    drawn: str
    times: int


SMALLEST_SIZE = 0.1
"""Points: letters are taken to be at least as tall wherever something is divided by their size."""


class Word(NamedTuple):
    """A word, or the part of one that has one look.

    ``type`` is an index into the page's types, ``marks`` holds underline, strike, super- and subscript,
    ``glued`` is True where no space parts it from the word before, ``link`` an index into the page's links.
    ``equation`` is an index into the page's equations for one that stands in the line like a word.
    ``confidence`` (0 to 1) is how sure the recogniser is; ``others`` are its other readings of single characters, and one behind the
    last where a sign is to be seen that was not read.
    """

    text: str
    x0: float
    x1: float
    type: int
    marks: int = 0
    glued: bool = False
    link: int | None = None
    confidence: float = 1.0
    others: tuple[OtherReading, ...] = ()
    equation: int | None = None


OUTSIDE, IN_NO_BLOCK = -1, -2
"""Places of tags of lines that are outside of a file's tag tree, and of those in it that belong to no paragraph, heading or the like."""


class Line(NamedTuple):
    """Words on one baseline without a wide gap between them, left to right.

    A line that stands at an angle (in degrees, anticlockwise) has its words' ends in its own frame; its box
    is always that of the page. ``tag`` is an index into the page's tags, OUTSIDE for none, IN_NO_BLOCK in an element of another kind.
    """

    box: Box
    baseline: float
    size: float
    words: tuple[Word, ...]
    angle: int = 0
    tag: int = OUTSIDE

    @property
    def text(self) -> str:
        return "".join(word.text if word.glued else " " + word.text for word in self.words).strip()


class PictureKind(StrEnum):
    RASTER = "raster"
    DRAWING = "drawing"
    PAGE = "page"
    STAMP = "stamp"
    WATERMARK = "watermark"
    SIGNATURE = "signature"
    HANDWRITING = "handwriting"


OVER_TEXT = frozenset({PictureKind.STAMP, PictureKind.WATERMARK, PictureKind.HANDWRITING})
"""What has come onto a page besides what is printed on it: it stands between no lines."""


class PlacedPicture(NamedTuple):
    """A picture on the page; ``picture`` is the SHA-256 of its bytes. ``words`` is the text that is part of it, and
    ``confidence`` (0 to 1) how sure the recogniser is of that; ``alt`` is the description that its file has for it. ``drawing`` is the
    SHA-256 of the same as SVG, "" where there is none."""

    box: Box
    picture: str
    media: str
    kind: PictureKind
    words: str = ""
    confidence: float = 1.0
    alt: str = ""
    drawing: str = ""


class Rule(NamedTuple):
    """A straight horizontal or vertical line, or a filled bar thin enough to be one; ``box`` holds its thickness."""

    box: Box

    @property
    def horizontal(self) -> bool:
        return self.box.width >= self.box.height


class Fill(NamedTuple):
    """A filled rectangle and its colour (``rrggbb``)."""

    box: Box
    color: str


class FoundEquation(NamedTuple):
    """An equation and where it stands on the page; ``display`` if it has its lines for itself, ``number`` is printed beside it, and
    ``confidence`` (0 to 1) how likely all of its symbols are right; ``others`` is what else it may be, in TeX."""

    tree: Node
    box: Box
    display: bool = False
    number: str = ""
    confidence: float = 1.0
    others: tuple[OtherReading, ...] = ()


class LinkArea(NamedTuple):
    """The area of a link on the page and where it leads: an address, or a page of the same file."""

    box: Box
    target: UrlLink | PageLink


class Cleaned(msgspec.Struct, frozen=True, omit_defaults=True):
    """The page as it was cleaned for reading: the picture (SHA-256 and media type) and what was done.

    ``turn`` is in quarter turns clockwise, ``skew`` in degrees that were taken back; ``sheet`` says that a sheet was found
    in a photo, ``curl`` that curved lines were made straight. ``to_source`` maps points of this page to points of the page as
    it came (a homography, row by row), which is ``came_width`` points wide.
    """

    picture: str
    media: str
    turn: int = 0
    skew: float = 0.0
    sheet: bool = False
    curl: bool = False
    light: bool = False
    darkened: bool = False
    specks: int = 0
    came_width: float = 0.0
    to_source: tuple[float, ...] = (1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0)


SCHEMA = 2
"""Version of the form in which evidence is stored; what was stored in an older one is brought up to it (store.migrations)."""


class PageEvidence(msgspec.Struct, frozen=True, omit_defaults=True):
    """All that was found on a page. ``boxes`` are outlined or filled rectangles, ``outlines`` those of them that have
    lines around them, ``fills`` those that are filled, in the order in which they are drawn; ``remarks`` do not know the page's number yet.

    ``number`` is the page's number in the document, ``file_page`` that in its file (the same where it is 0).

    ``languages`` are those it was recognised in, ``cleaned`` is None for pages that were not read from a picture. ``votes`` are
    about fonts whose characters may be coded wrongly, ``hidden`` are lines of text that cannot be seen or are printed across
    the text, ``tags`` the file's own tag tree, as far as it is of this page. ``turn`` is by how many quarter turns clockwise the page of a
    PDF was turned for its text to stand upright; a page that was cleaned has its own.
    """

    number: int
    width: float
    height: float
    kind: PageKind = PageKind.NATIVE
    types: tuple[Type, ...] = ()
    lines: tuple[Line, ...] = ()
    pictures: tuple[PlacedPicture, ...] = ()
    rules: tuple[Rule, ...] = ()
    boxes: tuple[Box, ...] = ()
    outlines: tuple[Box, ...] = ()
    fills: tuple[Fill, ...] = ()
    links: tuple[LinkArea, ...] = ()
    remarks: tuple[Remark, ...] = ()
    seconds: float = 0.0
    languages: tuple[str, ...] = ()
    cleaned: Cleaned | None = None
    layer: TextLayer = TextLayer.NONE
    votes: tuple[Vote, ...] = ()
    hidden: tuple[Line, ...] = ()
    tags: tuple[Tag, ...] = ()
    file_page: int = 0
    equations: tuple[FoundEquation, ...] = ()
    turn: int = 0
    schema: int = SCHEMA

    def target_of(self, link: LinkArea) -> UrlLink | PageLink | None:
        """Where a link leads, None where that is not safe; pages by their numbers in the document, which may have other files before this
        one."""
        if not is_safe_link(link.target):
            return None
        if isinstance(link.target, PageLink) and self.file_page:
            return PageLink(link.target.page + self.number - self.file_page)
        return link.target

    def fixed_width_share(self, lines: Iterable[Line] | None = None) -> float:
        """The share of the letters, of some lines or of all, that are set in a fixed width."""
        words = [word for line in (self.lines if lines is None else lines) for word in line.words]
        fixed = sum(len(word.text) for word in words if self.types[word.type].family is Family.MONO)
        return fixed / max(sum(len(word.text) for word in words), 1)

    def remarked(self, kind: RemarkKind, sentence: str) -> PageEvidence:
        """The evidence with something more to be said of the page; ``{page}`` in the sentence stands for its number."""
        return replace(self, remarks=(*self.remarks, Remark(kind, sentence)))

    def page_remarks(self) -> tuple[Remark, ...]:
        """The remarks with the page's number, which may change when files change places."""
        return tuple(
            replace(remark, sentence=remark.sentence.replace("{page}", str(self.number)), page=self.number)
            for remark in self.remarks
        )


KeepPicture = Callable[[bytes, str], str]
"""Takes a picture's bytes and media type into keeping; returns the SHA-256 by which it is found again."""
