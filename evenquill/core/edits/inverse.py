"""Steps that undo: what an operation took away, put back in its place. Stored beside the operation, so that undo needs nothing else."""

from __future__ import annotations

from typing import NamedTuple

import msgspec
from msgspec.structs import replace

from evenquill.core.model import (
    Block,
    Document,
    DoubtKey,
    ParagraphStyle,
    Section,
    Settled,
    StandIn,
    TableBlock,
    TextBlock,
    with_changed,
)
from evenquill.core.model.document import without
from evenquill.core.model.sections import RunningPart


class Restore(msgspec.Struct, frozen=True, tag="restore", tag_field="op"):
    """Puts ``blocks`` in the place of ``count`` blocks from place ``at``. ``styles`` are the document's styles then, None where they have
    not changed."""

    at: int
    count: int
    blocks: tuple[Block, ...]
    styles: tuple[ParagraphStyle, ...] | None = None


class RestoreSections(msgspec.Struct, frozen=True, tag="restore_sections", tag_field="op"):
    """Gives the document back the sections that it had."""

    sections: tuple[Section, ...]


class RestoreRunning(msgspec.Struct, frozen=True, tag="restore_running", tag_field="op"):
    """Gives the document back the running heads and feet that it had."""

    running: tuple[RunningPart, ...]


class RestoreText(msgspec.Struct, frozen=True, tag="restore_text", tag_field="op"):
    """Puts a text back into its cell of the table at place ``at``, which leaves the other cells alone."""

    at: int
    text: TextBlock


class Unsettle(msgspec.Struct, frozen=True, tag="unsettle", tag_field="op"):
    """Takes back that doubts were kept and that words are right: those that the operation added, and no others."""

    kept: tuple[DoubtKey, ...] = ()
    words: tuple[str, ...] = ()


class RestoreStandIns(msgspec.Struct, frozen=True, tag="restore_stand_ins", tag_field="op"):
    """Gives the document back the typefaces that stood for others."""

    stand_ins: tuple[StandIn, ...]


Undoing = Restore | RestoreSections | RestoreRunning | RestoreText | RestoreStandIns | Unsettle
"""A step of an inverse."""


class Focus(msgspec.Struct, frozen=True):
    """Where the clerk goes on after an operation: a text block, and a place in its text."""

    block: str
    offset: int = 0


class Edit(NamedTuple):
    """A changed document and the steps that undo the change, in the order in which to take them; ``focus`` is where the clerk goes on,
    None for where he was."""

    document: Document
    inverse: tuple[Undoing, ...]
    focus: Focus | None = None

    def then(self, after: Edit) -> Edit:
        """Both as one; ``after`` was made of this one's document."""
        return Edit(after.document, (*after.inverse, *self.inverse), after.focus or self.focus)


def undo(document: Document, inverse: tuple[Undoing, ...]) -> Document:
    """The document before the operation that the inverse belongs to."""
    for step in inverse:
        match step:
            case Restore(at, count, blocks, styles):
                document = splice(document, at, count, blocks, styles).document
            case RestoreSections(sections):
                document = with_sections_changed(document, sections).document
            case RestoreRunning(running):
                document = replace(document, running=running)
            case RestoreStandIns(stand_ins):
                document = replace(document, stand_ins=stand_ins)
            case RestoreText(at, text):
                document = with_text_changed(document, at, text).document
            case Unsettle(kept, words):
                settled = document.settled
                left = Settled(without(settled.kept, kept), without(settled.words, words))
                document = replace(document, settled=left)
    return document


def splice(
    document: Document,
    at: int,
    count: int,
    blocks: tuple[Block, ...],
    styles: tuple[ParagraphStyle, ...] | None = None,
) -> Edit:
    """``count`` blocks from place ``at`` give way to others: every change of rows comes down to this.

    Blocks that name no section are in that of those whose place they take, or of the one before.
    """
    old = document.blocks
    section = _section_at(document, at, count)
    blocks = tuple(block if block.section else replace(block, section=section) for block in blocks)
    changed = replace(document, blocks=(*old[:at], *blocks, *old[at + count :]))
    inverse = Restore(at, len(blocks), old[at : at + count])
    if styles is not None and styles != document.styles:
        changed = replace(changed, styles=styles)
        inverse = replace(inverse, styles=document.styles)
    return Edit(changed, (inverse,))


def _section_at(document: Document, at: int, count: int) -> str:
    if document.blocks:
        return document.blocks[at if count else max(at - 1, 0)].section
    return document.sections[0].id if document.sections else ""


def with_sections_changed(document: Document, sections: tuple[Section, ...]) -> Edit:
    """The document with other sections; blocks stay in theirs."""
    return Edit(replace(document, sections=sections), (RestoreSections(document.sections),))


def with_text_changed(document: Document, at: int, text: TextBlock) -> Edit:
    """The document with a text block changed that is the row at a place, or in a cell of it."""
    block = document.blocks[at]
    edit = splice(document, at, 1, (with_changed(block, text),))
    if not isinstance(block, TableBlock):
        return edit
    before = next(one for one in block.texts if one.id == text.id)
    return Edit(edit.document, (RestoreText(at, before),))


def settle(document: Document, kept: tuple[DoubtKey, ...], words: tuple[str, ...]) -> Edit:
    """The document with doubts kept and words listed that were not so before."""
    settled = document.settled
    new_kept = without(tuple(dict.fromkeys(kept)), settled.kept)
    new_words = without(tuple(dict.fromkeys(words)), settled.words)
    if not new_kept and not new_words:
        return Edit(document, ())
    changed = replace(settled, kept=(*settled.kept, *new_kept), words=(*settled.words, *new_words))
    return Edit(replace(document, settled=changed), (Unsettle(new_kept, new_words),))
