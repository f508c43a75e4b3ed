"""The formats that documents are written in: what each is called, its file ending, its media type, its options, and what writes it."""

from __future__ import annotations

from collections.abc import Callable, Collection
from typing import NamedTuple

from msgspec.structs import replace

from evenquill.core.model import Document
from evenquill.core.writers.docx import write_docx
from evenquill.core.writers.docx.embedding import GetPicture


class Option(NamedTuple):
    """Something that can be wanted of a format. ``name`` is what the command line and the API call it, ``title`` what the clerk sees."""

    name: str
    title: str


class Writer(NamedTuple):
    """A format. ``name`` is what the command line and the API call it, ``title`` what the clerk sees; ``write`` takes the names of the
    ``options`` that are wanted."""

    name: str
    title: str
    ending: str
    media: str
    options: tuple[Option, ...]
    write: Callable[[Document, GetPicture, Collection[str]], bytes]

    def unknown(self, wanted: Collection[str]) -> list[str]:
        """Names that are no options of this format."""
        return sorted(set(wanted) - {option.name for option in self.options})


WITHOUT_RUNNING_HEADS = Option("without_running_heads", "Without running heads and feet")


def _docx(document: Document, picture: GetPicture, options: Collection[str]) -> bytes:
    if WITHOUT_RUNNING_HEADS.name in options:
        document = replace(document, running=())
    return write_docx(document, picture)


_EVERY = (
    Writer(
        "docx",
        "DOCX",
        "docx",
        "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
        (WITHOUT_RUNNING_HEADS,),
        _docx,
    ),
)

WRITERS = {writer.name: writer for writer in _EVERY}
"""By name."""
