"""What is known of a source before it is read."""

from __future__ import annotations

from collections.abc import Sequence

import msgspec
from msgspec.structs import replace

PDF = "application/pdf"
DOCX = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
ODT = "application/vnd.oasis.opendocument.text"
WORD_FILES = frozenset((DOCX, ODT))
"""Files of word processors, which have text and no pages."""


class OutlineEntry(msgspec.Struct, frozen=True):
    """A bookmark: level from 1, title, page from 1 (0 where it leads nowhere)."""

    level: int
    title: str
    page: int


class SourceFacts(msgspec.Struct, frozen=True, omit_defaults=True):
    """What a file says of itself. ``read_instead`` is the path of a PDF to read its pages from, or None: a mended copy of a damaged
    file, or the pages that were set of a word-processor file."""

    pages: int
    title: str = ""
    language: str = ""
    producer: str = ""
    outline: tuple[OutlineEntry, ...] = ()
    restrictions: tuple[str, ...] = ()
    read_instead: str | None = msgspec.field(default=None, name="repaired")
    media: str = PDF


def joined_facts(parts: Sequence[SourceFacts]) -> SourceFacts:
    """Facts of a document made of several files, one after the other."""
    if len(parts) == 1:
        return parts[0]
    outline: list[OutlineEntry] = []
    before = 0
    for part in parts:
        outline += [
            OutlineEntry(entry.level, entry.title, entry.page + before if entry.page else 0) for entry in part.outline
        ]
        before += part.pages
    return replace(
        parts[0],
        pages=before,
        outline=tuple(outline),
        restrictions=tuple(dict.fromkeys(right for part in parts for right in part.restrictions)),
        read_instead=None,
    )


def rights_sentence(restrictions: tuple[str, ...]) -> str:
    """The note on rights for the clerk."""
    return "The author of this file does not allow " + ", or ".join(restrictions) + "."
