"""A made document before it is set: its parts in reading order, and what runs at head and foot."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Span:
    """Text of one look; ``note`` is the text of a footnote that is called behind it."""

    text: str
    bold: bool = False
    italic: bool = False
    note: str = ""


@dataclass(frozen=True)
class Heading:
    """``number`` stands before the text, ``label`` ("Chapter 3") on a line of its own above it; ``beside`` sets it in the column of
    labels (see ``Pairs``)."""

    level: int
    text: str
    number: str = ""
    label: str = ""
    unnumbered: bool = False
    beside: bool = False


@dataclass(frozen=True)
class Paragraph:
    """``kind`` is text, lead, quotation, verse, lines (an address; breaks are kept), box or hanging (all lines but the first stand in);
    ``size`` is that of ``lines`` over that of the text."""

    spans: tuple[Span, ...]
    kind: str = "text"
    align: str = ""
    size: float = 1.0

    @property
    def text(self) -> str:
        return "".join(span.text for span in self.spans)


@dataclass(frozen=True)
class RunIn:
    """A heading that begins a paragraph, on its first line."""

    heading: str
    paragraph: Paragraph


@dataclass(frozen=True)
class Item:
    """``ordinal`` is its number from 1 in an ordered list, 0 with a bullet; ``more`` are further paragraphs."""

    spans: tuple[Span, ...]
    depth: int = 0
    ordinal: int = 0


@dataclass(frozen=True)
class Cell:
    """``right`` aligned at its end, as numbers are."""

    text: str
    columns: int = 1
    rows: int = 1
    header: bool = False
    right: bool = False
    bold: bool = False


@dataclass(frozen=True)
class Table:
    """``groups`` and ``totals`` are places of rows that head those below and sum those above; ``shares`` are those of the ``width``, which
    is a share of that of the text; a table that is not ``full`` is as wide as what it says."""

    rows: tuple[tuple[Cell, ...], ...]
    shares: tuple[float, ...]
    header_rows: int = 1
    groups: tuple[int, ...] = ()
    totals: tuple[int, ...] = ()
    caption: str = ""
    full: bool = True
    width: float = 1.0


@dataclass(frozen=True)
class Pairs:
    """Labels and values, in one or more pairs beside each other; ``line`` draws one for what is to be filled in, ``upright`` one between
    labels, which end there, and values; ``leader`` sets dots between them, the value at the right edge."""

    rows: tuple[tuple[tuple[str, str], ...], ...]
    line: bool = False
    boxed: bool = False
    upright: bool = False
    leader: bool = False


@dataclass(frozen=True)
class Space:
    """Room of so many ems; a new page with 0."""

    ems: float = 0.0


@dataclass(frozen=True)
class Picture:
    width: int
    height: int
    caption: str = ""


@dataclass(frozen=True)
class Code:
    lines: tuple[str, ...]


@dataclass(frozen=True)
class Term:
    """A term and what it means, under it."""

    term: str
    spans: tuple[Span, ...]


@dataclass(frozen=True)
class Contents:
    """Entries of a table of contents: level, text, page."""

    entries: tuple[tuple[int, str, str], ...]


@dataclass(frozen=True)
class Sides:
    """Two blocks beside each other, such as a name and where its bearer is reached, each with its own distance of lines: the left one has
    this ``share`` of the width."""

    left: tuple[Heading | Paragraph, ...]
    right: tuple[Heading | Paragraph, ...]
    share: float


Part = Heading | Paragraph | RunIn | Item | Table | Pairs | Picture | Code | Term | Contents | Space | Sides


def in_order(parts: Iterable[Part]) -> Iterator[Part]:
    """The parts in reading order: of blocks beside each other first all of the left one."""
    for part in parts:
        yield from (*part.left, *part.right) if isinstance(part, Sides) else (part,)


@dataclass
class Made:
    """``head`` and ``foot`` have the texts at the left, in the middle and at the right, of one row or more; "{n}" is the page number,
    "{N}" their count, "{s}" the title of the section. ``watermark`` is printed across every page."""

    family: str
    language: str
    parts: list[Part]
    head: tuple[str, str, str] = ("", "", "")
    foot: tuple[str, str, str] = ("", "", "")
    columns: int = 1
    title: list[Part] = field(default_factory=list)
    watermark: str = ""

    def section_titles(self) -> list[str]:
        """What ``{s}`` may stand for in heads and feet: the headings of the highest level below the title."""
        return [part.text for part in in_order(self.parts) if isinstance(part, Heading) and part.level <= 1] or [""]
