"""The document: what a conversion makes, a clerk corrects and a writer writes."""

from __future__ import annotations

from collections.abc import Hashable, Iterator
from enum import StrEnum
from functools import cached_property
from typing import TypeVar

import msgspec

from evenquill.core.model.blocks import Block, TableBlock, TextBlock, names_of, texts_of
from evenquill.core.model.geometry import Box
from evenquill.core.model.places import Places
from evenquill.core.model.sections import PageGeometry, RunningPart, Section
from evenquill.core.model.styles import BODY, ParagraphStyle, ResolvedStyle, StandIn, resolved_styles


class RemarkKind(StrEnum):
    REPAIRED = "repaired"
    PAGE_AS_PICTURE = "page_as_picture"
    RIGHTS = "rights"
    UNREADABLE = "unreadable"
    BLANK = "blank"
    CUT_SHORT = "cut_short"
    NOT_CARRIED_OVER = "not_carried_over"
    TEXT_LAYER = "text_layer"
    LETTERING = "lettering"
    HIDDEN_TEXT = "hidden_text"
    ACROSS = "across"
    DIRECTION = "direction"
    TAGS = "tags"


class DoubtKey(msgspec.Struct, frozen=True, omit_defaults=True):
    """Names a doubt so that it is known again after edits and new readings: its kind, the page, what was read there, and where.

    ``block`` is the block that it is about, ``box`` the place of the word on the page. Either is enough to know it again; one that has
    neither stands for all doubts of that kind and text on the page.
    """

    kind: str
    page: int
    text: str = ""
    block: str = ""
    box: Box | None = None


class Settled(msgspec.Struct, frozen=True, omit_defaults=True):
    """What the clerk has decided about doubts without changing anything: ``kept`` are doubts that are none, ``words`` the
    document's own list of words that are right."""

    kept: tuple[DoubtKey, ...] = ()
    words: tuple[str, ...] = ()


_T = TypeVar("_T", bound=Hashable)


def without(these: tuple[_T, ...], others: tuple[_T, ...]) -> tuple[_T, ...]:
    """Those that are not among the others, in their order. Where they go on from the others, as decisions do, that takes no time."""
    if these[: len(others)] == others:
        return these[len(others) :]
    known = set(others)
    return tuple(one for one in these if one not in known)


class Remark(msgspec.Struct, frozen=True, omit_defaults=True):
    """Something that the clerk should know; ``page`` is None where it is about the whole document."""

    kind: RemarkKind
    sentence: str
    page: int | None = None


class Document(msgspec.Struct, frozen=True, omit_defaults=True, dict=True):
    """Everything that is written out, in reading order, and the ``pages`` of its source. Changed only by operations (core.edits).

    ``stand_ins`` are typefaces that stand for others: by the widths of their letters, or as the clerk, or the office, has chosen.
    """

    title: str = ""
    language: str = ""
    styles: tuple[ParagraphStyle, ...] = ()
    blocks: tuple[Block, ...] = ()
    pages: tuple[PageGeometry, ...] = ()
    sections: tuple[Section, ...] = ()
    running: tuple[RunningPart, ...] = ()
    remarks: tuple[Remark, ...] = ()
    settled: Settled = Settled()
    stand_ins: tuple[StandIn, ...] = ()

    @cached_property
    def resolved_styles(self) -> dict[str, ResolvedStyle]:
        """The whole looks of the styles by id, that of the text first."""
        return {style.id: style for style in resolved_styles(self.styles)} or {BODY.id: BODY}

    @property
    def body_style(self) -> ResolvedStyle:
        """The look of running text."""
        return next(iter(self.resolved_styles.values()))

    def style(self, name: str) -> ResolvedStyle:
        """The look of the style with an id, that of the text where there is none with it."""
        return self.resolved_styles.get(name, self.body_style)

    @cached_property
    def places(self) -> Places:
        """The place of the row of each block and of each text in a cell."""
        return Places.of(self.blocks)

    def derive_places(self, after: Document, at: int, removed: int) -> None:
        """Works out the places of a document in which ``removed`` blocks from place ``at`` on gave way to others, from these."""
        after.__dict__["places"] = self.places.after(after.blocks, at, self.blocks[at : at + removed])

    def index(self, block: str) -> int:
        """Place of the block with this id, or of the table that has it in a cell; raises KeyError where there is none."""
        known: Places | None = self.__dict__.get("places")
        if known is not None:
            return known[block]
        for i, candidate in enumerate(self.blocks):
            if candidate.id == block:
                return i
        for i, candidate in enumerate(self.blocks):
            if isinstance(candidate, TableBlock) and any(text.id == block for text in candidate.texts):
                return i
        raise KeyError(block)

    @property
    def texts(self) -> Iterator[TextBlock]:
        """All text blocks, those in the cells of tables too."""
        for block in self.blocks:
            yield from texts_of(block)

    @property
    def written_texts(self) -> Iterator[TextBlock]:
        """All text blocks that are not set aside."""
        for block in self.blocks:
            if not block.excluded:
                yield from texts_of(block)

    @property
    def order(self) -> dict[str, int]:
        """Where in the document each block, and each text in a cell, comes."""
        return {name: n for n, name in enumerate(name for block in self.blocks for name in names_of(block))}
