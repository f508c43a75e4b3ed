"""Drafts: paragraphs in the making, with the measures by which they are joined, classed and styled."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

from msgspec.structs import replace

from evenquill.core.equations.pairs import is_broken
from evenquill.core.evidence import PictureKind, PlacedPicture, Type
from evenquill.core.layout.flow import FlowLine, FlowWord
from evenquill.core.model import Align, Box, Family, Link, Marks, Role, Spot, TabStop, WordSpot, union
from evenquill.core.model.blocks import Numbering
from evenquill.core.model.cutting import spots_of_words
from evenquill.core.model.equation import row_of
from evenquill.core.model.inline import AS_STYLED, Equation, Inline, InlinePicture, Lettering, Text, joined, plain
from evenquill.core.model.sides import Sides
from evenquill.core.model.text import ends_broken
from evenquill.core.rebuild.code import code_words
from evenquill.core.rebuild.facts import Facts
from evenquill.core.rebuild.hyphens import is_cut_word, keeps_hyphen, runs_on_unbroken
from evenquill.core.rebuild.structure.roles import ROLES

KEPT_MARKS = Marks.UNDERLINE | Marks.STRIKE
"""Marks that equations have like text."""


@dataclass(slots=True)
class Draft:
    """A paragraph in the making. ``gap`` is the free height above it beyond the usual leading, in points.

    ``left``, ``right`` are the edges of its column, or ``right`` the edge of its own that it keeps to, ``inset`` points further in;
    ``mark_x`` and ``text_x`` are where a list mark and its text begin. ``note_mark`` is the mark in a note's text, ``note_number``
    the number of an endnote; ``is_title`` tells the heading that names the document, ``sides`` are those that have a line.
    ``breaks`` are the places of lines before which a break was made on purpose. ``likely_role`` is
    the role that its first line most probably has, and ``of_roles`` how probable each is (``structure.roles.ROLES``); ``new_likelihood``
    is how probable it is that something new begins with it, ``seams`` the same of lines after the first, by their places.
    """

    lines: list[FlowLine]
    left: float
    right: float
    gap: float = 0.0
    inset: float = 0.0
    breaks: set[int] = field(default_factory=set)
    likely_role: str = ""
    of_roles: tuple[float, ...] = ()
    new_likelihood: float = 1.0
    seams: dict[int, float] = field(default_factory=dict)
    content: tuple[Inline, ...] = ()
    words: tuple[WordSpot, ...] = ()
    spots: tuple[Spot, ...] = ()
    role: Role = Role.PARAGRAPH
    level: int = 0
    is_title: bool = False
    numbering: Numbering | None = None
    marker: str = ""
    mark_x: float = 0.0
    text_x: float = 0.0
    mark_box: Box | None = None
    align: Align = Align.LEFT
    tabs: tuple[TabStop, ...] = ()
    style: str = ""
    page_top: bool = False
    note_mark: str = ""
    note_number: int = 0
    columns: int = 1
    language: str = ""
    sides: Sides = Sides.NONE

    @property
    def page(self) -> int:
        return self.lines[0].page

    @property
    def text(self) -> str:
        return plain(self.content)

    @property
    def role_likelihood(self) -> float:
        """How probable its likely role is."""
        return max(self.of_roles, default=0.0)

    def chance_of(self, role: str) -> float:
        """How probable one of ROLES is; 0 where that is not known."""
        return self.of_roles[ROLES.index(role)] if self.of_roles else 0.0

    def extend(self, other: Draft) -> None:
        """Takes over the lines of the paragraph that carries this one on."""
        self.breaks |= {place + len(self.lines) for place in other.breaks}
        self.seams |= {place + len(self.lines): new for place, new in {0: other.new_likelihood, **other.seams}.items()}
        self.lines.extend(other.lines)

    @property
    def indent(self) -> float:
        """Points by which all of its lines on its first page stand in from the left edge of the column."""
        return min(line.x0 for line in self.lines if line.page == self.page) - self.left

    @property
    def type(self) -> Type:
        """The look of most of its letters."""
        first = self.lines[0].main_type
        if all(line.main_type is first for line in self.lines):
            return first
        weights: dict[Type, int] = {}
        for line in self.lines:
            look = line.main_type
            weights[look] = weights.get(look, 0) + len(line.words)
        return max(weights, key=lambda look: weights[look])


@dataclass(slots=True)
class PictureDraft:
    """A picture between paragraphs; ``side`` is where it stands if text goes around it."""

    picture: PlacedPicture
    page: int
    left: float
    right: float
    side: Align | None = None
    page_top: bool = False
    columns: int = 1


@dataclass(slots=True)
class CellDraft:
    """A cell in the making: its grid place and size, and its paragraphs. ``spots`` are those of the cell itself, ``sides``
    its sides that have a line, ``fill`` the colour that it is filled with."""

    row: int
    column: int
    rows: int
    columns: int
    drafts: list[Draft]
    spots: tuple[Spot, ...]
    sides: Sides
    fill: str


@dataclass(slots=True)
class TableDraft:
    """A table in the making; ``edges`` are the left edges of its columns and the right one of the last, in points."""

    page: int
    edges: tuple[float, ...]
    cells: list[CellDraft]
    header_rows: int
    ruled: bool
    spots: tuple[Spot, ...]
    left: float
    right: float
    page_top: bool = False
    columns: int = 1

    @property
    def row_count(self) -> int:
        return max(cell.row + cell.rows for cell in self.cells)


AnyDraft = Draft | PictureDraft | TableDraft


def all_texts(drafts: Iterable[AnyDraft]) -> Iterator[Draft]:
    """All paragraphs, those in the cells of tables too."""
    for draft in drafts:
        if isinstance(draft, Draft):
            yield draft
        elif isinstance(draft, TableDraft):
            for cell in draft.cells:
                yield from cell.drafts


@dataclass(slots=True)
class _Text:
    """Content and word spots of a draft as they are put together; ``display`` if it is a displayed equation."""

    facts: Facts
    display: bool = False
    pieces: list[tuple[Text | InlinePicture | Equation, list[str]]] = field(default_factory=list)
    words: list[WordSpot] = field(default_factory=list)
    length: int = 0

    def add(self, text: str, look: Text) -> None:
        last = self.pieces[-1][0] if self.pieces else None
        if last is look or (isinstance(last, Text) and last.same_look(look)):
            self.pieces[-1][1].append(text)
        else:
            self.pieces.append((look, [text]))
        self.length += len(text)

    def add_word(self, word: FlowWord, look: Text) -> int:
        """Adds a word, or the picture or equation that stands for one; returns the place of its first character."""
        start = self.length
        if word.equation is not None:
            equation, display = word.equation, self.display
            found = Equation(
                equation.tree,
                display,
                equation.number if display else "",
                look.marks & KEPT_MARKS,
                look.color,
                look.link,
            )
            self.pieces.append((found, [word.text]))
            self.length += len(word.text)
            return start
        if word.picture is None:
            self.add(word.text, look)
            return start
        box = word.picture.box
        size = round(box.width, 1), round(box.height, 1)
        self.pieces.append(
            (
                InlinePicture(word.picture.picture, word.picture.media, *size, alt=description_of(word.picture)),
                [word.text],
            )
        )
        self.length += len(word.text)
        return start

    def carry_on_equation(self, word: FlowWord) -> bool:
        """Puts a word that begins a line into the equation that the line before ends with, if it carries that on; says whether it did."""
        last = self.pieces[-1][0] if self.pieces else None
        if word.equation is None or not isinstance(last, Equation) or not is_broken(last.tree, word.equation.tree):
            return False
        whole = row_of([last.tree, word.equation.tree])
        self.pieces[-1] = (replace(last, tree=whole), self.pieces[-1][1])
        return True

    def look(self) -> Text | InlinePicture | Equation:
        """The look of the last piece."""
        return self.pieces[-1][0]

    def last_word(self) -> str:
        """The end of the text, as far as it matters for a hyphen: the last word may have several looks."""
        return "".join("".join(texts[-2:]) for _, texts in self.pieces[-2:])

    def drop_last_character(self) -> None:
        texts = self.pieces[-1][1]
        texts[-1] = texts[-1][:-1]
        self.length -= 1
        if self.words:
            self.words[-1] = self.words[-1]._replace(end=self.length)

    def content(self) -> tuple[Inline, ...]:
        return joined(look.like("".join(texts)) if isinstance(look, Text) else look for look, texts in self.pieces)


def set_text(draft: Draft, facts: Facts) -> None:
    """Gives a draft its content, word spots and spots from its lines."""
    text = _Text(facts, draft.role is Role.EQUATION)
    if draft.role is Role.CODE:
        _add_code(text, draft)
    else:
        _add_lines(text, draft)
    draft.content = text.content()
    draft.words = tuple(text.words)
    draft.spots = spots_of_words(draft.words)
    if draft.mark_box is not None and draft.spots:
        first, *rest = draft.spots
        draft.spots = (Spot(first.page, union((draft.mark_box, first.box)).rounded()), *rest)


def _add_lines(text: _Text, draft: Draft) -> None:
    """Adds lines of text, with words that were broken at their ends made whole."""
    looks: dict[tuple[Type, int, Link | None], Text] = {}
    fixed = any(_has_fixed_width_within(line) for line in draft.lines)
    last: FlowWord | None = None
    look = Text("")
    for n, line in enumerate(draft.lines):
        parting = "" if n == 0 else _line_parting(draft, text, n)
        for i, word in enumerate(line.words):
            if last is None or word.type is not last.type or (word.marks, word.link) != (last.marks, last.link):
                key = (word.type, word.marks, word.link)
                look = looks.get(key) or looks.setdefault(key, _look(word, with_fixed_width=fixed))
            last = word
            before = parting if i == 0 else word.before
            if i == 0 and n and text.carry_on_equation(word):
                text.words.append(WordSpot(text.words[-1].start, text.length, line.page, word.box))
                continue
            if before:
                text.add(before, _common(text.look(), look))
            start = text.add_word(word, look)
            if i == 0 and n and not parting and text.words[-1].end == start:
                # The second half of a broken word: one word, with a spot in each line.
                text.words[-1] = text.words[-1]._replace(end=text.length)
                start = text.words[-1].start
            text.words.append(WordSpot(start, text.length, line.page, word.box, word.confidence, word.others))


def _add_code(text: _Text, draft: Draft) -> None:
    for before, word, line in code_words(draft.lines, text.facts):
        look = _look(word)
        if before:
            text.add(before, _common(text.look(), look) if text.pieces else look)
        start = text.add_word(word, look)
        text.words.append(WordSpot(start, text.length, line.page, word.box, word.confidence, word.others))


def _line_parting(draft: Draft, text: _Text, n: int) -> str:
    """What stands between a line, by its place, and the one before it in one paragraph."""
    if n in draft.breaks:
        return "\n"
    above, line = draft.lines[n - 1], draft.lines[n]
    if runs_on_unbroken(above, line):
        return ""
    last = text.last_word()
    if not ends_broken(last):
        return "" if is_cut_word(last, draft.lines, n, draft.right - draft.left, text.facts) else " "
    if not keeps_hyphen(last, line.words[0].text, text.facts):
        text.drop_last_character()
    return ""


def _has_fixed_width_within(line: FlowLine) -> bool:
    """Whether some words of a line are in a typeface of fixed width, and others not. On scans the family is that of the whole line."""
    return len({word.type.family is Family.MONO for word in line.words}) > 1


def _look(word: FlowWord, *, with_fixed_width: bool = False) -> Text:
    """A text of no characters that looks like the word; its typeface is kept where it is one of fixed width among others."""
    marks = Marks(word.marks)
    if word.type.bold:
        marks |= Marks.BOLD
    if word.type.italic:
        marks |= Marks.ITALIC
    lettering = Lettering(word.type.font) if with_fixed_width and word.type.family is Family.MONO else AS_STYLED
    return Text("", marks, word.type.color, word.link, lettering)


def _common(before: Text | InlinePicture | Equation, after: Text) -> Text:
    """The look of a space between two looks: what they have in common."""
    if before is after:
        return before
    return Text(
        "",
        before.marks & after.marks & ~(Marks.SUPER | Marks.SUB),
        before.color if before.color == after.color else None,
        before.link if before.link == after.link else None,
        before.lettering if isinstance(before, Text) and before.lettering == after.lettering else AS_STYLED,
    )


def description_of(picture: PlacedPicture) -> str:
    """What describes a picture to those who cannot see it: its file's own words, or those that a drawing has in it."""
    if picture.alt or picture.kind is not PictureKind.DRAWING or not picture.words:
        return picture.alt
    return f"Drawing with the words: {picture.words}"
