"""The document: what a conversion makes, a clerk corrects and a writer writes."""

from __future__ import annotations

from enum import StrEnum

import msgspec

from evenquill.core.model.blocks import Block
from evenquill.core.model.geometry import Box
from evenquill.core.model.styles import ParagraphStyle
from evenquill.core.model.text import Run


class PageGeometry(msgspec.Struct, frozen=True, omit_defaults=True):
    """A page of the source: its size and the box that its text keeps to, in points; the languages (two letters) it was read in."""

    width: float
    height: float
    text_box: Box
    languages: tuple[str, ...] = ()


class Running(msgspec.Struct, frozen=True, omit_defaults=True):
    """A running head or foot. ``{page}`` in the text of a run stands for the page number."""

    runs: tuple[Run, ...]
    style: str
    tabs: tuple[float, ...] = ()


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


class Settled(msgspec.Struct, frozen=True, omit_defaults=True):
    """What the clerk has decided about doubts without changing anything: ``kept`` are the names of doubts that are none, ``words`` the
    document's own list of words that are right."""

    kept: tuple[str, ...] = ()
    words: tuple[str, ...] = ()


class Remark(msgspec.Struct, frozen=True, omit_defaults=True):
    """Something that the clerk should know; ``page`` is None where it is about the whole document."""

    kind: RemarkKind
    sentence: str
    page: int | None = None


class Document(msgspec.Struct, frozen=True, omit_defaults=True):
    """Everything that is written out, in reading order. Changed only by operations (core.edits)."""

    title: str = ""
    language: str = ""
    styles: tuple[ParagraphStyle, ...] = ()
    blocks: tuple[Block, ...] = ()
    pages: tuple[PageGeometry, ...] = ()
    header: Running | None = None
    footer: Running | None = None
    first_page_plain: bool = False
    first_number: int = 1
    remarks: tuple[Remark, ...] = ()
    settled: Settled = Settled()

    def style(self, name: str) -> ParagraphStyle:
        """The named style, or the first of the document where there is none of that name."""
        for style in self.styles:
            if style.name == name:
                return style
        return self.styles[0] if self.styles else ParagraphStyle("Body text")

    def index(self, block: str) -> int:
        """Place of the block with this id; raises KeyError where there is none."""
        for i, candidate in enumerate(self.blocks):
            if candidate.id == block:
                return i
        raise KeyError(block)
