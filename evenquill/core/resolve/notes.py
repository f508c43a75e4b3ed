"""Notes: those that marks in the text lead to, numbered in the order in which they stand."""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from typing import NamedTuple

from evenquill.core.model import Block, NoteRef, Role, TextBlock, texts_of


class NoteKind(StrEnum):
    """Where notes stand."""

    FOOTNOTE = "footnote"
    ENDNOTE = "endnote"


class Note(NamedTuple):
    """A note by its number among those of its kind, from 1."""

    kind: NoteKind
    number: int
    block: TextBlock


ROLES = {Role.NOTE: NoteKind.FOOTNOTE, Role.ENDNOTE: NoteKind.ENDNOTE}


def notes_of(blocks: Sequence[Block]) -> dict[str, Note]:
    """By block id the notes that have a mark; others stay in the text."""
    marked = {
        item.note for block in blocks for text in texts_of(block) for item in text.content if isinstance(item, NoteRef)
    }
    notes: dict[str, Note] = {}
    counts = dict.fromkeys(NoteKind, 0)
    for block in blocks:
        kind = ROLES.get(block.role) if isinstance(block, TextBlock) and block.id in marked else None
        if kind is not None and isinstance(block, TextBlock):
            counts[kind] += 1
            notes[block.id] = Note(kind, counts[kind], block)
    return notes
